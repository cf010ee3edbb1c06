"""What moments bring about in the booth: effects, projectiles, props and shakes."""

from __future__ import annotations

from math import cos, radians, sin
from typing import NamedTuple

from ..engine.state import Fired, Report
from ..model.puppet import Puppet
from ..model.world import TILE, World
from ..pose.place import Placed, Rectangle, placed
from .mover import Body

EFFECT_SECONDS = 0.4
"""How long an effect is shown."""
SHOT_SECONDS = 3.0
"""How long a projectile flies at most."""
SHOT_SIZE = 8.0
"""The side of the square in which a projectile hits, in pixels."""


class Effect(NamedTuple):
    """An effect on show since tick `born`, at x, y. One that follows stays at its anchor."""

    name: str
    anchor: str | None
    follow: bool
    x: float
    y: float
    born: int
    flipped: bool
    file: str


class Shot(NamedTuple):
    """A projectile at x, y, launched in tick `born`; pixels and pixels a second, y downwards."""

    name: str
    file: str
    x: float
    y: float
    vx: float
    vy: float
    born: int

    @property
    def area(self) -> Rectangle:
        """Where it hits."""
        return Rectangle(self.x - SHOT_SIZE / 2, self.y - SHOT_SIZE / 2, SHOT_SIZE, SHOT_SIZE)


class Prop(NamedTuple):
    """Something held at an anchor until the visit to a state that brought it, by layer and serial, is over."""

    name: str
    file: str
    anchor: str | None
    layer: str
    serial: int
    clip: str


class Shake(NamedTuple):
    """A shake of the view since tick `since`: `strength` pixels, for `seconds`."""

    since: int
    strength: float
    seconds: float


def shown_frame(puppet: Puppet, report: Report, body: Body) -> Placed | None:
    """The frame on show at the end of a tick, in the world."""
    for layer in report.layers:
        found = placed(puppet, layer.clip, layer.frame, report.facing, body.x, body.y)
        if found is not None:
            return found
    return None


def _start(puppet: Puppet, fired: Fired, report: Report, body: Body) -> tuple[float, float]:
    """Where a moment happens: at its anchor, or at the puppet's feet where the frame does not have it."""
    at = placed(puppet, fired.clip, fired.frame, report.facing, body.x, body.y)
    return (at and at.anchor(fired.moment.anchor)) or (body.x, body.y)


def effects(puppet: Puppet, before: tuple[Effect, ...], report: Report, body: Body) -> tuple[Effect, ...]:
    """Effects of before that still last, those that follow moved along, and those that began in this tick."""
    shown = shown_frame(puppet, report, body) if before else None
    lasting = EFFECT_SECONDS * puppet.rate
    found = []
    for effect in before:
        if report.tick - effect.born >= lasting:
            continue
        place = shown.anchor(effect.anchor) if effect.follow and shown else None
        found.append(effect._replace(x=place[0], y=place[1]) if place else effect)
    for fired in report.moments:
        moment = fired.moment
        if moment.kind == "effect":
            x, y = _start(puppet, fired, report, body)
            flipped = moment.mirrors and report.facing == "left"
            found.append(Effect(moment.name, moment.anchor, moment.follow, x, y, report.tick, flipped, moment.file))
    return tuple(found)


def shots(
    world: World, puppet: Puppet, before: tuple[Shot, ...], report: Report, body: Body
) -> tuple[Shot, ...]:
    """Projectiles of before flown on by a tick, without those that ended at a wall, and those launched in this one."""
    found = []
    for shot in before:
        moved = shot._replace(x=shot.x + shot.vx / puppet.rate, y=shot.y + shot.vy / puppet.rate)
        solid = world.tile(int(moved.x // TILE), int(moved.y // TILE)) == "#"
        if not solid and report.tick - shot.born < SHOT_SECONDS * puppet.rate:
            found.append(moved)
    for fired in report.moments:
        moment = fired.moment
        if moment.kind == "launch":
            x, y = _start(puppet, fired, report, body)
            angle = radians(moment.angle)
            side = -1.0 if report.facing == "left" else 1.0
            across, up = cos(angle) * side, sin(angle)
            if report.facing in ("up", "down"):
                across, up = -sin(angle), cos(angle) * (1.0 if report.facing == "up" else -1.0)
            found.append(Shot(moment.name, moment.file, x, y, across * moment.speed, -up * moment.speed, report.tick))
    return tuple(found)


def props(before: tuple[Prop, ...], report: Report) -> tuple[Prop, ...]:
    """Props of before whose visit still lasts, and those attached in this tick."""
    visits = {(layer.layer, layer.serial): layer.clip for layer in report.layers}
    serials = {layer.layer: layer.serial for layer in report.layers}
    found = [prop for prop in before if visits.get((prop.layer, prop.serial)) == prop.clip]
    for fired in report.moments:
        moment = fired.moment
        # The same prop at the same anchor is held once, however often the clip loops.
        if moment.kind == "attach" and not any((each.name, each.anchor) == (moment.name, moment.anchor)
                                               for each in found):
            found.append(Prop(moment.name, moment.file, moment.anchor, fired.layer, serials[fired.layer], fired.clip))
    return tuple(found)


def shake(before: Shake | None, report: Report) -> Shake | None:
    """The shake that began last."""
    for fired in report.moments:
        if fired.moment.kind == "shake":
            before = Shake(report.tick, fired.moment.strength, fired.moment.seconds)
    return before
