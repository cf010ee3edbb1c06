"""Pell's clips for what the world has: ledges, ladders, water, long falls and blows. As in
`poses`."""

from __future__ import annotations

from math import cos, pi, sin

from .pell import Pose

Timed = tuple[Pose, float]


def hang() -> list[Timed]:
    """By one hand from a ledge, the pole held down, the legs swaying a little."""
    return [
        (Pose(hip=(-1 + sway, 18.6), lean=-4 - sway, near_foot=(0 + 2 * sway, 1),
              far_foot=(-4 + 2 * sway, 0),
              near_toe=58, far_toe=62, hand=(2, 17), pole=-40, far_hand=(10, 42),
              scarf=(228 + 6 * sway, 258)), 170.0)
        for sway in (-0.8, 0.0, 0.8, 0.0)
    ]


def shimmy() -> list[Timed]:
    """Hand over hand along a gutter."""
    frames = []
    for number in range(4):
        turn = number / 4 * 2 * pi
        frames.append((
            Pose(hip=(1.6 * sin(turn), 18.6), lean=-3 - 3 * sin(turn), near_foot=(3 * sin(turn), 1),
                 far_foot=(-4 + 3 * sin(turn), 0), near_toe=54, far_toe=60, hand=(2, 17),
                 pole=-40 + 5 * sin(turn),
                 far_hand=(4 + 6 * cos(turn), 42), scarf=(222 + 10 * sin(turn), 252)), 110.0))
    return frames


def pull_up() -> list[Timed]:
    """Chin to the ledge and an elbow over it; then, standing on it, a knee, and up."""
    return [
        (Pose(hip=(1, 21), lean=14, near_foot=(2, 6), far_foot=(-4, 3), near_toe=40, far_toe=56,
              hand=(4, 20), pole=-36,
              far_hand=(10, 42), scarf=(214, 244)), 80.0),
        (Pose(hip=(3, 24), lean=34, squash=1, near_foot=(4, 10), far_foot=(-2, 7), near_toe=20,
              far_toe=50,
              hand=(11, 26), pole=-6, far_hand=(13, 42), scarf=(200, 226)), 90.0),
        (Pose(hip=(-9, 7), lean=48, squash=2.4, near_foot=(-6, 0), far_foot=(-14, 0), near_toe=0,
              far_toe=60,
              hand=(4, 9), pole=16, far_hand=(1, 2), scarf=(180, 200)), 90.0),
        (Pose(hip=(-3, 12), lean=26, squash=1.6, near_foot=(2, 0), far_foot=(-8, 0), hand=(8, 18),
              pole=48,
              far_hand=(0, 11), scarf=(200, 230)), 80.0),
    ]


def climb() -> list[Timed]:
    """Up a ladder, hand after hand and foot after foot, the pole along the back."""
    frames = []
    for number in range(4):
        turn = number / 4 * 2 * pi
        frames.append((
            Pose(hip=(-2, 19 + 0.8 * sin(2 * turn)), lean=10, near_foot=(5, 4 + 4 * sin(turn)),
                 far_foot=(4, 4 - 4 * sin(turn)), near_toe=-8, far_toe=-8,
                 hand=(6, 27 - 4 * sin(turn)), pole=-74,
                 far_hand=(7, 32 + 5 * sin(turn)), scarf=(230, 262)), 90.0))
    return frames


def slide_down() -> list[Timed]:
    """Down a ladder with the boots on its sides."""
    return [
        (Pose(hip=(-3, 17.5), lean=-2, near_foot=(6, 4), far_foot=(5, 3), near_toe=30, far_toe=30,
              hand=(6, 26),
              pole=-70, far_hand=(7, 32), scarf=(140 + wave, 112)), 70.0)
        for wave in (0, 8, 2)
    ]


def afloat() -> list[Timed]:
    """Treading water, the flame held dry."""
    frames = []
    for number in range(4):
        turn = number / 4 * 2 * pi
        frames.append((
            Pose(hip=(0, 18 + 0.8 * sin(turn)), lean=6, near_foot=(4 * cos(turn) + 1, 3),
                 far_foot=(-4 * cos(turn) - 2, 2),
                 near_toe=44, far_toe=48, hand=(8, 31 + sin(turn)), pole=82,
                 far_hand=(-11, 28 + 2 * sin(turn)),
                 scarf=(176 + 8 * sin(turn), 180)), 150.0))
    return frames


