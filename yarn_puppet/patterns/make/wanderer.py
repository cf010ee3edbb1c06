"""*Wanderer*: seen from above; stands, walks, runs and strikes towards four sides, or eight."""

from __future__ import annotations

from msgspec.structs import replace

from ...core.model.events import Rule
from ...core.model.graph import Group, State
from ...core.model.puppet import Puppet
from ...core.model.wiring import Facing
from ...demo.make.booths import GARDENS
from .parts import AT_END, GROUND, IDLE, OVER_ALL, STILL, pattern, ways


def wanderer() -> Puppet:
    """The pattern of a puppet that is seen from above."""
    made = pattern(
        "wanderer",
        (GROUND, Group("strike", "Strike", start="light_1", thread="madder"),
         Group("hurt_band", "Hurt", start="flinch", thread="weld")),
        (
            IDLE,
            State("walk", "Walk", group="ground", waits_for="walk", place=1),
            State("run", "Run", group="ground", waits_for="run", place=2,
                  rules=(Rule("move_speed", 1.75),)),
            State("light_1", "Light 1", group="strike", waits_for="light 1", rules=STILL, place=0),
            State("flinch", "Flinch", group="hurt_band", waits_for="flinch", place=0,
                  rules=(*STILL, Rule("safe", ease_out=0.4))),
        ),
        ways(
            ("ground", "flinch", "hurt", OVER_ALL), ("strike", "flinch", "hurt", OVER_ALL),
            ("ground", "light_1", "press_attack"),
            ("idle", "run", "speed > 4 and held_run"), ("idle", "walk", "speed > 4"),
            ("walk", "run", "held_run and speed > 4"), ("run", "walk", "not held_run"),
            ("walk", "idle", "speed < 4"), ("run", "idle", "speed < 4"),
            ("light_1", "ground", "", AT_END), ("flinch", "ground", "", AT_END),
        ),
        ("press_attack", "held_run"),
        ("speed", "vx", "vy", "move_x", "move_y", "blocked", "hurt"),
    )
    return replace(made, facing=Facing("four", "move_x", "down", "move_y"), booth=GARDENS)
