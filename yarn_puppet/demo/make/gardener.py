"""Bryony, who tends the roof gardens: seen from above, in four directions, with a can to water the
beds."""

from __future__ import annotations

from msgspec.structs import replace

from ...core.model.clips import Anchor, AnchorPoint, Box, Cell, Clip, Frame, Grid, Point, Sheet
from ...core.model.events import Deed, Moment, Rule
from ...core.model.graph import BODY, Group, Layer, Leave, Placed, Spread, State, Transition
from ...core.model.mover import Mover
from ...core.model.puppet import Puppet
from ...core.model.starter import MORE_SENSES, new_puppet
from ...core.model.wiring import Facing, Intent, Memo
from .art.bryony import DIRECTIONS, HEIGHT, PIVOT, STEPS, WIDTH
from .booths import GARDENS, roof_gardens
from .lamplighter import INTENTS, sound

SHEET = "bryony_walk"
DEGREES = {"right": 0.0, "up": 90.0, "left": 180.0, "down": 270.0}
SPOUTS = {"right": (37.0, 36.0), "left": (11.0, 36.0), "down": (31.0, 42.0), "up": (17.0, 30.0)}
"""Where the can's spout is, in pixels of a cell."""


def gardener() -> Puppet:
    """The second puppet of the demo."""
    base = replace(new_puppet("gardener"), intents=INTENTS)
    senses = {sense.id: sense for sense in MORE_SENSES}
    beds = tuple(zone.name for zone in roof_gardens().zones)
    walk, stand, pour = ({side: f"{name}_{side}" for side in DIRECTIONS}
                         for name in ("walk", "stand", "pour"))

    def facings(name: str, clips: dict[str, str]) -> Spread:
        return Spread(name, name,
                      tuple(Placed(clips[side], (DEGREES[side],)) for side in DIRECTIONS),
                      ("facing",))

    return replace(
        base,
        sheets=(Sheet(SHEET, f"{SHEET}.png", f"{SHEET}.png", Grid(WIDTH, HEIGHT)),),
        anchors=(Anchor("spout", "spout"),),
        clips=(*(_clip(walk[side], side, range(STEPS), 110.0) for side in DIRECTIONS),
               *(_clip(stand[side], side, (0,), 400.0) for side in DIRECTIONS),
               *(_pouring(pour[side], side) for side in DIRECTIONS)),
        spreads=(facings("walking", walk), facings("standing", stand), facings("pouring", pour)),
        layers=(Layer(BODY, "body", "stand_state"),),
        groups=(Group("paths", "Paths", start="stand_state", thread="moss"),
                Group("work", "Work", start="water_state", thread="indigo")),
        states=(
            State("stand_state", "Stand", group="paths", spread="standing", place=0),
            State("walk_state", "Walk", group="paths", spread="walking", place=1),
            State("blocked_state", "Against it", group="paths", spread="standing", place=2),
            State("water_state", "Water", group="work", spread="pouring", place=0,
                  rules=(Rule("lock_movement"), Rule("lock_facing"))),
        ),
        transitions=(
            Transition("paths_to_water", "paths", "water_state", 'tap_attack and zone != ""'),
            Transition("stand_to_walk", "stand_state", "walk_state", "speed > 4"),
            Transition("stand_to_blocked", "stand_state", "blocked_state", "blocked"),
            Transition("walk_to_blocked", "walk_state", "blocked_state", "blocked and speed < 4"),
            Transition("walk_to_stand", "walk_state", "stand_state", "speed < 4"),
            Transition("blocked_to_walk", "blocked_state", "walk_state", "speed > 4"),
            Transition("blocked_to_stand", "blocked_state", "stand_state", "not blocked"),
            Transition("water_to_stand", "water_state", "stand_state", "", Leave("at the end")),
        ),
        actions=tuple(action for action in base.actions
                      if action.id in ("left", "right", "up", "down", "attack")),
        intents=(Intent("tap_attack", "press_water", "attack", "press"),),
        senses=(*(sense for sense in base.senses
                  if sense.id in ("speed", "vx", "vy", "move_x", "blocked")),
                senses["move_y"], senses["in_water"],
                replace(senses["zone"], choices=("", *beds))),
        memos=(Memo("watered", "watered"),),
        facing=Facing("four", "move_x", "down", "move_y"),
        mover=Mover(width=14.0, height=30.0, walk_speed=80.0, corner=6.0, art_up=4.0),
        booth=GARDENS,
    )


def _clip(name: str, side: str, steps: range | tuple[int, ...], duration: float) -> Clip:
    row = DIRECTIONS.index(side)
    frames = tuple(
        Frame(Cell(SHEET, step * WIDTH, row * HEIGHT, WIDTH, HEIGHT), duration,
              boxes=(Box("body", 15.0, 12.0, 18.0, 38.0),),
              anchors=(AnchorPoint("spout", *SPOUTS[side]),))
        for step in steps
    )
    moments = (sound(f"{name}_step", 0, "soft_step"),) if len(frames) > 1 else ()
    # Each direction is drawn for itself: none is another's mirror image.
    return Clip(name, name, frames, "loop", "left" if side == "left" else "right", Point(*PIVOT),
                moments)


def _pouring(name: str, side: str) -> Clip:
    made = _clip(name, side, (0, 1, 0), 180.0)
    return replace(made, mode="once", moments=(
        Moment(f"{name}_drops", 120, "effect", "drops", "spout", True),
        Moment(f"{name}_done", 300, "call", "watered", deeds=(Deed("watered", "watered + 1"),)),
        sound(f"{name}_sound", 120, "canopy"),
    ))
