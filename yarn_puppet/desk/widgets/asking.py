"""What the desk says and asks in a dialog of its own: one way for all of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from html import escape
from typing import NamedTuple

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMessageBox, QPushButton, QWidget

from . import theme


class Answer(NamedTuple):
    """A button: what stands on it, what it does, and whether it lets go of something. An answer
    that does nothing is also given by Esc."""

    words: str
    does: Callable[[], object] | None = None
    lets_go: bool = False


def ask(
    parent: QWidget | None, name: str, title: str, what: str, more: str, answers: Sequence[Answer]
) -> QMessageBox:
    """Ask without blocking; Enter gives the last answer that does something and lets nothing go.

    `what` and `more` are plain text: names in them are anybody's. `name` is by what the dialog is
    found.
    """
    box = theme.dressed(QMessageBox(QMessageBox.Icon.NoIcon, title, f"<b>{escape(what)}</b>",
                                    parent=parent))
    box.setObjectName(name)
    box.setTextFormat(Qt.TextFormat.RichText)
    box.setInformativeText(escape(more, quote=False).replace("\n", "<br>"))
    buttons = {}
    for answer in answers:
        role = QMessageBox.ButtonRole.DestructiveRole if answer.lets_go else (
            QMessageBox.ButtonRole.AcceptRole if answer.does is not None or len(answers) == 1
            else QMessageBox.ButtonRole.RejectRole)
        button = box.addButton(answer.words, role)
        buttons[button] = answer
        if answer.does is not None and not answer.lets_go:
            box.setDefaultButton(button)

    def answered() -> None:
        clicked = box.clickedButton()
        answer = buttons.get(clicked) if isinstance(clicked, QPushButton) else None
        if answer is not None and answer.does is not None:
            answer.does()

    box.finished.connect(answered)
    box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    box.open()
    return box


def complain(parent: QWidget | None, title: str, what: str) -> None:
    """Say what is wrong, where, and what was expected."""
    ask(parent, "complaint", title, title, what, [Answer("OK")])
