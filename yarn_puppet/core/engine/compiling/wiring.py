"""Compiles what the graph reads: intents, senses, memos, thresholds, and what the facing
follows."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ...model.basics.values import WORDING, is_fit
from ...model.kinds.gestures import GESTURES
from ...rules.bind import Key
from ...rules.numbers import fitted_start
from ..program import Problem, ProgramIntent, ProgramThreshold, ProgramValue
from ..program_clips import TICK
from .conditions import Conditions

if TYPE_CHECKING:
    from ...model.puppet import Puppet
    from ...model.wiring import Intent, Threshold



class Wiring:
    """`places` are those of actions, intents, senses and memos; what cannot be used is listed in
    `problems`."""

    def __init__(self, puppet: Puppet, conditions: Conditions, places: dict[Key, int]) -> None:
        self.puppet, self.conditions, self.places = puppet, conditions, places
        self.problems: list[Problem] = []
        self.intents = tuple(self._intents())
        self.senses, self.memos = self._values("sense", puppet.senses), self._values(
            "memo", puppet.memos)
        self.thresholds = tuple(self._threshold(threshold) for threshold in puppet.thresholds)
        self.facing_sense = self._facing_sense(puppet.facing.follows)
        self.facing_up = (
            self._facing_sense(puppet.facing.follows_up) if puppet.facing.kind != "mirror" else -1
        )

    def _problem(self, kind: str, id: str, text: str, fix: str = "") -> None:
        self.problems.append(Problem((kind, id), text, fix))

    def _facing_sense(self, follows: str) -> int:
        place = self.places.get(("sense", follows), -1)
        if place < 0 or self.puppet.senses[place].type not in ("int", "float"):
            self._problem("puppet", self.puppet.name,
                          f"facing follows {follows}, no sense of a number")
            return -1
        return place

    def _values(self, kind: str, entries: tuple[Any, ...]) -> tuple[ProgramValue, ...]:
        made = []
        for entry in entries:
            if not is_fit(entry.start, entry.type, entry.choices):
                self._problem(kind, entry.id,
                              f"it starts as {entry.start!r}; expected {WORDING[entry.type]}")
            event = kind == "sense" and entry.event and entry.type == "bool"
            start = fitted_start(entry.start, entry.type, entry.choices)
            wraps, life = 0, 0
            if kind == "memo":
                wraps = entry.wraps if entry.type == "int" else 0
                life = (
                    max(1, round(entry.returns * self.puppet.rate * TICK) // TICK)
                    if entry.returns > 0
                    else 0
                )
            made.append(ProgramValue(entry.id, entry.name, entry.type, start, entry.choices, event,
                                     wraps, life))
        return tuple(made)

    def _threshold(self, each: Threshold) -> ProgramThreshold:
        read = self.conditions.read(each.source, "float") if each.source.isidentifier() else None
        tree = read.condition.tree if read is not None and read.error is None else None
        if tree is None or tree.operator not in ("sense", "memo"):
            self._problem("threshold", each.id,
                          f"it reads {each.source}, which is no sense or memo of a number")
            tree = None
        return ProgramThreshold(each.id, each.name, tree, float(each.on), float(each.off))

    def _intents(self) -> list[ProgramIntent]:
        compiled: list[ProgramIntent] = []
        sequences = 0
        units = self.puppet.rate
        shortest: dict[str, float] = {}
        for intent in self.puppet.intents:
            if GESTURES[intent.gesture].must_last and intent.seconds > 0:
                # One press is a tap or a hold, never both: the shortest hold ends what counts as a
                # tap.
                shortest[intent.action] = min(shortest.get(intent.action, intent.seconds),
                                              intent.seconds)
        for intent in self.puppet.intents:
            action = self.places.get(("action", intent.action), -1)
            if action < 0:
                self._problem("intent", intent.id, f"its action {intent.action} does not exist")
            seconds = intent.seconds
            if GESTURES[intent.gesture].measures == "length under":
                seconds = min(seconds, shortest.get(intent.action, seconds))
            touches = self._touched(intent, action)
            steps: tuple[int, ...] = ()
            if GESTURES[intent.gesture].others == "some" and touches:
                steps = (*[self.places["action", other] for other in intent.others], action)
                sequences += 1
            compiled.append(ProgramIntent(
                intent.id, intent.name, action, intent.gesture, round(seconds * units * TICK),
                round(intent.buffer * units * TICK) // TICK,
                GESTURES[intent.gesture].of_the_press, intent.even_if_used, touches,
                steps,
                sequences - 1 if steps else -1,
            ))
        return compiled

    def _touched(self, each: Intent, action: int) -> tuple[int, ...]:
        """The places of the actions that an intent touches, none where it can never arm."""
        beside = GESTURES[each.gesture].others
        if action < 0 or beside == "none":
            return () if action < 0 else (action,)
        others = [self.places.get(("action", other), -1) for other in each.others]
        if -1 in others:
            self._problem("intent", each.id,
                          f"its action {each.others[others.index(-1)]} does not exist")
        elif beside == "some":
            if others:
                return (action,)
            self._problem("intent", each.id,
                          "its sequence has one action; expected two or more, in order",
                          "add the actions that come before it")
        elif len(others) == 1 and others[0] != action:
            return (action, others[0])
        else:
            self._problem("intent", each.id,
                          "both its actions are expected to be two different ones",
                          "choose another action beside it")
        return ()


def by_action(intents: tuple[ProgramIntent, ...], actions: int) -> tuple[tuple[int, ...], ...]:
    """The places of the intents that touch each action."""
    found: list[list[int]] = [[] for _ in range(actions)]
    for index, intent in enumerate(intents):
        for action in intent.touches:
            found[action].append(index)
    return tuple(tuple(places) for places in found)
