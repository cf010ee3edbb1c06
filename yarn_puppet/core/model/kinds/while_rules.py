"""The while-rules: what is in force exactly while a state, a group or a window is active. One
record each.

A factor or a switch is added with a record here, a field of `Report` (`engine/state.py`) and one of
the live wire's report (`wire/messages.py`); the engines, the languages, traces, promises and
sentences read this table.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

RuleKind = Literal[
    "move_speed", "lock_movement", "lock_facing", "gravity", "jump_height", "memo", "prop", "box",
    "safe", "tint",
    "playback", "layer_weight", "mode", "height",
]


class WhileRuleTraits(NamedTuple):
    """What is known of a kind of while-rule."""

    words: str
    """What it is called in sentences."""
    form: Literal["factor", "switch", "choice"]
    """A factor multiplies a number, and eases by its share; a switch is on from half of its share;
    of choices the strongest counts."""
    in_report: bool = False
    """Whether what all of its kind come to is a field of the report, for the game; else it tells
    the rules alone."""
    changes: Literal["", "clips", "memos", "layers"] = ""
    """What of the tick itself it changes, beside what is reported: how fast clips play, what memos
    read as, how much of a layer is shown."""
    chooses: Literal["", "memo", "layer", "anchor", "box", "colour", "mode"] = ""
    """The field of a `Rule` that it says nothing without."""
    start: float = 1.0
    """The value of a new one."""
    low: float = 0.0
    high: float = 10.0


WHILE_RULES: dict[RuleKind, WhileRuleTraits] = {
    "move_speed": WhileRuleTraits("move speed", "factor", True, start=0.5),
    "gravity": WhileRuleTraits("gravity", "factor", True, start=0.5, low=-10.0),
    "jump_height": WhileRuleTraits("jump height", "factor", True, start=1.5),
    "lock_movement": WhileRuleTraits("movement locked", "switch", True),
    "lock_facing": WhileRuleTraits("facing locked", "switch", True),
    "safe": WhileRuleTraits("safe", "switch", True),
    "playback": WhileRuleTraits("clip speed", "factor", changes="clips", start=0.5),
    "layer_weight": WhileRuleTraits("weight", "factor", changes="layers", chooses="layer",
                                    start=0.0),
    "memo": WhileRuleTraits("memo", "choice", changes="memos", chooses="memo"),
    "prop": WhileRuleTraits("prop", "choice", chooses="anchor"),
    "box": WhileRuleTraits("body box", "choice", chooses="box"),
    "tint": WhileRuleTraits("tint", "choice", chooses="colour", start=0.5, high=1.0),
    "mode": WhileRuleTraits("mode", "choice", chooses="mode"),
    "height": WhileRuleTraits("body height", "factor", start=0.6, low=0.2, high=1.0),
}
"""By kind, in the order in which handed-off code counts them: factors of the report first, then its
switches."""
FACTORS = tuple(kind for kind, each in WHILE_RULES.items()
                if each.in_report and each.form == "factor")
SWITCHES = tuple(kind for kind, each in WHILE_RULES.items()
                 if each.in_report and each.form == "switch")
REPORTED = FACTORS + SWITCHES
"""What while-rules come to in a report, in the order of its fields."""
AT_REST: tuple[float | bool, ...] = (*(1.0 for _ in FACTORS), *(False for _ in SWITCHES))
"""What they come to where none is in force."""
