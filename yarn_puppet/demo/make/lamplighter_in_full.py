"""Pell in full: a combo, running, turning, crawling, an umbrella held over walking legs, a lantern
that is lit."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from msgspec.structs import replace

from ...core.model.clips import Anchor, AnchorPoint, Box, Cell, Clip, Frame, Point
from ...core.model.events import Deed, Moment, Rule, Window
from ...core.model.graph import (
    Blend,
    Group,
    Layer,
    Leave,
    Placed,
    SpeedMap,
    Spread,
    State,
    Transition,
)
from ...core.model.puppet import Puppet
from ...core.model.wiring import Action, Intent, Memo, Sense
from .art.pell import HEIGHT, PIVOT, WIDTH, Pose, pole_tip, shoulder_of
from .art.poses import CLIPS
from .lamplighter import CROUCHING, STANDING, first_steps, sound

HIT_BOXES = {
    ("light_swing_2", 1): (54.0, 28.0, 34.0, 26.0),
    ("light_swing_2", 2): (54.0, 10.0, 32.0, 32.0),
    ("light_swing_3", 2): (60.0, 26.0, 36.0, 18.0),
    ("light_swing_3", 3): (60.0, 26.0, 36.0, 18.0),
}
"""Where each striking frame hits: x, y, width, height in pixels of the cell."""
CANCEL = Leave("in a window", window="cancel")
END = Leave("at the end")
STEP = Deed("combo_step", "combo_step + 1")
STILL = (Rule("lock_movement"), Rule("lock_facing"))

EVENTS: dict[str, tuple[tuple[Moment, ...], tuple[Window, ...]]] = {
    "run": ((sound("run_step", 0, "soft_step"), sound("run_other_step", 210, "soft_step")), ()),
    "light_swing_2": (
        (sound("whip_2", 60, "cloth_whip"),
         Moment("spark_2", 100, "effect", "spark", "pole_tip", True),
         sound("knock_2", 100, "pole_hit", only_on_hit=True)),
        (Window("hit_2", 100, 200, "hit", "pole", damage=4, push=3, hit_stop=2),
         Window("cancel_2", 190, 360, "cancel", "cancel",
                ("guard_state", "rise_state", "light_swing_3_state"))),
    ),
    "light_swing_3": (
        (sound("heave_3", 130, "cloth_heave"),
         Moment("embers_3", 150, "effect", "embers", "pole_tip", False),
         sound("knock_3", 150, "pole_hit", only_on_hit=True)),
        (Window("hit_3", 150, 290, "hit", "pole", damage=7, push=8, hit_stop=4),
         Window("cancel_3", 340, 470, "cancel", "cancel", ("guard_state",))),
    ),
}


def lamplighter() -> Puppet:
    """The demo's puppet on the ground and in the air."""
    base = first_steps()
    return replace(
        base, name="lamplighter",
        anchors=(*base.anchors, Anchor("shoulder", "shoulder")),
        clips=(*(_with_shoulder(clip) for clip in base.clips),
               *(clip_of(name) for name in list(CLIPS)[len(base.clips):])),
        spreads=(Spread("gait", "gait", (Placed("walk", (80.0,)), Placed("run", (150.0,))),
                        ("speed",), 0.25),),
        layers=(*base.layers,
                Layer("arms", "arms", "arms_free", shown_when='in_state("guard_walk_state")',
                      ease_in=0.06,
                      ease_out=0.1, pinned_to="shoulder"),
                Layer("lantern", "lantern", "lantern_out", weight=0.85, shown_when="lit",
                      ease_in=0.15, ease_out=0.3,
                      pinned_to="pole_tip")),
        groups=(*base.groups, Group("combo", "Combo", group="strike", start="light_swing_state",
                                    thread="madder"),
                Group("hurt", "Hurt", start="flinch_state", thread="weld")),
        states=_states(base), transitions=_transitions(base), actions=_actions(base),
        intents=_intents(base),
        senses=(*base.senses, Sense("struck", "struck", event=True)),
        memos=(Memo("combo_step", "combo_step", wraps=3, returns=1.0),
               Memo("lit", "lit", "bool", False)),
    )


