"""Compiles while-rules and deeds, whatever owns them: states, groups, layers, windows, moments."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ...model.kinds.gestures import GESTURES
from ...model.kinds.while_rules import WHILE_RULES
from ...rules.bind import Key
from ...rules.numbers import fitted, fitted_start
from ..program import Problem
from ..program_clips import FULL, TICK, ProgramDeed, ProgramRule

if TYPE_CHECKING:
    from ...model.events import Deed, Rule
    from ...model.puppet import Puppet
    from ...rules.scope import Near
    from .conditions import Conditions

Where = tuple[str, str]
"""The kind and id of the entry in which a problem is found."""


def share_step(seconds: float, rate: int) -> int:
    """By how much a share changes in a tick that eases over so many seconds; all of it where that
    is no time."""
    units = round(seconds * rate * TICK)
    return FULL if units < 1 else min(FULL, max(1, FULL * TICK // units))


class RulesAndDeeds:
    """Compiles in the scope of one puppet. What cannot be used is left out and told as a
    problem."""

    def __init__(self, puppet: Puppet, conditions: Conditions, places: dict[Key, int]) -> None:
        self.puppet = puppet
        self.conditions = conditions
        self.places = places
        self.anchors = {anchor.id for anchor in puppet.anchors}
        self.layers = {layer.id: index for index, layer in enumerate(puppet.layers)}
        self.problems: list[Problem] = []

    def rules(self, rules: tuple[Rule, ...], where: Where) -> tuple[ProgramRule, ...]:
        """The while-rules of an owner that can come into force."""
        if not rules:
            return ()
        made = [self._rule(rule, number, where) for number, rule in enumerate(rules)]
        return tuple([rule for rule in made if rule is not None])

    @staticmethod
    def have_conditions(owner: Any) -> bool:
        """Whether a while-rule of a state, group or window has a condition: what it reads can
        change without it."""
        return any(rule.when for rule in owner.rules)

    def deeds(self, deeds: tuple[Deed, ...], where: Where) -> tuple[ProgramDeed, ...]:
        """The deeds that can be done."""
        if not deeds:
            return ()
        made = [self._setting(deed, where) if deed.kind == "set" else self._arming(deed, where)
                for deed in deeds]
        return tuple([deed for deed in made if deed is not None])

    def _problem(self, where: Where, text: str, fix: str, near: Near | None = None) -> None:
        self.problems.append(Problem(where, text, fix, near))

    def _rule(self, rule: Rule, number: int, where: Where) -> ProgramRule | None:
        place, text, to = -1, "", None
        chooses = WHILE_RULES[rule.kind].chooses
        chosen = getattr(rule, chooses) or "" if chooses else ""
        if chooses == "memo":
            place = self.places.get(("memo", chosen), -1)
            if place < 0:
                self._problem(
                    where,
                    f"while it is active it would hold {chosen or 'a memo'}, which does not exist",
                    "take the while-rule away, or add the memo",
                )
                return None
            memo = self.puppet.memos[place]
            start = fitted_start(memo.start, memo.type, memo.choices)
            to = fitted(rule.to, memo.type, memo.choices, start)
        elif chooses == "layer":
            place = self.layers.get(chosen, -1)
            if place < 0:
                self._problem(
                    where,
                    f"while it is active it would weigh {chosen or 'a layer'}, which does not "
                    "exist",
                    "take the while-rule away",
                )
                return None
        elif chooses == "anchor":
            text = chosen
            if text not in self.anchors:
                self._problem(
                    where,
                    f"while it is active it would hold a prop at {chosen or 'an anchor'}, which "
                    "does"
                    " not exist",
                    "choose an anchor that is there",
                )
                return None
        elif chooses:
            text = chosen
            if not text:
                self._problem(
                    where,
                    f"while it is active it has a {rule.kind} that is not chosen yet",
                    "choose one, or take the while-rule away",
                )
                return None
        when = None
        if rule.when.strip():
            read = self.conditions.read(rule.when)
            when = read.condition.tree
            if read.error is not None:
                self._problem(where, f"“{rule.when}” cannot be used: {read.error}",
                              "fix the condition of its while-rule", read.near)
            elif read.trouble is not None:
                self._problem(where, f"“{rule.when}”: {read.trouble}",
                              "ask for another window, or give a clip this one")
        rate = self.puppet.rate
        return ProgramRule(
            rule.kind, float(rule.value), number, share_step(rule.ease_in, rate),
            share_step(rule.ease_out, rate),
            place, text, to, rule.shows, rule.clip, rule.round, rule.under, when,
        )

    def _arming(self, deed: Deed, where: Where) -> ProgramDeed | None:
        place = self.places.get(("intent", deed.intent or ""), -1)
        if place < 0:
            self._problem(
                where,
                f"it would {deed.kind} {deed.intent or 'an intent'}, which does not exist",
                "choose an intent that is there",
            )
            return None
        if GESTURES[self.puppet.intents[place].gesture].is_level:
            self._problem(
                where,
                f"it would {deed.kind} {self.puppet.intents[place].name}, which is a level that"
                " is read off the action itself",
                "choose an intent that is no level",
            )
            return None
        return ProgramDeed(deed.kind, place, None)

    def _setting(self, deed: Deed, where: Where) -> ProgramDeed | None:
        place = self.places.get(("memo", deed.memo or ""))
        if place is None:
            self._problem(where, f"it sets {deed.memo or 'nothing'}, which is no memo",
                          "let it set a memo that is there")
            return None
        memo = self.puppet.memos[place]
        read = self.conditions.read(deed.value, memo.type)
        tree = read.condition.tree
        if read.error is not None:
            self._problem(where, f"“{deed.value}” cannot be used: {read.error}", "fix the value",
                          read.near)
        elif (
            tree.operator == "constant" and tree.type == "choice" and tree.value not in memo.choices
        ):
            self._problem(
                where,
                f"it sets {memo.name} to “{tree.value}”, which is none of its choices",
                "choose one of them",
            )
        else:
            if read.trouble is not None:
                self._problem(where, f"“{deed.value}”: {read.trouble}",
                              "ask for another window, or give a clip this one")
            return ProgramDeed("set", place, tree)
        return None
