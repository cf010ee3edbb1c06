"""What moments bring about in the booth: effects, projectiles, props and shakes."""

from __future__ import annotations

from math import cos, radians, sin
from typing import NamedTuple

from ...engine.state import Fired, Report
from ...model.puppet import Puppet
from ...model.world import World
from ...pose.bones.standing import PosedFigure
from ...pose.clip_shown import frame_shown, hit_area
from ...pose.cuboid import Area, Cuboid
from ...pose.figure import anchor_in, placed_in, standing
from ...pose.rectangle import Rectangle
from ..body import Body
from ..tiles.sweep import along
from ..tiles.terrain import terrain_of

EFFECT_SECONDS = 0.4
"""How long an effect is shown."""
SHOT_SECONDS = 3.0
"""How long a projectile flies at most."""
SHOT_SIZE = 8.0
"""The side of the square in which a projectile hits that has no hit boxes, in pixels."""
SQUARE = Rectangle(-SHOT_SIZE / 2, -SHOT_SIZE / 2, SHOT_SIZE, SHOT_SIZE)


class Effect(NamedTuple):
    """An effect on show since tick `born`, at x, y. One that follows stays at its anchor.

    One that is a `clip`, played once or `round`, lasts as long as that, or as the visit to the
    state that brought it, by layer and visit.
    """

    name: str
    anchor: str | None
    follow: bool
    x: float
    y: float
    born: int
    flipped: bool
    file: str
    clip: str | None = None
    round: bool = False
    under: bool = False
    layer: str = ""
    visit: int = 0


class Shot(NamedTuple):
    """A projectile at x, y, launched in tick `born`; pixels and pixels a second, y downwards.

    `from_x`, `from_y` is where the tick found it; it is `stopped` if a wall ended it at x, y.
    """

    name: str
    file: str
    x: float
    y: float
    vx: float
    vy: float
    born: int
    from_x: float
    from_y: float
    stopped: bool = False
    hits: Rectangle = SQUARE
    """Where it hits, about x, y: its clip's hit boxes, or a small square."""
    clip: str | None = None
    round: bool = False
    under: bool = False
    flipped: bool = False
    raised: float | None = None
    """Seen from above, how high above the ground it flies, that of x, y being so much further
    down; `of_bones`, if it is a puppet's of bones."""
    of_bones: bool = False

    @property
    def area(self) -> Rectangle:
        """Where it hits."""
        return Rectangle(self.x + self.hits.x, self.y + self.hits.y, self.hits.width,
                         self.hits.height)

    def reaches(self, area: Area) -> float | None:
        """At which share of its way to x, y it meets something, or None where it does not."""
        # A rectangle that moves meets a box where its corner meets the box grown by the rectangle.
        first, last = 0.0, 1.0
        hits = self.hits
        ways = [(self.from_x + hits.x, self.x - self.from_x, area.x, area.width, hits.width)]
        if isinstance(area, Cuboid) and self.raised is not None and (
                self.of_bones or area.of_bones):
            if not (self.raised - hits.y - hits.height < area.high
                    and area.low < self.raised - hits.y):
                return None
            ways.append((self.from_y + self.raised - hits.width / 2, self.y - self.from_y,
                         area.far, area.near - area.far, hits.width))
        else:
            ways.append((self.from_y + hits.y, self.y - self.from_y, area.y, area.height,
                         hits.height))
        for at, by, low, size, wide in ways:
            low, high = low - wide, low + size
            if by == 0.0:
                if not low < at < high:
                    return None
                continue
            enters, leaves = sorted(((low - at) / by, (high - at) / by))
            first, last = max(first, enters), min(last, leaves)
        return first if first < last else None


class Prop(NamedTuple):
    """Something held at an anchor until the visit to a state that brought it, by layer and visit,
    is over."""

    name: str
    file: str
    anchor: str | None
    layer: str
    visit: int
    born: int = 0
    clip: str | None = None
    round: bool = False
    under: bool = False


class Shake(NamedTuple):
    """A shake of the view since tick `since`: `strength` pixels, for `seconds`."""

    since: int
    strength: float
    seconds: float


def _start(
    world: World, puppet: Puppet, fired: Fired, report: Report, body: Body, over: float = 0.0
) -> tuple[float, float, float]:
    """Where a moment happens: at its anchor, or so far over the puppet's feet where the frame does
    not have it. And how high above the ground that is, which only bones know of another line than
    that of the feet."""
    at = placed_in(puppet, report, fired.clip, fired.frame, fired.layer, body.x, body.y,
                   world.from_above)
    found = at.anchor(fired.moment.anchor) if at is not None else None
    if found is None:
        return body.x, body.y - over, over
    in_space = (at.anchor_in_space(fired.moment.anchor) if isinstance(at, PosedFigure) else None)
    return (*found, in_space[2] if in_space is not None else body.y - found[1])


