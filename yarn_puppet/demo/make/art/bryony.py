"""Draws Bryony, who tends the roof gardens, seen from above in four directions: a sheet of 4 × 4
walking steps."""

from __future__ import annotations

from collections.abc import Callable
from math import pi, sin

from PIL import Image

from .strokes import Canvas, Place

WIDTH, HEIGHT = 48, 56
PIVOT = (24.0, 50.0)
DIRECTIONS = ("down", "left", "right", "up")
"""The rows of the sheet, from the top."""
STEPS = 4

GREEN, GREEN_DARK, GREEN_LIGHT = (96, 118, 60, 255), (68, 86, 42, 255), (132, 152, 84, 255)
STRAW, STRAW_DARK, BAND = (222, 184, 104, 255), (178, 138, 70, 255), (116, 72, 115, 255)
SKIN, CHEEK, EYE = (214, 160, 118, 255), (196, 108, 92, 255), (40, 30, 44, 255)
BRAID = (96, 52, 34, 255)
BOOT, BOOT_FAR = (98, 62, 44, 255), (70, 45, 36, 255)
CAN, CAN_LIGHT = (43, 122, 120, 255), (98, 168, 160, 255)
WOOL = (226, 216, 198, 130)


def draw_step(direction: str, step: int) -> Image.Image:
    """One cell of 48×56 pixels; Bryony stands on (24, 50)."""
    canvas = Canvas(WIDTH, HEIGHT, PIVOT)
    swing = sin(step / STEPS * 2 * pi)
    bob = -abs(swing) * 1.2
    PAINTERS[direction](canvas, swing, bob)
    canvas.knit(20)
    canvas.fuzz(WOOL)
    return canvas.finished()


def _boots(canvas: Canvas, swing: float, across: float) -> None:
    """Two boots, one lifted while the other stands; `across` is how far apart they are drawn."""
    for side, color in ((-1, BOOT_FAR), (1, BOOT)):
        lift = max(0.0, swing * side) * 3.2
        canvas.limb([(side * across, -9 - lift), (side * across, -2.4 - lift)], [5.0, 5.4], color)


def _skirt(canvas: Canvas, bob: float, wide: float) -> None:
    canvas.shape([(-wide * 0.62, -25 + bob), (wide * 0.62, -25 + bob), (wide, -7 + bob),
                  (-wide, -7 + bob)], GREEN)
    canvas.limb([(-wide, -7 + bob), (wide, -7 + bob)], [2.4, 2.4], GREEN_DARK)


def _hat(canvas: Canvas, at: Place, wide: float, tip: float) -> None:
    """A wide straw hat; `tip` leans it forward or back."""
    x, y = at
    canvas.limb([(x - wide, y), (x + wide, y)], [5.0, 5.0], STRAW_DARK)
    canvas.limb([(x - wide, y - 1), (x + wide, y - 1)], [4.0, 4.0], STRAW)
    canvas.limb([(x - 3.6, y - 3 + tip), (x + 3.6, y - 3 + tip)], [8.4, 8.4], STRAW)
    canvas.limb([(x - 6.4, y - 1.6), (x + 6.4, y - 1.6)], [1.8, 1.8], BAND)


def _can(canvas: Canvas, at: Place, side: int) -> None:
    """The watering can, its spout to one side."""
    x, y = at
    canvas.limb([(x, y - 3), (x, y + 2)], [7.0, 7.4], CAN)
    canvas.limb([(x + side * 3, y + 1), (x + side * 8, y - 4)], [2.2, 1.6], CAN)
    canvas.dot((x - 1.2, y - 2), 1.3, CAN_LIGHT)


def _front(canvas: Canvas, swing: float, bob: float) -> None:
    _boots(canvas, swing, 4.2)
    _skirt(canvas, bob, 10)
    canvas.limb([(-8, -23 + bob), (-10.5, -14 + bob + swing * 1.5)], [4.6, 4.2], GREEN_LIGHT)
    _can(canvas, (10.5, -11 + bob - swing * 1.5), 1)
    canvas.limb([(8, -23 + bob), (10.5, -14 + bob - swing * 1.5)], [4.6, 4.2], GREEN_LIGHT)
    canvas.dot((0, -31 + bob), 7.6, SKIN)
    for side in (-1, 1):
        canvas.dot((side * 2.7, -30.4 + bob), 1.1, EYE)
        canvas.dot((side * 4.4, -28 + bob), 1.5, CHEEK)
        canvas.limb([(side * 7, -30 + bob), (side * 7.6, -21 + bob)], [3.2, 2.2], BRAID)
    _hat(canvas, (0, -36 + bob), 11, 0)


def _back(canvas: Canvas, swing: float, bob: float) -> None:
    _can(canvas, (-10.5, -11 + bob + swing * 1.5), -1)
    _boots(canvas, swing, 4.2)
    _skirt(canvas, bob, 10)
    for side in (-1, 1):
        canvas.limb([(side * 8, -23 + bob), (side * 10.5, -14 + bob - side * swing * 1.5)],
                    [4.6, 4.2], GREEN_DARK)
    canvas.dot((0, -31 + bob), 7.6, BRAID)
    for side in (-1, 1):
        canvas.limb([(side * 3, -27 + bob), (side * 3.4, -18 + bob)], [3.4, 2.2], BRAID)
    _hat(canvas, (0, -36 + bob), 11, -1)


def _side(canvas: Canvas, swing: float, bob: float, side: int) -> None:
    for leg, color in ((-1, BOOT_FAR), (1, BOOT)):
        foot = leg * swing * 5.5
        lift = max(0.0, -leg * swing) * 1.6
        canvas.limb([(side * 0.5, -11 + bob), (side * foot, -2.6 - lift),
                     (side * (foot + 2.4), -2.2 - lift)],
                    [5.2, 5.0, 3.6], color)
    _skirt(canvas, bob, 8.4)
    canvas.dot((side * 0.6, -31 + bob), 7.4, SKIN)
    canvas.dot((side * 4.4, -30.6 + bob), 1.2, EYE)
    canvas.dot((side * 5, -28 + bob), 1.5, CHEEK)
    canvas.limb([(-side * 5.4, -31 + bob), (-side * 6.6, -20 + bob)], [4.4, 2.4], BRAID)
    hand = (side * (4 - swing * 4), -14 + bob)
    _can(canvas, (hand[0] + side * 1.5, hand[1] + 3), side)
    canvas.limb([(0, -22 + bob), hand], [4.8, 4.2], GREEN_LIGHT)
    _hat(canvas, (side * 0.8, -36 + bob), 10.5, 0)


PAINTERS: dict[str, Callable[[Canvas, float, float], None]] = {
    "down": _front,
    "up": _back,
    "left": lambda canvas, swing, bob: _side(canvas, swing, bob, -1),
    "right": lambda canvas, swing, bob: _side(canvas, swing, bob, 1),
}


def draw_bryony() -> Image.Image:
    """The sheet: a direction a row, a step a column."""
    sheet = Image.new("RGBA", (WIDTH * STEPS, HEIGHT * len(DIRECTIONS)))
    for row, direction in enumerate(DIRECTIONS):
        for step in range(STEPS):
            sheet.paste(draw_step(direction, step), (step * WIDTH, row * HEIGHT))
    return sheet
