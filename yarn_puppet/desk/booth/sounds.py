"""Plays WAV, OGG and FLAC files, where the machine has anything to play them on."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import QLoggingCategory, QUrl
from PyQt6.QtGui import QGuiApplication

MOST_KEPT = 32


class Sounds:
    """Sounds are loaded when they are first heard. Without a sound device, or Qt's part for it, all
    is quiet."""

    def __init__(self) -> None:
        self._players: dict[Path, Any] = {}
        self._able: bool | None = None
        self.heard: list[Path] = []
        """The last files that were to be played, for who asks what was heard."""

    def play(self, path: Path) -> None:
        """Play a file from its start."""
        self.heard = [*self.heard[-MOST_KEPT:], path]
        if not path.is_file() or not self._can_play():
            return
        if path not in self._players:
            if len(self._players) >= MOST_KEPT:
                self._players.pop(next(iter(self._players)))
            # WAV plays without delay from memory; what is packed is unpacked as it plays.
            self._players[path] = (
                plain_player(path) if path.suffix.lower() == ".wav" else packed_player(path)
            )
        player = self._players[path]
        player.stop()
        player.play()

    def _can_play(self) -> bool:
        if self._able is None:
            # The media library tells of every codec it does not find; nobody here needs one beyond
            # these.
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


def plain_player(path: Path) -> Any:
    """A player of a WAV file."""
    from PyQt6.QtMultimedia import QSoundEffect

    effect = QSoundEffect()
    effect.setSource(QUrl.fromLocalFile(str(path)))
    return effect


def packed_player(path: Path) -> Any:
    """A player of an OGG or FLAC file."""
    from PyQt6.QtMultimedia import QAudioOutput, QMediaPlayer

    player = QMediaPlayer()
    output = QAudioOutput(player)
    player.setAudioOutput(output)
    player.setSource(QUrl.fromLocalFile(str(path)))
    return player
