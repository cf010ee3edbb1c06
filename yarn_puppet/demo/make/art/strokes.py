"""Drawing at a multiple of the final size, in the final size's pixels: strokes, shapes, knit,
glow."""

from __future__ import annotations

from functools import cache
from itertools import pairwise
from math import atan2, cos, pi, sin

from PIL import Image, ImageChops, ImageDraw, ImageFilter

SCALE = 8
"""Everything is drawn this many times larger and then reduced, which smooths every edge."""

Place = tuple[float, float]
Color = tuple[int, ...]


class Canvas:
    """A transparent picture whose origin stands at `pivot`, x to the right and y downwards, in
    final pixels."""

    def __init__(self, width: int, height: int, pivot: Place) -> None:
        self.size = (width, height)
        self.pivot = pivot
        self.image = Image.new("RGBA", (width * SCALE, height * SCALE), (0, 0, 0, 0))
        self.draw = ImageDraw.Draw(self.image)

    def at(self, place: Place) -> Place:
        """A place of the figure in pixels of the large picture."""
        return (place[0] + self.pivot[0]) * SCALE, (place[1] + self.pivot[1]) * SCALE

    def limb(self, points: list[Place], widths: list[float], color: Color) -> None:
        """A stroke through points with round joints; `widths` are its thickness at each point."""
        for (a, b), (wa, wb) in zip(pairwise(points), pairwise(widths), strict=True):
            self.taper(a, b, wa, wb, color)

    def taper(self, a: Place, b: Place, wide_a: float, wide_b: float, color: Color) -> None:
        """A stroke from a to b that changes its thickness evenly."""
        angle = atan2(b[1] - a[1], b[0] - a[0]) + pi / 2
        side = (cos(angle), sin(angle))
        corners = [
            self.at((place[0] + sign * side[0] * wide / 2, place[1] + sign * side[1] * wide / 2))
            for place, wide, sign in ((a, wide_a, 1), (b, wide_b, 1), (b, wide_b, -1),
                                      (a, wide_a, -1))
        ]
        self.draw.polygon(corners, fill=color)
        self.dot(a, wide_a / 2, color)
        self.dot(b, wide_b / 2, color)

    def dot(self, place: Place, radius: float, color: Color) -> None:
        """A filled circle."""
        x, y = self.at(place)
        r = radius * SCALE
        self.draw.ellipse((x - r, y - r, x + r, y + r), fill=color)

    def shape(self, points: list[Place], color: Color) -> None:
        """A filled polygon."""
        self.draw.polygon([self.at(place) for place in points], fill=color)

    def blend(self, draw: Canvas) -> None:
        """Lay another canvas of the same size over this one."""
        self.image.alpha_composite(draw.image)

    def fresh(self) -> Canvas:
        """An empty canvas of the same size and pivot."""
        return Canvas(*self.size, self.pivot)

    def knit(self, strength: int = 26) -> None:
        """Lay rows of small stitches over all that is drawn so far, lighter and darker by turns."""
        stitches = _stitches(self.image.size, strength)
        alpha = self.image.getchannel("A")
        color = self.image.convert("RGB")
        gray = Image.merge("RGB", (stitches,) * 3)
        textured = ImageChops.add(color, gray, scale=1.0, offset=-128)
        self.image = Image.merge("RGBA", (*textured.split(), alpha))
        self.draw = ImageDraw.Draw(self.image)

    def glow(self, place: Place, radius: float, color: Color) -> None:
        """A soft light, brightest in its middle."""
        light = Image.new("RGBA", self.image.size, (*color[:3], 0))
        mask = Image.new("L", self.image.size, 0)
        pen = ImageDraw.Draw(mask)
        x, y = self.at(place)
        for step in range(16):
            r = radius * SCALE * (1 - step / 16)
            pen.ellipse((x - r, y - r, x + r, y + r), fill=round(190 * ((step + 1) / 16) ** 2.2))
        light.putalpha(mask.filter(ImageFilter.GaussianBlur(SCALE / 2)))
        self.image.alpha_composite(light)
        self.draw = ImageDraw.Draw(self.image)

    def fuzz(self, color: Color) -> None:
        """A thin soft rim around all that is drawn, as wool has against the light: it keeps the
        outline clear."""
        alpha = self.image.getchannel("A")
        wide = alpha.filter(ImageFilter.GaussianBlur(SCALE * 0.55)).point(
            lambda value: min(255, value * 2))
        rim = Image.new("RGBA", self.image.size, (*color[:3], 0))
        rim.putalpha(wide.point(lambda value: value * color[3] // 255))
        rim.alpha_composite(self.image)
        self.image = rim
        self.draw = ImageDraw.Draw(self.image)

    def finished(self) -> Image.Image:
        """The picture at its final size."""
        return self.image.resize(self.size, Image.Resampling.LANCZOS)


@cache
def _stitches(size: tuple[int, int], strength: int) -> Image.Image:
    """Rows of small stitches about a middle gray, the same for every cell of a sheet."""
    width, height = size
    stitches = Image.new("L", size, 128)
    pen = ImageDraw.Draw(stitches)
    pitch = round(1.7 * SCALE)
    for row, y in enumerate(range(0, height, pitch)):
        for x in range(0, width, pitch):
            shade = 128 + (strength if (row + x // pitch) % 2 else -strength)
            pen.line((x, y, x + pitch // 2, y + pitch * 2 // 3), fill=shade, width=SCALE // 3)
            pen.line((x + pitch // 2, y + pitch * 2 // 3, x + pitch, y), fill=shade,
                     width=SCALE // 3)
    return stitches


def bent(a: Place, b: Place, first: float, second: float, side: float) -> Place:
    """The joint between two bones of these lengths from a to b, on one side (1 or -1) of the line
    between them.

    By the cosine rule; where b is out of reach the joint lies on the line.
    """
    dx, dy = b[0] - a[0], b[1] - a[1]
    distance = max(0.01, (dx * dx + dy * dy) ** 0.5)
    reach = min(distance, first + second - 0.01)
    along = (first * first - second * second + reach * reach) / (2 * reach)
    out = max(0.0, first * first - along * along) ** 0.5
    ux, uy = dx / distance, dy / distance
    return a[0] + ux * along - uy * out * side, a[1] + uy * along + ux * out * side


def toward(a: Place, degrees: float, length: float) -> Place:
    """The place at a distance from a; 0 degrees is to the right and 90 up."""
    return a[0] + cos(degrees * pi / 180) * length, a[1] - sin(degrees * pi / 180) * length