Clips = Mapping[str, tuple[Callable[[], list[tuple[Pose, float]]], str]]


def _with_shoulder(clip: Clip) -> Clip:
    """The first clips, their frames with a shoulder; the light swing lets in the second.

    Behind the umbrella the pole is put away, and what burns at its tip hangs at the belt.
    """
    poses = CLIPS[clip.id][0]()
    frames = []
    for frame, (pose, _) in zip(clip.frames, poses, strict=True):
        x, y = shoulder_of(pose)
        put_away = () if frame.anchors else (AnchorPoint("pole_tip", x - 7.0, y + 15.0),)
        frames.append(replace(frame,
                              anchors=(*frame.anchors, *put_away, AnchorPoint("shoulder", x, y))))
    windows = tuple(
        replace(window, into=(*window.into, "light_swing_2_state"))
        if window.id == "swing_cancel" else window
        for window in clip.windows
    )
    return replace(clip, frames=tuple(frames), windows=windows)


def clip_of(name: str, of: Clips = CLIPS, sheet: str = "lamplighter") -> Clip:
    """A clip of one of the later rows, or of another sheet."""
    poses, mode = of[name]
    row, frames = list(of).index(name), []
    for column, (pose, duration) in enumerate(poses()):
        cell = Cell(sheet, column * WIDTH, row * HEIGHT, WIDTH, HEIGHT)
        if pose.part != "whole":
            frames.append(Frame(cell, duration))
            continue
        boxes = [CROUCHING if name in ("crawl", "roll", "land") else STANDING]
        if (name, column) in HIT_BOXES:
            boxes.append(Box("hit", *HIT_BOXES[name, column], "pole"))
        anchors = (AnchorPoint("pole_tip", *pole_tip(pose)),
                   AnchorPoint("shoulder", *shoulder_of(pose)))
        frames.append(Frame(cell, duration, boxes=tuple(boxes), anchors=anchors))
    pivot = Point(*PIVOT)
    if name == "umbrella_arm":
        pivot = Point(*shoulder_of(poses()[0][0]))
    elif name == "lantern":
        pivot = Point(PIVOT[0], PIVOT[1] - 30)
    moments, windows = EVENTS.get(name, ((), ()))
    return Clip(name, name, tuple(frames), mode,  # type: ignore[arg-type]
                "right", pivot, moments, windows)


def _states(base: Puppet) -> tuple[State, ...]:
    pace = SpeedMap("speed", 10.0, 90.0, 0.6, 1.2)
    changed: dict[str, dict[str, Any]] = {
        "walk_state": {"clip": None, "spread": "gait", "speed_map": pace},
        "light_swing_state": {"name": "Light 1", "group": "combo",
                              "on_enter": (Deed("combo_step", "0"),)},
        "heavy_slam_state": {"place": 1}, "guard_state": {"place": 2},
    }
    states = [replace(state, **changed.get(state.id, {})) for state in base.states]
    return (
        *states,
        State("run_state", "Run", group="ground", spread="gait", place=3,
              rules=(Rule("move_speed", 1.75, ease_in=0.25, ease_out=0.2),)),
        State("turn_state", "Turn", group="ground", clip="turn", place=4),
        State("crawl_state", "Crawl", group="ground", clip="crawl", place=5,
              rules=(Rule("move_speed", 0.35), Rule("jump_height", 0.4))),
        State("light_swing_2_state", "Light 2", group="combo", clip="light_swing_2", rules=STILL,
              place=1,
              on_enter=(STEP,)),
        State("light_swing_3_state", "Light 3", group="combo", clip="light_swing_3", rules=STILL,
              place=2,
              on_enter=(STEP,)),
        State("guard_walk_state", "Guard walk", group="strike", clip="walk", place=3,
              rules=(Rule("move_speed", 0.5, ease_in=0.1),), speed_map=pace),
        State("flinch_state", "Flinch", group="hurt", clip="flinch",
              rules=(*STILL, Rule("tint", 0.55, ease_out=0.3, colour="#A8323A"),
                     Rule("safe", ease_out=0.4))),
        State("arms_free", "Free", layer="arms"),
        State("arms_umbrella", "Umbrella", layer="arms", clip="umbrella_arm"),
        State("lantern_out", "Out", layer="lantern", on_enter=(Deed("lit", "false"),)),
        State("lantern_lit", "Lit", layer="lantern", clip="lantern",
              on_enter=(Deed("lit", "true"),)),
    )