def effects(
    world: World, puppet: Puppet, before: tuple[Effect, ...], report: Report, body: Body
) -> tuple[Effect, ...]:
    """Effects of before that still last, those that follow moved along, and those that began in
    this tick."""
    if not before and not report.moments:
        return before
    stands = standing(puppet, report, body.x, body.y, world.from_above) if before else {}
    lasting = EFFECT_SECONDS * puppet.rate
    found = []
    visits = {(layer.layer, layer.visit) for layer in report.layers}
    for effect in before:
        if _is_over(puppet, effect, report.tick, lasting, visits):
            continue
        place = anchor_in(stands, effect.anchor) if effect.follow else None
        found.append(effect._replace(x=place[0][0], y=place[0][1]) if place else effect)
    for fired in report.moments:
        moment = fired.moment
        if moment.kind == "effect":
            x, y, _ = _start(world, puppet, fired, report, body)
            flipped = moment.mirrors and report.facing.endswith("left")
            found.append(Effect(moment.name, moment.anchor, moment.follow, x, y, report.tick,
                                flipped, moment.file,
                                moment.clip, moment.round, moment.under, fired.layer, fired.visit))
    return tuple(found)


def _is_over(
    puppet: Puppet, effect: Effect, tick: int, lasting: float, visits: set[tuple[str, int]]
) -> bool:
    clip = puppet.clip(effect.clip)
    if clip is None or not clip.frames:
        return tick - effect.born >= lasting
    if effect.round or clip.mode == "hold last":
        return (effect.layer, effect.visit) not in visits
    return frame_shown(clip, (tick - effect.born) * 1000 / puppet.rate, False) is None


def shots(
    world: World, puppet: Puppet, before: tuple[Shot, ...], report: Report, body: Body
) -> tuple[Shot, ...]:
    """Projectiles of before flown on by a tick, those that met a wall `stopped` there, and those
    launched in this one."""
    if not before and not report.moments:
        return before
    lasting = SHOT_SECONDS * puppet.rate
    found = [_flown(world, shot, puppet.rate)
             for shot in before if report.tick - shot.born < lasting]
    for fired in report.moments:
        moment = fired.moment
        if moment.kind == "launch":
            x, y, raised = _start(world, puppet, fired, report, body, puppet.mover.height / 2)
            angle = radians(moment.angle)
            side = -1.0 if report.facing.endswith("left") else 1.0
            across, up = cos(angle) * side, sin(angle)
            if report.facing in ("up", "down"):
                across, up = -sin(angle), cos(angle) * (1.0 if report.facing == "up" else -1.0)
            flipped = moment.mirrors and across < 0
            found.append(Shot(
                moment.name, moment.file, x, y, across * moment.speed, -up * moment.speed,
                report.tick, x, y,
                False, hit_area(puppet, moment.clip, flipped) or SQUARE, moment.clip, moment.round,
                moment.under,
                flipped, raised if world.from_above else None, puppet.is_of_bones))
    return tuple(found)


def _flown(world: World, shot: Shot, rate: int) -> Shot:
    """A projectile after one more tick, no further than the wall it meets."""
    by_x, by_y = shot.vx / rate, shot.vy / rate
    way = along(terrain_of(world), shot.x, shot.y, by_x, by_y)
    share = 1.0 if way is None else way
    return shot._replace(
        x=shot.x + by_x * share, y=shot.y + by_y * share, from_x=shot.x, from_y=shot.y,
        stopped=way is not None
    )


def props(before: tuple[Prop, ...], report: Report) -> tuple[Prop, ...]:
    """Props of before whose visit still lasts, and those attached in this tick."""
    if not before and not report.moments:
        return before
    visits = {(layer.layer, layer.visit) for layer in report.layers}
    found = [prop for prop in before if (prop.layer, prop.visit) in visits]
    for fired in report.moments:
        moment = fired.moment
        # The same prop at the same anchor is held once, however often the clip loops.
        if moment.kind == "attach" and (fired.layer, fired.visit) in visits and not any(
            (each.name, each.anchor) == (moment.name, moment.anchor) for each in found
        ):
            found.append(Prop(moment.name, moment.file, moment.anchor, fired.layer, fired.visit,
                              report.tick,
                              moment.clip, moment.round, moment.under))
    return tuple(found)


def shake(before: Shake | None, report: Report) -> Shake | None:
    """The shake that began last."""
    for fired in report.moments:
        if fired.moment.kind == "shake":
            before = Shake(report.tick, fired.moment.strength, fired.moment.seconds)
    return before
