"""A pattern made of a puppet, or of a part of one: its graph and its wiring, without its art."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from msgspec.structs import replace

from ..model.basics.ids import fitting
from ..model.clips import Clip
from ..model.events import Rule
from ..model.graph import State
from ..model.puppet import Puppet, find
from ..rules.parcels import parcel_of
from .reading_names import read_name
from .words import Movement

SHOWS = frozenset(("prop",))
"""While-rules that show a picture or a clip, which a pattern has not."""


def pattern_of(puppet: Puppet, name: str, nodes: Collection[str] = ()) -> Puppet:
    """The pattern of some states and groups, of the whole puppet where none are given.

    Each state that plays something waits for a clip instead: for the movement that its clip's name
    speaks of, else for a clip of that name. Art, what shows art, booth and mover stay behind.
    """
    part = parcel_of(puppet, nodes).puppet if nodes else puppet
    numbers: dict[str, int] = {}
    states = []
    for state, clips in part.clips_by_state():
        states.append(_bare(_waiting(part, state, clips, numbers)))
    return replace(
        part, name=fitting(name), sheets=(), anchors=(), clips=(), spreads=(),
        states=tuple(states), groups=tuple(_bare(group) for group in part.groups),
        layers=tuple(replace(layer, pinned_to=None) for layer in part.layers),
        booth="",
    )


def _waiting(
    puppet: Puppet, state: State, clips: tuple[Clip, ...], numbers: dict[str, int]
) -> State:
    spread = find(puppet.spreads, state.spread)
    clip = clips[0] if clips else None
    if state.clip is None and state.spread is None:
        return state
    said = state.waits_for or _words(clip, spread.name if spread else state.name, numbers)
    return replace(state, clip=None, spread=None, waits_for=said)


def _words(clip: Clip | None, otherwise: str, numbers: dict[str, int]) -> str:
    """What a state waits for that plays a clip."""
    movement: Movement | None = read_name(clip.name).movement if clip is not None else None
    if movement is None:
        return fitting(clip.name if clip is not None else otherwise)
    word = movement.name
    if not movement.counted:
        return word
    numbers[word] = numbers.get(word, 0) + 1
    return f"{word} {numbers[word]}"


def _bare(node: Any) -> Any:
    rules: tuple[Rule, ...] = tuple(rule for rule in node.rules if rule.kind not in SHOWS)
    return replace(node, rules=rules) if rules != node.rules else node
