"""Edits of spreads: several clips of one state."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from ..basics.ids import all_ids, free_name, new_id
from ..graph import Placed, Spread
from ..puppet import Puppet, find
from ..wiring import Sense
from .directions import DIRECTIONS, facing_sets
from .entries import added, changed, removed, with_entries


def spread_added(puppet: Puppet, name: str, clips: Sequence[tuple[str, str]]) -> tuple[Puppet, str]:
    """With a spread of clips along the facing, given as (clip id, facing); also its id.

    A puppet that only mirrored so far turns to four sides from then on where one of the clips faces
    up or down, and has a sense, `move_y`, for the game to say so by.
    """
    name = free_name(name, {spread.name for spread in puppet.spreads})
    id = new_id(name, all_ids(puppet), "spread")
    placed = tuple(Placed(clip, (float(DIRECTIONS[facing]),)) for clip, facing in clips)
    # Drawn from one side only it is mirrored towards the other.
    there = {each.place[0] for each in placed}
    if there & {90.0, 270.0}:
        placed += tuple(replace(each, place=((180.0 - each.place[0]) % 360,)) for each in placed
                        if (180.0 - each.place[0]) % 360 not in there)
    if puppet.facing.kind == "mirror" and any(each.place[0] in (90.0, 270.0) for each in placed):
        puppet = replace(puppet, facing=replace(puppet.facing, kind="four"))
        if find(puppet.senses, puppet.facing.follows_up) is None:
            up = Sense(puppet.facing.follows_up, puppet.facing.follows_up, "int", 0, -1.0, 1.0)
            puppet = added(puppet, "senses", up)
    return added(puppet, "spreads", Spread(id, name, placed)), id


def spread_removed(puppet: Puppet, id: str) -> Puppet:
    """Without a spread; a state that played it plays the clip it has, or nothing."""
    puppet = removed(puppet, "spreads", id)
    states = tuple(replace(state, spread=None) if state.spread == id else state
                   for state in puppet.states)
    return with_entries(puppet, "states", states)


def offered_spreads(puppet: Puppet) -> dict[str, tuple[tuple[str, str], ...]]:
    """Clips whose names differ by a facing only and that are in no spread together yet: by what the
    names share."""
    held = [{each.clip for each in spread.clips} for spread in puppet.spreads]
    return {
        name: clips for name, clips in facing_sets(puppet.clips).items()
        if not any({clip for clip, _ in clips} <= each for each in held)
    }


def spread_along(puppet: Puppet, id: str, along: Sequence[str]) -> Puppet:
    """With a spread drawn along one value, or two, or along none: at random. A clip keeps its
    places; along one that is new it is at zero, and at random all weigh as much."""
    spread = find(puppet.spreads, id)
    if spread is None or len(along) > 2:
        return puppet
    had = () if spread.random else None
    clips = tuple(replace(clip, place=_placed(clip.place if had is None else had, along))
                  for clip in spread.clips)
    return changed(puppet, "spreads", id, along=tuple(along), clips=clips)


def _placed(place: Sequence[float], along: Sequence[str]) -> tuple[float, ...]:
    """The place of a clip along these values; a weight of one where there is none."""
    return (*place, 0.0, 0.0)[:len(along)] if along else (1.0,)


def any_of_several(puppet: Puppet, state: str, clip: str) -> Puppet:
    """With a clip as another one that a state plays, at random: of the spread it has already, or of
    a new one with the clip it plays."""
    found = puppet.state(state)
    if found is None or puppet.clip(clip) is None:
        return puppet
    spread = find(puppet.spreads, found.spread)
    if spread is None:
        own = puppet.clip(found.clip)
        if own is None or own.id == clip:
            return changed(puppet, "states", state, clip=clip) if own is None else puppet
        name = free_name(f"{found.name} at random", {each.name for each in puppet.spreads})
        id = new_id(name, all_ids(puppet), "spread")
        puppet = added(puppet, "spreads", Spread(id, name, (
            Placed(own.id, (1.0,)), Placed(clip, (1.0,))), ()))
        puppet = changed(puppet, "states", state, spread=id)
    elif spread.random:
        puppet = spread_clip_placed(puppet, spread.id, clip)
    else:
        return puppet
    return puppet


def spread_clip_placed(
    puppet: Puppet, id: str, clip: str, *place: float, number: int | None = None
) -> Puppet:
    """With a clip of a spread at a place along its values, put into it where it is not in it yet.
    Along values of which no place is given it is at zero.

    A clip may have several places: `number` says which of the spread's is meant, otherwise it is
    the clip's first.
    """
    spread = find(puppet.spreads, id)
    if spread is None:
        return puppet
    made = Placed(clip, (*place, 0.0, 0.0)[:len(spread.along)] if spread.along
                  else (place[0] if place else 1.0,))
    at = _place(spread, clip, number)
    clips = spread.clips if at is None else (*spread.clips[:at], made, *spread.clips[at + 1:])
    return changed(puppet, "spreads", id, clips=(*clips, made) if at is None else clips)


def spread_clip_taken_out(puppet: Puppet, id: str, clip: str, number: int | None = None) -> Puppet:
    """Without one place of a clip in a spread: that of this number, otherwise the clip's first."""
    spread = find(puppet.spreads, id)
    at = _place(spread, clip, number) if spread is not None else None
    if spread is None or at is None:
        return puppet
    return changed(puppet, "spreads", id, clips=(*spread.clips[:at], *spread.clips[at + 1:]))


def _place(spread: Spread, clip: str, number: int | None) -> int | None:
    if number is not None and number < len(spread.clips) and spread.clips[number].clip == clip:
        return number
    return next((at for at, each in enumerate(spread.clips) if each.clip == clip), None)
