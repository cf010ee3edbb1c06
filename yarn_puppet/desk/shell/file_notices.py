"""What stands under the header about the puppet's file: that it is being read, that it is larger
than the desk is quick with, that files which it names are missing."""

from __future__ import annotations

from pathlib import Path

from ...core.formats.file_names import said
from ..session.document import Document
from ..session.largest import larger_than_quick
from ..widgets import theme
from ..widgets.parts import Token, Word
from .notices import Notices

MOST_NAMED = 3
"""Missing files that are named; of more, how many there are."""


class FileNotices:
    """Says these of the document, in the window's notices."""

    def __init__(self, document: Document, notices: Notices) -> None:
        self._document, self._notices = document, notices

    def say_missing(self, files: list[str]) -> None:
        """A puppet that was saved names files that are not there: never in silence."""
        self._notices.drop("lost")
        if files:
            few = ", ".join(files[:MOST_NAMED])
            more = f" and {len(files) - MOST_NAMED} more" if len(files) > MOST_NAMED else ""
            self._notices.tell("lost", [
                Word("Saved, but these files are missing:"), Word(few + more, strong=True),
                Word(f"(looked for in {self._document.folder})"), self._dismiss("lost")])

    def say_opening(self, path: Path | None) -> None:
        """A large file is being read; None once it was."""
        self._notices.drop("opening")
        if path is not None:
            self._notices.tell("opening", [Word(f"Opening {said(path.name)}…")])

    def say_size(self) -> None:
        """A puppet that is larger than what all is quick with is said to be so."""
        self._notices.drop("size")
        larger = larger_than_quick(self._document.puppet)
        if larger:
            self._notices.tell("size", [
                Word(f"This puppet has {larger}: more than the desk is quick with. All works, some "
                     "of it slowly."), self._dismiss("size")])

    def _dismiss(self, name: str) -> Token:
        return Token("dismiss", theme.INDIGO, quiet=True, name="dismiss",
                     action=lambda: self._notices.drop(name))
