"""The one rename that touches more than one place: windows are known to conditions by name."""

from __future__ import annotations

from msgspec.structs import replace

from ..model.graph import MemoSet
from ..model.puppet import Puppet
from .scope import scope_by_id
from .translate import window_renamed


def windows_renamed(puppet: Puppet, old: str, new: str) -> Puppet:
    """With every window named `old` named `new`, and every condition, setting, leave rule and hit box that names
    it too."""
    scope = scope_by_id(puppet)
    types = {memo.id: memo.type for memo in puppet.memos}

    def sets(each: tuple[MemoSet, ...]) -> tuple[MemoSet, ...]:
        return tuple(
            replace(one, value=window_renamed(one.value, scope, old, new, types.get(one.memo, "bool"))) for one in each
        )

    clips = tuple(
        replace(
            clip,
            windows=tuple(replace(each, name=new) if each.name == old else each for each in clip.windows),
            frames=tuple(
                replace(
                    frame,
                    boxes=tuple(
                        replace(box, name=new) if box.kind == "hit" and box.name == old else box
                        for box in frame.boxes
                    ),
                )
                for frame in clip.frames
            ),
        )
        for clip in puppet.clips
    )
    transitions = tuple(
        replace(
            each, when=window_renamed(each.when, scope, old, new),
            leave=replace(each.leave, window=new) if each.leave.window == old else each.leave,
        )
        for each in puppet.transitions
    )
    states = tuple(
        replace(each, on_enter=sets(each.on_enter), on_leave=sets(each.on_leave))
        if each.on_enter or each.on_leave else each for each in puppet.states
    )
    return replace(puppet, clips=clips, states=states, transitions=transitions)
