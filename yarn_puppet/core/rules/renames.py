"""The renames that touch more than one place: windows, and choices, are known to conditions by name."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec.structs import replace

from ..model.basics.ids import fitting
from ..model.events import Deed
from ..model.kinds.windows import WINDOW_WORDS
from ..model.puppet import Puppet
from .scope import scope_by_id
from .translate import choice_replaced, windows_read


def windows_renamed(puppet: Puppet, names: Mapping[str, str]) -> Puppet:
    """With windows named otherwise, all at once, and every condition, setting, leave rule and hit box that names them.

    A word that is a kind of window means the kind there, whatever windows are named so: it stays.
    """
    scope, names = scope_by_id(puppet), {old: fitting(new) for old, new in names.items()}
    read = {old: new for old, new in names.items() if old not in WINDOW_WORDS}
    types = {memo.id: memo.type for memo in puppet.memos}

    def deeds(each: tuple[Deed, ...]) -> tuple[Deed, ...]:
        return tuple(
            replace(one, value=windows_read(one.value, scope, read, types.get(one.memo or "", "bool")))
            if one.value else one for one in each
        )

    clips = tuple(
        replace(
            clip,
            moments=tuple(replace(each, deeds=deeds(each.deeds)) if each.deeds else each for each in clip.moments),
            windows=tuple(
                replace(each, name=names[each.name]) if each.name in names else each for each in clip.windows),
            frames=tuple(
                replace(
                    frame,
                    boxes=tuple(
                        replace(box, name=names[box.name]) if box.kind == "hit" and box.name in names else box
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
            each, when=windows_read(each.when, scope, read),
            leave=replace(each.leave, window=read[each.leave.window]) if each.leave.window in read else each.leave,
        )
        for each in puppet.transitions
    )
    states = tuple(
        replace(each, on_enter=deeds(each.on_enter), on_leave=deeds(each.on_leave))
        if each.on_enter or each.on_leave else each for each in puppet.states
    )
    layers = tuple(
        replace(each, shown_when=windows_read(each.shown_when, scope, read)) if each.shown_when else each
        for each in puppet.layers
    )
    return replace(puppet, clips=clips, states=states, transitions=transitions, layers=layers)


def choice_renamed(puppet: Puppet, sense: str, old: str, new: str) -> Puppet:
    """With a choice of a sense renamed, and every condition and setting that compares it with that choice. Where there
    is no such choice yet, it is added; where there is no such sense, nothing is changed."""
    found = next((each for each in puppet.senses if each.id == sense), None)
    if found is None or old == new:
        return puppet
    renamed = tuple(dict.fromkeys([new if each == old else each for each in found.choices]))
    choices = renamed if new in renamed else (*renamed, new)
    scope = scope_by_id(puppet)
    start = new if found.start == old else found.start
    puppet = replace(puppet, senses=tuple(
        replace(each, choices=choices, start=start) if each is found else each for each in puppet.senses))
    if old not in found.choices:
        return puppet
    types = {memo.id: memo.type for memo in puppet.memos}

    def text(each: str, memo: str | None = None) -> str:
        return choice_replaced(each, scope, sense, old, new, types.get(memo or "", "bool")) if each else each

    def deeds(each: tuple[Deed, ...]) -> tuple[Deed, ...]:
        return tuple(replace(one, value=text(one.value, one.memo)) for one in each)

    return replace(
        puppet,
        transitions=tuple(replace(each, when=text(each.when)) for each in puppet.transitions),
        layers=tuple(replace(each, shown_when=text(each.shown_when)) for each in puppet.layers),
        states=tuple(replace(each, on_enter=deeds(each.on_enter), on_leave=deeds(each.on_leave))
                     for each in puppet.states),
        clips=tuple(replace(clip, moments=tuple(replace(each, deeds=deeds(each.deeds)) for each in clip.moments))
                    for clip in puppet.clips),
    )
