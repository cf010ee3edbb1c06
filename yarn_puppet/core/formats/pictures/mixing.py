"""How a layer is mixed with what lies under it, as W3C's Compositing and Blending Level 1 has it.

https://www.w3.org/TR/compositing-1/. Pictures are arrays of shape (height, width, 4) of floats from
0 to 1, red, green, blue, alpha, colours not multiplied by alpha.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
Mix = Callable[[Floats, Floats], Floats]
"""Of the colour under and the colour over, each of shape (height, width, 3)."""


def _hard_light(under: Floats, over: Floats) -> Floats:
    return np.where(over <= 0.5, under * 2 * over, under + (2 * over - 1) - under * (2 * over - 1))


def _soft_light(under: Floats, over: Floats) -> Floats:
    curve = np.where(under <= 0.25, ((16 * under - 12) * under + 4) * under, np.sqrt(under))
    return np.where(over <= 0.5, under - (1 - 2 * over) * under * (1 - under),
                    under + (2 * over - 1) * (curve - under))


def _color_dodge(under: Floats, over: Floats) -> Floats:
    with np.errstate(divide="ignore", invalid="ignore"):
        made = np.where(over >= 1, 1.0, np.minimum(1, under / (1 - over)))
    return np.where(under <= 0, 0.0, made)


def _color_burn(under: Floats, over: Floats) -> Floats:
    with np.errstate(divide="ignore", invalid="ignore"):
        made = np.where(over <= 0, 0.0, 1 - np.minimum(1, (1 - under) / over))
    return np.where(under >= 1, 1.0, made)


LIGHT = np.array([0.3, 0.59, 0.11], dtype=np.float32)


def _lum(color: Floats) -> Floats:
    light: Floats = np.matmul(color, LIGHT)[..., None]
    return light


def _sat(color: Floats) -> Floats:
    span: Floats = color.max(axis=-1, keepdims=True) - color.min(axis=-1, keepdims=True)
    return span


def _with_lum(color: Floats, lum: Floats) -> Floats:
    """A colour as light as that, brought back between 0 and 1."""
    color = color + (lum - _lum(color))
    light, low, high = _lum(color), color.min(axis=-1, keepdims=True), color.max(
        axis=-1, keepdims=True)
    with np.errstate(divide="ignore", invalid="ignore"):
        color = np.where(low < 0, light + (color - light) * light / (light - low), color)
        return np.where(high > 1, light + (color - light) * (1 - light) / (high - light), color)


def _with_sat(color: Floats, sat: Floats) -> Floats:
    low, whole = color.min(axis=-1, keepdims=True), _sat(color)
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(whole > 0, (color - low) * sat / whole, 0.0)


MIXES: dict[str, Mix] = {
    "svg:multiply": lambda under, over: under * over,
    "svg:screen": lambda under, over: under + over - under * over,
    "svg:overlay": lambda under, over: _hard_light(over, under),
    "svg:darken": np.minimum,
    "svg:lighten": np.maximum,
    "svg:color-dodge": _color_dodge,
    "svg:color-burn": _color_burn,
    "svg:hard-light": _hard_light,
    "svg:soft-light": _soft_light,
    "svg:difference": lambda under, over: np.abs(under - over),
    "svg:exclusion": lambda under, over: under + over - 2 * under * over,
    "svg:hue": lambda under, over: _with_lum(_with_sat(over, _sat(under)), _lum(under)),
    "svg:saturation": lambda under, over: _with_lum(_with_sat(under, _sat(over)), _lum(under)),
    "svg:color": lambda under, over: _with_lum(over, _lum(under)),
    "svg:luminosity": lambda under, over: _with_lum(under, _lum(over)),
}
"""The ways that change the colour where both are."""
SHARES: dict[str, Callable[[Floats, Floats], tuple[Floats, Floats]]] = {
    "svg:src-over": lambda under, over: (np.ones_like(over), 1 - over),
    "svg:plus": lambda under, over: (np.ones_like(over), np.ones_like(over)),
    "svg:dst-in": lambda under, over: (np.zeros_like(over), over),
    "svg:dst-out": lambda under, over: (np.zeros_like(over), 1 - over),
    "svg:src-atop": lambda under, over: (under, 1 - over),
    "svg:dst-atop": lambda under, over: (1 - under, over),
}
"""The ways that say how much is left of what is over and of what is under, by the alphas of both:
Porter and Duff."""


def mixed(under: Floats, over: Floats, opacity: float = 1.0, way: str = "svg:src-over") -> Floats:
    """One picture laid over another. A way that is not known lays it plainly over."""
    alpha_under, alpha_over = under[..., 3:], over[..., 3:] * np.float32(opacity)
    color = over[..., :3]
    if way in MIXES:
        color = (1 - alpha_under) * color + alpha_under * np.clip(
            MIXES[way](under[..., :3], color), 0, 1)
    share_over, share_under = SHARES.get(way, SHARES["svg:src-over"])(alpha_under, alpha_over)
    alpha = alpha_over * share_over + alpha_under * share_under
    whole = color * alpha_over * share_over + under[..., :3] * alpha_under * share_under
    with np.errstate(divide="ignore", invalid="ignore"):
        plain = np.where(alpha > 0, whole / np.maximum(alpha, 1e-9) if way != "svg:plus"
                         else whole / np.clip(alpha, 1e-9, 1), 0)
    return np.concatenate((np.clip(plain, 0, 1), np.clip(alpha, 0, 1)), axis=-1).astype(np.float32)
