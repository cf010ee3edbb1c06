"""The weave as it is seen: the graph at rest, and over it what stands out and what the run on show
is doing."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from math import ceil

from PyQt6.QtCore import QLineF, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPixmap

from ....core.engine.state import LayerReport
from ....core.model.clips import Clip
from ...pictures.art import Art
from ...session.document import Document
from ...session.run.player import Player
from ...session.snag_list import SnagList
from ...widgets import theme
from ...widgets.painting import painting
from ...widgets.stills import Stills
from ..placing.ends import Ends
from ..placing.layout import Band, Card, Layout
from ..placing.routing import between, neighbours
from ..placing.sizes import DOTS
from ..sentences.conditions import Terms
from ..showing import Index
from . import cards, threads
from .highlight import Focus, Highlight, Hints


class WeavePicture(Highlight):
    """Draws; it changes nothing."""

    def __init__(self, document: Document, player: Player, art: Art, snags: SnagList) -> None:
        super().__init__(document, player)
        self.art, self.snags = art, snags
        self._resting = QPixmap()
        self._key: tuple[object, ...] = ()
        self._kept: tuple[object, ...] = ()
        """Holds on to what the key tells apart by identity, so that no other value can take its
        place."""
        self._labels: tuple[object, dict[str, str]] = (None, {})
        self._terms = Terms(document.puppet)
        self._stills = Stills()
        self._frames: dict[str, tuple[Clip, int]] = {}
        self._colors: tuple[object, dict[str | None, QColor]] = (None, {})

    # Drawing --------------------------------------------------------------------------------------

    def draw(self, painter: QPainter, layout: Layout, hints: Hints) -> None:
        """What rests is kept as a picture; over it the threads that are grown, and the cards that
        play."""
        focus = self.focus(layout, hints)
        record = self.player.shown
        active = {layer.state: layer for layer in record.report.layers} if record else {}
        self._draw_resting(painter, layout, hints, focus, frozenset(active))
        self._draw_grown(painter, layout, hints, focus)
        for id, layer in active.items():
            if id in layout.cards:
                self._draw_card(painter, self.index, layout, layout.cards[id], layer,
                                self._color(id), id in hints.targets)
        self._draw_folded(painter, layout, active)
        for each in self.document.puppet.layers:
            start = layout.cards.get(each.start or "")
            if start is not None:
                cards.draw_pin(painter, layout.size, start)

    def _draw_resting(
        self, painter: QPainter, layout: Layout, hints: Hints, focus: Focus, active: frozenset[str]
    ) -> None:
        """Bands, tails and the cards that do not play, as far as they are seen: redrawn only
        when one is another."""
        device = painter.device()
        ratio = device.devicePixelRatioF() if device is not None else 1.0
        seen = hints.inside
        size = QSize(max(1, ceil(seen.width() * ratio)), max(1, ceil(seen.height() * ratio)))
        key = (id(layout), id(self.document.puppet), self.art.edition, self.document.selection,
               self.document.also,
               hints.over, hints.over_spare, hints.targets, hints.grown, active, focus.near,
               self.snags.snags,
               theme.edition(), seen.x(), seen.y(), size.width(), size.height())
        if key != self._key:
            self._key = key
            self._kept = (layout, self.document.puppet)
            self._resting = QPixmap(size)
            self._resting.setDevicePixelRatio(ratio)
            self._resting.fill(Qt.GlobalColor.transparent)
            with painting(self._resting) as still:
                still.setRenderHints(QPainter.RenderHint.Antialiasing
                                     | QPainter.RenderHint.SmoothPixmapTransform)
                still.translate(-seen.topLeft())
                self._rest(still, layout, hints, focus, active)
        painter.drawPixmap(seen.topLeft(), self._resting)

    def _rest(
        self,
        painter: QPainter,
        layout: Layout,
        hints: Hints,
        focus: Focus,
        active: frozenset[str],
        whole: bool = False,
    ) -> None:
        ends, index, seen, color_of = self.ends(layout), self.index, hints.inside, self._coloring()
        for band in sorted(layout.bands, key=lambda each: each.depth):
            if seen.intersects(QRectF(*band.box)):
                group = index.groups.get(band.group or "")
                chosen = self.document.selection == ("group", band.group)
                inside = sum(1 for state in self._inside(band)) if band.folded else 0
                cards.draw_band(painter, band, group, chosen, band is hints.over,
                                color_of(band.group), inside)
        if not whole:
            cards.draw_spare(painter, QRectF(*layout.spare), not layout.bands, hints.over_spare,
                             hints.spare_words)
        for thread in self.at_rest(layout, hints.grown, seen):
            threads.draw_thread(painter, thread, theme.tint(color_of(thread.target), 0.55), 1.1,
                                True)
        rgb_of = cache(lambda target: color_of(target).rgb())
        tails, dimmed = threads.new_tails(), threads.new_tails()
        rows = [row for row in layout.rows
                if row.bottom + 30 > seen.top() and row.top - 10 < seen.bottom()]
        for row in rows:
            for card, other in zip(row.cards, row.cards[1:], strict=False):
                self._draw_short(painter, layout, ends, card, other, focus)
            for card in row.cards:
                dim = focus.near is not None and card.state not in focus.near
                painter.setOpacity(0.38 if dim else 1.0)
                if card.state not in active:
                    self._draw_card(painter, index, layout, card, None, color_of(card.state),
                                    card.state in hints.targets, not whole)
                _gather(dimmed if dim else tails, ends.short(card.state), rgb_of)
        painter.setOpacity(0.38)
        threads.draw_tails(painter, dimmed)
        painter.setOpacity(1.0)
        for band in layout.bands:
            if band.group is not None and not band.folded and seen.intersects(QRectF(*band.box)):
                _gather(tails, ends.short(band.group), rgb_of)
        threads.draw_tails(painter, tails)

    def draw_whole(self, painter: QPainter, layout: Layout) -> None:
        """All of a layer at rest, every thread grown out: a picture to be kept."""
        hints = Hints(inside=QRectF(0, 0, layout.width, layout.height), grown="all")
        self._rest(painter, layout, hints, Focus(frozenset(), (), (), None), frozenset(),
                   whole=True)
        for layer in self.document.puppet.layers:
            start = layout.cards.get(layer.start or "")
            if start is not None:
                cards.draw_pin(painter, layout.size, start)

    def _draw_short(
        self, painter: QPainter, layout: Layout, ends: Ends, one: Card, other: Card, focus: Focus
    ) -> None:
        """The threads between two neighbours."""
        if not neighbours(layout, one, other):
            return
        painter.setOpacity(0.5 if focus.near is not None else 1.0)
        for source, target in ((one, other), (other, one)):
            if any(each.target == target.state for each in ends.of_source.get(source.state, ())):
                threads.draw_short(painter, between(source, target), theme.FAINT)
        painter.setOpacity(1.0)

    def _draw_grown(self, painter: QPainter, layout: Layout, hints: Hints, focus: Focus) -> None:
        kind, id = self.document.selection or ("", "")
        chosen = id if kind == "transition" else ""
        taken, close = self.just_taken(), self.one_short()
        for thread in focus.into:
            threads.draw_thread(painter, thread, theme.tint(theme.FAINT, 0.75), 1.1, True)
        # What a thread waits for should not lie over the cards that it joins.
        near = {each for thread in focus.threads for each in (thread.source, thread.target)}
        # The cards that play are drawn over the labels.
        near |= self.active_states()
        boxes = [QRectF(*layout.cards[id].box) for id in near if id in layout.cards]
        names = [area for band in layout.bands
                 if (area := cards.name_area(band,
                                             self.index.groups.get(band.group or ""))) is not None]
        labels: list[tuple[QRectF, str, QColor]] = []
        for thread in focus.threads:
            color = self._color(thread.target)
            is_chosen = thread.transition == chosen or hints.hover == (
                "transition",
                thread.transition,
            )
            if thread.transition in taken:
                color = theme.tint(theme.MADDER, 0.35 + 0.65 * taken[thread.transition], color)
            strong = is_chosen or thread.transition in taken
            if thread.transition in close and not strong:
                painter.setPen(theme.pen(theme.with_alpha(theme.WELD, 90), 6))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawPath(threads.thread_path(thread.points))
            threads.draw_thread(painter, thread, color, 2.3 if strong else 1.6, not strong)
            if focus.near is not None or strong:
                text = f"{thread.number} · {self.label(thread.transition)}"
                if thread.transition in close:
                    text += " · one term short"
                box, shown = threads.label_box(thread, text, hints.inside, boxes, names)
                labels.append((box, shown, color))
        for box, shown, color in labels:
            threads.draw_label(painter, box, shown, color)

    def _draw_card(
        self,
        painter: QPainter,
        index: Index,
        layout: Layout,
        card: Card,
        layer: LayerReport | None,
        color: QColor,
        target: bool,
        kept: bool = True,
    ) -> None:
        """A card; one at rest as it is kept, where it need not be lines and letters."""
        state = index.states.get(card.state)
        if state is None:
            return
        ids = index.clips_of(card.state)
        clip = (
            index.clips.get(layer.clip or "") if layer is not None and layer.clip in ids else None
        )
        playing = clip is not None
        clip = clip or (index.clips[ids[0]] if ids else None)
        selected = self.document.selection == ("state", state.id) or state.id in self.document.also
        frame = layer.frame if playing and layer else self._telling(clip)
        time = layer.clip_time * 1000 if playing and layer and clip and clip.motion else None
        look = cards.Look(color, frame, selected, layer is not None, target, time)
        if layer is None and kept:
            art, size = self.art, layout.size
            self._stills.draw(
                painter, state.id, QRectF(*card.box).adjusted(-3, -3, 3, 3),
                (state, clip, art.puppet.sheets), (look, size, art.edition, art.folder, art.lost),
                lambda still: cards.draw_card(still, size, card, state, clip, art, look))
        else:
            cards.draw_card(painter, layout.size, card, state, clip, self.art, look)
        if playing and layer and clip and clip.length:
            cards.draw_progress(painter, layout.size, card,
                                min(1.0, layer.clip_time * 1000 / clip.length))
        if any(snag.severity != "note" for snag in self.snags.of("state", state.id)):
            small = layout.size is DOTS
            theme.draw_snag(painter,
                            QPointF(card.box.right - (1 if small else 6),
                                    card.box.y + (1 if small else 5)),
                            small)

    def _draw_folded(
        self, painter: QPainter, layout: Layout, active: dict[str, LayerReport]
    ) -> None:
        """The active state of a folded band, in its line."""
        for band in layout.bands:
            if band.folded:
                here = next((self.index.states[id] for id in active
                             if id in self.index.states and self.index.outermost(id) == band.group),
                             None)
                if here is not None:
                    theme.draw_pill(painter, band.box.right - 160, band.box.y + band.box.height / 2,
                                    here.name,
                                    theme.MADDER, True, 18, 12, 150)

    def _inside(self, band: Band) -> list[str]:
        return [id for id in self.index.states if self.index.outermost(id) == band.group]

    def _telling(self, clip: Clip | None) -> int:
        """The frame that says most of a clip, worked out once for each."""
        if clip is None:
            return telling_frame(clip)
        known = self._frames.get(clip.id)
        if known is None or known[0] is not clip:
            known = self._frames[clip.id] = (clip, telling_frame(clip))
        return known[1]

    def _color(self, node: str | None) -> QColor:
        """The colour of the band that a state or group is in."""
        return self._coloring()(node)

    def _coloring(self) -> Callable[[str | None], QColor]:
        """The same for many, of the present puppet."""
        index, key = self.index, (self.index, theme.edition())
        if self._colors[0] != key:
            self._colors = (key, {})
        known = self._colors[1]

        def color(node: str | None) -> QColor:
            found = known.get(node)
            if found is None:
                group = index.groups.get(index.outermost(node or "") or "")
                found = known[node] = (
                    theme.THREADS[group.thread] if group is not None else theme.FAINT
                )
            return found

        return color

    def label(self, id: str) -> str:
        """What a transition waits for, in words."""
        index = self.index
        if self._labels[0] is not index:
            self._labels, self._terms = (index, {}), Terms(self.document.puppet)
        labels = self._labels[1]
        if id not in labels:
            transition = index.transitions.get(id)
            if transition is None:
                return ""
            words = [text for _, text, _ in self._terms.of(transition.when)]
            if transition.leave.kind == "in a window":
                words.append(f"{transition.leave.window} window")
            elif transition.leave.kind == "after":
                words.append(f"after {transition.leave.seconds:g} s")
            elif transition.leave.kind != "any time":
                words.append(transition.leave.kind)
            labels[id] = " + ".join(words) or "always"
        return labels[id]

    def one_short(self) -> frozenset[str]:
        """The exits of the active states in which one term of several is missing; none while time
        runs: nobody could read it."""
        conditions = None if self.player.playing else self.player.conditions
        return conditions.one_short() if conditions is not None else frozenset()


def _gather(
    into: threads.Tails, tails: list[tuple[str, float, float, float, float]],
    rgb_of: Callable[[str], int],
) -> None:
    for target, x, y, end_x, end_y in tails:
        into[rgb_of(target)].append(QLineF(x, y, end_x, end_y))


def telling_frame(clip: Clip | None) -> int:
    """The frame that says most of a clip at rest: the one its first hit opens on, or its middle
    one."""
    if clip is None or not clip.frames:
        return 0
    hit = next((window for window in clip.windows if window.kind == "hit"), None)
    if hit is not None:
        return min(len(clip.frames) - 1, clip.frame_at(hit.start) + 1)
    return len(clip.frames) - 1 if clip.mode == "hold last" else len(clip.frames) // 3
