"""Intents whose gesture cannot be made, or says nothing."""

from __future__ import annotations

from ..engine.program import Program
from ..model.kinds.gestures import GESTURES
from ..model.puppet import Puppet
from .snag import Snag


def gestures_that_never_come(puppet: Puppet, program: Program) -> list[Snag]:
    """Taps and double taps that no hand is quick enough for, holds that every press is, buffers
    that are none."""
    found = []
    buffers = {intent.id: intent.buffer for intent in puppet.intents}
    for intent in program.intents:
        kind = GESTURES[intent.gesture]
        if kind.why_never and intent.threshold <= 0:
            why, fix = kind.why_never, kind.fix
        elif not kind.is_level and intent.life == 0 and buffers[intent.id] > 0:
            why = (f"its buffer of {buffers[intent.id]:g} s is less than a tick: it lives only in "
                   "the tick that arms it")
            fix = f"give it {1 / program.rate:.3g} s or more, or none"
        else:
            continue
        found.append(Snag("warning", "intent", intent.id, intent.name, why, fix))
    return found
