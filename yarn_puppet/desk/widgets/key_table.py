"""The keys of a view as a table: what each does, in words, and doing it. Help shows what stands
here, and nothing else makes them work."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

from PyQt6.QtCore import QKeyCombination, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence

SIGNS = {"Left": "←", "Right": "→", "Up": "↑", "Down": "↓", "Return": "Enter", "Del": "Delete"}
"""Names of keys as they are said, where Qt's own say less."""
SAME = {"Enter": "Return", "Backspace": "Del"}
"""Keys that do what another does, wherever a table names that one."""


class KeyLine(NamedTuple):
    """Keys that belong together, what they do, and doing it with the name of the one that was
    pressed.

    Names are Qt's portable ones: "Left", "Shift+Left", "Ctrl+A". Where `when` does not hold they do
    nothing here.
    """

    keys: tuple[str, ...]
    words: str
    does: Callable[[str], object]
    when: Callable[[], bool] = lambda: True


def said(keys: Sequence[str]) -> tuple[str, ...]:
    """Names of keys as they are shown: what several are held with stands once."""
    held = {key.rpartition("+")[0] for key in keys}
    if len(keys) > 2 and len(held) == 1 and (with_it := held.pop()):
        return (f"{with_it} and", *said([key.rpartition("+")[2] for key in keys]))
    return tuple("+".join(SIGNS.get(part, part) for part in _parts(key)) for key in keys)


def _parts(name: str) -> list[str]:
    """The parts of a name, of which the last may be the plus sign."""
    return [*name[:-1].split("+")[:-1], "+"] if name.endswith("+") else name.split("+")


def name_of(event: QKeyEvent) -> str:
    """What a press is called."""
    modifiers = event.modifiers() & ~(Qt.KeyboardModifier.KeypadModifier
                                      | Qt.KeyboardModifier.GroupSwitchModifier)
    key = Qt.Key(event.key())
    if Qt.Key.Key_Exclam <= key <= Qt.Key.Key_AsciiTilde and not (
            Qt.Key.Key_0 <= key <= Qt.Key.Key_9 or Qt.Key.Key_A <= key <= Qt.Key.Key_Z):
        # Whether a sign is reached with Shift is the keyboard's own.
        modifiers &= ~Qt.KeyboardModifier.ShiftModifier
    return QKeySequence(QKeyCombination(modifiers, key)).toString(
        QKeySequence.SequenceFormat.PortableText)


def press(lines: Sequence[KeyLine], event: QKeyEvent) -> bool:
    """Do what a press means; False where it means nothing here."""
    name = name_of(event)
    head, plus, last = name.rpartition("+")
    same = f"{head}{plus}{SAME[last]}" if last in SAME else name
    for line in lines:
        if (name in line.keys or same in line.keys) and line.when():
            line.does(name if name in line.keys else same)
            return True
    return False


def stepped(items: Sequence[str], current: str | None, key: str) -> str:
    """The item before or after the current one, as "Up" and "Left" or the others say; the first
    where none is current. There is at least one."""
    if current not in items:
        return items[0]
    by = -1 if key.rpartition("+")[2] in ("Up", "Left") else 1
    return items[max(0, min(len(items) - 1, items.index(current) + by))]
