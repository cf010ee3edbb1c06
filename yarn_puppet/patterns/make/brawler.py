"""*Brawler*: a chain of light strikes on taps and a heavy one on a hold, guarding, crouching and
rolling, and what being hit does to it."""

from __future__ import annotations

from ...core.model.events import Rule
from ...core.model.graph import Group, Leave, State, Transition
from ...core.model.puppet import Puppet
from .parts import (
    AIR,
    AT_END,
    COMES_DOWN,
    FALL,
    GROUND,
    IDLE,
    IN_CANCEL,
    LOW,
    OVER_ALL,
    PACE,
    SOFTLY,
    STILL,
    WALKS_OFF,
    pattern,
    ways,
)

LATER = Transition("like", "source", "target", leave=Leave("after", 1.0))
LIGHT = "tap_attack or hold_attack"
"""The heavy strike is tried before it; where that has no clip, a hold is a light one."""
STRUCK = Rule("tint", 0.55, ease_out=0.3, colour="#A8323A")
BANDS = (
    GROUND, AIR,
    Group("strike", "Strike", start="chain", thread="madder"),
    Group("chain", "Chain", group="strike", start="light_1", thread="madder"),
    Group("cover", "Cover", start="guard_card", thread="indigo"),
    Group("hurt_band", "Hurt", start="flinch", thread="weld"),
)
STATES = (
    IDLE,
    State("crouch", "Crouch", group="ground", waits_for="crouch", place=3,
          rules=(Rule("lock_movement"), LOW)),
    FALL,
    State("light_1", "Light 1", group="chain", waits_for="light 1", place=0, rules=STILL),
    State("light_2", "Light 2", group="chain", waits_for="light 2", place=1, rules=STILL),
    State("light_3", "Light 3", group="chain", waits_for="light 3", place=2, rules=STILL),
    State("heavy", "Heavy", group="strike", waits_for="heavy", place=0, rules=STILL),
    State("guard_card", "Guard", group="cover", waits_for="guard", place=0,
          rules=(Rule("lock_movement"),)),
    State("guard_walk", "Guard walk", group="cover", waits_for="guard walk", place=1,
          speed_map=PACE, rules=(Rule("move_speed", 0.5, ease_in=0.1),)),
    State("roll_card", "Roll", group="cover", waits_for="roll", place=2,
          rules=(Rule("move_speed", 1.6), Rule("safe"), Rule("lock_facing"), LOW)),
    State("flinch", "Flinch", group="hurt_band", waits_for="flinch", place=0,
          rules=(*STILL, STRUCK, Rule("safe", ease_out=0.4))),
    State("thrown", "Thrown", group="hurt_band", waits_for="thrown", place=1,
          rules=(*STILL, STRUCK, Rule("safe", ease_out=0.4))),
    State("get_up", "Get up", group="hurt_band", waits_for="get up", place=2,
          rules=(*STILL, Rule("safe"))),
)


def brawler() -> Puppet:
    """Everything that strikes, and what takes a strike."""
    return pattern(
        "brawler", BANDS, STATES,
        (*_hurt(), WALKS_OFF, COMES_DOWN, *_strikes(), *_cover(), *_crouch()),
        ("tap_attack", "hold_attack", "held_guard", "held_down", "press_roll"),
        ("grounded", "speed", "move_x", "headroom", "hit_landed", "hurt", "guarded"),
    )


def _hurt() -> tuple[Transition, ...]:
    return ways(
        ("air", "thrown", "hurt", OVER_ALL),
        *((band, "flinch", "hurt", OVER_ALL) for band in ("ground", "strike", "cover")),
        ("thrown", "get_up", "grounded and elapsed > 0.15"),
        # Where nothing gets up, it stands again after a while.
        ("thrown", "ground", "grounded", LATER),
        ("get_up", "ground", "", AT_END),
        ("flinch", "ground", "", AT_END),
    )


def _strikes() -> tuple[Transition, ...]:
    return ways(
        ("ground", "heavy", "hold_attack and grounded"),
        ("ground", "light_1", f"({LIGHT}) and grounded"),
        ("light_1", "light_2", LIGHT, IN_CANCEL),
        ("light_2", "light_3", LIGHT, IN_CANCEL),
        ("strike", "cover", "held_guard and grounded", IN_CANCEL),
        ("strike", "fall", "not grounded"),
        ("light_1", "ground", "", AT_END),
        ("light_2", "ground", "", AT_END),
        ("light_3", "ground", "", AT_END),
        ("heavy", "ground", "", AT_END),
    )


def _cover() -> tuple[Transition, ...]:
    return ways(
        ("ground", "roll_card", "press_roll and grounded"),
        ("ground", "guard_card", "held_guard and grounded"),
        ("guard_card", "roll_card", "press_roll"),
        ("guard_card", "guard_walk", "move_x != 0", SOFTLY),
        ("guard_walk", "guard_card", "move_x == 0 and speed < 8", SOFTLY),
        ("guard_card", "ground", "not held_guard"),
        ("guard_walk", "ground", "not held_guard"),
        ("guard_card", "fall", "not grounded"),
        ("guard_walk", "fall", "not grounded"),
        ("roll_card", "crouch", "headroom < 0", AT_END),
        ("roll_card", "ground", "", AT_END),
    )


def _crouch() -> tuple[Transition, ...]:
    return ways(
        ("ground", "crouch", "held_down and grounded"),
        ("crouch", "idle", "not held_down and headroom >= 0"),
    )
