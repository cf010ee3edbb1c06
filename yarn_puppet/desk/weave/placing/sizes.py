"""The three sizes in which the weave shows a state, all lengths in pixels."""

from __future__ import annotations

from typing import NamedTuple


class Size(NamedTuple):
    """How large a card is, and the room around it.

    - `above`: from a band's or a channel's edge to a card.
    - `below`: from a card to where the next row's begins.
    - `foot`: what is left below the last row.
    - `tail`: how long a tail is.
    - `frame_pad`: how far a frame stands off its cards.
    - `lead`: how far inside its band the first card stands; the band's name and seam are before it.
    """

    name: str
    width: float
    height: float
    gap: float
    above: float
    below: float
    foot: float
    tail: float
    frame_pad: float
    lead: float

    @property
    def pitch(self) -> float:
        """From one row of a band to the next."""
        return self.height + self.below + self.above


CARDS = Size("cards", 104.0, 73.0, 18.0, 10.0, 15.0, 0.0, 8.0, 5.0, 36.0)
CHIPS = Size("chips", 88.0, 34.0, 9.0, 6.0, 12.0, 0.0, 6.0, 4.0, 36.0)
DOTS = Size("dots", 17.0, 13.0, 8.0, 6.0, 12.0, 0.0, 5.0, 3.0, 96.0)
SIZES = (CARDS, CHIPS, DOTS)
"""From the largest to the smallest."""
