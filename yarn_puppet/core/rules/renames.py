"""The renames that touch more than one place: windows, and choices, are known to conditions by
name."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import TypeVar

from msgspec.structs import replace

from ..model.basics.ids import fitting
from ..model.events import Deed, Window
from ..model.graph import Group, State
from ..model.kinds.windows import WINDOW_WORDS
from ..model.puppet import Puppet
from .scope import scope_by_id
from .translate import choice_replaced, windows_read

Ruled = TypeVar("Ruled", State, Group, Window)


def windows_renamed(puppet: Puppet, names: Mapping[str, str]) -> Puppet:
    """With windows named otherwise, all at once, and every condition, setting, leave rule and hit
    box that names them.

    A word that is a kind of window means the kind there, whatever windows are named so: it stays.
    """
    scope, names = scope_by_id(puppet), {old: fitting(new) for old, new in names.items()}
    read = {old: new for old, new in names.items() if old not in WINDOW_WORDS}
    types = {memo.id: memo.type for memo in puppet.memos}

    def deeds(each: tuple[Deed, ...]) -> tuple[Deed, ...]:
        return tuple(
            replace(one, value=windows_read(one.value, scope, read,
                                            types.get(one.memo or "", "bool")))
            if one.value else one for one in each
        )

    def ruled(owner: Ruled) -> Ruled:
        return _with_conditions(owner, lambda text: windows_read(text, scope, read))

    clips = tuple(
        replace(
            clip,
            moments=tuple(replace(moment, deeds=deeds(moment.deeds)) if moment.deeds else moment
                          for moment in clip.moments),
            windows=tuple(ruled(
                replace(window, name=names[window.name]) if window.name in names else window)
                for window in clip.windows),
            frames=tuple(
                replace(
                    frame,
                    boxes=tuple(
                        replace(box, name=names[box.name])
                        if box.kind == "hit" and box.name in names else box
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
            transition, when=windows_read(transition.when, scope, read),
            leave=replace(transition.leave, window=read[transition.leave.window])
            if transition.leave.window in read else transition.leave,
        )
        for transition in puppet.transitions
    )
    states = tuple(
        replace(state, on_enter=deeds(state.on_enter), on_leave=deeds(state.on_leave))
        if state.on_enter or state.on_leave else state for state in puppet.states
    )
    layers = tuple(
        replace(layer, shown_when=windows_read(layer.shown_when, scope, read))
        if layer.shown_when else layer
        for layer in puppet.layers
    )
    return replace(puppet, clips=clips, states=tuple(map(ruled, states)),
                   groups=tuple(map(ruled, puppet.groups)), transitions=transitions, layers=layers)


def _with_conditions(owner: Ruled, read: Callable[[str], str]) -> Ruled:
    """A state, group or window with the conditions of its while-rules as they are read now."""
    if not any(rule.when for rule in owner.rules):
        return owner
    return replace(owner, rules=tuple(
        replace(rule, when=read(rule.when)) if rule.when else rule for rule in owner.rules))


def choice_renamed(puppet: Puppet, sense: str, old: str, new: str) -> Puppet:
    """With a choice of a sense renamed, and every condition and setting that compares it with that
    choice. Where there is no such choice yet, it is added; where there is no such sense, nothing is
    changed."""
    found = next((each for each in puppet.senses if each.id == sense), None)
    if found is None or old == new:
        return puppet
    renamed = tuple(dict.fromkeys([new if choice == old else choice for choice in found.choices]))
    choices = renamed if new in renamed else (*renamed, new)
    scope = scope_by_id(puppet)
    start = new if found.start == old else found.start
    puppet = replace(puppet, senses=tuple(
        replace(each, choices=choices, start=start) if each is found else each
        for each in puppet.senses))
    if old not in found.choices:
        return puppet
    types = {memo.id: memo.type for memo in puppet.memos}

    def text(each: str, memo: str | None = None) -> str:
        return (
            choice_replaced(each, scope, sense, old, new, types.get(memo or "", "bool"))
            if each
            else each
        )

    def deeds(each: tuple[Deed, ...]) -> tuple[Deed, ...]:
        return tuple(replace(one, value=text(one.value, one.memo)) for one in each)

    return replace(
        puppet,
        transitions=tuple(replace(transition, when=text(transition.when))
                          for transition in puppet.transitions),
        layers=tuple(replace(layer, shown_when=text(layer.shown_when)) for layer in puppet.layers),
        states=tuple(_with_conditions(
            replace(state, on_enter=deeds(state.on_enter), on_leave=deeds(state.on_leave)), text)
            for state in puppet.states),
        groups=tuple(_with_conditions(group, text) for group in puppet.groups),
        clips=tuple(replace(clip,
                            moments=tuple(replace(moment, deeds=deeds(moment.deeds))
                                          for moment in clip.moments),
                            windows=tuple(_with_conditions(window, text)
                                          for window in clip.windows))
                    for clip in puppet.clips),
    )