def _transitions(base: Puppet) -> tuple[Transition, ...]:
    replaced = {"idle_to_crouch": "tap_down", "walk_to_crouch": "tap_down",
                "crouch_to_idle": "tap_down"}
    kept = tuple(replace(transition, when=replaced.get(transition.id, transition.when))
                 for transition in base.transitions)
    soft = Blend("crossfade", 0.12, "ease out")
    return (
        Transition("ground_struck", "ground", "hurt", "struck", overrides=True),
        Transition("strike_struck", "strike", "hurt", "struck", overrides=True),
        Transition("air_struck", "air", "hurt", "struck", overrides=True),
        *kept,
        Transition("walk_to_run", "walk_state", "run_state", "held_run and move_x != 0",
                   blend=soft),
        Transition("run_to_turn", "run_state", "turn_state", "move_x * vx < 0 and speed > 60"),
        Transition("run_to_walk", "run_state", "walk_state", "not held_run or move_x == 0",
                   blend=soft),
        Transition("turn_to_walk", "turn_state", "walk_state", "", END),
        Transition("idle_to_crawl", "idle_state", "crawl_state", "hold_down"),
        Transition("walk_to_crawl", "walk_state", "crawl_state", "hold_down"),
        Transition("crouch_to_crawl", "crouch_state", "crawl_state", "hold_down"),
        Transition("crawl_to_crouch", "crawl_state", "crouch_state", "tap_down",
                   blend=Blend("crossfade", 0.1)),
        Transition("light_to_second", "light_swing_state", "light_swing_2_state", "tap_attack",
                   CANCEL),
        Transition("second_to_third", "light_swing_2_state", "light_swing_3_state", "tap_attack",
                   CANCEL),
        Transition("second_to_guard", "light_swing_2_state", "guard_state", "held_guard", CANCEL),
        Transition("second_to_rise", "light_swing_2_state", "rise_state", "press_jump and grounded",
                   CANCEL),
        Transition("second_to_idle", "light_swing_2_state", "idle_state", "", END),
        Transition("third_to_guard", "light_swing_3_state", "guard_state", "held_guard", CANCEL),
        Transition("third_to_idle", "light_swing_3_state", "idle_state", "", END),
        Transition("guard_to_walk", "guard_state", "guard_walk_state", "move_x != 0"),
        Transition("guard_walk_to_fall", "guard_walk_state", "fall_state", "not grounded"),
        Transition("guard_walk_to_walk", "guard_walk_state", "walk_state", "not held_guard"),
        Transition("guard_walk_to_guard", "guard_walk_state", "guard_state",
                   "move_x == 0 and speed < 8"),
        Transition("flinch_to_ground", "flinch_state", "ground", "", END),
        Transition("arms_up", "arms_free", "arms_umbrella", 'in_state("guard_walk_state")'),
        Transition("arms_down", "arms_umbrella", "arms_free", 'not in_state("guard_walk_state")',
                   blend=Blend("crossfade", 0.1)),
        Transition("light_it", "lantern_out", "lantern_lit", "press_lamp and not lit"),
        Transition("put_it_out", "lantern_lit", "lantern_out", "press_lamp",
                   blend=Blend("crossfade", 0.3)),
    )


def _actions(base: Puppet) -> tuple[Action, ...]:
    return (*base.actions, Action("run", "run", ("key:Shift",)), Action("lamp", "lamp", ("key:L",)))


def _intents(base: Puppet) -> tuple[Intent, ...]:
    kept = tuple(intent for intent in base.intents if intent.id != "held_down")
    return (
        *kept,
        Intent("tap_down", "tap_down", "down", "tap", 0.3),
        Intent("hold_down", "hold_down", "down", "hold", 1.0),
        Intent("held_run", "held_run", "run", "held"),
        Intent("press_lamp", "press_lamp", "lamp", "press"),
    )
