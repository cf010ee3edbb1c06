"""Ready-made pieces of a graph, each one edit: combos, ways back, there and back, whole bands at
once."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from msgspec.structs import replace

from ..basics.ids import all_ids, free_name, new_id
from ..events import Deed, Window
from ..graph import BODY, Group, Leave, State, Transition
from ..puppet import Puppet
from ..wiring import Memo
from .entries import added, changed, tidy, with_entries
from .graph import group_added, transition_added
from .wiring import free_word

COMBO_RETURNS = 1.0
"""Seconds after which a combo starts again."""
STAYS = ("loop", "back and forth", "hold last")
"""The modes of clips that go on for as long as one stays."""
CANCEL_FROM = 0.55
"""The share of a clip from which the next step may break it off, where it has neither a cancel nor
a hit window."""


def can_go_on(puppet: Puppet, id: str | None) -> bool:
    """Whether a state can be come back to without anything happening twice: what it plays loops or
    holds, hits nothing and calls for nothing."""
    state = puppet.state(id)
    if state is None:
        return False
    return all(
        clip.mode in STAYS and not any(window.kind == "hit" for window in clip.windows)
        and not any(moment.kind in ("call", "launch") for moment in clip.moments)
        for clip in puppet.clips_of(state))


def way_back(puppet: Puppet, left: str) -> str | None:
    """Where a piece leads back to that left a state or a band: to that state where it can go on,
    else to the start of the band around it, of the one around that, and so on, then of the layer;
    None where all of them strike."""
    node = puppet.node(left)
    if node is None:
        return None
    groups = [group for group in (puppet.group(left), *puppet.groups_around(node))
              if group is not None]
    layer = next((each for each in puppet.layers if each.id == node.layer), None)
    starts = [_start_of(puppet, group) for group in groups] + [
        layer.start if layer is not None else None]
    starts += [state.id for state in puppet.states if state.layer == node.layer]
    return next((id for id in (left, *starts) if can_go_on(puppet, id)), None)


def _start_of(puppet: Puppet, group: Group) -> str | None:
    """The state that entering a group ends in."""
    seen = set[str]()
    start: str | None = group.id
    while (within := puppet.group(start)) is not None and within.id not in seen:
        seen.add(within.id)
        inside = [each.id for each in puppet.states_inside(within.id)]
        known = (
            within.start
            if within.start in inside or puppet.group(within.start) is not None
            else None
        )
        start = known or next(iter(inside), None)
    return start


def chain_trouble(puppet: Puppet, states: Sequence[str]) -> str | None:
    """Why some states cannot be made the steps of a combo; None where they can."""
    steps = [state for state in (puppet.state(id) for id in states) if state is not None]
    if len(steps) < 2:
        return "choose two states or more"
    if len({step.layer for step in steps}) > 1:
        other = next(step for step in steps if step.layer != steps[0].layer)
        return f"{other.name} is on another layer than {steps[0].name}: nothing leads across layers"
    for step in steps:
        if step.group == steps[0].group:
            continue
        band = puppet.group(step.group)
        if band is not None and (band.rules or puppet.transitions_of(band.id)):
            return (f"{step.name} would lose the ways out and the while-rules of {band.name}: put "
                    "it into one band first")
    inside = puppet.group(steps[0].group)
    if inside is not None and _is_combo(puppet, inside) and not _chained_already(puppet, steps):
        return (f"{inside.name} is a combo already: take the states out of it first, or choose "
                "all of it in its order")
    return None


def _is_combo(puppet: Puppet, group: Group) -> bool:
    """Whether states of a group lead on to each other in cancel windows, and count in a memo that
    returns."""
    inside = {state.id for state in puppet.states if state.group == group.id}
    returning = {memo.id for memo in puppet.memos if memo.wraps and memo.returns}
    return any(transition.source in inside and transition.target in inside
               and transition.leave.kind == "in a window"
               for transition in puppet.transitions) and any(
        deed.memo in returning for state in puppet.states if state.id in inside
        for deed in state.on_enter)


def _chained_already(puppet: Puppet, steps: Sequence[State]) -> bool:
    """Whether these are all the steps of a combo, in this order."""
    group = puppet.group(steps[0].group)
    inside = [state.id for state in puppet.states if group is not None and state.group == group.id]
    return group is not None and _is_combo(puppet, group) and sorted(inside) == sorted(
        step.id for step in steps) and all(
        any(each.target == other.id for each in puppet.transitions_of(one.id))
        for one, other in pairwise(steps))


def chained(puppet: Puppet, states: Sequence[str], when: str) -> Puppet:
    """With states as the steps of a combo, each led on to the next by `when` in its cancel window.

    They are put into a group of their own, in this order; a memo counts the steps, wraps, and goes
    back by itself. A clip without a cancel window gets one, from the end of its last hit window on.
    What leads to the group begins with the first. Steps that are chained already are led on by
    another condition, and nothing else. Where there is `chain_trouble` nothing changes.
    """
    steps = [state for state in (puppet.state(id) for id in states) if state is not None]
    if chain_trouble(puppet, states) is not None:
        return puppet
    if _chained_already(puppet, steps):
        for one, other in pairwise(steps):
            way = next(each for each in puppet.transitions_of(one.id) if each.target == other.id)
            puppet = changed(puppet, "transitions", way.id, when=when or way.when)
        return puppet
    memo_name = free_word(puppet, "combo_step")
    memo = new_id(memo_name, all_ids(puppet), "memo")
    puppet = added(puppet, "memos",
                   Memo(memo, memo_name, "int", 0, wraps=len(steps), returns=COMBO_RETURNS))
    around = steps[0].group
    puppet, group = group_added(puppet, "Combo", around, steps[0].layer)
    colour = puppet.group(around)
    puppet = changed(puppet, "groups", group, start=steps[0].id,
                     **({"thread": colour.thread} if colour else {}))
    for number, step in enumerate(steps):
        puppet = changed(puppet, "states", step.id, group=group, place=number,
                         on_enter=(*step.on_enter, Deed(memo, str(number))))
        if number + 1 < len(steps):
            puppet = cancel_window_added(puppet, step)
    for one, other in pairwise(steps):
        known = next((each for each in puppet.transitions_of(one.id) if each.target == other.id),
                     None)
        if known is None:
            puppet, id = transition_added(puppet, one.id, other.id, when)
        else:
            id = known.id
        puppet = changed(puppet, "transitions", id, when=when or (known.when if known else ""),
                         leave=Leave("in a window", window="cancel"))
    # A way back that each step has already is left as it is; the others go back to where the first
    # one goes.
    return back_at_the_end(puppet, [step.id for step in steps])


def cancel_window_added(puppet: Puppet, state: State) -> Puppet:
    """With a cancel window in the clip of a state, if it has none: from the end of its hits to its
    end."""
    for clip in puppet.clips_of(state):
        if any(window.kind == "cancel" for window in clip.windows) or not clip.plays:
            continue
        hits = [window.end for window in clip.windows if window.kind == "hit"]
        start = min(max(hits), clip.length * 0.9) if hits else clip.length * CANCEL_FROM
        id = new_id("cancel", all_ids(puppet), "event")
        window = Window(id, tidy(start), tidy(clip.length), "cancel", "cancel")
        puppet = changed(puppet, "clips", clip.id, windows=(*clip.windows, window))
    return puppet


def back_at_the_end(puppet: Puppet, states: Sequence[str], target: str | None = None) -> Puppet:
    """With a transition at the end of each state's clip, to the start of its layer where none is
    named.

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
        puppet = played_once(puppet, state)
    return puppet


