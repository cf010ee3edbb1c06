"""Which lanes stand under a clip's frames, and what is said of an event on them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ....core.model.events import Moment, Window
from ....core.model.puppet import Puppet


@dataclass(frozen=True)
class LaneKind:
    """A lane: its label, the kinds of events on it, and the kind a drag makes."""

    label: str
    kinds: tuple[str, ...]
    makes: str
    is_window: bool


LANES = (
    LaneKind("hit window", ("hit",), "hit", True),
    LaneKind("cancel window", ("cancel",), "cancel", True),
    LaneKind("other windows", ("guard", "safe", "named"), "guard", True),
    LaneKind("effects", ("effect",), "effect", False),
    LaneKind("sounds", ("sound",), "sound", False),
    LaneKind("launch, attach", ("launch", "attach"), "launch", False),
    LaneKind("calls, shakes", ("call", "shake"), "call", False),
)
FIRST_NAMES = {
    "hit": "hit", "cancel": "cancel", "guard": "guard", "effect": "spark", "sound": "sound", "launch": "bolt",
    "attach": "prop", "call": "jump", "shake": "shake",
}
ANCHORED = ("effect", "launch", "attach")
"""The kinds of moments that happen at an anchor."""


def event_words(event: Moment | Window, puppet: Puppet) -> str:
    """What stands on or beside an event."""
    if isinstance(event, Window):
        into = [node.name for node in puppet.nodes if node.id in event.into]
        return f"into {', '.join(into)}" if into else event.name
    words = MOMENT_WORDS.get(event.kind, lambda event, at: event.name)
    anchor = next((each.name for each in puppet.anchors if each.id == event.anchor), None)
    return words(event, f" at {anchor}" if anchor else "") + (" · only on a hit" if event.only_on_hit else "")


MOMENT_WORDS: dict[str, Callable[[Moment, str], str]] = {
    "effect": lambda event, at: f"{event.name}{at}{', follows' if event.follow and at else ''}",
    "launch": lambda event, at: f"{event.name}{at}, {event.speed:g} px/s",
    "attach": lambda event, at: f"{event.name}{at}",
    "shake": lambda event, at: f"shake {event.strength:g} px",
    "call": lambda event, at: f"{event.name}({', '.join(each.name for each in event.arguments)})"
    if event.arguments else event.name,
}
