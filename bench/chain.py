"""Pell's behaviour as one would write it by hand: a chain of ifs, with the flags, timers and tables
that takes.

It does what the engine does for the demo's puppet, tick by tick, and nothing else can be changed
about it.
"""

from __future__ import annotations

from bisect import bisect_right
from typing import Any, NamedTuple

RATE = 60
UNIT = 1000
ENDS = {
    "idle": [140, 280, 420, 560, 700, 840],
    "walk": [80, 160, 240, 320, 400, 480, 560, 640],
    "rise": [50, 120, 210],
    "fall": [80, 160, 240],
    "light_swing": [80, 140, 180, 220, 280, 350, 420],
    "heavy_slam": [65, 130, 210, 300, 340, 395, 470, 565, 645, 720],
    "guard": [50, 100, 160],
    "crouch": [70, 140, 210, 300],
}
LOOPS = {"idle", "walk", "fall"}
MOMENTS = {
    "walk": [(0, "soft_step"), (320, "soft_step")],
    "rise": [(0, "jump"), (0, "dust")],
    "light_swing": [(80, "cloth_whip"), (140, "spark"), (140, "pole_hit")],
    "heavy_slam": [(130, "cloth_heave"), (340, "pole_hit"), (395, "thud"), (395, "embers")],
    "guard": [(50, "canopy")],
}
WINDOWS = {
    "light_swing": [(140, 220, "pole"), (220, 420, "cancel")],
    "heavy_slam": [(340, 470, "pole"), (565, 720, "cancel")],
    "guard": [(50, 160, "umbrella")],
}


class Seen(NamedTuple):
    """What a game would use of a tick."""

    state: str
    frame: int
    facing: str
    move_speed: float
    locked: bool
    moments: tuple[str, ...]
    windows: tuple[str, ...]


class Chain:
    """Its own state and flags, changed in place, as such code does."""

    def __init__(self) -> None:
        self.state = "idle"
        self.tick = 0
        self.entered = 0
        self.time = 0
        self.shown = -1
        self.ended = False
        self.open: tuple[str, ...] = ()
        self.landed = False
        self.waiting: tuple[str, ...] = ()
        self.facing = "right"
        self.attack_since = self.jump_since = -1
        self.tap_armed = self.hold_armed = self.jump_armed = -1

    def step(
        self,
        down: dict[str, bool],
        senses: dict[str, Any],
        landed: bool = False,
        stopped: bool = False,
    ) -> Seen:
        """One tick, from which keys are down and what the world reports: a hit that landed, a hit
        stop."""
        self.gestures(down)
        if landed:
            self.landed = True
        if stopped:
            self.entered += 1
            self.tap_armed += self.tap_armed >= 0
            self.hold_armed += self.hold_armed >= 0
            self.jump_armed += self.jump_armed >= 0
            return self.play(senses["speed"], senses["move_x"], stopped)
        guard, crouch = down["guard"], down["down"]
        grounded, speed, move_x, vy = senses["grounded"], senses["speed"], senses["move_x"], senses[
            "vy"]
        state = self.state
        if state in ("idle", "walk", "crouch"):
            if state == "idle" and crouch:
                self.enter("crouch")
            elif state == "idle" and move_x != 0:
                self.enter("walk")
            elif state == "walk" and crouch:
                self.enter("crouch")
            elif state == "walk" and move_x == 0 and speed < 8:
                self.enter("idle")
            elif state == "crouch" and not crouch:
                self.enter("idle")
            elif not grounded:
                self.enter("fall")
            elif self.jump_armed >= 0 and grounded:
                self.jump_armed = -1
                self.enter("rise")
            elif self.hold_armed >= 0:
                self.hold_armed = self.tap_armed = -1
                self.enter("heavy_slam")
            elif self.tap_armed >= 0:
                self.tap_armed = self.hold_armed = -1
                self.enter("light_swing")
            elif guard:
                self.enter("guard")
        elif state == "rise":
            if vy < 0 and (self.tick - self.entered) / RATE > 0.05:
                self.enter("fall")
        elif state == "fall":
            if grounded:
                self.enter("idle")
        elif state == "light_swing":
            if "cancel" in self.open and guard:
                self.enter("guard")
            elif "cancel" in self.open and self.jump_armed >= 0 and grounded:
                self.jump_armed = -1
                self.enter("rise")
            elif self.ended:
                self.enter("idle")
        elif state == "heavy_slam":
            if "cancel" in self.open and guard:
                self.enter("guard")
            elif self.ended:
                self.enter("idle")
        elif state == "guard":
            if not grounded:
                self.enter("fall")
            elif not guard:
                self.enter("idle")
        return self.play(speed, move_x, stopped)

    def gestures(self, down: dict[str, bool]) -> None:
        """The timers and flags of tap, hold and jump."""
        tick = self.tick
        if self.tap_armed >= 0 and tick - self.tap_armed > 9:
            self.tap_armed = -1
        if self.hold_armed >= 0 and tick - self.hold_armed > 9:
            self.hold_armed = -1
        if self.jump_armed >= 0 and tick - self.jump_armed > 9:
            self.jump_armed = -1
        if self.attack_since >= 0:
            age = tick - self.attack_since
            if age == 15:
                self.hold_armed, self.tap_armed = tick, -1
            if not down["attack"]:
                if age < 15:
                    self.tap_armed, self.hold_armed = tick, -1
                self.attack_since = -1
        elif down["attack"]:
            self.attack_since = tick
        if down["jump"]:
            if self.jump_since < 0:
                self.jump_since = self.jump_armed = tick
        else:
            self.jump_since = -1

    def enter(self, state: str) -> None:
        """Change state and start its clip."""
        self.state, self.entered, self.time = state, self.tick, 0
        self.shown, self.ended, self.open = -1, False, ()
        self.landed, self.waiting = False, ()

    def play(self, speed: float, move_x: int, stopped: bool) -> Seen:
        """Advance the clip, fire what is due, and say what is on show."""
        state = self.state
        ends = ENDS[state]
        length = ends[-1] * RATE
        pace = UNIT
        if state == "walk":
            share = max(0.0, min(1.0, (speed - 10.0) / 80.0))
            pace = round((0.6 + share * 0.6) * UNIT)
        before, total = self.time, self.time + pace
        met = self.shown if not self.ended else -1 if state in LOOPS else length
        if stopped:
            met = before = max(0, self.shown)
            now = self.time
        elif state in LOOPS:
            now = total % length
            self.ended = total >= length
        else:
            now = min(total, length)
            self.ended = now >= length
        last = length if self.ended and not stopped else before
        moments = tuple(name for at, name in MOMENTS.get(state, ()) if met < at * RATE <= last)
        if self.landed:
            moments, self.waiting = self.waiting + moments, ()
        elif "pole_hit" in moments:
            self.waiting += ("pole_hit",)
            moments = tuple(name for name in moments if name != "pole_hit")
        self.open = tuple(
            name for start, end, name in WINDOWS.get(state, ())
            if start * RATE <= before < end * RATE or (state == "guard" and before == length)
        )
        self.time, self.shown = now, before
        frame = min(bisect_right([end * RATE for end in ends], before), len(ends) - 1)
        swinging = state in ("light_swing", "heavy_slam")
        if not swinging and move_x and not stopped:
            self.facing = "right" if move_x > 0 else "left"
        self.tick += 1
        return Seen(state, frame, self.facing, 0.5 if state == "guard" else 1.0,
                    swinging or state == "crouch", moments,
                    self.open)
