"""What Harrow does: each move says, for a time in it, how far each bone is turned, in degrees about
x, y and z, and how far his hips are moved, in metres."""

from __future__ import annotations

from collections.abc import Callable
from math import cos, pi, sin, tau
from typing import NamedTuple

import numpy as np
from scipy.spatial.transform import Rotation

from ....core.model.bones import BoneClip, Channel
from .frame import NAMES, skeleton

Turns = dict[str, tuple[float, float, float]]
RATE = 30
"""Keys a second."""


class Posture(NamedTuple):
    """How he stands at a time."""

    turns: Turns
    hips: tuple[float, float, float] = (0.0, 0.0, 0.0)


Move = Callable[[float], Posture]
"""From a share of the clip, 0 to 1."""


def eased(share: float, *stops: tuple[float, float]) -> float:
    """A value that goes from stop to stop, (share, value), and rests at each."""
    before = stops[0]
    for stop in stops[1:]:
        if share <= stop[0]:
            part = (share - before[0]) / (stop[0] - before[0])
            return before[1] + (stop[1] - before[1]) * (1 - cos(pi * max(0.0, part))) / 2
        before = stop
    return before[1]


def _standing(breath: float = 0.0) -> Turns:
    return {"spine": (2 + breath, 0, 0), "chest": (-2 - breath, 0, 0), "head": (breath, 0, 0),
            "upper arm L": (0, 0, 4), "upper arm R": (0, 0, -4),
            "fore arm L": (-12, 0, 0), "fore arm R": (-12, 0, 0),
            "scarf": (breath * 2, 0, 0), "fingers L": (-20, 0, 0), "fingers R": (-20, 0, 0)}


def idle(share: float) -> Posture:
    """He breathes, and shifts his weight a little."""
    wave, sway = sin(tau * share), sin(tau * share + 0.8)
    return Posture(_standing(1.4 * wave) | {
        "hips": (0, 2 * sway, 0.8 * sway), "spine 2": (0, -1.5 * sway, -0.8 * sway),
        "hat": (-wave, 0, 0), "coat back": (wave, 0, 0), "scarf 2": (3 * sway, 0, 0),
    }, (0.006 * sway, -0.004 + 0.004 * wave, 0))


def walk(share: float) -> Posture:
    """Two steps; in place, as the game moves him."""
    turns = _standing()
    for side, shift in (("L", 0.0), ("R", 0.5)):
        at = tau * (share + shift)
        swing, lift = sin(at), max(0.0, sin(at + 1.9))
        turns[f"thigh {side}"] = (-26 * swing, 0, 0)
        turns[f"shin {side}"] = (8 + 46 * lift, 0, 0)
        turns[f"foot {side}"] = (-6 - 14 * swing + 12 * lift, 0, 0)
        turns[f"toes {side}"] = (-18 * max(0.0, -swing), 0, 0)
        turns[f"upper arm {side}"] = (24 * swing, 0, 4 if side == "L" else -4)
        turns[f"fore arm {side}"] = (-20 - 10 * swing, 0, 0)
    twist = sin(tau * share)
    turns |= {"hips": (3, -6 * twist, 0), "spine 2": (2, 8 * twist, 0), "head": (-4, -3 * twist, 0),
              "coat front": (-10 + 4 * cos(2 * tau * share), 0, 0),
              "coat back": (8 - 4 * cos(2 * tau * share), 0, 0),
              "scarf": (-8 + 3 * sin(2 * tau * share), 0, 0), "scarf 2": (-6, 0, 6 * twist)}
    return Posture(turns, (0.012 * twist, -0.015 + 0.018 * cos(2 * tau * share), 0))


def light_strike(share: float) -> Posture:
    """A quick cut from his right shoulder, across."""
    raise_ = eased(share, (0, 0), (0.25, -118), (0.52, -40), (0.66, -28), (1, 0))
    twist = eased(share, (0, 0), (0.25, -24), (0.52, 30), (0.68, 24), (1, 0))
    bend = eased(share, (0, -12), (0.25, -80), (0.5, -8), (0.66, -14), (1, -12))
    step = eased(share, (0, 0), (0.45, 1), (0.7, 1), (1, 0))
    return Posture(_standing() | {
        "upper arm R": (raise_, twist / 2, -10), "fore arm R": (bend, 0, 0),
        "spine": (2 + 6 * step, twist / 3, 0), "spine 2": (3 * step, twist / 2, 0),
        "chest": (-2, twist / 2, 0), "head": (0, -twist / 2, 0),
        "thigh L": (-22 * step, 0, 0), "shin L": (20 * step, 0, 0), "thigh R": (14 * step, 0, 0),
        "shin R": (10 * step, 0, 0), "foot R": (-18 * step, 0, 0),
        "fingers R": (-70, 0, 0), "thumb R": (0, 0, -20),
        "scarf": (-10 * step, 0, -twist / 3), "coat back": (12 * step, 0, 0),
    }, (0, -0.03 * step, 0.05 * step))


