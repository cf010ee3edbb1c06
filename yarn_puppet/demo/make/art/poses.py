"""Pell's clips as poses: one list a clip, one entry a frame, with its duration in milliseconds."""

from __future__ import annotations

from math import cos, pi, sin
from typing import Any

from .pell import Pose

Timed = tuple[Pose, float]


def idle() -> list[Timed]:
    """A breath in and out, and a blink."""
    frames = []
    for number in range(6):
        breath = sin(number / 6 * 2 * pi)
        frames.append((
            Pose(hip=(0, 18.6), squash=-0.5 * breath, hand=(9.4, 25.6 + 0.7 * breath),
                 pole=86 + 1.2 * breath,
                 far_hand=(-3, 21 + 0.4 * breath), scarf=(214 + 3 * breath, 246 + 5 * breath),
                 blink=number == 4),
            140.0,
        ))
    return frames


def stride(
    part: float, reach: float, planted: float, high: float, toe: float
) -> tuple[tuple[float, float], float]:
    """A foot, so far through its stride of 0 to 1: where it is, and how its toe points, in degrees.

    Over the share `planted` it stands: from `reach` ahead of the hip it goes back evenly to as far
    behind, so that it rests on the ground while the body goes on over it. Then it swings forward,
    `high` over the ground.
    """
    part %= 1.0
    if part < planted:
        ahead = 1 - 2 * part / planted
        return (reach * ahead, 0.0), 12 * max(0.0, ahead)
    swing = (part - planted) / (1 - planted)
    return (-reach * cos(pi * swing), high * sin(pi * swing)), -toe * (1 - swing) + 12 * swing


def walk() -> list[Timed]:
    """Eight steps of one stride: contact, down, passing, up, and again with the other leg.

    A foot that stands goes back by six pixels a step: as far as the body goes on at full speed.
    """
    frames = []
    for number in range(8):
        turn = number / 8 * 2 * pi
        bob = 0.9 * cos(2 * turn)
        (near, near_toe), (far, far_toe) = (stride(number / 8 + half, 12, 0.5, 5, 24)
                                            for half in (0.0, 0.5))
        frames.append((
            Pose(hip=(0.5, 18.4 - bob), lean=9, near_foot=near, far_foot=far, near_toe=near_toe,
                 far_toe=far_toe,
                 hand=(10 + 1.6 * sin(turn), 26 - bob), pole=74 + 4 * sin(turn + 0.6),
                 far_hand=(-4.5 * cos(turn + pi) - 1, 20.5),
                 scarf=(186 + 8 * sin(2 * turn), 206 + 14 * sin(2 * turn))),
            80.0,
        ))
    return frames


def rise() -> list[Timed]:
    """Off the ground with drawn-up knees, stretching upwards."""
    return [
        (Pose(hip=(0, 15.4), lean=14, squash=1.4, near_foot=(5, 0), far_foot=(-5, 0), hand=(10, 20),
              pole=60,
              far_hand=(-7, 18), scarf=(160, 140)), 50.0),
        (Pose(hip=(1, 21.5), lean=6, squash=-1, near_foot=(1, 3), far_foot=(-6, 0.6), near_toe=40,
              far_toe=46,
              hand=(10, 27), pole=66, far_hand=(-6, 28), scarf=(226, 258)), 70.0),
        (Pose(hip=(1, 22), lean=4, squash=-1, near_foot=(6, 8), far_foot=(-4, 3.4), near_toe=20,
              far_toe=40,
              hand=(10, 27), pole=62, far_hand=(-8, 30), scarf=(236, 262)), 90.0),
    ]


