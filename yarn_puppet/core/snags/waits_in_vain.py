"""Moments that are only for a hit, in clips that can land none."""

from __future__ import annotations

from ..engine.program import Program
from ..model.puppet import Puppet
from .snag import Snag


def waits_in_vain(puppet: Puppet, program: Program) -> list[Snag]:
    """Moments that happen only on a hit, where their clip has no hit window."""
    return [
        Snag("warning", "clip", clip.id, f"{clip.name}, {moment.name}",
             "the moment is only for a hit, and the clip has no hit window",
             "draw a hit window, or let the moment happen always")
        for clip in puppet.clips if not any(window.kind == "hit" for window in clip.windows)
        for moment in clip.moments if moment.only_on_hit
    ]
