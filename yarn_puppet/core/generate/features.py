"""What a puppet has, and what it has not: generated code does without what nothing asks for."""

from __future__ import annotations

from ..engine.program import Program
from ..engine.program_clips import NOWHERE
from ..model.kinds.gestures import GESTURES
from .flat import Flat


def lasting(program: Program) -> list[int]:
    """The intents that can be armed by what is held on, while nothing is pressed or let go."""
    return [index for index, each in enumerate(program.intents)
            if GESTURES[each.gesture].completes_held != "never"]


def events(program: Program) -> list[int]:
    """The senses that report an event."""
    return [index for index, each in enumerate(program.senses) if each.event]


def flags(made: Flat) -> dict[str, bool]:
    """What a puppet has, or has not: code asks for nothing that is not there."""
    program, special = made.program, made.program.special
    hiding = any(layer.shown_when is not None for layer in program.layers)
    return {name: bool(has) for name, has in (
        ("EMPTY_LAYERS", any(layer.start == NOWHERE for layer in program.layers)),
        ("SILENT_STATES", any(state.clip is None and not state.spread for state in program.states)),
        ("SPREADS", any(state.spread for state in program.states)),
        ("SKINS", program.skins), ("PICKS", program.picking),
        ("RULE_CONDITIONS_ASKED", program.rule_conditions),
        ("BACKWARDS", any(any(clip.backwards) for clip in made.clips)),
        ("MOMENT_DEEDS", any(moment.deeds for clip in made.clips for moment in clip.moments)),
        ("SOUNDS_VARY", any(moment.heard is not None for clip in made.clips
                            for moment in clip.moments)),
        ("BLENDS", any(transition.blend for transition in made.transitions)),
        ("HIDING_LAYERS", hiding), ("WEIGHING", hiding or "layers" in special),
        ("PLAYBACK_RULES", "clips" in special), ("EASED_RULES", "eased" in special),
        ("PLAIN_RULES", _rules_are_plain(made)),
    )}


def _rules_are_plain(made: Flat) -> bool:
    """Whether every while-rule comes with a state or group, all at once, and holds no memo and
    weighs no layer."""
    of_windows = any(window.rules for clip in made.clips for window in clip.windows)
    return not of_windows and not made.program.special & {"eased", "memos", "layers", "conditions"}
