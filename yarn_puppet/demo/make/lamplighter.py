"""Pell's first steps: eight states on the first rows of the sheet. What Pell does in full stands on
this."""

from __future__ import annotations

import numpy as np
from msgspec.structs import replace
from PIL import Image

from ...core.art.marks import marks_of
from ...core.model.clips import Anchor, AnchorPoint, Box, Cell, Clip, Frame, Grid, Point, Sheet
from ...core.model.edits.following.recutting import marked
from ...core.model.events import Moment, Rule, Window
from ...core.model.graph import BODY, Blend, Group, Layer, Leave, SpeedMap, State, Transition
from ...core.model.puppet import Puppet
from ...core.model.starter import new_puppet
from ...core.model.wiring import Intent
from .art.pell import HEIGHT, PIVOT, WIDTH, pole_tip
from .art.poses import CLIPS, FIRST_STEPS

INTENTS = (
    Intent("press_jump", "press_jump", "jump", "press"),
    Intent("tap_attack", "tap_attack", "attack", "tap"),
    Intent("hold_attack", "hold_attack", "attack", "hold"),
    Intent("held_guard", "held_guard", "guard", "held"),
    Intent("held_down", "held_down", "down", "held"),
    Intent("held_up", "held_up", "up", "held"),
)
"""A light swing on a tap and a heavy one on a hold of the same key."""

HIT_BOXES = {
    ("light_swing", 2): (54.0, 12.0, 28.0, 30.0),
    ("light_swing", 3): (56.0, 24.0, 36.0, 24.0),
    ("light_swing", 4): (56.0, 32.0, 34.0, 22.0),
    ("heavy_slam", 5): (54.0, 18.0, 36.0, 42.0),
    ("heavy_slam", 6): (56.0, 34.0, 34.0, 26.0),
}
"""Where each striking frame hits: x, y, width, height in pixels of the cell."""

STANDING = Box("body", 34.0, 10.0, 20.0, 50.0)
CROUCHING = Box("body", 32.0, 26.0, 24.0, 34.0)


def first_steps() -> Puppet:
    """The smaller demo: a puppet to look into first."""
    puppet = new_puppet("first steps")
    return replace(
        puppet,
        intents=INTENTS,
        sheets=(Sheet("lamplighter", "lamplighter.png", "lamplighter.png", Grid(WIDTH, HEIGHT)),),
        anchors=(Anchor("pole_tip", "pole tip"),),
        clips=tuple(clip(name, list(CLIPS).index(name)) for name in FIRST_STEPS),
        layers=(Layer(BODY, "body", "idle_state"),),
        groups=(
            Group("air", "Air", start="fall_state", thread="woad"),
            Group("ground", "Ground", start="idle_state", thread="moss"),
            Group("strike", "Strike", start="light_swing_state", thread="madder"),
        ),
        states=states(),
        transitions=transitions(),
    )


def with_marks(made: Puppet, sheet: Image.Image, id: str = "lamplighter") -> Puppet:
    """With the frames of a puppet marked by what is drawn in one of its sheets."""
    pixels = np.asarray(sheet.convert("RGBA"))
    marks = marks_of(lambda cell: pixels[cell.y: cell.y + cell.height, cell.x: cell.x + cell.width],
                     [frame.cell for each in made.clips
                      for frame in each.frames if frame.cell.sheet == id])
    return marked(made, id, marks)


def clip(name: str, row: int) -> Clip:
    """A clip whose frames are the cells of one row of the sheet."""
    poses, mode = CLIPS[name]
    frames = []
    for column, (pose, duration) in enumerate(poses()):
        body = CROUCHING if name == "crouch" and column > 0 else STANDING
        boxes = [body]
        if (name, column) in HIT_BOXES:
            boxes.append(Box("hit", *HIT_BOXES[name, column], "pole"))
        anchors = () if pose.umbrella is not None else (AnchorPoint("pole_tip", *pole_tip(pose)),)
        cell = Cell("lamplighter", column * WIDTH, row * HEIGHT, WIDTH, HEIGHT)
        frames.append(Frame(cell, duration, boxes=tuple(boxes), anchors=anchors))
    moments, windows = EVENTS.get(name, ((), ()))
    return Clip(name, name, tuple(frames), mode,  # type: ignore[arg-type]
                "right", Point(*PIVOT), moments, windows)


def sound(id: str, at: float, name: str, only_on_hit: bool = False) -> Moment:
    """A sound of the demo's own."""
    return Moment(id, at, "sound", name, file=f"sounds/{name}.wav", only_on_hit=only_on_hit)


