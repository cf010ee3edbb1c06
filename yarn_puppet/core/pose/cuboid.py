"""A cuboid of the space of a booth seen from above. Rule 15 of docs/poses.md."""

from __future__ import annotations

from typing import NamedTuple

from .rectangle import Rectangle


class Cuboid(NamedTuple):
    """Upright in space, in pixels of the world: across from `x`, `width` wide; along the ground
    from `far` to `near`, which is nearer to whoever looks, as y goes downwards; above the ground
    from `low` to `high`. It is `of_bones`, or else of art that stands upright."""

    x: float
    width: float
    far: float
    near: float
    low: float
    high: float
    of_bones: bool = False

    @property
    def y(self) -> float:
        """The upper edge of its picture: what is above the ground is drawn so much higher."""
        return self.far - self.high if self.of_bones else self.near - self.high

    @property
    def height(self) -> float:
        """The height of its picture: with how deep it is, where it is of bones; of art it is the
        art's own."""
        return self.near - self.low - self.y

    @property
    def picture(self) -> Rectangle:
        """Where it is drawn."""
        return Rectangle(self.x, self.y, self.width, self.height)

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
    return Cuboid(area.x, area.width, ground - deep, ground, ground - bottom, ground - area.y)
