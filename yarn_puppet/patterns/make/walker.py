"""*Walker*: stands, walks, runs, and turns about at speed."""

from __future__ import annotations

from ...core.model.events import Rule
from ...core.model.graph import State
from ...core.model.puppet import Puppet
from .parts import AT_END, GROUND, IDLE, PACE, SOFTLY, pattern, ways


def walker() -> Puppet:
    """The ground under every other pattern that is seen from the side."""
    return pattern(
        "walker", (GROUND,),
        (
            IDLE,
            State("walk", "Walk", group="ground", waits_for="walk", place=1, speed_map=PACE),
            State("run", "Run", group="ground", waits_for="run", place=2,
                  rules=(Rule("move_speed", 1.75, ease_in=0.2, ease_out=0.2),)),
            State("turn", "Turn", group="ground", waits_for="turn", place=4,
                  rules=(Rule("move_speed", 0.4),)),
        ),
        ways(
            ("idle", "run", "move_x != 0 and held_run"),
            ("idle", "walk", "move_x != 0"),
            ("walk", "run", "held_run and move_x != 0", SOFTLY),
            ("walk", "idle", "move_x == 0 and speed < 8"),
            ("run", "turn", "move_x * vx < 0 and speed > 60"),
            ("run", "walk", "not held_run and move_x != 0", SOFTLY),
            ("run", "idle", "move_x == 0 and speed < 60"),
            ("turn", "walk", "move_x != 0", AT_END),
            ("turn", "idle", "", AT_END),
        ),
        ("held_run",), ("speed", "vx", "move_x"),
    )
