"""The snags of the present puppet, worked out once edits pause."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ...core.snags.check import check
from ...core.snags.snag import Snag
from .document import Document


class SnagList(QObject):
    """Listens to the document; views ask it what is wrong with one thing or with all."""

    changed = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.snags: tuple[Snag, ...] = ()
        self._timer = QTimer(self, interval=120, singleShot=True)
        self._timer.timeout.connect(self.refresh)
        document.puppet_changed.connect(self._timer.start)

    def refresh(self) -> None:
        """Work the snags out now."""
        self.snags = check(self.document.puppet)
        self.changed.emit()

    def of(self, kind: str, id: str) -> tuple[Snag, ...]:
        """The snags found in one entry."""
        return tuple(snag for snag in self.snags if (snag.kind, snag.id) == (kind, id))