def fall() -> list[Timed]:
    """Coming down with the coat and scarf blown upwards, legs reaching for the ground."""
    return [
        (Pose(hip=(0, 21), lean=2, near_foot=(7, 6), far_foot=(-5, 6), near_toe=14, far_toe=22,
              hand=(11, 30),
              pole=66, far_hand=(-9, 30), scarf=(140, 110)), 80.0),
        (Pose(hip=(0, 21), lean=-2, near_foot=(6, 4), far_foot=(-5, 3), near_toe=6, far_toe=14,
              hand=(11.5, 31),
              pole=61, far_hand=(-10, 33), scarf=(124, 96)), 80.0),
        (Pose(hip=(0, 21), lean=-2, near_foot=(6, 3.4), far_foot=(-5, 3.8), near_toe=8, far_toe=10,
              hand=(11.5, 31),
              pole=63, far_hand=(-10, 32), scarf=(130, 88)), 80.0),
    ]


def light_swing() -> list[Timed]:
    """Wind up behind the hat, sweep forward at hip height, and carry on downwards."""
    return [
        (Pose(hip=(-1, 18), lean=0, near_foot=(6, 0), far_foot=(-6, 0), hand=(3, 29), pole=106,
              far_hand=(4, 24),
              scarf=(200, 226)), 80.0),
        (Pose(hip=(-3, 17.6), lean=-9, nod=-4, near_foot=(6, 0), far_foot=(-8, 0), hand=(-4, 31),
              pole=142,
              grip=-3, far_hand=(2, 30), scarf=(196, 210)), 60.0),
        (Pose(hip=(2, 17), lean=12, near_foot=(10, 0), far_foot=(-8, 0), far_toe=14, hand=(11, 29),
              pole=34,
              grip=3, far_hand=(-3, 22), scarf=(168, 158), smear=(138, 38)), 40.0),
        (Pose(hip=(4, 16.4), lean=18, near_foot=(12, 0), far_foot=(-8, 0), far_toe=26,
              hand=(14, 25), pole=2,
              grip=4, far_hand=(-5, 20), scarf=(166, 150), smear=(84, 4)), 40.0),
        (Pose(hip=(4, 16.4), lean=20, near_foot=(12, 0), far_foot=(-8, 0), far_toe=26,
              hand=(12, 20), pole=-24,
              grip=3, far_hand=(-6, 22), scarf=(186, 170), smear=(16, -22)), 60.0),
        (Pose(hip=(2, 17), lean=14, near_foot=(10, 0), far_foot=(-7, 0), far_toe=12, hand=(8, 19),
              pole=-26,
              grip=-2, far_hand=(-5, 22), scarf=(208, 220)), 70.0),
        (Pose(hip=(0.5, 18.2), lean=7, near_foot=(6, 0), far_foot=(-5, 0), hand=(9, 24), pole=52,
              far_hand=(-4, 21),
              scarf=(216, 244)), 70.0),
    ]


def heavy_slam() -> list[Timed]:
    """Two hands, a long stretch over the hat, one crash to the ground, and a slow way back up."""
    return [
        (Pose(hip=(0, 17.6), lean=6, near_foot=(6, 0), far_foot=(-6, 0), hand=(5, 24), pole=96,
              far_hand=(3, 20)),
         65.0),
        (Pose(hip=(-2, 16.4), lean=-4, near_foot=(7, 0), far_foot=(-8, 0), hand=(-1, 29), pole=124,
              grip=-4,
              far_hand=(-4, 25), scarf=(206, 230)), 65.0),
        (Pose(hip=(-4, 18), lean=-14, nod=-6, near_foot=(7, 2), far_foot=(-8, 0), near_toe=-18,
              hand=(-6, 33),
              pole=150, grip=-5, far_hand=(-8, 30), scarf=(214, 246)), 80.0),
        (Pose(hip=(-4, 19), lean=-16, nod=-8, near_foot=(8, 4), far_foot=(-7, 0), near_toe=-22,
              hand=(-7, 34),
              pole=156, grip=-5, far_hand=(-9, 31), scarf=(218, 250)), 90.0),
        (Pose(hip=(3, 20), lean=6, near_foot=(9, 3), far_foot=(-6, 1), far_toe=30, hand=(6, 33),
              pole=66, grip=-6,
              far_hand=(3, 33), scarf=(170, 150), smear=(156, 76)), 40.0),
        (Pose(hip=(6, 14.6), lean=34, nod=6, near_foot=(13, 0), far_foot=(-6, 0), far_toe=34,
              hand=(16, 17),
              pole=-16, grip=0, far_hand=(12, 15), scarf=(140, 120), smear=(80, -14)), 55.0),
        (Pose(hip=(6, 13.4), lean=38, nod=8, squash=1, near_foot=(13, 0), far_foot=(-6, 0),
              far_toe=34,
              hand=(15.5, 13), pole=-21, grip=0, far_hand=(11, 12), scarf=(150, 190)), 75.0),
        (Pose(hip=(5, 14), lean=34, nod=6, near_foot=(13, 0), far_foot=(-6, 0), far_toe=28,
              hand=(15, 14), pole=-20,
              grip=0, far_hand=(11, 13), scarf=(200, 240)), 95.0),
        (Pose(hip=(3, 16), lean=22, near_foot=(10, 0), far_foot=(-6, 0), far_toe=10, hand=(12, 19),
              pole=14,
              grip=0, far_hand=(5, 18), scarf=(210, 244)), 80.0),
        (Pose(hip=(1, 18), lean=9, near_foot=(6, 0), far_foot=(-5, 0), hand=(10, 24), pole=60,
              far_hand=(-3, 21),
              scarf=(214, 246)), 75.0),
    ]


