"""Work that a desk left behind, offered at the next start; and a journal that cannot be written,
said so."""

from __future__ import annotations

from datetime import datetime
from functools import partial

from PyQt6.QtCore import QObject

from ..session.files.journal import JournalKeeper, LeftBehind, forget, left_behind
from ..widgets import theme
from ..widgets.parts import Part, Token, Word
from .notices import Notices

AT_ONCE, MORE = 3, "left more"
"""Works that are offered at a time, lest they fill the window; the notice of the rest."""


class Recovery(QObject):
    """Says what was left behind, and does with it what is picked. Nothing is taken up, or replaced,
    by itself."""

    def __init__(self, keeper: JournalKeeper, notices: Notices) -> None:
        super().__init__(keeper)
        self.keeper, self.notices = keeper, notices
        self._waiting: list[LeftBehind] = []
        keeper.failed.connect(self._say_failed)

    def offer(self) -> None:
        """Say what desks before have left behind."""
        self._waiting = left_behind(self.keeper.folder)
        self._tell_more(AT_ONCE)

    def _tell_more(self, count: int) -> None:
        """Say so many more of them, and how many wait."""
        now, self._waiting = self._waiting[:count], self._waiting[count:]
        for left in now:
            self.notices.tell(_name(left), self._parts(left))
        self.notices.drop(MORE)
        if self._waiting:
            self.notices.tell(MORE, [Word(f"{len(self._waiting)} more left behind"), Token(
                "show the next", theme.INDIGO, quiet=True, name="next left",
                action=partial(self._tell_more, 1))])

    def _settled(self, left: LeftBehind) -> None:
        """It is dealt with for now: the next takes its place."""
        self.notices.drop(_name(left))
        self._tell_more(1)

    def _parts(self, left: LeftBehind) -> list[Part]:
        journal, name = left.journal, left.journal.work.history.puppet.name
        count = len(journal.names)
        where = f" · {journal.work.path}" if journal.work.path is not None else " · not saved yet"
        return [
            Word("Left behind:"),
            Word(name, strong=True),
            Word(f"{journal.words} · after {_said(journal.since)}{where}"),
            Token(
                "recover it",
                theme.MOSS,
                name="go on",
                action=partial(self._take_up, left),
                tip=f"Open it with its {count} edit{'s' * (count != 1)}, which can be undone. Its "
                    "file stays as it is"
                " until you save",
            ),
            Token(
                "discard it",
                theme.MADDER,
                quiet=True,
                name="let go",
                action=partial(self._forget, left),
                tip="Delete these edits",
            ),
            Token(
                "later",
                theme.INDIGO,
                quiet=True,
                name="later",
                action=partial(self._settled, left),
                tip="It is offered again at the next start",
            ),
        ]

    def _take_up(self, left: LeftBehind) -> None:
        self.notices.drop(_name(left))
        if self.keeper.document.unsaved:
            # Two works do not fit into one window; what is here is kept as that was.
            self.notices.tell(_name(left), [
                Word("Save or undo what you did here first; then"), *self._parts(left)[1:]])
            return
        if not self.keeper.take_up(left):
            self.notices.tell(_name(left), [Word("Another window has recovered it already."), Token(
                "dismiss", theme.INDIGO, quiet=True, name="later",
                action=partial(self.notices.drop, _name(left)))])

    def _forget(self, left: LeftBehind) -> None:
        forget(left)
        self._settled(left)

    def _say_failed(self, problem: str) -> None:
        if problem:
            self.notices.tell(
                "journal",
                [
                    Word("Your unsaved work cannot be kept safe", color=theme.MADDER),
                    Word(
                        f"({problem.lower()}, {self.keeper.folder}): save it. It is tried again "
                        "every few seconds."
                    ),
                ],
            )
        else:
            self.notices.drop("journal")


def _name(left: LeftBehind) -> str:
    return f"left {left.path.name}"


def _said(seconds: float) -> str:
    """A time as people say it: the day too, where it is another."""
    try:
        at, now = datetime.fromtimestamp(seconds), datetime.now()
    except (OverflowError, ValueError, OSError):
        return "an unknown time"
    return at.strftime("%H:%M" if at.date() == now.date() else "%d %B, %H:%M")
