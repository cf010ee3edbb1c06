"""All pads: plugged in or simulated, read a few times a frame, told by name."""

from __future__ import annotations

from typing import Protocol

from PyQt6.QtCore import QObject, pyqtSignal

from ..widgets.timers import timer
from .device import Device, pads_there
from .names import Decoder, Event

OFTEN_MS, LOOK_MS = 8, 3000
"""How often pads are read, and how often it is looked whether one was plugged in."""


class Pad(Protocol):
    """A pad that can be read."""

    decoder: Decoder

    def read(self) -> list[Event]:
        """The events since last time. Raises OSError when it is gone."""

    def close(self) -> None:
        """Let go of it."""


class Pads(QObject):
    """Tells of every button and stick. Without a pad it only looks for one now and then."""

    button = pyqtSignal(str, bool)
    """"pad:south" is down, or up."""
    stick = pyqtSignal(str, float)
    """"pad:left x" is at -1 to 1."""
    changed = pyqtSignal()
    """A pad was plugged in or pulled out."""

    def __init__(self) -> None:
        super().__init__()
        self.pads: dict[str, Pad] = {}
        self._reading = timer(self, OFTEN_MS)
        self._reading.timeout.connect(self.read)
        self._looking = timer(self, LOOK_MS)
        self._looking.timeout.connect(self.look)
        self._looking.start()
        self.look()

    def look(self) -> None:
        """Take on pads that were plugged in."""
        for path in pads_there():
            if str(path) not in self.pads:
                try:
                    self.add(str(path), Device(path))
                except OSError:
                    continue

    def add(self, name: str, pad: Pad) -> None:
        """Read this pad too."""
        self.pads[name] = pad
        self._reading.start()
        self.changed.emit()

    def read(self) -> None:
        """Tell of what every pad did since last time."""
        for name, pad in list(self.pads.items()):
            try:
                events = pad.read()
            except OSError:
                self._lost(name, pad)
                continue
            for event in events:
                for pressed in pad.decoder.events_of(event):
                    if pressed.is_stick:
                        self.stick.emit(pressed.name, pressed.value)
                    else:
                        self.button.emit(pressed.name, bool(pressed.value))

    def _lost(self, name: str, pad: Pad) -> None:
        """A pad was pulled out: what was down on it is let go."""
        del self.pads[name]
        pad.close()
        for each in sorted(pad.decoder.down):
            self.button.emit(f"pad:{each}", False)
        if not self.pads:
            self._reading.stop()
        self.changed.emit()

    def close(self) -> None:
        """Let go of all of them."""
        for name, pad in list(self.pads.items()):
            del self.pads[name]
            pad.close()
