"""Pad buttons and sticks by the names that a puppet's actions and axes use: "pad:south", "pad:left
x".

The codes are those of the Linux input subsystem (linux/input-event-codes.h), which name a pad's
buttons by where they are.
"""

from __future__ import annotations

from typing import NamedTuple

KEY, ABSOLUTE = 0x01, 0x03
"""Types of an input event."""

BUTTONS = {
    0x130: "south", 0x131: "east", 0x133: "north", 0x134: "west", 0x136: "left shoulder",
    0x137: "right shoulder",
    0x138: "left trigger", 0x139: "right trigger", 0x13A: "select", 0x13B: "start", 0x13C: "mode",
    0x13D: "left stick",
    0x13E: "right stick", 0x220: "up", 0x221: "down", 0x222: "left", 0x223: "right",
}
STICKS = {0x00: "left x", 0x01: "left y", 0x03: "right x", 0x04: "right y"}
TRIGGERS = {0x02: "left trigger", 0x05: "right trigger"}
HATS = {0x10: ("left", "right"), 0x11: ("up", "down")}
PULLED = 0.5
"""How far a trigger is pulled when it counts as down."""


class Event(NamedTuple):
    """One event of a device: its type, code and value, as the kernel gives them."""

    type: int
    code: int
    value: int


class PadEvent(NamedTuple):
    """What an event means: a button ("pad:south") down or up, or a stick ("pad:left x") at -1 to
    1."""

    name: str
    value: float
    is_stick: bool


class Decoder:
    """Turns a device's events into names. `ranges` gives the least and greatest value of each
    absolute code."""

    def __init__(self, ranges: dict[int, tuple[int, int]]) -> None:
        self.ranges = ranges
        self.down: set[str] = set()

    def events_of(self, event: Event) -> list[PadEvent]:
        """What an event means; nothing for one that no pad has."""
        if event.type == KEY and event.code in BUTTONS:
            return self._button(BUTTONS[event.code], event.value != 0)
        if event.type != ABSOLUTE:
            return []
        low, high = self.ranges.get(event.code, (-32768, 32767))
        share = (event.value - low) / (high - low) if high > low else 0.5
        if event.code in STICKS:
            return [PadEvent(f"pad:{STICKS[event.code]}", max(-1.0, min(1.0, share * 2 - 1)), True)]
        if event.code in TRIGGERS:
            return self._button(TRIGGERS[event.code], share >= PULLED)
        if event.code in HATS:
            less, more = HATS[event.code]
            return [*self._button(less, event.value < 0), *self._button(more, event.value > 0)]
        return []

    def _button(self, name: str, down: bool) -> list[PadEvent]:
        if (name in self.down) == down:
            return []
        (self.down.add if down else self.down.discard)(name)
        return [PadEvent(f"pad:{name}", float(down), False)]
