"""Blends that do nothing, or go on for longer than anybody meant."""

from __future__ import annotations

from ..engine.program import Program
from ..model.graph import Blend
from ..model.puppet import Puppet
from .references import Named
from .snag import Snag

LONGEST = 10.0
"""Seconds beyond which a blend is most likely a slip."""


def blends_without_effect(puppet: Puppet, program: Program) -> list[Snag]:
    """Blends that the puppet's art cannot do, that take no time, or that hardly end."""
    named = Named(puppet)
    return [
        Snag("warning", "transition", transition.id, named.of("transition", transition.id), *found)
        for transition in puppet.transitions
        if (found := _trouble(transition.blend, puppet.rate, puppet.is_of_bones)) is not None
    ]


def _trouble(blend: Blend, rate: int, of_bones: bool) -> tuple[str, str] | None:
    if blend.kind == "momentum" and not of_bones:
        return (
            "it takes over by momentum, which bones can do and sprites cannot: it cuts",
            "let it cut, or dissolve",
        )
    if blend.kind != "cut" and blend.seconds * rate <= 1:
        return (
            f"it {'blends' if of_bones else 'dissolves'} within one tick, which is a cut",
            "give the blend more time, or let it cut",
        )
    if blend.kind != "cut" and blend.seconds > LONGEST:
        return (
            f"it {'blends' if of_bones else 'dissolves'} for {blend.seconds:g} s, and the old clip "
            "shows all that time",
            "give the blend less time",
        )
    return None