def heavy_strike(share: float) -> Posture:
    """Both arms far back over his head, and down to the ground."""
    raise_ = eased(share, (0, 0), (0.38, -165), (0.44, -170), (0.66, -48), (0.8, -42), (1, 0))
    fold = eased(share, (0, 0), (0.42, -14), (0.68, 38), (0.8, 34), (1, 0))
    bend = eased(share, (0, -12), (0.38, -62), (0.64, -6), (1, -12))
    sink = eased(share, (0, 0), (0.4, -0.2), (0.68, 1), (0.8, 0.9), (1, 0))
    low = max(0.0, sink)
    turns = _standing() | {
        "spine": (2 + fold / 2, 0, 0), "spine 2": (fold / 2, 0, 0), "chest": (-2 + fold / 3, 0, 0),
        "neck": (-fold / 3, 0, 0), "head": (-fold / 3, 0, 0),
        "scarf": (-14 * low, 0, 0), "scarf 2": (-20 * low, 0, 0), "coat back": (20 * low, 0, 0),
        "coat front": (-24 * low, 0, 0)}
    for side, way in (("L", 1), ("R", -1)):
        turns |= {f"upper arm {side}": (raise_, -18 * way * abs(raise_) / 170, 4 * way),
                  f"fore arm {side}": (bend, 0, 0), f"fingers {side}": (-70, 0, 0),
                  f"thigh {side}": (-42 * low, 0, 6 * way * low), f"shin {side}": (66 * low, 0, 0),
                  f"foot {side}": (-24 * low, 0, 0)}
    return Posture(turns, (0, -0.13 * low, -0.02 * low))


def crouch(share: float) -> Posture:
    """Low, and watchful."""
    wave = sin(tau * share)
    turns = _standing(wave) | {
        "spine": (18, 0, 0), "spine 2": (10 + wave, 0, 0), "neck": (-12, 0, 0),
        "head": (-10, 14 * sin(tau * share), 0), "coat front": (-44, 0, 0),
        "coat back": (-6, 0, 0)}
    for side, way in (("L", 1), ("R", -1)):
        turns |= {f"thigh {side}": (-84, 0, 9 * way), f"shin {side}": (112, 0, 0),
                  f"foot {side}": (-28, 0, -6 * way), f"upper arm {side}": (-38, 0, 8 * way),
                  f"fore arm {side}": (-58, 0, 0), f"coat {side}": (-30, 0, 12 * way)}
    return Posture(turns, (0, -0.36 + 0.006 * wave, -0.06))


def hurt(share: float) -> Posture:
    """Struck from the front: he folds, staggers and straightens."""
    hit = eased(share, (0, 0), (0.18, 1), (0.4, 0.7), (1, 0))
    return Posture(_standing() | {
        "spine": (2 + 16 * hit, 8 * hit, 0), "spine 2": (14 * hit, 6 * hit, 0),
        "neck": (-14 * hit, 0, 0), "head": (-26 * hit, 10 * hit, 6 * hit),
        "upper arm L": (20 * hit, 0, 4 + 24 * hit), "upper arm R": (26 * hit, 0, -4 - 20 * hit),
        "fore arm L": (-12 - 44 * hit, 0, 0), "fore arm R": (-12 - 52 * hit, 0, 0),
        "thigh L": (-10 * hit, 0, 0), "shin L": (28 * hit, 0, 0), "thigh R": (18 * hit, 0, 0),
        "shin R": (14 * hit, 0, 0), "scarf": (16 * hit, 0, 0), "scarf 2": (24 * hit, 0, 0),
        "hat": (8 * hit, 0, 4 * hit),
    }, (0, -0.04 * hit, -0.09 * hit))


def hanging(share: float) -> Posture:
    """By both hands, swinging a little."""
    swing = sin(tau * share)
    turns: Turns = {
        "hips": (3 * swing, 0, 0), "spine": (2 * swing, 0, 0), "chest": (-3, 0, 0),
        "neck": (-6, 0, 0), "head": (-18, 0, 0), "coat front": (-4 * swing, 0, 0),
        "coat back": (-4 * swing, 0, 0), "scarf": (8 - 4 * swing, 0, 0),
        "scarf 2": (4 - 6 * swing, 0, 0)}
    for side, way in (("L", 1), ("R", -1)):
        turns |= {f"collar {side}": (0, 0, 16 * way), f"upper arm {side}": (-172, 0, -6 * way),
                  f"fore arm {side}": (-10, 0, 0), f"fingers {side}": (-80, 0, 0),
                  f"thigh {side}": (-8 - 5 * swing * way, 0, 0),
                  f"shin {side}": (14 + 6 * swing * way, 0, 0), f"foot {side}": (24, 0, 0)}
    return Posture(turns)


FIRST: dict[str, tuple[float, Move]] = {
    "idle": (2.4, idle), "walk": (1.0667, walk), "light strike": (0.6333, light_strike),
    "heavy strike": (1.3, heavy_strike)}
"""Seconds of each, and the move: of the file that has his body too."""
MORE: dict[str, tuple[float, Move]] = {
    "crouch": (1.8, crouch), "hurt": (0.5333, hurt), "hanging": (2.0, hanging)}
"""Of the file that has moves alone."""


def clip(name: str, seconds: float, move: Move) -> BoneClip:
    """A move as keys, of the bones that it turns."""
    count = round(seconds * RATE) + 1
    times = np.arange(count) / RATE
    postures = [move(number / (count - 1)) for number in range(count)]
    moved = [bone for bone in NAMES if any(bone in each.turns for each in postures)]
    channels = [Channel(NAMES.index(bone), "turn", "LINEAR", times, Rotation.from_euler(
        "xyz", [each.turns.get(bone, (0, 0, 0)) for each in postures],
        degrees=True).as_quat().round(7)) for bone in moved]
    rest = skeleton().places[0]
    hips = np.array([rest + each.hips for each in postures]).round(6)
    channels.append(Channel(0, "place", "LINEAR", times, hips))
    return BoneClip(name, float(times[-1]), tuple(channels))