def swim() -> list[Timed]:
    """A long stroke on the breast, the legs kicking behind."""
    frames = []
    for number in range(6):
        turn = number / 6 * 2 * pi
        frames.append((
            Pose(hip=(-5, 20), lean=62, squash=-0.6, nod=-38,
                 near_foot=(-19, 15 + 3.4 * sin(turn * 2)),
                 far_foot=(-20, 17 - 3.4 * sin(turn * 2)), near_toe=66, far_toe=66,
                 hand=(15, 30), pole=26, far_hand=(12 + 8 * cos(turn), 24 + 5 * sin(turn)),
                 scarf=(176 + 6 * sin(turn), 184)), 100.0))
    return frames


def land() -> list[Timed]:
    """Deep into the knees, a hand on the ground, and up."""
    return [
        (Pose(hip=(0, 9), lean=34, squash=2.6, near_foot=(8, 0), far_foot=(-7, 0), hand=(11, 14),
              pole=34,
              far_hand=(6, 3), scarf=(120, 96)), 110.0),
        (Pose(hip=(0, 10.5), lean=30, squash=2, near_foot=(8, 0), far_foot=(-7, 0), hand=(11, 17),
              pole=46,
              far_hand=(4, 8), scarf=(160, 150)), 120.0),
        (Pose(hip=(0, 15), lean=14, near_foot=(6, 0), far_foot=(-6, 0), hand=(10, 22), pole=68,
              far_hand=(-4, 19),
              scarf=(204, 226)), 90.0),
    ]


def thrown() -> list[Timed]:
    """Off the feet, the hat first."""
    return [
        (Pose(hip=(-2, 19), lean=-46, nod=-12, near_foot=(13, 20), far_foot=(9, 12), near_toe=-40,
              far_toe=-30,
              hand=(4, 34), pole=120, far_hand=(-14, 30), scarf=(20, 60), blink=True), 90.0),
        (Pose(hip=(-2, 17), lean=-58, nod=-16, near_foot=(14, 20), far_foot=(11, 13), near_toe=-44,
              far_toe=-36,
              hand=(0, 33), pole=136, far_hand=(-16, 26), scarf=(10, 40), blink=True), 90.0),
    ]


def get_up() -> list[Timed]:
    """From the back to the knees to the feet."""
    return [
        (Pose(hip=(-2, 6), lean=-70, nod=-8, near_foot=(14, 3), far_foot=(12, 0), near_toe=-50,
              far_toe=-40,
              hand=(2, 8), pole=20, far_hand=(-13, 4), scarf=(196, 186), blink=True), 260.0),
        (Pose(hip=(-3, 8), lean=-24, nod=4, near_foot=(9, 0), far_foot=(7, 0), hand=(6, 14),
              pole=52, far_hand=(-9, 4),
              scarf=(206, 214)), 140.0),
        (Pose(hip=(0, 12), lean=26, squash=1.4, near_foot=(6, 0), far_foot=(-6, 0), hand=(10, 18),
              pole=70,
              far_hand=(2, 12), scarf=(206, 230)), 120.0),
    ]


def roll() -> list[Timed]:
    """Tucked up, over the shoulder, and on."""
    return [
        (Pose(hip=(-2, 11), lean=52, squash=2.4, nod=20, near_foot=(5, 0), far_foot=(-5, 0),
              hand=(10, 12), pole=8,
              far_hand=(8, 5), scarf=(170, 150)), 60.0),
        (Pose(hip=(0, 10), lean=84, squash=3, nod=30, near_foot=(-5, 6), far_foot=(-8, 2),
              near_toe=40, far_toe=40,
              hand=(8, 7), pole=-10, far_hand=(7, 3), scarf=(120, 90)), 70.0),
        (Pose(hip=(3, 12), lean=120, squash=3, nod=34, near_foot=(-2, 18), far_foot=(-6, 14),
              near_toe=80, far_toe=80,
              hand=(5, 6), pole=-24, far_hand=(2, 3), scarf=(60, 30)), 70.0),
        (Pose(hip=(1, 8), lean=30, squash=2.4, nod=10, near_foot=(8, 0), far_foot=(-4, 0),
              hand=(11, 13), pole=30,
              far_hand=(4, 6), scarf=(190, 180)), 80.0),
    ]


WORLD_CLIPS = {
    "hang": (hang, "loop"),
    "shimmy": (shimmy, "loop"),
    "pull_up": (pull_up, "once"),
    "climb": (climb, "loop"),
    "slide_down": (slide_down, "loop"),
    "afloat": (afloat, "loop"),
    "swim": (swim, "loop"),
    "land": (land, "once"),
    "thrown": (thrown, "hold last"),
    "get_up": (get_up, "once"),
    "roll": (roll, "once"),
}
"""Each clip's poses and playback mode; a row of a sheet of their own each."""
