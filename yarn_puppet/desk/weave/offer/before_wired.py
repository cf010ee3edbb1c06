"""What there is to know before what is offered is taken: a line a thing."""

from __future__ import annotations

from PyQt6.QtGui import QPainter

from ....core.model.puppet import find
from ...widgets import theme
from ...widgets.things import Thing
from ...widgets.view import DrawnView
from .offer import Offer

LINE = 22
WORDS = 132
"""Where the second column begins."""


class BeforeWired(DrawnView):
    """Counts in the first column, in the second what they mean."""

    def __init__(self, offer: Offer) -> None:
        super().__init__()
        self.offer = offer
        self.shown: list[tuple[str, str]] = []
        self.setAccessibleName("Before it is wired")
        offer.changed.connect(self.refresh)

    def refresh(self) -> None:
        """Say what is offered now."""
        if self.offer.open:
            self.shown = self.lines()
            self.setFixedHeight(LINE * len(self.shown) + 6)
            self.update()

    def lines(self) -> list[tuple[str, str]]:
        """What is said: a count, and what it means."""
        offer, made = self.offer, self.offer.wired
        clips, waiting, lines = offer.unused, list(made.waiting), list[tuple[str, str]]()
        if clips:
            nothing = [found.name for id in made.unplaced
                       if (found := find(offer.document.puppet.clips, id)) is not None]
            placed = len(clips) - len(nothing)
            lines.append((f"{placed} of {_counted(len(clips), 'clip')}",
                          "have a place" + (f"; no card waits for {_listed(nothing)}"
                                            if nothing else "")))
        guessed = [clip for clip in offer.preview.puppet.clips
                   if any(window.guess and window.kind == "hit" for window in clip.windows)]
        if guessed:
            lines.append((_counted(len(guessed), "hit window"),
                          "guessed where the drawing reaches out farthest, and marked as a guess "
                          "till it is touched"))
        if waiting:
            lines.append((_counted(len(waiting), "card") + " wait" + "s" * (len(waiting) == 1),
                          f"{_listed(waiting)}: a clip dropped on one fills it; till then it is "
                          "never entered"))
        takes = offer.takes
        promises = sum(len(take.promises) for take in takes.values())
        if promises:
            lines.append((_counted(promises, "promise"),
                          f"come along, with {_counted(len(takes), 'take')} that go through it"
                          if len(takes) > 1 else "come along, with a take that goes through it"))
        return lines

    def draw(self, painter: QPainter) -> None:
        for number, (count, words) in enumerate(self.shown):
            y = number * LINE + 17
            theme.draw_text(painter, 10, y, count, theme.font(13, strong=True), theme.INK, WORDS)
            theme.draw_text(painter, WORDS + 14, y, words, theme.font(13), theme.QUIET,
                            self.width() - WORDS - 20)

    def things(self) -> list[Thing]:
        return []


def _counted(count: int, word: str) -> str:
    return f"{count} {word}{'s' * (count != 1)}"


def _listed(names: list[str], most: int = 6) -> str:
    more = len(names) - most
    return ", ".join(names[:most]) + (f" and {more} more" if more > 0 else "")
