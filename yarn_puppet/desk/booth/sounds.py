"""Plays WAV files, where the machine has anything to play them on."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import QLoggingCategory, QUrl
from PyQt6.QtGui import QGuiApplication

MOST_KEPT = 32


class Sounds:
    """Sounds are loaded when they are first heard. Without a sound device, or Qt's part for it, all is quiet."""

    def __init__(self) -> None:
        self._effects: dict[Path, Any] = {}
        self._able: bool | None = None
        self.heard: list[Path] = []
        """The last files that were to be played, for who asks what was heard."""

    def play(self, path: Path) -> None:
        """Play a file from its start."""
        self.heard = [*self.heard[-MOST_KEPT:], path]
        if not path.is_file() or not self._can_play():
            return
        if path not in self._effects:
            from PyQt6.QtMultimedia import QSoundEffect

            if len(self._effects) >= MOST_KEPT:
                self._effects.pop(next(iter(self._effects)))
            effect = QSoundEffect()
            effect.setSource(QUrl.fromLocalFile(str(path)))
            self._effects[path] = effect
        self._effects[path].play()

    def _can_play(self) -> bool:
        if self._able is None:
            # The media library tells of every codec it does not find; nobody here needs one for a WAV.
            QLoggingCategory.setFilterRules("qt.multimedia.*=false")
            try:
                from PyQt6.QtMultimedia import QMediaDevices
            except ImportError:
                self._able = False
            else:
                # Nobody sits at a desk without a screen.
                seen = QGuiApplication.platformName() != "offscreen"
                self._able = seen and bool(QMediaDevices.audioOutputs())
        return self._able
