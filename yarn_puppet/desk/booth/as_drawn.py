"""Says in the booth that the mover's body is another than the drawn one, and takes it as drawn."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ...core.model.edits.movers import as_drawn, is_unlike_drawn, tile_for
from ...core.model.edits.worlds import tile_sized
from ..session.booths import Booths
from ..session.document import Document
from ..widgets import theme
from ..widgets.buttons import PillButton
from ..widgets.painting import painting

EDIT = "take the body as drawn"
LEFT, EDGE = 12, 10
BELOW = 46
"""What is kept free under it for the names of sounds and the switches, in pixels."""
AMBER = QColor("#F0C24B")


def take_as_drawn(document: Document, booths: Booths) -> None:
    """Take the mover as it is drawn. Where the booth's tiles are of another size than such a puppet
    wants, it is tried in a copy with tiles that are, and so are the takes of that booth; all of it
    in one edit."""
    puppet, world, file = as_drawn(document.puppet), booths.world, booths.file
    size = tile_for(puppet.mover)
    if max(size, world.tile_size) < 1.5 * min(size, world.tile_size):
        document.edit(EDIT, puppet)
        return
    made = replace(tile_sized(world, size), name=f"{world.name} {size}")
    copy = booths.new_file(made.name)
    takes = {name: replace(take, booth=copy) if take is not None and take.booth == file else take
             for name, take in document.history.takes.items()}
    document.edit_worlds(EDIT, {**document.history.worlds, copy: made},
                         puppet=replace(puppet, booth=copy), takes=takes)


class AsDrawn(QWidget):
    """Lies over the booth for as long as the two differ by more than half."""

    def __init__(self, document: Document, booths: Booths, parent: QWidget) -> None:
        super().__init__(parent)
        self.document = document
        self.setObjectName("as drawn")
        self.of = theme.font(12.5, strong=True)
        self.words = ""
        self.button = PillButton("as drawn", self, size=12.5)
        self.button.setCheckable(False)
        self.button.outlined = True
        self.button.setToolTip("The mover's body, hands and step as the drawn body; speeds that "
                               "nobody set, and the booth's tiles, grow with it")
        self.button.clicked.connect(lambda: take_as_drawn(document, booths))
        document.puppet_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Look whether they differ."""
        self.words = is_unlike_drawn(self.document.puppet)
        self.setVisible(bool(self.words))
        if self.words:
            self.setAccessibleName(self.words)
            self.lay()
            self.update()

    def lay(self) -> None:
        """Take the place under the feet, where it hides the ground and not the puppet: in one row
        where the booth is wide enough for it, and in two else."""
        parent = self.parentWidget()
        assert parent is not None
        size, words = self.button.sizeHint(), int(theme.text_width(self.words, self.of))
        in_a_row = words + size.width() + 3 * EDGE
        if in_a_row + 2 * LEFT <= parent.width():
            wide, high = in_a_row, size.height() + EDGE
            self.button.setGeometry(words + 2 * EDGE, EDGE // 2, size.width(), size.height())
        else:
            wide, high = max(words, size.width()) + 2 * EDGE, 26 + size.height() + EDGE // 2
            self.button.setGeometry(EDGE, 26, size.width(), size.height())
        self.setGeometry(LEFT, max(36, parent.height() - BELOW - high), wide, high)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(theme.pen(theme.DUSK, 1))
            painter.setBrush(theme.with_alpha(theme.NIGHT, 225))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 8, 8)
            one_row = self.button.x() > EDGE
            theme.draw_text(painter, EDGE, self.height() / 2 + 4.5 if one_row else 18, self.words,
                            self.of, AMBER)