def played_once(puppet: Puppet, state: State) -> Puppet:
    """With the clip of a state that leaves at its end played once, where it looped and no other
    state plays it."""
    clip = puppet.clip(state.clip)
    shared = sum(state.clip in (each.clip, *(one.id for one in puppet.clips_of(each)))
                 for each in puppet.states) > 1
    if clip is None or clip.mode != "loop" or shared:
        return puppet
    return changed(puppet, "clips", clip.id, mode="once")


def performed(puppet: Puppet, state: str, source: str, when: str) -> Puppet:
    """With a way into a state from another node on a condition, and back at the end of its clip: a
    swing, a jump, a bow.

    Back leads to the source, if that is a group or goes on for as long as one stays; else to where
    `way_back` says, so that nothing is done twice by one press.
    """
    found = puppet.state(state)
    if found is None or source == state:
        return puppet
    puppet = transition_added(puppet, source, state, when)[0]
    group = puppet.group(source)
    if (
        group is not None
        and not any(each.id == source for each in puppet.groups_around(found))
        and can_go_on(puppet, _start_of(puppet, group))
    ):
        return back_at_the_end(puppet, [state], source)
    return back_at_the_end(puppet, [state], way_back(puppet, source))


def there_and_back(puppet: Puppet, source: str, target: str, when: str, back: str) -> Puppet:
    """With a transition there when one condition holds, and one back when the other does: to the
    source where it can go on, else to where `way_back` says."""
    puppet, _ = transition_added(puppet, source, target, when)
    to = source if puppet.group(source) is not None else way_back(puppet, source)
    return (
        transition_added(puppet, target, to, back)[0] if to is not None and to != target else puppet
    )


