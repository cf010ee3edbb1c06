"""Who may go where: of the transitions a state tries, those that can be taken from it, and the
states they may end in.

Left out are transitions
- that the compiler left out,
- whose condition never holds,
- that wait for a window which no clip of the state opens for them,
- that would only enter the state they leave, and are not to,
- that stand behind one which matches whenever they do.
"""

from __future__ import annotations

from typing import NamedTuple

from ..engine.plain.choose import fixed_end
from ..engine.program import Program, ProgramState, ProgramTransition
from ..engine.program_clips import NOWHERE
from ..rules.bind import NEVER
from .never_first import Hiding, leads_nowhere, leads_on


class Way(NamedTuple):
    """A transition that a state can take: its id, that of the node which owns it, and the ids of
    the states in which it may end: several where a group on the way remembers. A state is only
    among its own ends where it is entered again."""

    transition: str
    owner: str
    ends: tuple[str, ...]


class Crossings:
    """The ways of the states of one program, each worked out when it is asked for."""

    def __init__(self, program: Program) -> None:
        self.program = program
        self._hiding = Hiding(program)
        self._found: dict[str, tuple[Way, ...]] = {}
        self._inside: dict[int, list[int]] = {}
        for index, state in enumerate(program.states):
            for group in state.groups:
                self._inside.setdefault(group, []).append(index)

    def ways(self, state: str) -> tuple[Way, ...]:
        """What can be taken from the state of this id, in the order of trying; nothing for one that
        is not there."""
        found = self._found.get(state)
        if found is None:
            place = self.program.places.get(("in_state", state), -1)
            found = self._found[state] = self._ways(place) if place >= 0 else ()
        return found

    def _ways(self, place: int) -> tuple[Way, ...]:
        program = self.program
        found: list[Way] = []
        before: list[ProgramTransition] = []
        for candidate in program.candidates(place):
            if not _can_be_open(program.states[place], candidate) or leads_nowhere(
                program, place, candidate
            ):
                continue
            if any(self._hiding.hides(earlier, candidate) for earlier in before):
                continue
            if leads_on(program, place, candidate):
                before.append(candidate)
            ends = tuple([program.states[end].id
                          for end in self._ends(candidate.target) if end != place
                          or candidate.reenters])
            found.append(Way(candidate.id, program.node_id(candidate.source), ends))
        return tuple(found)

    def _ends(self, target: int) -> list[int]:
        end = fixed_end(self.program, target)
        if end is not None:
            return [end] if end != NOWHERE else []
        group = ~target
        while self.program.groups[group].memory < 0:
            group = ~self.program.groups[group].start
        # It remembers whichever of its states was last; before any was, it is entered as if it did
        # not.
        return list(dict.fromkeys([*self._inside.get(group, []),
                                   *self._ends(self.program.groups[group].start)]))


def _can_be_open(state: ProgramState, transition: ProgramTransition) -> bool:
    """Whether a transition can be open in the state at all, as far as can be known without
    running."""
    if transition.condition is not None and transition.condition.tree == NEVER:
        return False
    if transition.leave != "in a window":
        return True
    clips = [each.clip for each in state.spread] or ([state.clip] if state.clip is not None else [])
    return any(
        transition.window in window.names
        and (not window.into or set(window.into) & set(transition.lets_in))
        for clip in clips for window in clip.windows
    )
