"""The weave as it is seen: the graph at rest, and over it what the run on show is doing."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPixmap

from ...core.engine.state import LayerReport
from ...core.model.clips import Clip
from ..pictures.art import Art
from ..session.document import Document
from ..session.player import Player
from ..session.snag_list import SnagList
from ..widgets import theme
from . import cards
from .conditions import term_texts
from .layout import Band, Card, Layout
from .routing import Thread

JUST_TAKEN = 36
"""For how many ticks a transition that was taken stays highlighted."""


@dataclass(frozen=True)
class Hints:
    """What the hands are about to do: the band or spare band dropped on, the thread and the cards pointed at."""

    over: Band | None
    over_spare: bool
    hover: str | None
    targets: frozenset[str]
    inside: QRectF


class WeavePicture:
    """Draws; it changes nothing."""

    def __init__(self, document: Document, player: Player, art: Art, snags: SnagList) -> None:
        self.document, self.player, self.art, self.snags = document, player, art, snags
        self._resting = QPixmap()
        self._key: tuple[object, ...] = ()
        self._kept: tuple[object, ...] = ()
        """Holds on to what the key tells apart by identity, so that no other value can take its place."""

    def draw(self, painter: QPainter, layout: Layout, threads: tuple[Thread, ...], hints: Hints) -> None:
        """What rests is kept as a picture; over it the active cards, and the threads that stand out."""
        selection = self.document.selection or ("", "")
        taken = self.just_taken()
        standing_out = {selection[1] if selection[0] == "transition" else None, hints.hover, *taken}
        record = self.player.shown
        active = {layer.state: layer for layer in record.report.layers} if record else {}
        self._draw_resting(painter, layout, threads, hints, frozenset(active), standing_out)
        for id, layer in active.items():
            if id in layout.cards:
                self._draw_card(painter, layout.cards[id], layer, id in hints.targets)
        for each in self.document.puppet.layers:
            start = layout.cards.get(each.start or "")
            if start is not None:
                cards.draw_pin(painter, start)
        for thread in threads:
            if thread.transition in standing_out:
                chosen, is_taken = ("transition", thread.transition) == selection, thread.transition in taken
                color = theme.MADDER if is_taken else theme.INDIGO if chosen else theme.INK
                strong = chosen or is_taken
                cards.draw_thread(painter, thread, color, 2.4 if strong else 1.8, not strong)
                cards.draw_label(painter, thread, self._label(thread.transition), color, hints.inside)

    def _draw_resting(
        self, painter: QPainter, layout: Layout, threads: tuple[Thread, ...], hints: Hints, active: frozenset[str],
        standing_out: set[str | None],
    ) -> None:
        """Bands, quiet threads and the cards that do not play: drawn anew only when one of them is another."""
        device = painter.device()
        ratio = device.devicePixelRatioF() if device is not None else 1.0
        size = QSize(ceil(layout.width * ratio), ceil(layout.height * ratio))
        key = (id(layout), id(self.document.puppet), self.art.edition, self.document.selection, hints.over,
               hints.over_spare, hints.targets, active, frozenset(standing_out), self.snags.snags, size.width(),
               size.height())
        if key != self._key:
            self._key = key
            self._kept = (layout, self.document.puppet)
            self._resting = QPixmap(size)
            self._resting.setDevicePixelRatio(ratio)
            self._resting.fill(Qt.GlobalColor.transparent)
            still = QPainter(self._resting)
            still.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
            self._rest(still, layout, threads, hints, active, standing_out)
            still.end()
        painter.drawPixmap(0, 0, self._resting)

    def _rest(
        self, painter: QPainter, layout: Layout, threads: tuple[Thread, ...], hints: Hints, active: frozenset[str],
        standing_out: set[str | None],
    ) -> None:
        puppet = self.document.puppet
        for band in layout.bands:
            chosen = self.document.selection == ("group", band.group)
            cards.draw_band(painter, band, puppet.group(band.group), chosen, band is hints.over)
        cards.draw_spare(painter, QRectF(*layout.spare), not layout.bands, hints.over_spare)
        for thread in threads:
            if thread.transition not in standing_out:
                cards.draw_thread(painter, thread, theme.FAINT, 1.4, True)
        for card in layout.cards.values():
            if card.state not in active:
                self._draw_card(painter, card, None, card.state in hints.targets)

    def _draw_card(self, painter: QPainter, card: Card, layer: LayerReport | None, target: bool) -> None:
        puppet = self.document.puppet
        state = puppet.state(card.state)
        if state is None:
            return
        clips = puppet.clips_of(state)
        clip = next((each for each in clips if layer is not None and each.id == layer.clip), None) or next(
            iter(clips), None)
        group = next(iter(puppet.groups_around(state)), None)
        color = theme.THREADS[group.thread] if group else theme.FAINT
        playing = layer is not None and clip is not None and layer.clip == clip.id
        frame = layer.frame if playing and layer else telling_frame(clip)
        selected = self.document.selection == ("state", state.id)
        cards.draw_card(painter, card, state, clip, self.art, color, frame, selected, layer is not None, target)
        if playing and layer and clip and clip.length:
            cards.draw_progress(painter, card, min(1.0, layer.clip_time * 1000 / clip.length))
        if self.snags.of("state", state.id):
            theme.draw_snag(painter, QPointF(card.box.right - 10, card.box.y + 10))

    def just_taken(self) -> frozenset[str]:
        """The transitions taken in the newest of the last ticks in which any was."""
        tick, records = self.player.tick, self.player.records
        for number in range(min(tick, len(records) - 1), max(-1, tick - JUST_TAKEN), -1):
            if records[number].report.taken:
                return frozenset(each.transition for each in records[number].report.taken)
        return frozenset()

    def _label(self, id: str) -> str:
        transition = self.document.puppet.transition(id)
        if transition is None:
            return ""
        words = [text for _, text, _ in term_texts(transition.when, self.document.puppet)]
        if transition.leave.kind == "in a window":
            words.append(f"{transition.leave.window} window")
        elif transition.leave.kind != "any time":
            words.append(transition.leave.kind)
        return " + ".join(words) or "always"


def telling_frame(clip: Clip | None) -> int:
    """The frame that says most of a clip at rest: the one its first hit opens on, or its middle one."""
    if clip is None or not clip.frames:
        return 0
    hit = next((window for window in clip.windows if window.kind == "hit"), None)
    if hit is not None:
        return min(len(clip.frames) - 1, clip.frame_at(hit.start) + 1)
    return len(clip.frames) - 1 if clip.mode == "hold last" else len(clip.frames) // 3
