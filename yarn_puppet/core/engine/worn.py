"""A program in one of the skins that it can wear: its states play other clips."""

from __future__ import annotations

from .program import Program, ProgramState
from .program_clips import ProgramClip


def worn(program: Program, skin: int) -> Program:
    """The program in a skin by its number, 1 for the first; 0 is itself. Raises IndexError."""
    if skin == 0:
        return program
    if not 0 < skin <= len(program.skins):
        raise IndexError(f"expected a skin of 0 to {len(program.skins)}, found {skin}")
    clips = program.skins[skin - 1].clips

    def in_place(clip: ProgramClip) -> ProgramClip:
        return program.clips[clips.get(clip.id, clip.id)]

    def dressed(state: ProgramState) -> ProgramState:
        return state._replace(
            clip=None if state.clip is None else in_place(state.clip),
            spread=tuple([each._replace(clip=in_place(each.clip)) for each in state.spread]))

    return program._replace(states=tuple([dressed(state) for state in program.states]))
