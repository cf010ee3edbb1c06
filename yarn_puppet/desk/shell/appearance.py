"""By day or by night: chosen by hand, or as the system has it."""

from __future__ import annotations

from typing import Literal

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication

from ..session.settings import Settings
from ..widgets import theme
from ..widgets.certain import sure

Choice = Literal["system", "day", "night"]
WORDS: dict[Choice, str] = {"day": "By day", "night": "By night", "system": "As the system has it"}


class Appearance(QObject):
    """Wears what the settings ask for, and follows the system where they leave it to that."""

    changed = pyqtSignal()

    def __init__(self, settings: Settings) -> None:
        super().__init__()
        self.settings = settings
        hints = sure(QGuiApplication.styleHints())
        hints.colorSchemeChanged.connect(self.put_on)
        self.put_on()

    def choose(self, choice: Choice) -> None:
        """Choose by hand, or leave it to the system."""
        self.settings.appearance = choice
        self.put_on()

    def put_on(self) -> None:
        """Wear what is asked for."""
        wanted = self.settings.appearance
        if wanted == "system":
            dark = sure(QGuiApplication.styleHints()).colorScheme() == Qt.ColorScheme.Dark
            wanted = "night" if dark else "day"
        if wanted != theme.worn():
            application = QApplication.instance()
            assert isinstance(application, QApplication)
            theme.wear(application, wanted)
            self.changed.emit()
