"""What is under the mouse in the weave, and what a drag aims at."""

from __future__ import annotations

from .drawing.cards import name_area
from .drops import ClipDrops
from .ground import WeaveGround
from .placing.ends import seam_of
from .placing.layout import Band, Card
from .placing.routing import Thread, distance_to

NAME_WIDTH = 16.0
"""The strip at the left of a band by which the band itself is dragged; the seam beside it pulls a
transition."""
Held = tuple[str, str]
"""What the mouse holds: "state", "group" (its seam), "band" (its name), "layer" (its seam, where it
has none yet), "pin", "end" or "start" of a thread, "fold", "transition", "page"; and an id."""


class Aiming(WeaveGround):
    """Finds what a press takes hold of, and where a drag would end."""

    drops: ClipDrops
    _held: Held | None = None
    _dragging = False

    def threads(self) -> tuple[Thread, ...]:
        """The threads that are on show."""
        layout = self.layout_now
        focus = self.picture.focus(layout, self.hints(layout))
        seen = self.hints(layout).inside
        return (*focus.threads, *focus.into,
                *self.picture.at_rest(layout, self.showing.grown, seen))

    def grown(self, transition: str) -> Thread | None:
        """The thread of a transition, where it is on show."""
        return next((thread for thread in self.threads() if thread.transition == transition), None)

    def _thread_at(self, x: float, y: float) -> Thread | None:
        near = [(distance_to(thread, x, y), thread) for thread in self.threads()]
        best = min(near, key=lambda pair: pair[0], default=None)
        return best[1] if best and best[0] < 6 else None

    def under(self, x: float, y: float) -> Held:
        """What is at a point."""
        layout = self.layout_now
        for layer in self.document.puppet.layers:
            start = layout.cards.get(layer.start or "")
            if start and abs(x - start.box.x - 10) < 8 and abs(y - start.box.y + 6) < 9:
                return "pin", start.state
        card = layout.card_at(x, y)
        if card is not None:
            return "state", card.state
        frame = self._frame_named_at(x, y)
        if frame is not None:
            return "group", frame
        thread = self._thread_at(x, y)
        if thread is not None:
            for kind, (px, py) in (("end", thread.points[-1]), ("start", thread.points[0])):
                if abs(x - px) + abs(y - py) < 9:
                    return kind, thread.transition
            return "transition", thread.transition
        tail = self._tail_at(x, y)
        if tail is not None:
            return "transition", tail
        return self._band_under(x, y)

    def _band_under(self, x: float, y: float) -> Held:
        """What of a band is at a point where no card or thread is: its sign to fold it, its name,
        its seam, its ground."""
        band = self.layout_now.band_at(x, y)
        if band is None or band.group is None:
            return "page", ""
        if band.around:
            return "group", band.group
        if band.depth == 0 and (
            (band.folded and x < band.box.x + 22)
            or (x < band.box.x + NAME_WIDTH and y < band.box.y + 16 and not band.folded)
        ):
            return "fold", band.group
        if band.depth == 0 and x < band.seam - 6:
            return "band", band.group
        if abs(x - seam_of(band)) < 10 or band.folded:
            return "group", band.group
        return "page", band.group

    def _frame_named_at(self, x: float, y: float) -> str | None:
        """The group inside a band whose name is at a point: no thread that passes takes it away."""
        for band in self.layout_now.bands:
            if band.depth and band.group is not None:
                area = name_area(band, self.document.puppet.group(band.group))
                if area is not None and area.contains(x, y):
                    return band.group
        return None

    def _tail_at(self, x: float, y: float) -> str | None:
        layout = self.layout_now
        row = layout.row_at(y)
        if row < 0 or row >= len(layout.rows):
            return None
        ends = self.picture.ends(layout)
        for card in layout.rows[row].cards:
            if (
                card.box.x <= x <= card.box.right
                and card.box.bottom <= y <= card.box.bottom + layout.size.tail + 2
            ):
                near = min(ends.tails(card.state), key=lambda tail: abs(tail.start[0] - x),
                           default=None)
                return near.transition if near is not None and abs(near.start[0] - x) < 5 else None
        return None

    # What a drag aims at --------------------------------------------------------------------------

    def _target_card(self) -> Card | None:
        """The card a transition being pulled would lead to or from."""
        if not self._dragging or self._held is None or self._held[0] in ("page", "band"):
            return None
        card = self.layout_now.card_at(self.at.x(), self.at.y())
        return None if card is None or self._held == ("state", card.state) else card

    def _target_band(self) -> Band | None:
        """The band whose seam a transition being pulled would lead to."""
        if (
            not self._dragging
            or self._held is None
            or self._held[0] not in ("state", "group", "end", "layer")
        ):
            return None
        band = self.layout_now.band_at(self.at.x(), self.at.y())
        if band is None or band.group is None or self._held == ("group", band.group):
            return None
        return (
            band
            if band.folded or band.around
            or self.at.x() < band.seam + (10 if band.depth == 0 else 6)
            else None
        )

    def _drop_band(self) -> Band | None:
        """The band that a dragged card or clip would be put into."""
        if self.drops.held is None and (
            self._held is None or self._held[0] != "state" or self._target_band()
        ):
            return None
        if self.layout_now.card_at(self.at.x(), self.at.y()) and self.drops.held is None:
            return None
        if self.drops.begins_band(self.at):
            return None
        band = self.layout_now.band_at(self.at.x(), self.at.y())
        # What lies on the seam of the whole layer is in no band.
        return None if band is not None and band.around else band

    def _band_before(self, y: float) -> Band | None:
        """The band that a band dropped at a height would be put before."""
        outer = [band for band in self.layout_now.bands
                 if band.depth == 0 and band.group is not None and not band.around]
        return next((band for band in outer if y < band.box.y + band.box.height / 2), None)
