"""Two versions that began as one made into one, by id: what only one of them changed is taken from
it.

Both changed the same: taken once. Both changed it differently, or one changed what the other took
away: a conflict, which is named, and then nothing is merged. Entries keep the order of ours; what
theirs adds follows what it follows there.
"""

from __future__ import annotations

from collections.abc import Mapping
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


def merged(base: Value, ours: Value, theirs: Value) -> Merged:
    """Three versions of a puppet, a take or a skin as one."""
    merging = _Merging(ours if isinstance(ours, Puppet) else Puppet())
    value = merging.struct(base, ours, theirs, "")
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
            made = self.any(getattr(base, name), mine, getattr(theirs, name), name, where)
            if made is not mine:
                changes[name] = made
        return replace(ours, **changes) if changes else ours

    def any(self, base: Any, ours: Any, theirs: Any, name: str, where: str) -> Any:
        """What becomes of three versions of one thing."""
        if ours == theirs or base == theirs:
            return ours
        if base == ours:
            return theirs
        before, mine, its = by_id(base), by_id(ours), by_id(theirs)
        if before is not None and mine is not None and its is not None:
            return self.entries(before, mine, its, name, where)
        if type(base) is type(ours) is type(theirs) and isinstance(ours, msgspec.Struct):
            return self.struct(base, ours, theirs, f"{where} {name.replace('_', ' ')}".strip())
        if name in ("promises", "own"):
            return _listed(base, ours, theirs)
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
        return tuple(found[id] for id in _ordered(list(base), list(ours), list(theirs))
                     if id in found)

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

    def conflict(self, where: str, name: str, here: str, there: str) -> None:
        """Name one."""
        said = f"{where} {name.replace('_', ' ')}".strip()
        apart = f"{here} here, {there} there" if name else f"{here}, {there}"
        self.conflicts.append(f"{said}: {apart}")


def _ordered(base: list[str], ours: list[str], theirs: list[str]) -> list[str]:
    """The order of ours, or of theirs where only that is another than it was; what the other adds
    follows what it follows there."""
    shared = [set(base) & set(ours) & set(theirs)]
    moved = [id for id in ours if id in shared[0]] != [id for id in base if id in shared[0]]
    order, others = (ours, theirs) if moved or [id for id in theirs if id in shared[0]] == [
        id for id in base if id in shared[0]] else (theirs, ours)
    found = list(order)
    for index, id in enumerate(others):
        if id not in found:
            before = next((other for other in reversed(others[:index]) if other in found), None)
            found.insert(found.index(before) + 1 if before is not None else 0, id)
    return found


def _listed(
    base: tuple[Any, ...], ours: tuple[Any, ...], theirs: tuple[Any, ...]
) -> tuple[Any, ...]:
    """Things without ids: what neither took away, and what either added."""
    gone = [each for each in base if each not in ours or each not in theirs]
    found = [our for our in ours if our not in gone]
    return (*found, *[their for their in theirs if their not in found and their not in gone])