EVENTS: dict[str, tuple[tuple[Moment, ...], tuple[Window, ...]]] = {
    "walk": ((sound("step", 0, "soft_step"), sound("other_step", 320, "soft_step")), ()),
    "rise": ((Moment("leap", 0, "call", "jump"), Moment("puff", 0, "effect", "dust")), ()),
    "light_swing": (
        (sound("whip", 80, "cloth_whip"), Moment("spark", 140, "effect", "spark", "pole_tip", True),
         sound("swing_knock", 140, "pole_hit", only_on_hit=True)),
        (Window("swing_hit", 140, 220, "hit", "pole", damage=4, push=3, hit_stop=2),
         Window("swing_cancel", 220, 420, "cancel", "cancel", ("guard_state", "rise_state"))),
    ),
    "heavy_slam": (
        (sound("heave", 130, "cloth_heave"),
         Moment("thud", 395, "shake", "thud", strength=2.5, seconds=0.23),
         Moment("embers", 395, "effect", "embers", "pole_tip", False),
         sound("slam_knock", 340, "pole_hit", only_on_hit=True)),
        (Window("slam_hit", 340, 470, "hit", "pole", damage=9, push=10, hit_stop=5),
         Window("slam_cancel", 565, 720, "cancel", "cancel", ("guard_state",))),
    ),
    "guard": ((sound("flap", 50, "canopy"),), (Window("guarding", 50, 160, "guard", "umbrella"),)),
}


def states() -> tuple[State, ...]:
    """The cards, band by band."""
    held_still = (Rule("lock_movement"), Rule("lock_facing"))
    pace = SpeedMap("speed", 10.0, 90.0, 0.6, 1.2)
    return (
        State("rise_state", "Rise", group="air", clip="rise", place=1),
        State("fall_state", "Fall", group="air", clip="fall", place=2),
        State("idle_state", "Idle", group="ground", clip="idle", place=0),
        State("walk_state", "Walk", group="ground", clip="walk", speed_map=pace, place=1),
        State("crouch_state", "Crouch", group="ground", clip="crouch",
              rules=(Rule("lock_movement"),), place=2),
        State("light_swing_state", "Light swing", group="strike", clip="light_swing",
              rules=held_still, place=0),
        State("heavy_slam_state", "Heavy slam", group="strike", clip="heavy_slam", rules=held_still,
              place=1),
        State("guard_state", "Guard", group="strike", clip="guard",
              rules=(Rule("move_speed", 0.5),), place=2),
    )


def transitions() -> tuple[Transition, ...]:
    """Every thread, in the order in which those of one source are tried."""
    cancel = Leave("in a window", window="cancel")
    end = Leave("at the end")
    return (
        Transition("ground_to_fall", "ground", "fall_state", "not grounded"),
        Transition("ground_to_rise", "ground", "rise_state", "press_jump and grounded"),
        Transition("ground_to_heavy", "ground", "heavy_slam_state", "hold_attack"),
        Transition("ground_to_light", "ground", "light_swing_state", "tap_attack"),
        Transition("ground_to_guard", "ground", "guard_state", "held_guard"),
        Transition("idle_to_crouch", "idle_state", "crouch_state", "held_down"),
        Transition("idle_to_walk", "idle_state", "walk_state", "move_x != 0"),
        Transition("walk_to_crouch", "walk_state", "crouch_state", "held_down"),
        Transition("walk_to_idle", "walk_state", "idle_state", "move_x == 0 and speed < 8"),
        Transition("crouch_to_idle", "crouch_state", "idle_state", "not held_down"),
        Transition("rise_to_fall", "rise_state", "fall_state", "vy < 0 and elapsed > 0.05"),
        Transition("fall_to_ground", "fall_state", "ground", "grounded"),
        Transition("light_to_guard", "light_swing_state", "guard_state", "held_guard", cancel,
                   Blend("crossfade", 0.06)),
        Transition("light_to_rise", "light_swing_state", "rise_state", "press_jump and grounded",
                   cancel),
        Transition("light_to_idle", "light_swing_state", "idle_state", "", end),
        Transition("heavy_to_guard", "heavy_slam_state", "guard_state", "held_guard", cancel),
        Transition("heavy_to_idle", "heavy_slam_state", "idle_state", "", end),
        Transition("guard_to_fall", "guard_state", "fall_state", "not grounded"),
        Transition("guard_to_idle", "guard_state", "idle_state", "not held_guard"),
    )
