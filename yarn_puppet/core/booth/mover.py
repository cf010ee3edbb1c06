"""Moves the puppet one tick: picks the way of moving that the world and the while-rules ask for.
docs/world.md."""

from __future__ import annotations

from ..model.mover import Mover
from ..model.world import World
from .body import Body, Ledge, Moving, Wish
from .modes.above import footprint, move_from_above
from .modes.air import move_in_air
from .modes.ground import move_on_ground
from .modes.ladder import ladder_at, move_on_ladder
from .modes.ledge import felt, hanging_at, move_at_ledge, still_out_of_mind
from .modes.step import MoverStep
from .modes.water import floats, is_in_water, move_in_water, surface_over
from .tiles.slopes import NEAR, slope_between
from .tiles.stepping import MovedBox, box_of, fall, got_out, is_free, slide
from .tiles.sweep import TOUCH, down, is_solid
from .tiles.terrain import Terrain, terrain_of

LEAST_PUSH = 0.05
"""Pixels below which a push is over."""
PUSH_LEFT = 0.75
"""What is left of a push after a sixtieth of a second."""


def move(world: World, mover: Mover, body: Body, wish: Wish, moving: Moving, dt: float) -> Body:
    """The body after one tick."""
    terrain = terrain_of(world)
    if world.from_above:
        box = footprint(mover, terrain.tile)
        after = move_from_above(MoverStep(terrain, mover, body, box, wish, moving, dt))
        return _pushed(terrain, box, after, dt) if after.push else after
    if moving.height != body.low:
        body = _as_high(terrain, mover, body, moving.height)
    elif (
        body.grounded and body.mode == "ground" and not (
            wish.across or body.vx or wish.jump or wish.drop or body.push or body.on_slope
            or body.bumped)
        and not moving.mode and moving.gravity >= 0 and body.near is None
    ):
        # It stands, and will stand: most ticks of most takes.
        return body if not body.blocked else body._replace(blocked=False)
    box = box_of(mover, body.height(mover))
    before_y = body.y
    after = _moved(MoverStep(terrain, mover, body, box, wish, moving, dt))
    if after.push:
        after = _pushed(terrain, box, after, dt)
    return _felt(terrain, mover, box, after, before_y, wish.side)


def _moved(step: MoverStep) -> Body:
    terrain, mover, body, box, wish, moving, _ = step
    height = body.height(mover)
    ledge = body.ledge or body.near
    holds_ledge = moving.mode == "ledge" and ledge is not None and is_free(
        terrain, box, *hanging_at(mover, box, ledge, body.x))
    # Standing at its foot or on its top it can walk away from it.
    steps_off = body.grounded and wish.across != 0 and wish.up == 0
    asks = moving.mode == "ladder" and not steps_off
    ladder = ladder_at(terrain, body.x, body.y, height, body.grounded) if asks else None
    # Asked only where the answer counts.
    asked = moving.mode == "water" or body.mode == "water"
    surface = surface_over(terrain, body.x, body.y, mover.height) if asked else None
    swims = moving.mode == "water" and is_in_water(surface, body.y, mover.height)
    if wish.jump or wish.drop:
        thin = body.grounded and _on_thin(terrain, box, body)
        holding = body.mode in ("ledge", "ladder") or holds_ledge or ladder is not None
        if wish.drop and (thin or (holding and not body.grounded)):
            return _air(step, False, thin)
        if wish.jump and thin and wish.up < 0:
            return _air(step, False, True)
        if wish.jump and (body.grounded or body.grace > 0 or holding or (
                body.mode == "water" and floats(surface, body.y, mover.height))):
            return _air(step, True, False)
    if holds_ledge and ledge is not None:
        return move_at_ledge(step, ledge)
    if ladder is not None:
        return _let_go(move_on_ladder(step, ladder))
    if swims and surface is not None:
        return _let_go(move_in_water(step, surface))
    if body.grounded and moving.gravity >= 0:
        return _let_go(move_on_ground(step))
    return _air(step, False, False)


