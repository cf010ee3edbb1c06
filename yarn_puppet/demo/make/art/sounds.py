"""Lantern Row's sounds, made of noise and sines: cloth, steps, the pole's knock."""

from __future__ import annotations

import wave
from collections.abc import Callable
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from scipy.signal import butter, sosfilt

RATE = 22050
"""Samples in a second; mono, 16 bits."""

Samples = NDArray[np.float64]
"""Loudness from -1 to 1."""


def _time(seconds: float) -> Samples:
    return np.arange(round(seconds * RATE)) / RATE


def _noise(seconds: float, low: float, high: float, seed: int) -> Samples:
    """Noise between two frequencies, in hertz."""
    dice = np.random.default_rng(seed)
    band = butter(2, (low, high), "bandpass", fs=RATE, output="sos")
    return np.asarray(sosfilt(band, dice.uniform(-1, 1, round(seconds * RATE))))


def _swell(seconds: float, peak: float) -> Samples:
    """Loudness that rises to a peak, in parts of the whole, and dies away."""
    t = _time(seconds) / seconds
    return np.where(t < peak, t / peak, (1 - (t - peak) / (1 - peak)) ** 2)


def cloth_whip() -> Samples:
    """A sleeve cutting the air."""
    return _noise(0.16, 900, 4200, 1) * _swell(0.16, 0.35) * 1.6


def cloth_heave() -> Samples:
    """A coat swung round with all its weight."""
    return _noise(0.3, 250, 1600, 2) * _swell(0.3, 0.5) * 1.8


def canopy() -> Samples:
    """An umbrella snapping open."""
    return _noise(0.18, 150, 2600, 3) * np.exp(-_time(0.18) * 26) * 2.4


def soft_step() -> Samples:
    """A felt sole on brick."""
    return _noise(0.08, 90, 700, 4) * np.exp(-_time(0.08) * 60) * 2.6


def pole_hit() -> Samples:
    """A pole on straw: a knock, and the rustle after it."""
    t = _time(0.22)
    return 0.8 * np.sin(2 * np.pi * 210 * t) * np.exp(-t * 42) + _noise(
        0.22, 1200, 5000, 5) * np.exp(-t * 18)


SOUNDS: dict[str, Callable[[], Samples]] = {
    "cloth_whip": cloth_whip, "cloth_heave": cloth_heave, "canopy": canopy, "soft_step": soft_step,
    "pole_hit": pole_hit,
}


def write_sounds(folder: Path) -> None:
    """Write every sound as a WAV file."""
    folder.mkdir(exist_ok=True)
    for name, make in SOUNDS.items():
        samples = np.clip(make(), -1, 1) * 0.6
        with wave.open(str(folder / f"{name}.wav"), "wb") as file:
            file.setnchannels(1)
            file.setsampwidth(2)
            file.setframerate(RATE)
            file.writeframes((samples * 32767).astype("<i2").tobytes())