def every_state_to(puppet: Puppet, group: str, target: str, when: str) -> Puppet:
    """With one transition of a whole band, to a state or group; none from the state itself, which
    is never re-entered."""
    return transition_added(puppet, group, target, when)[0]


def while_held(puppet: Puppet, group: str, target: str, held: str) -> Puppet:
    """With a way from every state of a band while an intent is held, and back when it is let go.

    Back is the state that was left, where it can go on; of a band in which all can, the band
    remembers it, and in one that has others too a memo does. From a state that cannot, as a swing,
    back is the start of the band, or where `way_back` says: one press never swings twice. The state
    is taken out of the band, as else the way to it would lead from itself.
    """
    band, state = puppet.group(group), puppet.state(target)
    if band is None or state is None:
        return puppet
    if any(each.id == group for each in puppet.groups_around(state)):
        puppet = changed(puppet, "states", target, group=band.group, place=None)
        if band.start == target:
            inside = next((each.id for each in puppet.states_inside(group)), None)
            puppet = changed(puppet, "groups", group, start=inside)
    puppet, _ = transition_added(puppet, group, target, held)
    inside_of_it = puppet.states_inside(group)
    going_on = [each for each in inside_of_it if can_go_on(puppet, each.id)]
    if inside_of_it and len(going_on) == len(inside_of_it):
        puppet = changed(puppet, "groups", group, remembers=True)
        return transition_added(puppet, target, group, f"not {held}")[0]
    if going_on and not band.remembers:
        puppet = _remembering_in_a_memo(puppet, state.name, target, inside_of_it, going_on, held)
    back = way_back(puppet, group)
    return (
        transition_added(puppet, target, back, f"not {held}")[0]
        if back not in (None, target)
        else puppet
    )


def _remembering_in_a_memo(
    puppet: Puppet,
    name: str,
    target: str,
    inside: Sequence[State],
    going_on: Sequence[State],
    held: str,
) -> Puppet:
    """With a memo of which of the states that can go on was left last, and a way back to each of
    them."""
    memo_name = free_word(puppet, f"before_{name}")
    memo = new_id(memo_name, all_ids(puppet), "memo")
    puppet = added(puppet, "memos", Memo(memo, memo_name, "int", 0))
    numbers = {each.id: number for number, each in enumerate(going_on, 1)}
    for each in inside:
        deed = Deed(memo, str(numbers.get(each.id, 0)))
        puppet = changed(puppet, "states", each.id, on_leave=(*each.on_leave, deed))
    for each in going_on:
        puppet, _ = transition_added(puppet, target, each.id,
                                     f"not {held} and {memo} == {numbers[each.id]}")
    return puppet


def shared_group(puppet: Puppet, states: Sequence[str], name: str) -> tuple[Puppet, str]:
    """With some states in a new group inside the one they share, if they do; also its id."""
    found = [state for state in (puppet.state(id) for id in states) if state is not None]
    around = found[0].group if found and len({state.group for state in found}) == 1 else None
    layer = found[0].layer if found else BODY
    puppet, group = group_added(puppet, free_name(name, {node.name for node in puppet.nodes}),
                                around, layer)
    places = {state.id: number for number, state in enumerate(found)}
    moved = tuple(
        replace(state, group=group, place=places[state.id]) if state.id in places else state
        for state in puppet.states
    )
    return with_entries(puppet, "states", moved), group


def transitions_into(puppet: Puppet, states: Sequence[str], source: str, when: str) -> Puppet:
    """With a transition from one node to each of some states."""
    for id in states:
        if id != source:
            puppet = transition_added(puppet, source, id, when)[0]
    return puppet


def ways_copied(
    puppet: Puppet, like: Transition, sources: Sequence[str], targets: Sequence[str]
) -> Puppet:
    """With transitions like one between each of these sources and targets, where there is none
    yet."""
    known = {(transition.source, transition.target) for transition in puppet.transitions}
    for source in sources:
        for target in targets:
            if source != target and (source, target) not in known:
                puppet, id = transition_added(puppet, source, target, like.when)
                puppet = changed(puppet, "transitions", id, leave=like.leave, blend=like.blend)
    return puppet