def _air(step: MoverStep, jumps: bool, drops: bool) -> Body:
    surface = surface_over(step.terrain, step.body.x, step.body.y, step.mover.height)
    return _let_go(move_in_air(step, jumps, drops,
                               is_in_water(surface, step.body.y, step.mover.height)))


def _let_go(body: Body) -> Body:
    return body if body.ledge is None else body._replace(ledge=None, left=body.ledge)


def _on_thin(terrain: Terrain, box: MovedBox, body: Body) -> bool:
    """Whether nothing but planks and ladders' tops holds the feet."""
    left, right = body.x - box.half + TOUCH, body.x + box.half - TOUCH
    return not body.on_slope and down(terrain, left, right, body.y, TOUCH, terrain.brick) is None


def _as_high(terrain: Terrain, mover: Mover, body: Body, share: float) -> Body:
    """As high as it is asked to be; higher only where there is room."""
    share = max(0.2, min(1.0, share))
    if share < body.low or is_free(terrain, box_of(mover, mover.height * share), body.x, body.y):
        return body._replace(low=share)
    return body


def _pushed(terrain: Terrain, box: MovedBox, body: Body, dt: float) -> Body:
    """Pushed on by a blow."""
    left = PUSH_LEFT ** (60 * dt)
    by = body.push * (1 - left)
    slid = slide(terrain, box, body.x, body.y, by, standing=body.grounded)
    rest = 0.0 if slid.stopped or abs(body.push * left) < LEAST_PUSH else body.push * left
    return body._replace(x=slid.x, y=slid.y, push=rest, cell=None)


def _felt(
    terrain: Terrain, mover: Mover, box: MovedBox, after: Body, before_y: float, side: int
) -> Body:
    """The body with the ledge its hands are at."""
    near: Ledge | None = after.ledge
    if near is None and terrain.has_ledges and not after.grounded and (
        after.mode == "water" or (after.mode in ("air", "ladder") and after.vy >= 0)
    ):
        near = felt(terrain, mover, box, after, before_y, side)
    # Forgotten only now: what the hands passed on the way out of reach is not felt either.
    left = still_out_of_mind(mover, after, box, terrain.tile) if after.left is not None else None
    if near != after.near or left != after.left:
        return after._replace(near=near, left=left)
    return after


def settled(world: World, mover: Mover, body: Body) -> Body:
    """A body put out of whatever it finds itself in, as where its start was put there or the world
    was painted over it; at the start where there is no place near."""
    terrain = terrain_of(world)
    if world.from_above:
        box = footprint(mover, terrain.tile)
        free = not is_solid(terrain, body.x - box.half + TOUCH, body.y - box.height + TOUCH,
                            body.x + box.half - TOUCH, body.y - TOUCH)
        return body if free else body._replace(x=world.start_x, y=world.start_y, cell=None)
    box = box_of(mover, body.height(mover))
    place = got_out(terrain, box, body.x, body.y)
    if place is None:
        return body._replace(x=world.start_x, y=world.start_y, vx=0.0, vy=0.0, grounded=False,
                             ledge=None, near=None)
    if place != (body.x, body.y):
        body = body._replace(x=place[0], y=place[1], ledge=None, near=None)
    if body.grounded and not fall(terrain, box, body.x, body.y, 0.0).landed:
        # The ground was painted away under it.
        body = body._replace(grounded=False, mode="air", on_slope=False)
    return body


def at_start(world: World, mover: Mover) -> Body:
    """The body before the first tick."""
    body = settled(world, mover, Body(world.start_x, world.start_y, 0.0, 0.0, True, False, 0.0))
    if world.from_above:
        return body._replace(mode="above")
    terrain = terrain_of(world)
    box = box_of(mover, mover.height)
    stands = fall(terrain, box, body.x, body.y, 0.0)
    on_slope = (
        bool(terrain.slopes)
        and slope_between(terrain, body.x, body.y - NEAR, body.y + NEAR) is not None
    )
    return body._replace(grounded=stands.landed, mode="ground" if stands.landed else "air",
                         on_slope=on_slope,
                         grace=mover.grace if stands.landed else 0.0)
