"""What is new in a view, said once, where it is."""

from __future__ import annotations

from ..session.settings import Settings
from ..widgets import theme
from ..widgets.parts import Token, Word
from .notices import Notices

NEWS: dict[str, tuple[int, str]] = {
    "Clips": (
        1,
        "New here: pictures are read beside the desk, and Esc stops one in the middle. Files are "
        "chosen with "
        "their picture beside them.",
    ),
    "Weave": (1, "New: F1 shows the keys of the page you are on."),
    "Wiring": (
        1,
        "New here: long lists come a few rows at a time, so that nothing waits for them.",
    ),
}
"""By page the number of what was added last, and what it is. The next has the next number."""


class News:
    """Says of a page what was not said yet. Who is new to all of it is told nothing."""

    def __init__(self, notices: Notices, settings: Settings, first_time: bool) -> None:
        self.notices, self.settings = notices, settings
        if first_time:
            settings.news = {page: number for page, (number, _) in NEWS.items()}

    def shown(self, page: str) -> None:
        """A page is shown."""
        number, words = NEWS.get(page, (0, ""))
        for other in NEWS:
            if other != page:
                self.notices.drop(f"news {other}")
        if number > self.settings.news.get(page, 0):
            self.settings.news[page] = number
            name = f"news {page}"
            self.notices.tell(name, [Word(words), Token(
                "dismiss", theme.INDIGO, quiet=True, name="dismiss",
                action=lambda: self.notices.drop(name))])
