"""Ready-made pieces of a graph, each one edit: combos, ways back, there and back, whole bands at once."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from msgspec.structs import replace

from ..events import Deed, Window
from ..graph import BODY, Leave, State, Transition
from ..ids import all_ids, free_name, new_id
from ..puppet import Puppet
from ..wiring import Memo
from .entries import added, changed, tidy, with_entries
from .graph import group_added, transition_added
from .wiring import free_word

COMBO_RETURNS = 1.0
"""Seconds after which a combo begins anew."""
CANCEL_FROM = 0.55
"""The share of a clip from which the next step may break it off, where it has neither a cancel nor a hit window."""


def chained(puppet: Puppet, states: Sequence[str], when: str) -> Puppet:
    """With states as the steps of a combo, each led on to the next by `when` in its cancel window.

    They are put into a group of their own, in this order; a memo counts the steps, wraps, and goes back by itself. A
    clip without a cancel window gets one, from the end of its last hit window on. What leads to the group begins with
    the first.
    """
    steps = [state for state in (puppet.state(id) for id in states) if state is not None]
    if len(steps) < 2:
        return puppet
    memo_name = free_word(puppet, "combo_step")
    memo = new_id(memo_name, all_ids(puppet), "memo")
    puppet = added(puppet, "memos", Memo(memo, memo_name, "int", 0, wraps=len(steps), returns=COMBO_RETURNS))
    around = steps[0].group
    puppet, group = group_added(puppet, "Combo", around, steps[0].layer)
    colour = puppet.group(around)
    puppet = changed(puppet, "groups", group, start=steps[0].id, **({"thread": colour.thread} if colour else {}))
    for number, step in enumerate(steps):
        puppet = changed(puppet, "states", step.id, group=group, place=number,
                         on_enter=(*step.on_enter, Deed(memo, str(number))))
        if number + 1 < len(steps):
            puppet = cancel_window_added(puppet, step)
    for one, other in pairwise(steps):
        known = next((each for each in puppet.transitions_of(one.id) if each.target == other.id), None)
        if known is None:
            puppet, id = transition_added(puppet, one.id, other.id, when)
        else:
            id = known.id
        puppet = changed(puppet, "transitions", id, when=when or (known.when if known else ""),
                         leave=Leave("in a window", window="cancel"))
    # A way back that each step has already is left as it is; the others go back to where the first one goes.
    return back_at_the_end(puppet, [step.id for step in steps])


def cancel_window_added(puppet: Puppet, state: State) -> Puppet:
    """With a cancel window in the clip of a state, if it has none: from the end of its hits to its end."""
    for clip in puppet.clips_of(state):
        if any(window.kind == "cancel" for window in clip.windows) or not clip.frames:
            continue
        hits = [window.end for window in clip.windows if window.kind == "hit"]
        start = min(max(hits), clip.length * 0.9) if hits else clip.length * CANCEL_FROM
        id = new_id("cancel", all_ids(puppet), "event")
        window = Window(id, tidy(start), tidy(clip.length), "cancel", "cancel")
        puppet = changed(puppet, "clips", clip.id, windows=(*clip.windows, window))
    return puppet


def back_at_the_end(puppet: Puppet, states: Sequence[str], target: str | None = None) -> Puppet:
    """With a transition at the end of each state's clip, to the start of its layer where none is named.

    States that have one already keep it.
    """
    for id in states:
        state = puppet.state(id)
        if state is None:
            continue
        start = next((layer.start for layer in puppet.layers if layer.id == state.layer), None)
        back = target or start
        known = any(each.leave.kind == "at the end" for each in puppet.transitions_of(id))
        if known or back is None or back == id:
            continue
        puppet, made = transition_added(puppet, id, back)
        puppet = changed(puppet, "transitions", made, leave=Leave("at the end"))
        puppet = _played_once(puppet, state)
    return puppet


def _played_once(puppet: Puppet, state: State) -> Puppet:
    """With the clip of a state that leaves at its end played once, where it looped and no other state plays it."""
    clip = puppet.clip(state.clip)
    shared = sum(state.clip in (each.clip, *(one.id for one in puppet.clips_of(each))) for each in puppet.states) > 1
    if clip is None or clip.mode != "loop" or shared:
        return puppet
    return changed(puppet, "clips", clip.id, mode="once")


def performed(puppet: Puppet, state: str, source: str, when: str) -> Puppet:
    """With a way into a state from another node on a condition, and back at the end of its clip: a swing, a jump, a
    bow.

    Back leads to the start of the source, if that is a group, or to the source itself.
    """
    found = puppet.state(state)
    if found is None or source == state:
        return puppet
    puppet = transition_added(puppet, source, state, when)[0]
    group = puppet.group(source)
    inside = group is not None and any(each.id == source for each in puppet.groups_around(found))
    back = source
    if inside and group is not None:
        back = group.start if group.start not in (None, state) else next(
            (each.id for each in puppet.states_inside(source) if each.id != state), source)
    return back_at_the_end(puppet, [state], back)


def there_and_back(puppet: Puppet, source: str, target: str, when: str, back: str) -> Puppet:
    """With a transition there when one condition holds, and one back when the other does."""
    puppet, _ = transition_added(puppet, source, target, when)
    return transition_added(puppet, target, source, back)[0]


def every_state_to(puppet: Puppet, group: str, target: str, when: str) -> Puppet:
    """With one transition of a whole band, to a state or group; none from the state itself, which is never
    re-entered."""
    return transition_added(puppet, group, target, when)[0]


def while_held(puppet: Puppet, group: str, target: str, held: str) -> Puppet:
    """With a way from every state of a band while an intent is held, and back to the band when it is let go.

    The band remembers where it was, so that back is where it came from. The state is taken out of the band, as else the
    way to it would lead from itself.
    """
    band, state = puppet.group(group), puppet.state(target)
    if band is None or state is None:
        return puppet
    if any(each.id == group for each in puppet.groups_around(state)):
        puppet = changed(puppet, "states", target, group=band.group, place=None)
        if band.start == target:
            inside = next((each.id for each in puppet.states_inside(group)), None)
            puppet = changed(puppet, "groups", group, start=inside)
    puppet = changed(puppet, "groups", group, remembers=True)
    return there_and_back(puppet, group, target, held, f"not {held}")


def shared_group(puppet: Puppet, states: Sequence[str], name: str) -> tuple[Puppet, str]:
    """With some states in a new group inside the one they share, if they do; also its id."""
    found = [state for state in (puppet.state(id) for id in states) if state is not None]
    around = found[0].group if found and len({state.group for state in found}) == 1 else None
    layer = found[0].layer if found else BODY
    puppet, group = group_added(puppet, free_name(name, {node.name for node in puppet.nodes}), around, layer)
    places = {state.id: number for number, state in enumerate(found)}
    moved = tuple(
        replace(state, group=group, place=places[state.id]) if state.id in places else state for state in puppet.states
    )
    return with_entries(puppet, "states", moved), group


def transitions_into(puppet: Puppet, states: Sequence[str], source: str, when: str) -> Puppet:
    """With a transition from one node to each of some states."""
    for id in states:
        if id != source:
            puppet = transition_added(puppet, source, id, when)[0]
    return puppet


def ways_copied(puppet: Puppet, like: Transition, sources: Sequence[str], targets: Sequence[str]) -> Puppet:
    """With transitions like one between each of these sources and targets, where there is none yet."""
    known = {(each.source, each.target) for each in puppet.transitions}
    for source in sources:
        for target in targets:
            if source != target and (source, target) not in known:
                puppet, id = transition_added(puppet, source, target, like.when)
                puppet = changed(puppet, "transitions", id, leave=like.leave, blend=like.blend)
    return puppet
