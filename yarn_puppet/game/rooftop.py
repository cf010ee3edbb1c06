"""The game's own world: where the puppet stands, what it meets, and what it tells of that. No
window, no wire.

A tick is given what the puppet did in it, as a game is told, whoever ran it; it gives what goes
into the next.
"""

from __future__ import annotations

from typing import NamedTuple

from ..core.booth.body import Body, Moving, Wish
from ..core.booth.hitting.dummies import DummyState, at_first, dummy_box
from ..core.booth.hitting.hits import Hit, after_hits
from ..core.booth.move_input import MoveInput, move_input_of
from ..core.booth.mover import at_start, move
from ..core.booth.senses import SENSES, reported_senses
from ..core.model.basics.base import Scalar
from ..core.model.puppet import Puppet
from ..core.model.world import World
from ..core.pose.place import Rectangle
from ..core.rules.numbers import sign
from ..core.wire.messages import ReportMessage, WindowMessage

DEEP = 400
"""Pixels below the world at which the game puts the puppet back."""
Strike = tuple[str, int, int, str, int]
"""Layer, visit, pass, window and dummy of a hit: it lands once."""


class Rooftop(NamedTuple):
    """The world after a tick. `landed` are the hits that the puppet is told of next; `stop` ticks
    of a hit stop are left."""

    body: Body
    dummies: tuple[DummyState, ...]
    struck: frozenset[Strike] = frozenset()
    landed: tuple[tuple[str, int, int], ...] = ()
    stop: int = 0


def rooftop(world: World, puppet: Puppet) -> Rooftop:
    """The world before the first tick."""
    return Rooftop(at_start(world, puppet.mover),
                   tuple([at_first(dummy, world.start_x) for dummy in world.dummies]))


def senses_of(
    world: World, puppet: Puppet, state: Rooftop, down: frozenset[str]
) -> dict[str, Scalar]:
    """What the game tells of the puppet, by id: what it has a sense for."""
    move_input = move_input_of(puppet, down)
    values = (sign(move_input.across), sign(move_input.up),
              *reported_senses(world, puppet.mover, state.body, 0.0, puppet.mover.health,
                               (False, False, bool(state.landed))))
    known = dict(zip(SENSES, values, strict=True))
    return {sense.id: known[sense.id] for sense in puppet.senses
            if sense.id in known and SENSES[sense.id] == sense.type and (
                sense.type != "choice" or known[sense.id] in sense.choices)}


def stepped(
    world: World, puppet: Puppet, state: Rooftop, report: ReportMessage, down: frozenset[str]
) -> Rooftop:
    """The world after a tick in which the puppet did this."""
    if state.stop > 0:
        return state._replace(stop=state.stop - 1, landed=())
    body = move(world, puppet.mover, state.body, _wish(report, move_input_of(puppet, down)),
                _moving(report),
                1.0 / puppet.rate)
    if body.y > len(world.rows) * world.tile_size + DEEP:
        body = at_start(world, puppet.mover)
    visits = {(layer.layer, layer.visit) for layer in report.layers}
    before = frozenset(each for each in state.struck if (each[0], each[1]) in visits)
    hits = [(window, number) for window in report.windows if window.kind == "hit"
            for number, dummy in enumerate(state.dummies)
            if _strike(window, number) not in before
            and _meets(window, body, dummy_box(world, number, dummy))]
    met = tuple([Hit(window.name, number, window.damage, window.layer, window.push, window.hit_stop)
                 for window, number in hits])
    dummies = after_hits(world, state.dummies, met, report.tick, puppet.rate, body)
    landed = tuple(dict.fromkeys((window.layer, window.visit, window.cycle) for window, _ in hits))
    struck = before | {_strike(*hit) for hit in hits}
    return Rooftop(body, dummies, struck, landed,
                   max((window.hit_stop for window, _ in hits), default=0))


def _strike(window: WindowMessage, dummy: int) -> Strike:
    return window.layer, window.visit, window.cycle, window.name, dummy


def _meets(window: WindowMessage, body: Body, target: Rectangle) -> bool:
    return any(Rectangle(body.x + x, body.y + y, wide, high).meets(target)
               for x, y, wide, high in window.boxes)


def _wish(report: ReportMessage, move_input: MoveInput) -> Wish:
    called = {moment.name for moment in report.moments if moment.kind == "call"}
    return Wish(move_input.across, move_input.up, move_input.jump, "jump" in called,
                "drop" in called, "pull_up" in called,
                -1 if report.facing.endswith("left") else 1)


def _moving(report: ReportMessage) -> Moving:
    mode, height = "", 1.0
    for rule in report.rules:
        if rule.kind == "height":
            height *= 1.0 + (rule.value - 1.0) * rule.share
        elif rule.kind == "mode" and rule.share >= 0.5:
            mode = rule.text
    return Moving(report.move_speed, report.gravity, report.jump_height, report.lock_movement, mode,
                  max(0.2, min(1.0, height)))
