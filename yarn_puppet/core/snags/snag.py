"""A fault found in a puppet."""

from __future__ import annotations

from typing import Literal, NamedTuple

Severity = Literal["error", "warning", "note"]
"""A note is of what is not finished, and does no harm."""
SEVERITIES: tuple[Severity, ...] = ("error", "warning", "note")
"""In the order in which people should read them."""


class Snag(NamedTuple):
    """A fault: where (the kind and id of an entry, and its name for people), why, and how to fix
    it."""

    severity: Severity
    kind: str
    id: str
    where: str
    why: str
    fix: str
