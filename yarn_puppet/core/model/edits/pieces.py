"""Ready-made pieces that most characters have, each one edit: a jump, and moving."""

from __future__ import annotations

from collections.abc import Sequence

from ..basics.ids import all_ids, new_id
from ..events import Moment
from ..graph import Leave, State
from ..puppet import Puppet
from ..starter import BOOTH_SENSES
from .entries import added, changed
from .graph import transition_added
from .ready_made import played_once, way_back

JUMP = "jump"
"""The call that the mover jumps by."""
STANDS_STILL = 8
"""Pixels a second below which what walked stands."""


def jump_trouble(puppet: Puppet, states: Sequence[str]) -> str | None:
    """Why some states cannot be made a jump; None where they can."""
    steps = [state for state in map(puppet.state, states) if state is not None]
    if not 1 <= len(steps) <= 3:
        return "choose one to three states: what rises, what falls, what lands"
    if len({step.layer for step in steps}) > 1:
        return "choose states of one layer"
    return None


def jump(puppet: Puppet, states: Sequence[str], source: str, when: str) -> Puppet:
    """With states as a jump from a node on a condition: the first rises, the second falls, the
    third lands.

    The first calls for the jump as its clip begins; it is left for the second at the top of the
    flight, which what stands comes to too where the ground ends; the third goes back at the end of
    its clip. Where one is not there the way leads past it. What leads between two of them already
    stays as it is.
    """
    steps = [state for state in map(puppet.state, states) if state is not None]
    if jump_trouble(puppet, states) is not None or source in states or puppet.node(source) is None:
        return puppet
    puppet = _with_senses(puppet, ("grounded", "vy"))
    back = source if puppet.group(source) is not None else way_back(puppet, source)
    rise, fall, land = (*steps, None, None)[:3]
    assert rise is not None
    puppet = _calling(puppet, rise)
    puppet = _way(puppet, source, rise.id, f"{when} and grounded" if when else "grounded")
    if fall is not None:
        puppet = _way(puppet, rise.id, fall.id, "vy < 0 and elapsed > 0.05")
        puppet = _way(puppet, source, fall.id, "not grounded")
    down = fall or rise
    if land is not None:
        puppet = _way(puppet, down.id, land.id, "grounded")
        if back is not None:
            puppet = _way(puppet, land.id, back, "", Leave("at the end"))
            puppet = played_once(puppet, land)
    elif back is not None:
        puppet = _way(puppet, down.id, back,
                      "grounded" if fall is not None else "grounded and elapsed > 0.1")
    return puppet


def moving_trouble(puppet: Puppet, states: Sequence[str]) -> str | None:
    """Why two states cannot be made standing and moving; None where they can."""
    steps = [state for state in map(puppet.state, states) if state is not None]
    if len(steps) != 2:
        return "choose two states: what stands, and what moves"
    return None if steps[0].layer == steps[1].layer else "choose states of one layer"


def while_moving(puppet: Puppet, standing: str, moving: str) -> Puppet:
    """With a way from what stands to what moves while it is steered, and back once it stands. From
    cell to cell it goes on till it has arrived."""
    if moving_trouble(puppet, (standing, moving)) is not None:
        return puppet
    from_above = puppet.facing.kind != "mirror" or any(
        sense.id == "move_y" for sense in puppet.senses)
    wanted = ("move_x", "move_y", "speed") if from_above else ("move_x", "speed")
    puppet = _with_senses(puppet, wanted)
    known = {sense.id for sense in puppet.senses}
    steered = [sense for sense in ("move_x", "move_y") if sense in wanted and sense in known]
    there = " or ".join(f"{sense} != 0" for sense in steered)
    if puppet.mover.goes == "by cells":
        return _way(_way(puppet, standing, moving, there), moving, standing, "speed == 0")
    still = " and ".join([*(f"{sense} == 0" for sense in steered), f"speed < {STANDS_STILL}"])
    return _way(_way(puppet, standing, moving, there), moving, standing, still)


def _way(puppet: Puppet, source: str, target: str, when: str, leave: Leave | None = None) -> Puppet:
    """With a transition, where none leads there yet, or elsewhere on the same: it would never be
    taken."""
    leave = leave or Leave()
    if source == target or any(each.target == target or (each.when, each.leave) == (when, leave)
                               for each in puppet.transitions_of(source)):
        return puppet
    puppet, id = transition_added(puppet, source, target, when)
    return changed(puppet, "transitions", id, leave=leave)


def _calling(puppet: Puppet, state: State) -> Puppet:
    """With the call for the jump at the start of each clip of a state that has none."""
    for clip in puppet.clips_of(state):
        if clip.plays and not any(each.kind == "call" and each.name == JUMP
                                  for each in clip.moments):
            call = Moment(new_id(JUMP, all_ids(puppet), "event"), 0.0, "call", JUMP)
            puppet = changed(puppet, "clips", clip.id, moments=(*clip.moments, call))
    return puppet


def _with_senses(puppet: Puppet, wanted: Sequence[str]) -> Puppet:
    """With those of the booth's senses that are asked for, where it has none of these ids."""
    known = {value.id for value in puppet.named_values}
    more = [sense for sense in BOOTH_SENSES if sense.id in wanted and sense.id not in known]
    return added(puppet, "senses", *more) if more else puppet