def guard() -> list[Timed]:
    """The umbrella comes up, springs open, and is held."""
    stance: dict[str, Any] = {"near_foot": (8, 0), "far_foot": (-7, 0)}
    return [
        (Pose(hip=(-1, 17.4), lean=4, hand=(8, 24), pole=58, umbrella=0.1, far_hand=(3, 20),
              **stance), 50.0),
        (Pose(hip=(-2, 16.6), lean=6, hand=(9, 25), pole=34, umbrella=0.6, far_hand=(4, 21),
              scarf=(198, 222),
              **stance), 50.0),
        (Pose(hip=(-2, 16), lean=8, nod=3, hand=(9, 25.5), pole=22, umbrella=1.0, far_hand=(5, 21),
              scarf=(204, 232), **stance), 60.0),
    ]


def crouch() -> list[Timed]:
    """Down behind the pole, hat low, and small."""
    stance: dict[str, Any] = {"near_foot": (7, 0), "far_foot": (-6, 0)}
    return [
        (Pose(hip=(-1, 15.6), lean=12, squash=0.6, hand=(9, 22), pole=70, far_hand=(3, 17),
              **stance), 70.0),
        (Pose(hip=(-2, 12), lean=22, squash=1.6, nod=-4, hand=(10, 18), pole=50, far_hand=(5, 12),
              scarf=(186, 200), **stance), 70.0),
        (Pose(hip=(-3, 9.6), lean=28, squash=2.4, nod=-8, hand=(10, 15), pole=30, far_hand=(6, 9),
              far_toe=20,
              scarf=(196, 226), **stance), 70.0),
        (Pose(hip=(-3, 9.2), lean=29, squash=2.6, nod=-9, hand=(10, 14.6), pole=28,
              far_hand=(6, 8.6), far_toe=20,
              scarf=(206, 240), **stance), 90.0),
    ]


def run() -> list[Timed]:
    """Six long strides, far over the front foot, the scarf flat behind. For a third of it each foot
    stands."""
    frames = []
    for number in range(6):
        turn = number / 6 * 2 * pi
        bob = 1.8 * cos(2 * turn)
        (near, near_toe), (far, far_toe) = (stride(number / 6 + half, 11, 1 / 3, 10, 40)
                                            for half in (0.0, 0.5))
        frames.append((
            Pose(hip=(2, 17.6 - bob), lean=24, nod=-8, near_foot=near, far_foot=far,
                 near_toe=near_toe, far_toe=far_toe,
                 hand=(12 + 2.4 * sin(turn), 23 - bob), pole=38 + 6 * sin(turn + 0.6),
                 far_hand=(-7 * cos(turn + pi) - 1, 20),
                 scarf=(176 + 6 * sin(2 * turn), 184 + 12 * sin(2 * turn))),
            70.0,
        ))
    return frames


