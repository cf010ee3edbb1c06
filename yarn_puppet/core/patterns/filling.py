"""Waiting cards filled with clips: what else becomes of a clip that a card is given."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec.structs import replace

from ..model.basics.base import tidy
from ..model.basics.ids import all_ids, new_id
from ..model.clips import Clip
from ..model.edits.directions import DIRECTIONS
from ..model.edits.entries import changed
from ..model.edits.graph import state_playing
from ..model.edits.ready_made import cancel_window_added
from ..model.edits.spreads import spread_added
from ..model.events import Moment, Window
from ..model.graph import State
from ..model.kinds.windows import WindowKind
from ..model.puppet import Puppet
from .matching import Filled, sides_of
from .reading_names import read_name
from .words import Movement, movement_called


def filled(puppet: Puppet, cards: Mapping[str, Filled]) -> Puppet:
    """With clips on waiting cards, by state. A clip that nothing played before gets the playback
    mode that such a movement has, and the call that it makes as it begins; one that strikes gets a
    cancel window after what it hits.

    Where clips of the same name face up or down too, the card plays them as a spread.
    """
    for id, given in cards.items():
        state, clip = puppet.state(id), puppet.clip(given.clip)
        if state is None or clip is None or not state.waits:
            continue
        movement = movement_called(state.waits_for) or read_name(clip.name).movement
        sides = _together(puppet, clip)
        for each, _ in sides or ((clip.id, ""),):
            if movement is not None and not is_played(puppet, each):
                puppet = _become(puppet, each, movement)
        if sides:
            puppet, spread = spread_added(puppet, state.name.casefold(), sides)
            puppet = state_playing(puppet, id, spread)
            if puppet.facing.kind == "four" and any(DIRECTIONS[side] % 90 for _, side in sides):
                puppet = replace(puppet, facing=replace(puppet.facing, kind="eight"))
        else:
            puppet = state_playing(puppet, id, clip.id)
        found = puppet.state(id)
        if movement is not None and movement.strikes and found is not None:
            puppet = _with_cancel(puppet, found)
    return puppet


def _with_cancel(puppet: Puppet, state: State) -> Puppet:
    """With a cancel window in the clip of a state that strikes, marked as a guess."""
    before = {window.id for clip in puppet.clips for window in clip.windows}
    puppet = cancel_window_added(puppet, state)
    for clip in puppet.clips_of(state):
        puppet = changed(puppet, "clips", clip.id, windows=tuple(
            window if window.id in before else replace(window, guess=True)
            for window in clip.windows))
    return puppet


def _together(puppet: Puppet, clip: Clip) -> tuple[tuple[str, str], ...]:
    """The clips that are drawn for one movement towards several sides, this one among them, as
    (clip id, facing); none where it is for itself."""
    for sides in sides_of(puppet.clips).values():
        if any(id == clip.id for id, _ in sides):
            return tuple((id, facing.casefold()) for id, facing in sides)
    return ()


def _with_window(puppet: Puppet, clip: Clip, kind: WindowKind) -> Puppet:
    """With a window over all of a clip, marked as a guess, where it has none of this kind."""
    if any(window.kind == kind for window in clip.windows):
        return puppet
    window = Window(new_id(kind, all_ids(puppet), "event"), 0.0, tidy(clip.length), kind, kind,
                    guess=True)
    return changed(puppet, "clips", clip.id, windows=(*clip.windows, window))


def is_played(puppet: Puppet, clip: str) -> bool:
    """Whether a state plays a clip, alone or in a spread."""
    return any(state.clip == clip for state in puppet.states) or any(
        placed.clip == clip for spread in puppet.spreads for placed in spread.clips)


def _become(puppet: Puppet, id: str, movement: Movement) -> Puppet:
    clip = puppet.clip(id)
    if clip is None:
        return puppet
    if clip.mode == "loop":
        # A loop is what clips come in with; any other mode somebody chose.
        puppet = changed(puppet, "clips", id, mode=movement.mode)
    known = {moment.name for moment in clip.moments if moment.kind == "call"}
    if movement.window:
        puppet = _with_window(puppet, clip, movement.window)
    if movement.calls and movement.calls not in known:
        at = _last(clip) if movement.calls_last else 0.0
        call = Moment(new_id(movement.calls, all_ids(puppet), "event"), at, "call", movement.calls)
        puppet = changed(puppet, "clips", id, moments=(call, *clip.moments))
    return puppet


LAST = 100.0
"""Milliseconds before its end at which a clip without frames makes its last call."""


def _last(clip: Clip) -> float:
    """When the last frame of a clip begins: the body is moved then, and is stood on for the rest of
    it."""
    if len(clip.frames) > 1:
        return clip.start_of(len(clip.frames) - 1)
    return tidy(max(0.0, clip.length - LAST))
