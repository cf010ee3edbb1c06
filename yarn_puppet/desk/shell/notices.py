"""What the window has to say of its files, under the header: sentences that stay until they are
answered."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from ..widgets import theme
from ..widgets.painting import painting
from ..widgets.parts import Part
from ..widgets.sentence import Sentence


class Notices(QWidget):
    """One sentence for each thing that is to be said, in the order in which they came. Nothing of
    it covers work or waits for an answer."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("notices")
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(11, 8, 11, 0)
        self._layout.setSpacing(5)
        self._shown: dict[str, Sentence] = {}
        self.hide()

    def tell(self, name: str, parts: Sequence[Part]) -> None:
        """Say something, in the place of what was said under this name."""
        sentence = self._shown.get(name)
        if sentence is None:
            sentence = self._shown[name] = Sentence(background=False, around=5)
            sentence.setObjectName(f"notice {name}")
            self._layout.addWidget(sentence)
        sentence.show_parts(parts)
        self.show()
        self._fit()

    def drop(self, name: str) -> None:
        """It is answered, or is so no more."""
        sentence = self._shown.pop(name, None)
        if sentence is not None:
            sentence.hide()
            self._layout.removeWidget(sentence)
            sentence.deleteLater()
        self.setVisible(bool(self._shown))
        self._fit()

    def _fit(self) -> None:
        """As high as the sentences are at this width, and no higher: all below is work."""
        margins = self._layout.contentsMargins()
        wide = self.width() - margins.left() - margins.right()
        high = sum(each.height_for(wide) + self._layout.spacing() for each in self._shown.values())
        self.setFixedHeight(high + margins.top() + margins.bottom())

    def resizeEvent(self, event: object) -> None:
        self._fit()

    def paintEvent(self, event: object) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            for each in self._shown.values():
                theme.draw_card(painter, QRectF(each.geometry()).adjusted(1, 1, -1, -1), 8,
                                theme.PAPER, theme.WELD, 1.4)

    def sentence(self, name: str) -> Sentence | None:
        """What is said under a name."""
        return self._shown.get(name)

    @property
    def names(self) -> list[str]:
        """Of what something is said."""
        return list(self._shown)