def turn() -> list[Timed]:
    """Heels in, leaning back against the way it came, and round."""
    return [
        (Pose(hip=(-3, 16.4), lean=-14, nod=-6, near_foot=(8, 0), far_foot=(-4, 0), near_toe=-16,
              hand=(4, 27),
              pole=104,
              far_hand=(6, 22), scarf=(30, 20)), 60.0),
        (Pose(hip=(-4, 15.4), lean=-18, nod=-8, squash=0.6, near_foot=(9, 0), far_foot=(-5, 0),
              near_toe=-22,
              hand=(1, 28), pole=122, far_hand=(7, 24), scarf=(18, 348)), 70.0),
        (Pose(hip=(-1, 17.6), lean=2, near_foot=(6, 0), far_foot=(-6, 0), hand=(7, 26), pole=92,
              far_hand=(-2, 21),
              scarf=(200, 236)), 60.0),
    ]


def crawl() -> list[Timed]:
    """On hands and knees, the pole dragged along low."""
    frames = []
    for number in range(6):
        turn = number / 6 * 2 * pi
        frames.append((
            Pose(hip=(-5, 10.4 + 0.5 * sin(2 * turn)), lean=58, squash=2.2, nod=-46,
                 near_foot=(-6 + 5 * cos(turn), max(0.0, sin(turn)) * 2),
                 far_foot=(-9 + 5 * cos(turn + pi), max(0.0, sin(turn + pi)) * 2), near_toe=24,
                 far_toe=24,
                 hand=(13 + 4 * cos(turn + pi), 7 + max(0.0, sin(turn + pi)) * 2), pole=12,
                 far_hand=(11 + 4 * cos(turn), 5 + max(0.0, sin(turn)) * 2), scarf=(200, 244)),
            95.0,
        ))
    return frames


def light_swing_2() -> list[Timed]:
    """Back up again: from low in front over the shoulder, the other hip forward."""
    return [
        (Pose(hip=(3, 16.4), lean=18, near_foot=(10, 0), far_foot=(-8, 0), far_toe=20,
              hand=(11, 18), pole=-30,
              grip=2, far_hand=(-5, 22), scarf=(188, 176)), 60.0),
        (Pose(hip=(4, 16), lean=20, nod=2, near_foot=(12, 0), far_foot=(-8, 0), far_toe=24,
              hand=(13, 20), pole=-8,
              grip=4, far_hand=(-6, 22), scarf=(178, 168), smear=(-40, -8)), 40.0),
        (Pose(hip=(3, 17), lean=10, near_foot=(11, 0), far_foot=(-8, 0), far_toe=12, hand=(14, 25),
              pole=38, grip=2,
              far_hand=(-5, 21), scarf=(190, 206), smear=(-14, 40)), 40.0),
        (Pose(hip=(1, 18), lean=0, near_foot=(9, 0), far_foot=(-7, 0), hand=(10, 26), pole=82,
              grip=0, far_hand=(-4,
              22),
              scarf=(214, 240), smear=(36, 88)), 60.0),
        (Pose(hip=(0, 18.4), lean=-4, near_foot=(8, 0), far_foot=(-7, 0), hand=(4, 27), pole=116,
              far_hand=(-3, 23),
              scarf=(222, 250)), 80.0),
        (Pose(hip=(0, 18.4), lean=3, near_foot=(6, 0), far_foot=(-5, 0), hand=(9, 27), pole=86,
              far_hand=(-3, 21),
              scarf=(214, 244)), 80.0),
    ]


