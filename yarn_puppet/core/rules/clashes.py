"""What a parcel brings and is here already: by which name, and in which fields it is another."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Literal, NamedTuple

from ..model.basics.words import one_of
from ..model.puppet import Puppet
from .alike import Alike, Unlike
from .parcels import BROUGHT

Answer = Literal["ours", "theirs", "both"]
"""For a clash: keep the entry that is here; put what was copied in its place; or bring that too,
under a name of its own."""
Key = tuple[str, str]
"""The field of a puppet that an entry is in, and its id in the parcel."""


class Clash(NamedTuple):
    """An entry of a parcel that is called like one here and differs from it, and in which
    fields."""

    key: Key
    name: str
    what: str
    fields: tuple[Unlike, ...] = ()


def clashes(puppet: Puppet, parcel: Puppet) -> tuple[Clash, ...]:
    """What is called the same here and is another."""
    return tuple(Clash((field, each.id), each.name, one_of(field), fields)
                 for field, each, here, fields in beside(puppet, parcel) if fields)


def beside(
    puppet: Puppet, parcel: Puppet
) -> Iterator[tuple[str, Any, Any, tuple[Unlike, ...]]]:
    """Each entry that a parcel brings, with its field, the one that is called so here or None, and
    in which fields the two differ."""
    alike = Alike(puppet, parcel)
    for field in BROUGHT:
        # Where two here are called the same, the first is meant.
        called = {each.name: each for each in reversed(getattr(puppet, field))}
        for each in getattr(parcel, field):
            here = called.get(each.name)
            yield field, each, here, alike.unlike(here, each) if here is not None else ()
