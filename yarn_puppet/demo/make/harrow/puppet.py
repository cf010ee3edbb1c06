"""Harrow, the gate warden: a puppet of bones, of two files. A guard from idle with an arm raised by
keys of ours runs on a layer of the arms, so that the legs walk on."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace

from ....core.formats.bones.puppet_bones import bones_in, digest_of
from ....core.model.clips import Anchor, PlaybackMode
from ....core.model.edits import motions as edits
from ....core.model.edits.clips import clip_changed
from ....core.model.edits.motions import FileClip, bone_file_added
from ....core.model.events import Moment, Rule, Window
from ....core.model.graph import BODY, Blend, Group, Layer, Leave, SpeedMap, State, Transition
from ....core.model.motions import BoneBox, BonePlace, Vector
from ....core.model.puppet import Puppet
from ....core.model.starter import BOOTH_SENSES, MORE_SENSES, new_puppet
from ....core.model.wiring import Intent
from .moves import FIRST, MORE, clip

FOLDER = Path(__file__).parents[2]
"""Where the files of bones are, which are made before."""
BODY_FILE, MORE_FILE = "harrow.glb", "harrow_more.glb"
MODES: dict[str, PlaybackMode] = {
    "light strike": "once", "heavy strike": "once", "hurt": "once", "crouch": "hold last"}
"""Those that do not loop."""

INTENTS = (
    Intent("press_jump", "press_jump", "jump", "press"),
    Intent("tap_attack", "tap_attack", "attack", "tap"),
    Intent("hold_attack", "hold_attack", "attack", "hold"),
    Intent("held_guard", "held_guard", "guard", "held"),
    Intent("held_down", "held_down", "down", "held"),
)

GUARD_KEYS: tuple[tuple[str, Vector], ...] = (
    ("upper arm L", (-62.0, 8.0, 0.0)), ("fore arm L", (-58.0, 0.0, -24.0)),
)
"""The turns by which the arm with the shield is raised over idle: one key each, which holds."""

EVENTS: dict[str, tuple[tuple[Moment, ...], tuple[Window, ...]]] = {
    "walk": ((Moment("step", 0.0, "sound", "soft_step", file="sounds/soft_step.wav"),
              Moment("other_step", 533.0, "sound", "soft_step", file="sounds/soft_step.wav")), ()),
    "light strike": (
        (Moment("whip", 150.0, "sound", "cloth_whip", file="sounds/cloth_whip.wav"),),
        (Window("cut", 210.0, 330.0, "hit", "halberd", damage=4, push=3, hit_stop=2),
         Window("cut_cancel", 330.0, 560.0, "cancel", "cancel"))),
    "heavy strike": (
        (Moment("heave", 300.0, "sound", "cloth_heave", file="sounds/cloth_heave.wav"),
         Moment("thud", 720.0, "shake", "thud", strength=2.5, seconds=0.23)),
        (Window("blow", 620.0, 820.0, "hit", "halberd", damage=9, push=10, hit_stop=5),)),
    "guard": ((), (Window("guarding", 80.0, 2400.0, "guard", "shield"),)),
}


BOXES = (
    BoneBox("trunk", "body", "spine 2", "capsule", (0.0, 0.05, 0.0), (0.0, 0.0, 0.0),
            (0.4, 0.75, 0.4)),
    BoneBox("face", "body", "head", "ball", (0.0, 0.09, 0.02), size=(0.3, 0.3, 0.3)),
    BoneBox("left_leg", "body", "thigh L", "capsule", (0.0, -0.4, 0.0), size=(0.2, 0.95, 0.2)),
    BoneBox("right_leg", "body", "thigh R", "capsule", (0.0, -0.4, 0.0), size=(0.2, 0.95, 0.2)),
    BoneBox("fist", "hit", "hand R", "capsule", (0.0, -0.12, 0.0), size=(0.3, 0.6, 0.3),
            name="halberd"),
)
"""Where he can be hit, and where he hits while a window is open: his right fist, and what is beside
it."""


def harrow() -> Puppet:
    """The puppet."""
    puppet = replace(new_puppet("harrow"), intents=INTENTS, senses=(
        *BOOTH_SENSES, *[each for each in MORE_SENSES if each.id in ("at_ledge", "hurt")]))
    for path, moves in ((BODY_FILE, FIRST), (MORE_FILE, MORE)):
        puppet, _ = bone_file_added(puppet, path, path, [
            FileClip(name, clip(name, *move).seconds * 1000, MODES.get(name, "loop"))
            for name, move in moves.items()], digest=digest_of(bones_in(FOLDER / path)))
    puppet, guard = edits.clip_from(puppet, "idle", "guard")
    for bone, turn in GUARD_KEYS:
        puppet = edits.bone_turned(puppet, guard, bone, 0.0, turn)
    ids = {each.name: each.id for each in puppet.clips}
    for name, (moments, windows) in EVENTS.items():
        puppet = clip_changed(puppet, ids[name], moments=moments, windows=windows)
    return replace(
        puppet,
        anchors=(
            Anchor("back", "back", BonePlace("chest", (0.0, 0.0, -0.2), (0.0, 180.0, 0.0))),
            Anchor("shield_arm", "shield arm", BonePlace("fore arm L", (0.04, -0.16, 0.0),
                                                         (0.0, 90.0, 0.0))),
        ),
        bone_boxes=BOXES,
        layers=(Layer(BODY, "body", "idle_state"),
                Layer("arms", "arms", "arms_down_state", ("spine 2",), soft=2)),
        groups=(Group("air", "Air", start="jump_state", thread="woad"),
                Group("ground", "Ground", start="idle_state", thread="moss"),
                Group("strike", "Strike", start="light_strike_state", thread="madder"),
                Group("reeling", "Reeling", start="hurt_state", thread="weld")),
        states=states(ids), transitions=transitions(),
        mover=replace(puppet.mover, height=50.0, pixels_a_metre=30.0, walk_speed=70.0,
                      hands_y=56.0),
        booth="rooftop.booth.json")


def states(clips: dict[str, str]) -> tuple[State, ...]:
    """The cards, band by band, then those of the arms. `clips` are the ids by name."""
    held_still = (Rule("lock_movement"), Rule("lock_facing"))
    return (
        State("jump_state", "Jump", group="air", clip=clips["crouch"], place=0),
        State("hang_state", "Hang", group="air", clip=clips["hanging"],
              rules=(Rule("mode", mode="ledge"),), place=1),
        State("idle_state", "Idle", group="ground", clip=clips["idle"], place=0),
        State("walk_state", "Walk", group="ground", clip=clips["walk"],
              speed_map=SpeedMap("speed", 10.0, 70.0, 0.5, 1.1), place=1),
        State("crouch_state", "Crouch", group="ground", clip=clips["crouch"],
              rules=(Rule("lock_movement"),), place=2),
        State("light_strike_state", "Light strike", group="strike", clip=clips["light strike"],
              rules=held_still, place=0),
        State("heavy_strike_state", "Heavy strike", group="strike", clip=clips["heavy strike"],
              rules=held_still, place=1),
        State("hurt_state", "Hurt", group="reeling", clip=clips["hurt"], rules=held_still),
        State("arms_down_state", "Arms down", "arms",
              rules=(Rule("prop", anchor="back", shows="harrow_shield.glb"),), place=0),
        State("guard_state", "Guard", "arms", clip=clips["guard"],
              rules=(Rule("prop", anchor="shield_arm", shows="harrow_shield.glb"),
                     Rule("move_speed", 0.5)), place=1),
    )


def transitions() -> tuple[Transition, ...]:
    """Every thread, in the order in which those of one source are tried."""
    end = Leave("at the end")
    arms = Blend("crossfade", 0.3, "ease in and out")
    soft, carried = Blend("crossfade", 0.15, "ease in and out"), Blend("momentum", 0.25)
    return (
        Transition("ground_to_hurt", "ground", "hurt_state", "hurt", blend=carried),
        Transition("ground_to_air", "ground", "jump_state", "not grounded", blend=soft),
        Transition("ground_to_heavy", "ground", "heavy_strike_state", "hold_attack", blend=carried),
        Transition("ground_to_light", "ground", "light_strike_state", "tap_attack", blend=carried),
        Transition("idle_to_crouch", "idle_state", "crouch_state", "held_down", blend=soft),
        Transition("idle_to_walk", "idle_state", "walk_state", "move_x != 0", blend=soft),
        Transition("walk_to_crouch", "walk_state", "crouch_state", "held_down", blend=soft),
        Transition("walk_to_idle", "walk_state", "idle_state", "move_x == 0 and speed < 8",
                   blend=carried),
        Transition("crouch_to_idle", "crouch_state", "idle_state", "not held_down", blend=soft),
        Transition("jump_to_hang", "jump_state", "hang_state", "at_ledge and elapsed > 0.1",
                   blend=carried),
        Transition("jump_to_ground", "jump_state", "ground", "grounded", blend=carried),
        Transition("hang_to_jump", "hang_state", "jump_state", "held_down", blend=soft),
        Transition("light_to_idle", "light_strike_state", "idle_state", "", end, soft),
        Transition("heavy_to_idle", "heavy_strike_state", "idle_state", "", end, soft),
        Transition("hurt_to_idle", "hurt_state", "idle_state", "", end, carried),
        Transition("arms_to_guard", "arms_down_state", "guard_state", "held_guard", blend=arms),
        Transition("guard_to_arms", "guard_state", "arms_down_state", "not held_guard", blend=arms),
    )
