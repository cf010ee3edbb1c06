"""Wiring that leads nowhere: presses that nothing reads, gestures that another always uses up, ways
back that are taken at once, and names that say another gesture."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import lru_cache

from ..engine.program import Program
from ..model.clips import Clip
from ..model.graph import State, Transition
from ..model.kinds.gestures import GESTURES
from ..model.puppet import Puppet
from ..model.wiring import Intent
from ..rules.needs import words_of
from .snag import Snag

SAID_BY = {name: gesture for gesture, each in GESTURES.items() for name in each.names}
"""The gesture that the first word of an intent's name says."""


def dead_ends(puppet: Puppet, program: Program) -> list[Snag]:
    """All of them."""
    return [*_misnamed(puppet), *_without_buffer(puppet), *_long_presses(puppet),
            *_always_used_up(puppet), *_back_at_once(puppet), *_props_nowhere(puppet),
            *_windows_nowhere(puppet)]


@lru_cache(maxsize=4096)
def _words(when: str) -> frozenset[str]:
    return frozenset(words_of(when))


def _read(puppet: Puppet) -> frozenset[str]:
    """The ids of intents that some transition reads."""
    return frozenset().union(*(_words(each.when) for each in puppet.transitions))


def _misnamed(puppet: Puppet) -> Iterator[Snag]:
    for intent in puppet.intents:
        said = SAID_BY.get(intent.name.split("_")[0].casefold())
        if said is not None and said != intent.gesture:
            yield Snag("warning", "intent", intent.id, intent.name,
                       f"its name says {said}, and its gesture is {intent.gesture}",
                       "call it by its gesture, or choose the other gesture")


def _without_buffer(puppet: Puppet) -> Iterator[Snag]:
    read = _read(puppet)
    for intent in puppet.intents:
        if intent.buffer == 0 and not GESTURES[intent.gesture].is_level and intent.id in read:
            yield Snag("warning", "intent", intent.id, intent.name,
                       "its buffer is 0: a transition that cannot be taken in that very tick "
                       "never sees it", "give it a few ticks")


def _long_presses(puppet: Puppet) -> Iterator[Snag]:
    """Actions of which only taps are read: a press that lasts longer is nothing."""
    read = _read(puppet)
    by_action: dict[str, list[Intent]] = {}
    for intent in puppet.intents:
        if intent.id in read:
            by_action.setdefault(intent.action, []).append(intent)
    for intents in by_action.values():
        tap = next((intent for intent in intents
                    if GESTURES[intent.gesture].measures == "length under"), None)
        if tap is not None and not any(GESTURES[intent.gesture].minds_long_presses
                                       for intent in intents):
            yield Snag("warning", "intent", tap.id, tap.name,
                       f"a press longer than {tap.seconds:g} s does nothing: no hold of its action "
                       "is read", "make it a press, or read a hold too")


def _always_used_up(puppet: Puppet) -> Iterator[Snag]:
    """Holds and taps that never arm, since a press of their action is used up from the same
    source whenever it comes."""
    intents = {intent.id: intent for intent in puppet.intents}
    by_source: dict[str, list[Transition]] = {}
    for each in puppet.transitions:
        by_source.setdefault(each.source, []).append(each)
    for ways in by_source.values():
        # Read alone, at any time: it is taken with every press.
        taken = {intents[way.when.strip()].action for way in ways
                 if way.leave.kind == "any time" and way.when.strip() in intents
                 and intents[way.when.strip()].gesture == "press"}
        for way in ways:
            for word in sorted(_words(way.when) & intents.keys()):
                late = intents[word]
                if late.action in taken and GESTURES[late.gesture].comes_late and (
                        not late.even_if_used):
                    yield Snag("warning", "transition", way.id, late.name,
                               f"a press of {late.action} is used up before {late.name} can come",
                               "read a tap in place of the press, or let it arm even if the press "
                               "was used")


def _back_at_once(puppet: Puppet) -> Iterator[Snag]:
    """There on something momentary, and back when it is no more: which is at once."""
    momentary = {intent.id for intent in puppet.intents
                 if not GESTURES[intent.gesture].is_level}
    there = {(each.source, each.target): each for each in puppet.transitions
             if _words(each.when) & momentary}
    for each in puppet.transitions:
        way = there.get((each.target, each.source))
        negated = each.when.strip().removeprefix("not ").strip()
        if way is not None and each.leave.kind == "any time" and (
                each.when.strip().startswith("not ") and negated in momentary
                and negated in _words(way.when)):
            name = next(intent.name for intent in puppet.intents if intent.id == negated)
            yield Snag("warning", "transition", each.id, name,
                       "it is gone as soon as it was used: the way back is taken in the next tick",
                       "go back at the end, or while a held one is let go")


def windows_waited_for(puppet: Puppet, state: State) -> tuple[str, ...]:
    """The windows that ways out of a state of its own wait for, and that none of its clips has,
    though some other clip does."""
    return _lacking(puppet.clips_of(state), puppet.transitions_of(state.id),
                    _names_of(puppet.clips))


def _lacking(clips: tuple[Clip, ...], ways: Iterable[Transition],
             somewhere: frozenset[str]) -> tuple[str, ...]:
    own = _names_of(clips)
    wanted = [each.leave.window for each in ways if each.leave.kind == "in a window"]
    return tuple(dict.fromkeys(name for name in wanted
                               if clips and name not in own and name in somewhere))


def _names_of(clips: Iterable[Clip]) -> frozenset[str]:
    return frozenset(name for clip in clips for window in clip.windows
                     for name in (window.name, window.kind))


def _windows_nowhere(puppet: Puppet) -> Iterator[Snag]:
    """States whose ways out wait for a window that their clip has not: a chain that ends there."""
    somewhere = _names_of(puppet.clips)
    ways: dict[str, list[Transition]] = {}
    for each in puppet.transitions:
        ways.setdefault(each.source, []).append(each)
    for state, clips in puppet.clips_by_state():
        for window in _lacking(clips, ways.get(state.id, ()), somewhere):
            yield Snag("warning", "state", state.id, state.name,
                       f"a way out of it waits for a window {window}, which its clip has not",
                       "take the windows over from the clip that had them, or draw one")


def _props_nowhere(puppet: Puppet) -> Iterator[Snag]:
    """Props held at an anchor that no clip of the state has."""
    known = {anchor.id for anchor in puppet.anchors}
    on_bones = {anchor.id for anchor in puppet.anchors if anchor.on_bone is not None}
    has = {clip.id: on_bones if clip.motion is not None
           else {point.anchor for frame in clip.frames for point in frame.anchors}
           for clip in puppet.clips}
    for state, clips in puppet.clips_by_state():
        for rule in state.rules:
            if rule.kind == "prop" and rule.anchor in known and clips and not any(
                    rule.anchor in has[clip.id] for clip in clips):
                yield Snag("warning", "state", state.id, state.name,
                           f"it holds a prop at {rule.anchor}, which no frame of its clip has",
                           "put the anchor into the clip, or choose another")
