"""What to press, shown at the first start until something is pressed."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ..widgets import theme
from ..widgets.buttons import PillButton
from ..widgets.certain import sure
from ..widgets.painting import painting
from .booth_view import BoothView

LINES = ("A and D walk, Space jumps", "J swings, K guards", "Drag the trace to look back")
LINE, EDGE = 21, 12
LEFT, TOP = 12, 36
"""Where it lies in the booth, below the booth's name."""


class Greeting(QWidget):
    """Lies over the booth. `gone` tells that it was answered, by a press or by opening the demo."""

    gone = pyqtSignal()
    demo_wanted = pyqtSignal()

    def __init__(self, booth: BoothView) -> None:
        super().__init__(booth)
        self.setObjectName("greeting")
        self.setAccessibleName("; ".join(LINES))
        self.of = theme.font(14)
        self.demo = PillButton("the demo in full", self, size=13)
        self.demo.setCheckable(False)
        self.demo.outlined = True
        self.demo.clicked.connect(self._open_demo)
        wide = max(theme.text_width(line, self.of) for line in LINES)
        size = self.demo.sizeHint()
        self.demo.setGeometry(EDGE, EDGE + len(LINES) * LINE + 4, size.width(), size.height())
        self.setGeometry(LEFT, TOP, int(wide) + 2 * EDGE, self.demo.geometry().bottom() + EDGE)
        booth.played.connect(self._answered)
        self.show()

    def mousePressEvent(self, event: object) -> None:
        """A click on the lines is one on the booth: it takes the keys."""
        sure(self.parentWidget()).setFocus(Qt.FocusReason.MouseFocusReason)

    def _open_demo(self) -> None:
        self._answered()
        self.demo_wanted.emit()

    def _answered(self) -> None:
        if not self.isHidden():
            self.hide()
            self.gone.emit()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(theme.pen(theme.DUSK, 1))
            painter.setBrush(theme.with_alpha(theme.NIGHT, 225))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 8, 8)
            for number, line in enumerate(LINES):
                theme.draw_text(painter, EDGE, EDGE + number * LINE + 15, line, self.of,
                                theme.MOONLIGHT)
