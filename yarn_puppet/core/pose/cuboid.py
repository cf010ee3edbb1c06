"""A cuboid of the space of a booth seen from above. Rule 15 of docs/poses.md."""

from __future__ import annotations

from typing import NamedTuple

from .rectangle import Rectangle


class Cuboid(NamedTuple):
    """Upright in space, in pixels of the world: across from `x`, `width` wide; along the ground
    from `far` to `near`, which is nearer to whoever looks, as y goes downwards; above the ground
    from `low` to `high`. It is of bones, or of the rectangle of `art` that stands upright there."""

    x: float
    width: float
    far: float
    near: float
    low: float
    high: float
    art: Rectangle | None = None

    @property
    def of_bones(self) -> bool:
        """Whether it is of bones, so that what meets it is judged in space."""
        return self.art is None

    @property
    def picture(self) -> Rectangle:
        """Where it is drawn: what is above the ground so much higher. Of art it is the art's own,
        to the last bit."""
        if self.art is not None:
            return self.art
        top = self.far - self.high
        return Rectangle(self.x, top, self.width, self.near - self.low - top)

    @property
    def y(self) -> float:
        """The upper edge of its picture."""
        return self.picture.y

    @property
    def height(self) -> float:
        """The height of its picture."""
        return self.picture.height

    def meets(self, other: Area) -> bool:
        """Whether two share more than a face; of two without bones, whether their pictures do."""
        if isinstance(other, Rectangle):
            return self.picture.meets(other)
        if not (self.of_bones or other.of_bones):
            return self.picture.meets(other.picture)
        return (
            self.x < other.x + other.width and other.x < self.x + self.width
            and self.far < other.near and other.far < self.near
            and self.low < other.high and other.low < self.high
        )


Area = Rectangle | Cuboid
"""Where something hits or can be hit: in the plane, or in the space of a booth seen from above."""


def meet(one: Area, other: Area) -> bool:
    """Whether two of one booth meet."""
    if isinstance(one, Cuboid):
        return one.meets(other)
    return one.meets(other if isinstance(other, Rectangle) else other.picture)


def upright(area: Area, ground: float, deep: float) -> Cuboid:
    """A rectangle of whoever stands at y `ground` as a cuboid: `deep` along the ground, up from
    that line. A cuboid is as it is."""
    if isinstance(area, Cuboid):
        return area
    bottom = area.y + area.height
    return Cuboid(area.x, area.width, ground - deep, ground, ground - bottom, ground - area.y,
                  area)
