"""A simulated pad: it gives the events that a real one would, to the same code."""

from __future__ import annotations

from .names import ABSOLUTE, BUTTONS, HATS, KEY, STICKS, TRIGGERS, Decoder, Event

REACH = 32767
PULL = 255


class SimulatedPad:
    """Buttons pressed, sticks pushed and triggers pulled by name; `read` gives the events since
    last time."""

    def __init__(self) -> None:
        ranges = dict.fromkeys(STICKS, (-REACH, REACH)) | dict.fromkeys(TRIGGERS, (0, PULL))
        self.decoder = Decoder(ranges | dict.fromkeys(HATS, (-1, 1)))
        self._waiting: list[Event] = []

    def press(self, name: str, down: bool = True) -> None:
        """A button goes down, or up. Raises KeyError for one that no pad has."""
        codes = {each: code for code, each in BUTTONS.items()}
        self._waiting.append(Event(KEY, codes[name], int(down)))

    def push(self, name: str, value: float) -> None:
        """A stick is pushed, -1 to 1. Raises KeyError."""
        codes = {each: code for code, each in STICKS.items()}
        self._waiting.append(Event(ABSOLUTE, codes[name], round(value * REACH)))

    def pull(self, name: str, value: float) -> None:
        """A trigger is pulled, 0 to 1. Raises KeyError."""
        codes = {each: code for code, each in TRIGGERS.items()}
        self._waiting.append(Event(ABSOLUTE, codes[name], round(value * PULL)))

    def read(self) -> list[Event]:
        """The events since last time."""
        events, self._waiting = self._waiting, []
        return events

    def close(self) -> None:
        """There is nothing to let go of."""
