"""Which lanes stand under a clip's frames, and what is said of an event on them."""

from __future__ import annotations

from dataclasses import dataclass

from ...core.model.clips import Moment, Window
from ...core.model.puppet import Puppet


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
    LaneKind("calls, shakes", ("call", "shake"), "call", False),
)
FIRST_NAMES = {
    "hit": "hit", "cancel": "cancel", "guard": "guard", "effect": "spark", "sound": "sound", "call": "jump",
}


def event_words(event: Moment | Window, puppet: Puppet) -> str:
    """What stands on or beside an event."""
    if isinstance(event, Window):
        into = [node.name for node in puppet.nodes if node.id in event.into]
        return f"into {', '.join(into)}" if into else event.name
    anchor = next((each.name for each in puppet.anchors if each.id == event.anchor), None)
    return f"{event.name}{f' at {anchor}' if anchor else ''}{', follows' if event.follow and anchor else ''}"
