"""Draws Old Thatch, the straw dummy, on one cell of 48×64 pixels, feet at (24, 60)."""

from __future__ import annotations

from PIL import Image

from .strokes import Canvas, toward

STRAW, STRAW_LIGHT, STRAW_DARK = (206, 166, 86, 255), (232, 202, 128, 255), (158, 118, 56, 255)
WOOD, SACK, SACK_DARK = (112, 74, 48, 255), (196, 170, 130, 255), (150, 122, 88, 255)
RIBBON, STITCH = (116, 72, 115, 255), (62, 46, 52, 255)
WOOL = (226, 216, 198, 120)


def draw_thatch() -> Image.Image:
    """A sack head with stitched eyes on a sheaf of straw, tied in the middle, on one wooden leg."""
    canvas = Canvas(48, 64, (24, 60))
    canvas.taper((0, 0), (0, -24), 3.2, 3.0, WOOD)
    canvas.taper((-6, -0.6), (6, -0.6), 2.6, 2.6, WOOD)
    canvas.taper((-14, -33), (14, -31), 2.4, 2.4, WOOD)
    for number in range(13):
        share = number / 12
        color = (STRAW, STRAW_LIGHT, STRAW_DARK)[number % 3]
        canvas.taper((-4 + 8 * share, -26), (-9 + 18 * share, -10 - (number % 3) * 1.6), 2.4, 1.4,
                     color)
        canvas.taper((-4.4 + 8.8 * share, -24), (-8 + 16 * share, -36 - (number % 2)), 2.6, 2.8,
                     color)
    for side in (-1, 1):
        for number in range(5):
            canvas.taper((side * 13, -32),
                         toward((side * 14, -32), 90 - side * (90 + (number - 2) * 17), 5.4), 1.6,
                         0.9, (STRAW_LIGHT, STRAW)[number % 2])
    canvas.limb([(-5.4, -25), (0, -24.2), (5.4, -25)], [3.4, 3.6, 3.4], RIBBON)
    canvas.limb([(4, -24.6), (8, -20)], [2.2, 2.8], RIBBON)
    canvas.dot((0, -43), 7.6, SACK)
    canvas.limb([(-4, -37), (4, -37)], [3.0, 3.0], SACK_DARK)
    for side in (-1, 1):
        x, y = side * 2.6 - 0.6, -44.0
        canvas.taper((x - 1.3, y - 1.3), (x + 1.3, y + 1.3), 0.9, 0.9, STITCH)
        canvas.taper((x - 1.3, y + 1.3), (x + 1.3, y - 1.3), 0.9, 0.9, STITCH)
    canvas.limb([(-3.6, -40.2), (-1, -39.4), (2, -39.6), (3.4, -40.4)], [0.9, 0.9, 0.9, 0.9],
                STITCH)
    for number in range(7):
        canvas.taper((-3 + number, -49), (-6 + number * 2, -53 - number % 2 * 1.6), 1.7, 0.9,
                     (STRAW, STRAW_LIGHT)[number % 2])
    canvas.knit(14)
    canvas.fuzz(WOOL)
    return canvas.finished()
