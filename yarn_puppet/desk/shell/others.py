"""Files that another program changed, and what is to become of them: said under the header, in
place."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from ..session.files.own_files import OwnFiles, Theirs
from ..widgets import theme
from ..widgets.asking import complain
from ..widgets.parts import Part, Token, Word
from .notices import Notices

FEW = 3
"""Differences that are told in the notice itself."""
MANY = 60


class Others(QObject):
    """Says what happened to the files, and does what is picked."""

    def __init__(self, window: QWidget, files: OwnFiles, notices: Notices) -> None:
        super().__init__(window)
        self.window, self.files, self.notices = window, files, notices
        self.write: Callable[[], object] = lambda: None
        """Saves the puppet."""
        files.changed.connect(self.say)
        files.settled.connect(lambda path: notices.drop(_name(path)))
        files.shared.connect(self._say_shared)

    def say(self, theirs: Theirs, then: Callable[[], object] | None = None) -> None:
        """Tell of a file. `then` is what was about to be done with it, and is once ours are
        kept."""
        path, parts = theirs.path, list[Part]()
        very_well = Token("dismiss", theme.INDIGO, quiet=True, name="dismiss",
                          action=partial(self.notices.drop, _name(path)))
        parts.append(Word(path.name, strong=True))
        if theirs.problem:
            parts += [Word(f"{theirs.problem}. What you have here is kept"), Token(
                "write it again", theme.MOSS, name="keep ours",
                action=partial(self._keep, theirs, then or self.write)),
                very_well]
        elif theirs.taken:
            parts += [
                Word(f"was changed by another program, and is shown as it is now{_few(theirs)}"),
                very_well,
            ]
        else:
            parts += [
                Word("was changed by another program, and you have changed it too"),
                Token("take theirs", theme.WOAD, name="take theirs",
                      action=partial(self.files.take_theirs, theirs),
                      tip="An undo brings yours back"),
                Token("keep ours", theme.MOSS, name="keep ours",
                      action=partial(self._keep, theirs, then),
                      tip="The next save overwrites that file"),
                Token("see what differs", theme.INDIGO, quiet=True, name="see what differs",
                      action=partial(self._see, theirs)),
            ]
        self.notices.tell(_name(path), parts)

    def _keep(self, theirs: Theirs, then: Callable[[], object] | None) -> None:
        self.files.keep_ours(theirs.path)
        if then is not None:
            then()

    def _see(self, theirs: Theirs) -> None:
        lines = theirs.differences
        more = f"\nand {len(lines) - MANY} more" if len(lines) > MANY else ""
        complain(self.window, f"From theirs to yours, in {theirs.path.name}",
                 "\n".join(lines[:MANY]) + more)

    def _say_shared(self, path: Path) -> None:
        self.notices.tell(_name(path), [
            Word(path.name, strong=True),
            Word("is open in another window too. What is saved there is said here"),
            Token("dismiss", theme.INDIGO, quiet=True, name="dismiss",
                  action=partial(self.notices.drop, _name(path)))])


def _name(path: Path) -> str:
    return f"file {path}"


def _few(theirs: Theirs) -> str:
    if theirs.ours is None:
        return ": it is new"
    lines = theirs.differences
    more = f" and {len(lines) - FEW} more" if len(lines) > FEW else ""
    return f": {', '.join(_turned(line) for line in lines[:FEW])}{more}" if lines else ""


def _turned(words: str) -> str:
    return words if len(words) < 60 else f"{words[:57]}…"
