"""Plays WAV, OGG and FLAC files, where the machine has anything to play them on."""

from __future__ import annotations

import os
import wave
from io import BytesIO
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import numpy as np
from PyQt6.QtCore import QLoggingCategory, QUrl
from PyQt6.QtGui import QGuiApplication

from ...core.formats.errors import open_regular

MOST_KEPT = 32
LARGEST = 64 << 20
"""Bytes of a sound: minutes of it. What is larger is not played."""


class Sounds:
    """Sounds are loaded when they are first heard. Without a sound device, or Qt's part for it, all
    is quiet."""

    def __init__(self) -> None:
        self._players: dict[tuple[Path, int, int], Any] = {}
        self._varied: TemporaryDirectory[str] | None = None
        self._able: bool | None = None
        self.heard: list[Path] = []
        """The last files that were to be played, for who asks what was heard."""
        self.how = (1.0, 1.0)
        """How loud and how high the last of them was."""

    def play(self, path: Path, volume: float = 1.0, pitch: float = 1.0) -> None:
        """Play a file from its start, that many times as loud and as high."""
        self.heard, self.how = [*self.heard[-MOST_KEPT:], path], (volume, pitch)
        if not _is_sound(path) or not self._can_play():
            return
        # What nobody could tell apart is made once.
        key = (path, round(volume * 20), round(pitch * 50))
        if key not in self._players:
            if len(self._players) >= MOST_KEPT:
                self._players.pop(next(iter(self._players)))
            # WAV plays without delay from memory; what is packed is unpacked as it plays.
            self._players[key] = (
                plain_player(self._wave(path, *key[1:])) if path.suffix.lower() == ".wav"
                else packed_player(path, volume, pitch)
            )
        player = self._players[key]
        player.stop()
        player.play()

    def _wave(self, path: Path, volume: int, pitch: int) -> Path:
        """A WAV file that is louder by twentieths and higher by fiftieths; itself where it is
        neither, or cannot be read."""
        if (volume, pitch) == (20, 50):
            return path
        try:
            made = varied(path.read_bytes(), volume / 20, pitch / 50)
        except (OSError, EOFError, wave.Error):
            return path
        if self._varied is None:
            self._varied = TemporaryDirectory(prefix="yarn-puppet-sounds-")
        file = Path(self._varied.name) / f"{len(list(Path(self._varied.name).iterdir()))}.wav"
        file.write_bytes(made)
        return file

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


def _is_sound(path: Path) -> bool:
    """Whether there is a file, no pipe and no device, and none too large."""
    try:
        with open_regular(path) as file:
            return os.fstat(file.fileno()).st_size <= LARGEST
    except OSError:
        return False


def plain_player(path: Path) -> Any:
    """A player of a WAV file."""
    from PyQt6.QtMultimedia import QSoundEffect

    effect = QSoundEffect()
    effect.setSource(QUrl.fromLocalFile(str(path)))
    return effect


def varied(raw: bytes, volume: float, pitch: float) -> bytes:
    """A WAV file that many times as loud and as high: played as much faster. Raises wave.Error
    where it is none."""
    with wave.open(BytesIO(raw), "rb") as file:
        facts, samples = file.getparams(), file.readframes(file.getnframes())
    if facts.sampwidth == 2:
        loud = np.frombuffer(samples, dtype="<i2").astype(np.float64) * volume
        samples = np.clip(np.rint(loud), -32768, 32767).astype("<i2").tobytes()
    made = BytesIO()
    with wave.open(made, "wb") as file:
        file.setparams(facts)
        file.setframerate(max(1, round(facts.framerate * pitch)))
        file.writeframes(samples)
    return made.getvalue()


def packed_player(path: Path, volume: float = 1.0, pitch: float = 1.0) -> Any:
    """A player of an OGG or FLAC file."""
    from PyQt6.QtMultimedia import QAudioOutput, QMediaPlayer

    player = QMediaPlayer()
    output = QAudioOutput(player)
    player.setAudioOutput(output)
    output.setVolume(min(1.0, volume))
    player.setPlaybackRate(pitch)
    player.setSource(QUrl.fromLocalFile(str(path)))
    return player