def light_swing_3() -> list[Timed]:
    """A step in and a thrust with the whole length of the pole, flame first."""
    return [
        (Pose(hip=(-3, 17), lean=-6, near_foot=(6, 0), far_foot=(-8, 0), hand=(-4, 26), pole=8,
              grip=-8,
              far_hand=(2, 24), scarf=(206, 226)), 90.0),
        (Pose(hip=(-4, 16.6), lean=-8, nod=-4, near_foot=(7, 1.5), far_foot=(-8, 0), near_toe=-16,
              hand=(-6, 25),
              pole=4,
              grip=-8, far_hand=(0, 24), scarf=(204, 218)), 60.0),
        (Pose(hip=(7, 15), lean=26, near_foot=(16, 0), far_foot=(-8, 0), far_toe=34, hand=(13, 24),
              pole=0, grip=0,
              far_hand=(-8, 24), scarf=(172, 166), smear=(3, -1)), 50.0),
        (Pose(hip=(7, 14.6), lean=28, near_foot=(16, 0), far_foot=(-8, 0), far_toe=36,
              hand=(14, 23), pole=-2, grip=0,
              far_hand=(-9, 25), scarf=(170, 160)), 90.0),
        (Pose(hip=(5, 15.4), lean=20, near_foot=(14, 0), far_foot=(-7, 0), far_toe=20,
              hand=(14, 23), pole=6,
              far_hand=(-6, 23), scarf=(192, 206)), 90.0),
        (Pose(hip=(1, 18), lean=8, near_foot=(7, 0), far_foot=(-5, 0), hand=(9, 25), pole=62,
              far_hand=(-4, 21),
              scarf=(212, 242)), 90.0),
    ]


def flinch() -> list[Timed]:
    """Doubled up, hat down, and gathering itself again."""
    return [
        (Pose(hip=(-5, 16), lean=30, nod=14, squash=1, near_foot=(6, 0), far_foot=(-9, 0),
              near_toe=-10, hand=(6, 20),
              pole=112, far_hand=(8, 17), scarf=(160, 140), blink=True), 70.0),
        (Pose(hip=(-6, 15), lean=34, nod=16, squash=1.6, near_foot=(6, 0), far_foot=(-10, 0),
              near_toe=-14, hand=(5,
              18),
              pole=120, far_hand=(7, 15), scarf=(168, 150), blink=True), 110.0),
        (Pose(hip=(-3, 17), lean=16, nod=6, near_foot=(5, 0), far_foot=(-7, 0), hand=(8, 23),
              pole=98, far_hand=(2, 20),
              scarf=(196, 220)), 120.0),
    ]


def umbrella_arm() -> list[Timed]:
    """The arm alone, that holds the umbrella before a walking Pell; it rocks a little."""
    return [
        (Pose(hip=(0.5, 18.4), lean=9, hand=(10, 27 + lift), pole=24 + lift * 2, umbrella=1.0,
              part="umbrella arm"),
              160.0)
        for lift in (0.0, 0.7, 0.0, -0.6)
    ]


def lantern() -> list[Timed]:
    """The light round the flame: it breathes, and now and then it flickers."""
    return [(Pose(nod=size, part="lantern"), 110.0) for size in (0.0, 1.2, 2.0, 1.0, -1.4, 0.6)]


FIRST_STEPS = ("idle", "walk", "rise", "fall", "light_swing", "heavy_slam", "guard", "crouch")
"""The clips of the smaller demo, which are the first rows of the sheet."""

CLIPS = {
    "idle": (idle, "loop"),
    "walk": (walk, "loop"),
    "rise": (rise, "hold last"),
    "fall": (fall, "loop"),
    "light_swing": (light_swing, "once"),
    "heavy_slam": (heavy_slam, "once"),
    "guard": (guard, "hold last"),
    "crouch": (crouch, "hold last"),
    "run": (run, "loop"),
    "turn": (turn, "once"),
    "crawl": (crawl, "loop"),
    "light_swing_2": (light_swing_2, "once"),
    "light_swing_3": (light_swing_3, "once"),
    "flinch": (flinch, "once"),
    "umbrella_arm": (umbrella_arm, "loop"),
    "lantern": (lantern, "loop"),
}
"""Each clip's poses and playback mode; a row of the sheet each, in this order."""
