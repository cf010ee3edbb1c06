"""Which lanes stand under a clip's frames, and what is said of an event on them."""

from __future__ import annotations

from dataclasses import dataclass

from msgspec.structs import asdict

from ....core.model.events import Moment, Window
from ....core.model.kinds.moments import MOMENT_LANES, MOMENTS
from ....core.model.kinds.windows import WINDOW_LANES, WINDOWS
from ....core.model.puppet import Puppet


@dataclass(frozen=True)
class LaneKind:
    """A lane: its label, the kinds of events on it, and the kind a drag makes."""

    label: str
    kinds: tuple[str, ...]
    makes: str
    is_window: bool


LANES = (
    *[LaneKind(lane, tuple([kind for kind, each in WINDOWS.items() if each.lane == lane]), makes,
               True)
      for lane, makes in WINDOW_LANES.items()],
    *[LaneKind(lane, tuple([kind for kind, each in MOMENTS.items() if each.lane == lane]), makes,
               False)
      for lane, makes in MOMENT_LANES.items()],
)


def event_words(event: Moment | Window, puppet: Puppet) -> str:
    """What stands on or beside an event."""
    if isinstance(event, Window):
        into = [node.name for node in puppet.nodes if node.id in event.into]
        return f"into {', '.join(into)}" if into else event.name
    anchor = next((each.name for each in puppet.anchors if each.id == event.anchor), None)
    where = f" at {anchor}" if anchor else ""
    given = (
        f"({', '.join(argument.name for argument in event.arguments)})" if event.arguments else ""
    )
    words = MOMENTS[event.kind].label.format(
        **asdict(event), where=where, follows=", follows" if event.follow and where else "",
        given=given)
    return words + (" · only on a hit" if event.only_on_hit else "")
