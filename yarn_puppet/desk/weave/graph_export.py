"""The graph as one picture, for reviews and documents: bands, cards, threads, and what these wait
for."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QRectF, QSize
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtSvg import QSvgGenerator

from ...core.formats.errors import FileProblem
from ...core.formats.replacing import write_safely
from ...core.model.graph import Layer
from ..pictures.art import Art
from ..session.document import Document
from ..session.run.player import Player
from ..session.snag_list import SnagList
from ..widgets import theme
from ..widgets.painting import painting
from .drawing.picture import WeavePicture
from .placing.layout import Layout, lay_out
from .placing.sizes import CARDS

WIDTH = 1400.0
EDGE, HEADING, LINE = 28.0, 56.0, 21.0
COLUMNS = 2
WAITS = 240.0
"""How far behind its name a transition's condition stands."""
SHARP = 2
"""Pixels of a PNG to one of the picture."""
SUFFIXES = (".svg", ".png")


class GraphExport:
    """All layers of a puppet, one under the other."""

    def __init__(self, file: Path) -> None:
        """Raises FileProblem."""
        self.document, self.art = Document(), Art()
        self.document.open(file)
        self.player = Player(self.document.puppet, None, None)
        self.art.show(self.document.puppet, self.document.folder)
        self.art.read_now()
        self.picture = WeavePicture(self.document, self.player, self.art,
                                    SnagList(self.document, self.player))
        puppet = self.document.puppet
        lived_in = {state.layer for state in puppet.states}
        self.layers = [layer for layer in puppet.layers if layer.id in lived_in]
        self.layouts = [lay_out(puppet, WIDTH - 2 * EDGE, float("inf"), CARDS, layer.id)
                        for layer in self.layers]
        self.legends = [self._legend(layer) for layer in self.layers]

    @property
    def size(self) -> QSize:
        """Of the whole, in its own pixels."""
        height = sum(HEADING + layout.height + LINE * (2 + -(-len(legend) // COLUMNS))
                     for layout, legend in zip(self.layouts, self.legends, strict=True))
        return QSize(int(WIDTH), int(height + EDGE + HEADING))

    def _legend(self, layer: Layer) -> list[tuple[str, str]]:
        """Each transition: where it leads, and what it waits for, as the cards' numbers count
        them."""
        puppet, found = self.document.puppet, []
        for node in puppet.nodes:
            if node.layer == layer.id:
                for number, each in enumerate(puppet.transitions_of(node.id), start=1):
                    target = puppet.node(each.target)
                    found.append(
                        (
                            f"{node.name}  {number} → {target.name if target else each.target}",
                            self.picture.label(each.id),
                        )
                    )
        return found

    def draw(self, painter: QPainter) -> None:
        """Draw all of it."""
        painter.setRenderHints(QPainter.RenderHint.Antialiasing
                               | QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(QRectF(0, 0, self.size.width(), self.size.height()), theme.LINEN)
        theme.draw_text(painter, EDGE, 40, self.document.puppet.name, theme.font(24, bold=True))
        top = HEADING
        for layer, layout, legend in zip(self.layers, self.layouts, self.legends, strict=True):
            theme.draw_text(painter, EDGE, top + 32, f"layer {layer.name}",
                            theme.font(16, bold=True), theme.QUIET)
            top += HEADING
            self._draw_layer(painter, layout, top)
            top += layout.height + LINE
            for index, (words, waits) in enumerate(legend):
                column, row = divmod(index, -(-len(legend) // COLUMNS))
                x, y = EDGE + column * (WIDTH - 2 * EDGE) / COLUMNS, top + (row + 1) * LINE
                # At fixed places: who looks at the picture may not have our typeface.
                theme.draw_text(painter, x, y, words, theme.font(13, strong=True), width=WAITS - 10)
                theme.draw_text(painter, x + WAITS, y, waits, theme.font(13), theme.QUIET,
                                0.8 * ((WIDTH - 2 * EDGE) / COLUMNS - WAITS))
            top += LINE * (1 + -(-len(legend) // COLUMNS))

    def _draw_layer(self, painter: QPainter, layout: Layout, top: float) -> None:
        painter.save()
        painter.translate(EDGE, top)
        self.picture.draw_whole(painter, layout)
        painter.restore()


def save_graph(file: Path, out: Path) -> None:
    """Save the graph of a puppet's file as SVG or PNG, by the name's ending. Raises FileProblem."""
    if out.suffix.lower() not in SUFFIXES:
        raise FileProblem(out, "", f"expected a name that ends in {' or '.join(SUFFIXES)}")
    whole = GraphExport(file)
    content = QByteArray()
    buffer = QBuffer(content)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    if out.suffix.lower() == ".svg":
        generator = QSvgGenerator()
        generator.setOutputDevice(buffer)
        generator.setSize(whole.size)
        generator.setViewBox(QRectF(0, 0, whole.size.width(), whole.size.height()))
        generator.setResolution(96)
        generator.setTitle(whole.document.puppet.name)
        generator.setDescription(
            "The graph of a puppet: its states in their groups, and the transitions between them"
        )
        with painting(generator) as painter:
            whole.draw(painter)
    else:
        image = QImage(whole.size * SHARP, QImage.Format.Format_ARGB32_Premultiplied)
        image.setDevicePixelRatio(SHARP)
        with painting(image) as painter:
            whole.draw(painter)
        image.save(buffer, "PNG")
    write_safely(out, content.data())
