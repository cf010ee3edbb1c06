"""Which while-rules count before others. Step 6 of docs/semantics.md."""

from __future__ import annotations

from ..engine.plain.while_rules import weakness
from ..engine.state import InForce, Report

HALF = 0.5
"""The share from which a rule that shows one thing or another shows its own."""


def by_strength(report: Report, kind: str) -> list[InForce]:
    """The while-rules of a kind that count, the strongest first."""
    windows = {window.window.id for window in report.windows}
    numbered = [(number, each)
                for number, each in enumerate(report.rules) if each.rule.kind == kind]
    return [each for _, each in sorted(
        numbered, key=lambda one: weakness(one[0], one[1].layer, one[1].owner in windows,
                                           one[1].out))]
