"""The strip over the weave: the layers with their states and weights live, what is shown and how,
and finding."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QSizePolicy, QWidget

from ...core.model.edits import layers as edits
from ...core.model.graph import Layer
from ...core.pose.bones.camera import Camera
from ...core.pose.bones.sampling import rest_pose
from ...core.pose.bones.world_pose import in_world
from ..pictures.bones import Bones
from ..pictures.limbs import draw_limbs
from ..session.document import Document
from ..session.run.player import Player
from ..widgets import theme
from ..widgets.buttons import PillButton
from ..widgets.painting import painting
from ..widgets.parts import Field, Suggestion
from ..widgets.popup import TokenPopup
from ..widgets.view import distance
from .finding import found
from .showing import GROWN, KINDS, Showing

HEIGHT = 26
STATE_ROOM = 48
FIGURE = 17
"""How wide the figure of a layer of bones is."""


class LayerPill(QAbstractButton):
    """A layer: its name, its active state, and how much of it is shown. A drag out of it pulls a
    transition from anywhere in the layer."""

    pulled = pyqtSignal(QPoint)
    """It is dragged, over this point of the screen."""
    let_go = pyqtSignal(QPoint)

    def __init__(
        self, layer: Layer, showing: Showing, player: Player, bones: Bones,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.bones = bones
        self.layer, self.showing, self.player = layer, showing, player
        self.setObjectName(f"layer {layer.name}")
        self.setAccessibleName(f"layer {layer.name}")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setToolTip("Show this layer. Drag from here onto a card: a transition from anywhere")
        self.clicked.connect(lambda: showing.show_layer(layer.id))
        self._pressed_at: QPointF | None = None
        self._pulling = False

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._pressed_at, self._pulling = event.position(), False
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._pressed_at is None or (
                not self._pulling and distance(event, self._pressed_at) <= 6):
            super().mouseMoveEvent(event)
            return
        if not self._pulling:
            self._pulling = True
            self.showing.show_layer(self.layer.id)
            self.showing.show_kind("cards")
        self.pulled.emit(event.globalPosition().toPoint())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        pulling, self._pressed_at, self._pulling = self._pulling, None, False
        if pulling:
            self.setDown(False)
            self.let_go.emit(event.globalPosition().toPoint())
        else:
            super().mouseReleaseEvent(event)

    @property
    def now(self) -> tuple[str, float]:
        """The name of its active state, and its weight."""
        record = self.player.shown
        for layer in record.report.layers if record else ():
            if layer.layer == self.layer.id:
                state = self.showing.document.puppet.state(layer.state)
                return state.name if state else layer.state, layer.weight
        return "—", 0.0

    @property
    def has_bar(self) -> bool:
        """Whether its weight is shown: what everything else is drawn on is always there."""
        layers = self.showing.document.puppet.layers
        return bool(layers) and self.layer.id != layers[0].id

    def minimumSizeHint(self) -> QSize:
        return QSize(int(theme.text_width(self.layer.name, theme.font(13, strong=True))) + 26,
                     HEIGHT)

    def sizeHint(self) -> QSize:
        wide = theme.text_width(self.layer.name, theme.font(13, strong=True))
        bar = 28 if self.has_bar else 0
        figure = FIGURE if self.has_figure else 0
        return QSize(int(wide) + STATE_ROOM + 28 + bar + figure, HEIGHT)

    @property
    def has_figure(self) -> bool:
        """Whether the bones that it rules are shown: where they are not all."""
        return self.bones.poses is not None and bool(self.layer.mask or self.layer.weights)

    def paintEvent(self, event: object) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            rect = QRectF(self.rect()).adjusted(1, 3, -1, -3)
            on, (state, weight) = self.showing.layer == self.layer.id, self.now
            painter.setPen(theme.pen(theme.INDIGO if self.hasFocus() else theme.INK
                                     if on else theme.SEAM,
                                     1.8 if self.hasFocus() else 1.2))
            painter.setBrush(theme.INK if on else theme.PAPER)
            painter.drawRoundedRect(rect, rect.height() / 2, rect.height() / 2)
            ink, quiet = (theme.PAPER, theme.SEAM) if on else (theme.INK, theme.QUIET)
            left = rect.x() + 10
            if self.has_figure:
                self._draw_figure(painter, QRectF(rect.x() + 5, rect.y() + 1, FIGURE,
                                                  rect.height() - 2), on)
                left += FIGURE
            x = theme.draw_text(painter, left, rect.center().y() + 4.5, self.layer.name,
                                theme.font(13, strong=True), ink)
            bar = self.has_bar and rect.right() - x > 44
            room = rect.right() - x - 16 - (26 if bar else 0)
            if room > 16:
                theme.draw_text(painter, x + 8, rect.center().y() + 4.5, state, theme.font(12),
                                quiet, room)
            if bar:
                whole = QRectF(rect.right() - 32, rect.center().y() - 1.5, 22, 3.5)
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(theme.with_alpha(theme.SEAM, 200))
                painter.drawRoundedRect(whole, 1.7, 1.7)
                painter.setBrush(theme.CLAY)
                painter.drawRoundedRect(QRectF(
                    whole.x(), whole.y(), whole.width() * weight, whole.height()), 1.7, 1.7)


    def _draw_figure(self, painter: QPainter, rect: QRectF, on: bool) -> None:
        """The figure, small, with the bones that the layer rules in its colour, as strongly as it
        does."""
        poses, limbs = self.bones.poses, self.bones.limbs
        if poses is None or limbs is None:
            return
        weights = poses.mask(self.layer)
        ground = theme.SEAM if not on else theme.QUIET

        def worn(number: int, color: QColor) -> QColor:
            weight = float(weights[int(limbs.bones[number])])
            return theme.tint(theme.PLUM, round(weight, 2), ground)

        scale = rect.height() / (self.bones.height * 1.04)
        # From the front: an arm that hangs beside the body is seen there.
        camera = Camera((0.0, 0.0, 0.0), 270.0, 0.0, 0.0, scale, rect.center().x(),
                        rect.bottom())
        draw_limbs(painter, limbs, in_world(poses.skeleton, rest_pose(poses.skeleton)), camera,
                   tint=worn)


class WeaveStrip(QWidget):
    """Lays the pills out: layers at the left, what is shown at the right."""

    layer_chosen = pyqtSignal(str)
    layer_pulled = pyqtSignal(str, QPoint, QPoint)
    """The id of a layer whose pill is dragged, and on the screen from where and over what."""
    layer_let_go = pyqtSignal(QPoint)
    node_found = pyqtSignal(str, str)

    def __init__(
        self, document: Document, player: Player, showing: Showing, bones: Bones,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.document, self.player, self.showing = document, player, showing
        self.bones = bones
        bones.arrived.connect(self._bones_arrived)
        self.setFixedHeight(HEIGHT)
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(4, 0, 4, 0)
        self.row.setSpacing(5)
        self.layers: list[LayerPill] = []
        self.kinds = {kind: self._pill(kind, partial(showing.show_kind, kind))
                      for kind in KINDS}
        self.grown = self._pill("tails", self._grow_on)
        self.grown.setToolTip(
            "How far threads are grown out: tails · near, within their band · all."
            " Click for the next"
        )
        self.fit = self._pill("fit", showing.fit)
        self.fit.setToolTip(
            "As large as all of it can be seen (0); + and − or the wheel with Ctrl change it"
        )
        self.finder = self._pill("find…", self.open_find)
        self.finder.setToolTip("Find a state, a transition by what it reads, or a clip (Ctrl+F)")
        self.more = self._pill("+", self._add_layer)
        self.more.setAccessibleName("add layer")
        self.more.setToolTip("A layer: a graph of its own, drawn over this one")
        self.popup: TokenPopup | None = None
        self._fill()
        document.puppet_changed.connect(self.refresh)
        showing.changed.connect(self.refresh)
        player.moved.connect(self._live)
        self.refresh()

    def _pill(self, text: str, does: Callable[[], None]) -> PillButton:
        pill = PillButton(text, self, 12.5, 22)
        pill.outlined = True
        pill.clicked.connect(does)
        pill.clicked.connect(self.refresh)
        return pill

    def _fill(self) -> None:
        while self.row.count():
            self.row.takeAt(0)
        for pill in self.layers:
            self.row.addWidget(pill)
        self.row.addWidget(self.more)
        self.row.addStretch(1)
        for choice in (self.grown, self.fit):
            self.row.addWidget(choice)
        self.row.addSpacing(8)
        for choice in self.kinds.values():
            self.row.addWidget(choice)
        self.row.addWidget(self.finder)

    def refresh(self) -> None:
        """Show the layers there are, and what is chosen."""
        layers = self.document.puppet.layers
        if [pill.layer for pill in self.layers] != list(layers):
            for pill in self.layers:
                pill.hide()
                pill.deleteLater()
            self.layers = [LayerPill(layer, self.showing, self.player, self.bones, self)
                           for layer in layers]
            for pill in self.layers:
                pill.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)
                pill.clicked.connect(lambda _=False, id=pill.layer.id: self.layer_chosen.emit(id))
                pill.pulled.connect(partial(self._pulled, pill))
                pill.let_go.connect(self.layer_let_go.emit)
            self._fill()
        for kind, choice in self.kinds.items():
            choice.setChecked(kind == self.showing.kind)
        self.grown.setText(self.showing.grown)
        self.grown.setChecked(False)
        self.grown.setVisible(self.showing.kind == "cards")
        self.fit.setVisible(self.showing.kind == "cards" and self.showing.size is not None)
        self.fit.setChecked(False)
        self.finder.setChecked(False)
        self.more.setChecked(False)
        self._live()

    def _bones_arrived(self) -> None:
        for pill in self.layers:
            pill.updateGeometry()
            pill.update()

    def _live(self) -> None:
        for pill in self.layers:
            pill.update()

    def _pulled(self, pill: LayerPill, at: QPoint) -> None:
        start = pill.mapToGlobal(pill.rect().center())
        self.layer_pulled.emit(pill.layer.id, start, at)

    def _grow_on(self) -> None:
        self.showing.grow(GROWN[(GROWN.index(self.showing.grown) + 1) % len(GROWN)])

    def _add_layer(self) -> None:
        puppet, id = edits.layer_added(self.document.puppet, "layer")
        self.document.edit("add layer", puppet)
        self.showing.show_layer(id)
        self.layer_chosen.emit(id)

    # Finding --------------------------------------------------------------------------------------

    def open_find(self) -> None:
        """A line to type in; Enter goes to what is found."""
        entries = found(self.document.puppet)
        field = Field(
            "", self._go, tuple(Suggestion(label, f"{kind} {id}", remark)
                                for kind, id, label, remark in entries),
            free=False, hint="a state, band, clip, or what a transition reads",
        )
        self.popup = TokenPopup(self.window(), field, theme.INK)
        self.popup.open_at(self.finder)

    def _go(self, value: str) -> None:
        kind, _, id = value.partition(" ")
        self.node_found.emit(kind, id)
