"""Clips that are dragged from the shelf and dropped into the weave."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF

from ...core.model.clips import Clip
from ...core.model.edits import graph as edits
from ...core.model.graph import Spread
from ...core.model.puppet import Puppet, find
from .ground import WeaveGround
from .placing.layout import Band


class ClipDrops:
    """What is dragged over a view, and what becomes of it."""

    def __init__(self, view: WeaveGround) -> None:
        self.view = view
        self.held: str | None = None
        """The ids of the clips that are over the view, with spaces between."""

    def over(self, clip: str | None, at: QPointF) -> None:
        """A clip is dragged over the view; None when it has left."""
        self.held, self.view.at = clip, at
        self.view.update()

    def pinned(self) -> QRectF | None:
        """Where a clip that is held begins a new band, at the lower edge of what is seen: its own
        place is under the last band, and may be out of sight. None where it is not."""
        layout, seen = self.view.layout_now, QRectF(self.view.visibleRegion().boundingRect())
        if self.held is None or not layout.bands or layout.spare.bottom <= seen.bottom() + 1:
            return None
        return QRectF(seen.left(), seen.bottom() - layout.spare.height, seen.width(),
                      layout.spare.height)

    def begins_band(self, at: QPointF) -> bool:
        """Whether what is held over a point would begin a band of its own there."""
        place = self.pinned() or QRectF(*self.view.layout_now.spare)
        return self.held is not None and place.contains(at)

    def dropped(self, clip: str, at: QPointF) -> bool:
        """A clip is dropped: on a card it is what the state plays, in a band it becomes a state.
        Several, given with spaces between, become a state each, and are selected together.
        """
        ids = clip.split(" ")
        if len(ids) > 1:
            return self._several(ids, at)
        new = self.begins_band(at)
        self.held, self.view.at = None, at
        layout, puppet = self.view.layout_now, self.view.document.puppet
        card = layout.card_at(at.x(), at.y()) if not new else None
        found = puppet.clip(clip) or find(puppet.spreads, clip)
        band = self._band_at(at) if not new else None
        self.view.update()
        if found is None or not self.view.rect().contains(at.toPoint()):
            return False
        if card is not None:
            self.view.document.edit("choose clip",
                                    lambda now: edits.state_playing(now, card.state, clip))
            self.view.document.select("state", card.state)
        elif band is not None:
            self.add_state(found, band.group, layout.place_at(band, at.x(), at.y()))
        else:
            self.add_state(found, None, 0, new_band=True)
        return True

    def _band_at(self, at: QPointF) -> Band | None:
        """The band at a point; the seam of the whole layer holds no cards."""
        band = self.view.layout_now.band_at(at.x(), at.y())
        return None if band is not None and band.around else band

    def _several(self, clips: list[str], at: QPointF) -> bool:
        """Several at once: a state each, in one edit, all of them selected."""
        layout, new = self.view.layout_now, self.begins_band(at)
        self.held, self.view.at = None, at
        self.view.update()
        if not self.view.rect().contains(at.toPoint()):
            return False
        band = self._band_at(at) if not new else None
        place = layout.place_at(band, at.x(), at.y()) if band is not None else 0
        group = band.group if band is not None else None
        puppet, made = self.view.document.puppet, list[str]()
        if band is None:
            puppet, group = edits.group_added(puppet, self._new_band(puppet),
                                              layer=self.view.showing.layer)
        for number, id in enumerate(clips):
            found = puppet.clip(id) or find(puppet.spreads, id)
            if found is not None:
                puppet, state = edits.state_added(
                    puppet, _named(found), found.id, group, place + number, self.view.showing.layer)
                made.append(state)
        self.view.document.edit("add states", puppet)
        self.view.document.select("state", made[0])
        self.view.document.select_also(*made[1:])
        return True

    def _new_band(self, puppet: Puppet) -> str:
        """What a new band is called: the first is the ground, that of another layer is called like
        the layer."""
        if not puppet.groups:
            return "Ground"
        layer = self.view.showing.layer
        if any(group.layer == layer for group in puppet.groups):
            return "Band"
        return next((each.name.capitalize() for each in puppet.layers if each.id == layer), "Band")

    def add_state(
        self, clip: Clip | Spread, group: str | None, place: int | None, new_band: bool = False
    ) -> None:
        """A state that plays a clip or a spread, named like it."""
        puppet, layer = self.view.document.puppet, self.view.showing.layer
        if new_band:
            puppet, group = edits.group_added(puppet, self._new_band(puppet), layer=layer)
        puppet, id = edits.state_added(puppet, _named(clip), clip.id, group, place, layer)
        self.view.document.edit("add state", puppet)
        self.view.document.select("state", id)


def _named(clip: Clip | Spread) -> str:
    """What a state that plays a clip is called at first."""
    return clip.name.replace("_", " ").strip().capitalize() or clip.name
