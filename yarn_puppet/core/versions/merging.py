"""Two versions that began as one made into one, by id: what only one of them changed is taken from
it.

Both changed the same: taken once. Both changed it differently, or one changed what the other took
away: a conflict, which is named, and then nothing is merged. Of two entries that only one version
put the other way round, that holds; what theirs adds follows what it follows there.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from difflib import SequenceMatcher
from typing import Any, NamedTuple, TypeVar

import msgspec
from msgspec.structs import replace

from ..engine.compiling.puppets import compile_puppet
from ..formats.errors import FileProblem
from ..formats.puppet_file import checked
from ..formats.skin_file import checked as checked_skin
from ..model.puppet import Puppet
from ..model.skin import Skin
from ..model.take import Take
from ..snags.references import unresolved_references
from .parts import KIND, by_id, fields_of, said_name, said_value

Value = TypeVar("Value", Puppet, Take, Skin)
GONE = object()


class Merged(NamedTuple):
    """What came of it: the value, None where there are conflicts; and the conflicts, in words."""

    value: Any
    conflicts: tuple[str, ...]


def merged(base: Value | None, ours: Value, theirs: Value) -> Merged:
    """Three versions of a puppet, a take or a skin as one; without a base both were added."""
    merging = _Merging(ours if isinstance(ours, Puppet) else Puppet())
    value = merging.struct(GONE if base is None else base, ours, theirs, "")
    conflicts = merging.conflicts
    if not conflicts and isinstance(value, Puppet):
        conflicts = _fits(value, ours, theirs)
    if not conflicts and isinstance(value, Skin):
        conflicts = _skin_fits(value)
    return Merged(None if conflicts else value, tuple(conflicts))


def _fits(value: Puppet, ours: Any, theirs: Any) -> list[str]:
    """What is wrong with a merged puppet and with neither of the two: a state that one took away
    and the other leads to, say."""
    try:
        checked(value, "the merged puppet")
    except FileProblem as problem:
        return [f"{problem.place}: {problem.expected}"]
    def lost(puppet: Puppet) -> dict[tuple[str, str, str], str]:
        return {(snag.kind, snag.id, snag.why): f"{snag.kind} {snag.where}: {snag.why}"
                for snag in unresolved_references(puppet, compile_puppet(puppet))}

    known = lost(ours) | lost(theirs)
    return [said for key, said in lost(value).items() if key not in known]


def _skin_fits(skin: Skin) -> list[str]:
    try:
        checked_skin(skin, "the merged skin")
    except FileProblem as problem:
        return [f"{problem.place}: {problem.expected}"]
    return []


class _Merging:
    def __init__(self, puppet: Puppet) -> None:
        self.puppet = puppet
        self.conflicts: list[str] = []

    def struct(self, base: Any, ours: Any, theirs: Any, where: str) -> Any:
        """A value with fields, field by field."""
        changes = {}
        for name in fields_of(ours):
            mine = getattr(ours, name)
            before = GONE if base is GONE else getattr(base, name)
            made = self.any(before, mine, getattr(theirs, name), name, where)
            if made is not mine:
                changes[name] = made
        return replace(ours, **changes) if changes else ours

    def any(self, base: Any, ours: Any, theirs: Any, name: str, where: str) -> Any:
        """What becomes of three versions of one thing."""
        if ours == theirs or base == theirs:
            return ours
        if base == ours:
            return theirs
        both = base is GONE
        before, mine, its = {} if both else by_id(base), by_id(ours), by_id(theirs)
        if before is not None and mine is not None and its is not None:
            return self.entries(before, mine, its, name, where)
        if (both or type(base) is type(ours)) and type(ours) is type(theirs) and isinstance(
                ours, msgspec.Struct):
            return self.struct(base, ours, theirs, f"{where} {name.replace('_', ' ')}".strip())
        if name in ("promises", "own"):
            return self.listed(() if both else base, ours, theirs, name, where)
        self.conflict(where, name, said_value(name, ours, self.puppet),
                      said_value(name, theirs, self.puppet))
        return ours

    def entries(
        self,
        base: Mapping[str, Any],
        ours: Mapping[str, Any],
        theirs: Mapping[str, Any],
        field: str,
        where: str,
    ) -> tuple[Any, ...]:
        """Entries by their ids."""
        found: dict[str, Any] = {}
        for id in [*ours, *(id for id in theirs if id not in ours)]:
            made = self.entry(base.get(id, GONE), ours.get(id, GONE), theirs.get(id, GONE), field,
                              where)
            if made is not GONE:
                found[id] = made
        order = _ordered(list(base), list(ours), list(theirs))
        if order is None:
            self.conflict(f"{where} {field.replace('_', ' ')}".strip(), "order",
                          "one order", "another")
            order = [*ours, *theirs]
        return tuple(found[id] for id in dict.fromkeys(order) if id in found)

    def entry(self, base: Any, ours: Any, theirs: Any, field: str, where: str) -> Any:
        """One entry: what one of the two added, changed or took away."""
        if ours is GONE and theirs is GONE:
            return GONE
        there = ours if ours is not GONE else theirs
        called = f"{where} {KIND.get(field, field)} {said_name(field, there, self.puppet)}".strip()
        if base is GONE:
            if ours is not GONE and theirs is not GONE and ours != theirs:
                self.conflict(called, "", "added here", "another of this id added there")
            return there
        if ours is GONE or theirs is GONE:
            if there != base:
                gone_here = ours is GONE
                self.conflict(called, "", "taken away here" if gone_here else "changed here",
                              "changed there" if gone_here else "taken away there")
            return GONE
        return self.any_entry(base, ours, theirs, called)

    def any_entry(self, base: Any, ours: Any, theirs: Any, called: str) -> Any:
        if ours == theirs or base == theirs:
            return ours
        return theirs if base == ours else self.struct(base, ours, theirs, called)

    def listed(
        self, base: Sequence[Any], ours: Sequence[Any], theirs: Sequence[Any], name: str, where: str
    ) -> tuple[Any, ...]:
        """Things without ids: what neither took away, and what either added. What one changed and
        the other changed otherwise, or took away, is a conflict."""
        here, there = _changes(base, ours), _changes(base, theirs)
        for place in here.keys() & there.keys():
            if here[place] != there[place]:
                said = [("taken away" if each[place] is GONE else "changed")
                        for each in (here, there)]
                self.conflict(f"{where} {name} {place + 1}".strip(), "", f"{said[0]} here",
                              f"{said[1]} there")
        gone = [each for each in base if each not in ours or each not in theirs]
        found = [our for our in ours if our not in gone]
        return (*found, *[their for their in theirs if their not in found and their not in gone])

    def conflict(self, where: str, name: str, here: str, there: str) -> None:
        """Name one."""
        said = f"{where} {name.replace('_', ' ')}".strip()
        apart = f"{here} here, {there} there" if name else f"{here}, {there}"
        self.conflicts.append(f"{said}: {apart}")


def _ordered(base: list[str], ours: list[str], theirs: list[str]) -> list[str] | None:
    """Both orders as one: two entries stand as in the version that put them otherwise than they
    were. None where no order does so. What the other adds follows what it follows there."""
    shared = {*base} & {*ours} & {*theirs}
    was, here, there = ([id for id in each if id in shared] for each in (base, ours, theirs))
    order, others = ours, theirs
    if here == was and there != was:
        order, others = theirs, ours
    elif there not in (was, here):
        both = _both_orders(was, here, there)
        if both is None:
            return None
        # What is new in ours stands behind what it stood behind.
        order = _with_added(both, ours)
    return _with_added(order, others)


def _both_orders(base: list[str], ours: list[str], theirs: list[str]) -> list[str] | None:
    here, there = ({id: place for place, id in enumerate(each)} for each in (ours, theirs))
    before = dict.fromkeys(base, 0)
    for number, one in enumerate(base):
        for other in base[number + 1:]:
            # They stood so; if one version says otherwise, it moved them.
            moved = here[one] > here[other] or there[one] > there[other]
            before[one if moved else other] += 1
    # An order of all has each number of those that stand before one once.
    if sorted(before.values()) != list(range(len(base))):
        return None
    return sorted(base, key=lambda id: before[id])


def _with_added(order: list[str], others: list[str]) -> list[str]:
    found = list(order)
    known = set(found)
    for index, id in enumerate(others):
        if id not in known:
            before = next((other for other in reversed(others[:index]) if other in known), None)
            found.insert(found.index(before) + 1 if before is not None else 0, id)
            known.add(id)
    return found


def _changes(base: Sequence[Any], now: Sequence[Any]) -> dict[int, Any]:
    """By place in a list without ids what became of it: another thing, or GONE."""
    found: dict[int, Any] = {}
    words = [[msgspec.json.encode(each) for each in things] for things in (base, now)]
    for how, start, end, first, last in SequenceMatcher(a=words[0], b=words[1],
                                                        autojunk=False).get_opcodes():
        for place in range(start, end) if how != "equal" else ():
            other = first + place - start
            found[place] = now[other] if other < last else GONE
    return found
