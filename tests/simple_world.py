"""A second booth, written from docs/world.md without looking for speed: every tile is tried, one
after the other.

Side view, without slopes, zones and things: the ways of moving, sweeps, ledges, water, jumps and
drops. What is compared with it is a plain dictionary a tick.
"""

from __future__ import annotations

from math import sqrt
from typing import Any

from yarn_puppet.core.booth.body import Moving, Wish
from yarn_puppet.core.model.mover import Mover
from yarn_puppet.core.model.world import World

HAIR = 0.001


class SimpleWorld:
    """One body in one world."""

    def __init__(self, world: World, mover: Mover, rate: int) -> None:
        self.world, self.mover, self.dt = world, mover, 1 / rate
        self.bricks, self.thin, self.ladders, self.planks = [], [], set(), set()
        # A little around the world too: past the ends of rows stands brick.
        for row in range(len(world.rows)):
            for column in range(-40, world.columns + 40):
                tile = world.tile(column, row)
                if tile == "#":
                    self.bricks.append((column * 16, row * 16))
                if tile == "=":
                    self.planks.add((column, row))
                    self.thin.append((column * 16, row * 16))
                if tile == "H":
                    self.ladders.add((column, row))
                    above = world.tile(column, row - 1) if row > 0 else "."
                    if above not in "H#":
                        self.thin.append((column * 16, row * 16))
        self.inside = tuple(self.bricks)
        self.x, self.y, self.vx, self.vy = world.start_x, world.start_y, 0.0, 0.0
        self.mode, self.low, self.fall_time, self.grace, self.carry = (
            "ground",
            1.0,
            0.0,
            mover.grace,
            0.0,
        )
        self.blocked = self.bumped = False
        self.held = self.near = self.left = None
        self.grounded = self.fall_to(self.y, 0.0)[1]
        if not self.grounded:
            self.mode, self.grace = "air", 0.0

    # Shapes ---------------------------------------------------------------------------------------

    def height(self) -> float:
        return self.mover.height * self.low

    def free(self, x: float, y: float, height: float, extra: float = 0.0) -> bool:
        """Whether a box may stand there; `extra` widens it to both sides."""
        half = self.mover.width / 2 + extra
        return not any(
            bx < x + half - HAIR and x - half + HAIR < bx + 16 and by < y - HAIR and y - height
            + HAIR < by + 16
            for bx, by in self.bricks
        )

    def slide(self, by: float) -> bool:
        """Move across; whether something stopped it."""
        half, top, low = self.mover.width / 2, self.y - self.height(), self.y - HAIR
        faces = [bx if by > 0 else bx + 16 for bx, y in self.bricks if y < low and top < y + 16]
        if by > 0:
            edge = self.x + half
            hit = min([face for face in faces if edge - HAIR <= face < edge + by], default=None)
        elif by < 0:
            edge = self.x - half
            hit = max([face for face in faces if edge + by < face <= edge + HAIR], default=None)
        else:
            hit = None
        self.x = self.x + by if hit is None else hit - half if by > 0 else hit + half
        return hit is not None

    def over(self, bx: float) -> bool:
        half = self.mover.width / 2 - HAIR
        return bx < self.x + half and self.x - half < bx + 16

    def fall_to(self, y: float, by: float, thin: bool = True) -> tuple[float, bool]:
        tops = [by_ for bx, by_ in [*self.bricks, *(self.thin if thin else [])]
                if self.over(bx) and y - HAIR <= by_ <= y + by]
        return (float(min(tops)), True) if tops else (y + by, False)

    def rise_to(self, by: float) -> bool:
        """Move up; whether the head met a ceiling."""
        head = self.y - self.height()

        def ceiling(x: float) -> float | None:
            half = self.mover.width / 2 - HAIR
            return max([y + 16 for bx, y in self.bricks
                        if bx < x + half and x - half < bx + 16 and head + by < y + 16 <= head
                        + HAIR], default=None)

        found = ceiling(self.x)
        if found is None:
            self.y += by
            return False
        half = self.mover.width / 2
        sides = []
        for step in range(-4, 5):
            left, right = ((self.x - half) // 16 + step) * 16, ((self.x + half) // 16 + step) * 16
            sides += [left + half, right - half]
        for to in sorted(sides, key=lambda each: abs(each - self.x)):
            flush = ((to - half) % 16 == 0 and to > self.x) or (
                (to + half) % 16 == 0 and to < self.x
            )
            if flush and 0 < abs(to - self.x) <= self.mover.corner and ceiling(to) is None:
                middle, extra = (to + self.x) / 2, abs(to - self.x) / 2
                if self.free(middle, self.y, self.height(), extra):
                    self.x, self.y = to, self.y + by
                    return False
        self.y = min(self.y, found + self.height())
        return True

    def surface(self) -> float | None:
        column = int(self.x // 16)
        row = int((self.y - 0.5) // 16)
        while row >= (self.y - self.mover.height / 2) // 16 and not self.world.is_wet(column, row):
            row -= 1
        if not self.world.is_wet(column, row):
            return None
        while self.world.is_wet(column, row - 1):
            row -= 1
        return row * 16.0

    def ladder(self) -> tuple[int, int] | None:
        places = [self.y - self.height() / 2, self.y - HAIR] + (
            [self.y + HAIR] if self.grounded else [])
        return next(((int(self.x // 16), int(at // 16)) for at in places
                     if (int(self.x // 16), int(at // 16)) in self.ladders), None)

    def wall(self, side: float) -> bool:
        """Whether something stands within half a pixel."""
        if side == 0:
            return False
        edge, top, low = self.x + side * self.mover.width / 2, self.y - self.height(), self.y - HAIR
        for bx, y in self.bricks:
            if y < low and top < y + 16:
                face = bx if side > 0 else bx + 16
                if (
                    (edge - HAIR <= face < edge + 0.5)
                    if side > 0
                    else (edge - 0.5 < face <= edge + HAIR)
                ):
                    return True
        return False

    # A tick ---------------------------------------------------------------------------------------

    def approach(self, speed: float, target: float, share: float = 1.0) -> float:
        faster = abs(target) > abs(speed) and target * speed >= 0
        step = (self.mover.acceleration if faster else self.mover.deceleration) * self.dt * share
        return min(target, speed + step) if speed < target else max(target, speed - step)

    def tick(self, wish: Wish, asked: Moving) -> dict[str, Any]:
        """One tick, and what it led to."""
        mover = self.mover
        # Above the first row, past its ends, there is brick as well, however high it gets.
        near = range(int((self.y - mover.height) // 16) - 30, int(self.y // 16) + 30)
        self.bricks = [*self.inside, *((column * 16, row * 16) for row in near if row < 0
                                       for column in (-1, len(self.world.rows[0])))]
        share = max(0.2, min(1.0, asked.height))
        if share < self.low or self.free(self.x, self.y, mover.height * share):
            self.low = share
        across, up = (0.0, 0.0) if asked.locked else (wish.across, wish.up)
        before_y = self.y
        ledge = self.held or self.near
        hangs = (
            asked.mode == "ledge"
            and ledge is not None
            and self.free(*self.place_at(ledge), self.height())
        )
        steps_off = self.grounded and wish.across != 0 and wish.up == 0
        ladder = self.ladder() if asked.mode == "ladder" and not steps_off else None
        surface = self.surface()
        wet = surface is not None and self.y - mover.height / 2 >= surface
        thin = self.grounded and not any(self.over(bx) and self.y - HAIR <= by <= self.y + HAIR
                                         for bx, by in self.bricks)
        holding = self.mode in ("ledge", "ladder") or hangs or ladder is not None
        afloat = (
            self.mode == "water" and surface is not None and self.y - surface <= 0.75 * mover.height
        )
        drops = (wish.drop and (thin or (holding and not self.grounded))) or (
            wish.jump and thin and wish.up < 0)
        jumps = not drops and wish.jump and (self.grounded or self.grace > 0 or holding or afloat)
        if drops or jumps:
            self.air(wish, asked, jumps, thin, wet)
        elif hangs:
            self.hang(wish, across, asked, ledge)
        elif ladder is not None:
            self.climb(up, asked, ladder)
        elif asked.mode == "water" and wet and surface is not None:
            self.swim(across, up, asked, surface)
        elif self.grounded and asked.gravity >= 0:
            self.walk(wish, across, asked)
        else:
            self.air(wish, asked, False, False, wet)
        self.feel(before_y, wish.side)
        return {
            "x": self.x, "y": self.y, "vx": self.vx, "vy": self.vy, "grounded": self.grounded,
            "blocked": self.blocked,
            "mode": self.mode, "low": self.low, "fall_time": self.fall_time, "bumped": self.bumped,
            "footing": self.grounded or self.grace > 0, "near": self.near,
        }

    def let_go(self) -> None:
        if self.held is not None:
            self.left, self.held = self.held, None

    def walk(self, wish: Wish, across: float, asked: Moving) -> None:
        mover = self.mover
        before = 0.0 if asked.locked else self.vx
        after = (
            0.0 if asked.locked else self.approach(self.vx, across * mover.walk_speed * asked.speed)
        )
        if self.slide((before + after) / 2 * self.dt):
            after = 0.0
        pull = mover.gravity * asked.gravity * self.dt
        self.y, stands = self.fall_to(self.y, pull / 2 * self.dt)
        self.vx, self.bumped, self.grace, self.carry = after, False, mover.grace, 0.0
        self.grounded, self.mode = stands, "ground" if stands else "air"
        self.vy, self.fall_time = (0.0, 0.0) if stands else (min(pull, mover.fall_speed), self.dt)
        self.blocked = self.wall((wish.across > 0) - (wish.across < 0))
        self.let_go()

    def air(self, wish: Wish, asked: Moving, jumps: bool, through: bool, wet: bool) -> None:
        mover, dt = self.mover, self.dt
        before = after = self.vx
        if not asked.locked and mover.air_control > 0:
            after = self.approach(before, wish.across * mover.walk_speed * asked.speed,
                                  mover.air_control)
        vy = -mover.jump_speed * sqrt(max(0.0, asked.jump_height)) if jumps else self.vy
        carry = (mover.carry if jumps else self.carry) if wish.held or jumps else 0.0
        if through and not jumps:
            vy, carry = max(0.0, vy), 0.0
        carried = min(carry, dt)
        way, left, pull = vy * carried, dt - carried, mover.gravity * asked.gravity
        if wet and vy > mover.swim_speed:
            slowed = max(mover.swim_speed, vy - 3 * mover.gravity * left)
            way, vy = way + (vy + slowed) / 2 * left, slowed
        else:
            limit = min(mover.fall_speed, mover.swim_speed) if wet else mover.fall_speed
            if pull < 0:
                limit = -limit
            free = vy + pull * left
            if pull == 0 or (free <= limit if pull > 0 else free >= limit):
                way, vy = way + (vy + free) / 2 * left, free
            elif (vy >= limit) if pull > 0 else (vy <= limit):
                way, vy = way + limit * left, limit
            else:
                part = (limit - vy) / pull
                way, vy = way + (vy + limit) / 2 * part + limit * (left - part), limit
        self.y += 0.01 if through and not jumps else 0.0
        if self.slide((before + after) / 2 * dt):
            after = 0.0
        self.bumped, stands = False, False
        if way < 0:
            self.bumped = self.rise_to(way)
        else:
            self.y, stands = self.fall_to(self.y, way)
        self.vx, self.vy = after, 0.0 if stands or self.bumped else vy
        self.grounded, self.mode = stands, "ground" if stands else "air"
        self.fall_time = 0.0 if stands else self.fall_time + dt
        rest = self.grace - dt
        self.grace = mover.grace if stands else 0.0 if jumps or through or rest <= 1e-9 else rest
        self.carry = 0.0 if stands or self.bumped or carry - carried <= 1e-9 else carry - carried
        self.blocked = self.wall((wish.across > 0) - (wish.across < 0))
        self.let_go()

    def climb(self, up: float, asked: Moving, ladder: tuple[int, int]) -> None:
        column, row = ladder
        while (column, row - 1) in self.ladders:
            row -= 1
        top, middle = row * 16.0, column * 16 + 8.0
        open_above = row == 0 or self.world.tile(column, row - 1) != "#"
        if not asked.locked:
            step = self.mover.climb_speed * self.dt
            by = max(-step, min(step, middle - self.x))
            if by:
                self.slide(by)
        vy = 0.0 if asked.locked else -up * self.mover.climb_speed * asked.speed
        by, self.bumped = vy * self.dt, False
        self.grounded = by == 0 and self.fall_to(self.y, 0.0)[1]
        if by < 0:
            by = max(by, min(0.0, top - self.y)) if open_above or self.y > top else 0.0
            if by < 0:
                self.bumped = self.rise_without_corner(by)
            self.grounded = self.y == top
        elif by > 0:
            self.y, self.grounded = self.fall_to(self.y, by, thin=False)
        self.vx, self.vy = 0.0, 0.0 if self.grounded or self.bumped else vy
        self.mode, self.fall_time, self.blocked, self.carry = "ladder", 0.0, False, 0.0
        self.grace = self.mover.grace if self.grounded else 0.0
        self.let_go()

    def rise_without_corner(self, by: float) -> bool:
        head, half = self.y - self.height(), self.mover.width / 2 - HAIR
        found = max([y + 16 for bx, y in self.bricks
                     if bx < self.x + half and self.x - half < bx + 16
                     and head + by < y + 16 <= head + HAIR], default=None)
        self.y = self.y + by if found is None else min(self.y, found + self.height())
        return found is not None

    def swim(self, across: float, up: float, asked: Moving, surface: float) -> None:
        speed = self.mover.swim_speed * asked.speed
        vx = self.approach(self.vx, across * speed)
        vy = self.approach(self.vy, -up * speed if up else -self.mover.swim_speed / 2)
        way = (self.vy + vy) / 2 * self.dt
        stopped = self.slide((self.vx + vx) / 2 * self.dt)
        line = surface + 0.7 * self.mover.height
        if self.y + way < line:
            if self.y >= line:
                way, vy = line - self.y, 0.0
            else:
                way, vy = (min(max(way, 0.0), line - self.y) if way > 0 else 0.0), max(vy, 0.0)
        self.bumped, self.grounded = False, False
        if way < 0:
            self.bumped = self.rise_without_corner(way)
        else:
            self.y, self.grounded = self.fall_to(self.y, way)
        self.vx, self.vy = 0.0 if stopped else vx, 0.0 if self.grounded or self.bumped else vy
        self.mode, self.fall_time, self.grace, self.carry = "water", 0.0, 0.0, 0.0
        self.blocked = self.wall((across > 0) - (across < 0))
        self.let_go()

    # Ledges ---------------------------------------------------------------------------------------

    def place_at(self, ledge: tuple[float, float, int]) -> tuple[float, float]:
        x, y, side = ledge
        return self.x if side == 0 else x - side * max(
            self.mover.hands_x, self.mover.width / 2
        ), y + self.mover.hands_y

    def hang(
        self, wish: Wish, across: float, asked: Moving, ledge: tuple[float, float, int]
    ) -> None:
        mover = self.mover
        x, y, side = ledge
        if wish.pull_up:
            to = self.x if side == 0 else x + side * mover.width / 2
            if self.free(to, y, self.height()):
                self.x, self.y, self.vx, self.vy, self.grounded, self.blocked = (
                    to,
                    y,
                    0.0,
                    0.0,
                    True,
                    False,
                )
                self.mode, self.fall_time, self.grace, self.carry, self.bumped = (
                    "ground",
                    0.0,
                    mover.grace,
                    0.0,
                    False,
                )
                self.held = self.near = self.left = None
                return
        self.x, self.y = self.place_at(ledge)
        vx, blocked = 0.0, False
        if side == 0 and not asked.locked:
            before = self.vx if self.held is not None else 0.0
            vx = self.approach(before, across * mover.shimmy_speed * asked.speed)
            wanted = self.x + (before + vx) / 2 * self.dt
            to, row = self.along(wanted, int(y // 16)), int(y // 16)
            if to != wanted:
                vx, blocked = 0.0, across != 0
            self.x = to
            ledge = ((int(self.x // 16) + 0.5) * 16, float(row * 16), 0)
        self.vx, self.vy, self.grounded, self.blocked, self.held = vx, 0.0, False, blocked, ledge
        self.mode, self.fall_time, self.grace, self.carry, self.bumped = (
            "ledge",
            0.0,
            0.0,
            0.0,
            False,
        )
        self.left = None

    def along(self, to: float, row: int) -> float:
        if to == self.x:
            return to
        side, column = (1 if to > self.x else -1), int(self.x // 16)
        last = column
        while (last + side, row) in self.planks:
            last += side
        end = (last + 1) * 16 - 0.01 if side > 0 else last * 16 + 0.01
        to = min(to, max(self.x, end)) if side > 0 else max(to, min(self.x, end))
        free = self.free(
            (self.x + to) / 2, self.y, self.height(), abs(to - self.x) / 2
        ) and self.free(to, self.y, self.height())
        return to if free else self.x

    def feel(self, before_y: float, side: int) -> None:
        self.near = self.held
        if self.near is None and not self.grounded and (
                self.mode == "water" or (self.mode in ("air", "ladder") and self.vy >= 0)):
            self.near = self.felt(before_y, side)
        if self.left is not None:
            x, y, which = self.left
            arm = max(self.mover.hands_x, self.mover.width / 2)
            off = abs(self.x + which * arm - x) if which else (
                0.0 if abs(self.x - x) <= 8 + self.mover.reach else self.mover.reach + 1)
            if off > self.mover.reach or abs(self.y - self.mover.hands_y - y) > self.mover.reach:
                self.left = None

    def felt(self, before_y: float, side: int) -> tuple[float, float, int] | None:
        mover = self.mover
        hands, arm = self.y - mover.hands_y, max(mover.hands_x, mover.width / 2)
        lowest, highest = hands + mover.reach, min(hands, before_y - mover.hands_y) - mover.reach

        def solid(column: int, row: int) -> bool:
            return self.world.tile(column, row) == "#"

        for row in range(len(self.world.rows)):
            if not highest <= row * 16 <= lowest:
                continue
            for which in (side, -side):
                hand, best = self.x + which * arm, None
                for column in range(self.world.columns):
                    corner = column * 16.0 if which > 0 else column * 16.0 + 16
                    beside = column - which
                    if (solid(column, row) and abs(corner - hand) <= mover.reach
                        and not solid(column, row - 1)
                            and not solid(beside, row) and not solid(beside, row - 1)):
                        ledge = (corner, row * 16.0, which)
                        if (
                            ledge != self.left
                            and self.free(*self.place_at(ledge), self.height())
                            and (best is None or abs(corner - hand) < abs(best[0] - hand))
                        ):
                            best = ledge
                if best is not None:
                    return best
            if (int(self.x // 16), row) in self.planks:
                ledge = ((int(self.x // 16) + 0.5) * 16, row * 16.0, 0)
                if ledge != self.left and self.free(*self.place_at(ledge), self.height()):
                    return ledge
        return None
