"""Intents whose gesture cannot be made, or says nothing."""

from __future__ import annotations

from ..engine.program import Program
from ..model.puppet import Puppet
from .snag import Snag


def gestures_that_never_come(puppet: Puppet, program: Program) -> list[Snag]:
    """Taps and double taps that no hand is quick enough for, holds that every press is, buffers that are none."""
    found = []
    buffers = {intent.id: intent.buffer for intent in puppet.intents}
    for intent in program.intents:
        if intent.gesture in ("tap", "double tap") and intent.threshold <= 0:
            why, mend = "no hand is so quick: it never arms", "give it more than 0 s"
        elif intent.gesture in ("sequence",) and intent.threshold <= 0:
            why, mend = "its presses would all have to come in one tick", "give it more than 0 s"
        elif intent.gesture == "hold" and intent.threshold <= 0:
            why = "every press is held for 0 s: it arms as a press does"
            mend = "give it more than 0 s, or make it a press"
        elif intent.gesture != "held" and intent.life == 0 and buffers[intent.id] > 0:
            why = f"its buffer of {buffers[intent.id]:g} s is less than a tick: it lives only in the tick that arms it"
            mend = f"give it {1 / program.rate:.3g} s or more, or none"
        else:
            continue
        found.append(Snag("warning", "intent", intent.id, intent.name, why, mend))
    return found
