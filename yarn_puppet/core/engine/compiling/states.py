"""Compiles the states of a puppet: what each plays, sets and brings."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from ...rules.bind import Tree
from ..program import Exits, Problem, ProgramPlaced, ProgramState
from ..program_clips import ProgramClip, ProgramSpeed
from .rules_and_deeds import RulesAndDeeds
from .transitions import NO_EXITS

if TYPE_CHECKING:
    from ...model.graph import State
    from ...model.puppet import Puppet
    from .conditions import Conditions
    from .nodes import Nodes

new: Callable[..., Any] = tuple.__new__
KeptStates = dict[int, tuple[Any, tuple[Any, ...], ProgramState]]
"""By the identity of the model's state, which is kept with it: what it depends on beside itself,
and what it became."""


class States:
    """The states, each compiled again where it, or what it depends on, is another than in
    `known`."""

    def __init__(
        self, puppet: Puppet, nodes: Nodes, conditions: Conditions, brought: RulesAndDeeds,
        clips: dict[str, ProgramClip], exits: dict[int, Exits], known: KeptStates,
    ) -> None:
        self.puppet = puppet
        self.conditions = conditions
        self.brought = brought
        self.clips = clips
        self.spreads = {spread.id: spread for spread in puppet.spreads}
        self.clip_ids = {clip.id for clip in puppet.clips}
        self.problems: list[Problem] = []
        self.made: list[ProgramState] = []
        self.kept: KeptStates = {}
        for index, state in enumerate(puppet.states):
            key = (
                nodes.state_layers[index], nodes.around_state[index],
                clips.get(state.clip) if state.clip else None,
                exits.get(index, NO_EXITS),
            )
            old = known.get(id(state))
            # Only plain ones are kept.
            plain = (old is not None and old[0] is state) or not (
                state.on_enter or state.on_leave or state.spread or state.speed_map
                or brought.have_conditions(state))
            if old is not None and old[0] is state and old[1][2] == key[2]:
                # Only where it stands, and where it leads, can be another.
                made = old[2] if old[1] == key else new(
                    ProgramState, (*old[2][:2], key[0], key[1], *old[2][4:-1], key[3])
                )
            else:
                before = len(self.problems) + len(brought.problems)
                made = self._compiled(state, *key)
                plain = plain and len(self.problems) + len(brought.problems) == before
            self.made.append(made)
            if plain:
                self.kept[id(state)] = (state, key, made)

    def _problem(self, state: str, text: str, fix: str = "") -> None:
        self.problems.append(Problem(("state", state), text, fix))

    def _compiled(
        self,
        state: State,
        layer: int,
        around: tuple[int, ...],
        clip: ProgramClip | None,
        exits: Exits,
    ) -> ProgramState:
        if state.clip is not None and state.clip not in self.clip_ids:
            self._problem(state.id, f"its clip {state.clip} does not exist")
        placed, along, hold = self._spread(state)
        spread = self.spreads.get(state.spread or "")
        chances = tuple([weight_of(each.place) for each in placed]) if not along else ()
        where = ("state", state.id)
        return ProgramState(
            state.id, state.name, layer, around, placed[0].clip if placed else clip,
            self._speed(state),
            self.brought.rules(state.rules, where), self.brought.deeds(state.on_enter, where),
            self.brought.deeds(state.on_leave, where), placed, along, _spans(placed, along), hold,
            chances, spread is not None and spread.repeats,
            frozenset(state.deaf_to), exits,
        )

    def _number(self, name: str) -> Tree | None:
        """The tree that reads a sense, memo or built-in value that is a number, or None."""
        read = self.conditions.read(name, "float") if name.isidentifier() else None
        tree = read.condition.tree if read is not None and read.error is None else None
        return tree if tree is not None and tree.operator in ("sense", "memo", "built-in") else None

    def _spread(
        self, state: State
    ) -> tuple[tuple[ProgramPlaced, ...], tuple[Tree | None, ...], float]:
        """The placed clips of a state's spread, the values it is drawn along and how long one holds
        on; nothing where it has none."""
        if state.spread is None:
            return (), (), 0.0
        spread = self.spreads.get(state.spread)
        if spread is None:
            self._problem(state.id, f"its spread {state.spread} does not exist",
                          "choose a clip or another spread")
            return (), (), 0.0
        along: list[Tree | None] = []
        for name in spread.along:
            tree = None if name == "facing" else self._number(name)
            if name != "facing" and tree is None:
                self._problem(state.id, f"its spread is drawn along {name}, which is no number",
                              "draw the spread along a sense or memo of a number")
                return (), (), 0.0
            along.append(tree)
        placed = []
        for clip in spread.clips:
            if clip.clip not in self.clips or len(clip.place) != max(1, len(along)):
                self._problem(
                    state.id,
                    f"its spread places {clip.clip}, which cannot be played there",
                    "take it out of the spread",
                )
            else:
                placed.append(ProgramPlaced(self.clips[clip.clip], clip.place))
        return tuple(placed), tuple(along), spread.hold

    def _speed(self, state: State) -> ProgramSpeed:
        mapped = state.speed_map
        if mapped is None:
            return ProgramSpeed(state.speed)
        source = self._number(mapped.source)
        if source is None:
            self._problem(state.id, f"its speed reads {mapped.source}, which is no number",
                          "let the speed follow a sense or memo of a number")
            return ProgramSpeed(state.speed)
        return ProgramSpeed(state.speed, source, mapped.low, mapped.high, mapped.slow, mapped.fast)


def weight_of(place: tuple[float, ...]) -> int:
    """The weight of a clip that is picked at random, in thousandths: 0 to a thousand of them."""
    return round(min(1000.0, max(0.0, place[0])) * 1000)


def _spans(placed: tuple[ProgramPlaced, ...], along: tuple[Tree | None, ...]) -> tuple[float, ...]:
    """How wide the places of each value lie, a half turn for the facing; never zero."""
    places = [[each.place[axis] for each in placed] for axis in range(len(along))]
    return tuple(
        180.0 if value is None else float(max(at) - min(at)) or 1.0
        for value, at in zip(along, places, strict=True) if at
    )
