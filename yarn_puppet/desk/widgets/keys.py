"""Keys and mouse buttons by the names a puppet's actions use: "key:J", "mouse:left"."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence

BUTTONS = {
    Qt.MouseButton.LeftButton: "mouse:left",
    Qt.MouseButton.RightButton: "mouse:right",
    Qt.MouseButton.MiddleButton: "mouse:middle",
}
MODIFIERS = {
    Qt.Key.Key_Shift: "Shift", Qt.Key.Key_Control: "Ctrl", Qt.Key.Key_Alt: "Alt",
    Qt.Key.Key_Meta: "Meta",
}
ARROWS = {"Left": "←", "Right": "→", "Up": "↑", "Down": "↓"}


def key_name(key: int) -> str:
    """A Qt key as an action's key."""
    known = (
        MODIFIERS.get(Qt.Key(key)) if key in {modifier.value for modifier in MODIFIERS} else None
    )
    return f"key:{known or QKeySequence(key).toString(QKeySequence.SequenceFormat.PortableText)}"


def said_key(name: str) -> str:
    """An action's key as it is shown: "J", "←", "left button", "pad south"."""
    kind, _, rest = name.partition(":")
    if kind == "pad":
        return f"pad {rest}"
    return f"{rest} button" if kind == "mouse" else ARROWS.get(rest, rest)
