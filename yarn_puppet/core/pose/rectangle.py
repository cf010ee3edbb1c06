"""A rectangle of the world."""

from __future__ import annotations

from typing import NamedTuple


class Rectangle(NamedTuple):
    """A rectangle of the world in pixels, y downwards."""

    x: float
    y: float
    width: float
    height: float

    def meets(self, other: Rectangle) -> bool:
        """Whether two rectangles share more than an edge."""
        return (
            self.x < other.x + other.width and other.x < self.x + self.width
            and self.y < other.y + other.height and other.y < self.y + self.height
        )
