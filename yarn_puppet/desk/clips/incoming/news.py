"""What became of the frames of art that was redrawn: a strip that says it, and a list that
settles it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QScrollArea, QVBoxLayout, QWidget

from ....core.model.clips import Cell
from ....core.model.edits.following.recutting import cell_taken_in, home_of
from ....core.model.edits.frames.frames import frames_removed
from ....core.model.edits.spreads import offered_spreads, spread_added
from ....core.model.puppet import find
from ...pictures.art import Art
from ...session.art.art_news import Lost, SheetNews, frames_of
from ...session.art.sources import Sources
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Part, Token, Word
from ...widgets.sentence import Sentence
from ..clip_desk import ClipDesk
from .missing import missing_parts


def news_parts(
    document: Document,
    sources: Sources,
    find_file: Callable[[str], None],
    look: Callable[[str], None],
) -> list[Part]:
    """The strip over the clips: missing art, art redrawn, and clips that could be a spread."""
    missing = sources.missing
    parts = missing_parts(missing, find_file)
    # What is missing is missing, and nothing else is said of it.
    shown = [news for news in sources.news.values()
             if news.sheet not in {sheet.id for sheet in missing}]
    for news in shown[:2]:
        drawn = find(document.puppet.sheets, news.sheet)
        if drawn is None:
            continue
        parts += [Word(drawn.name, strong=True), Word(said_news(news))]
        if not news.problem:
            parts.append(Token("look…", theme.WELD, name=f"look {news.sheet}",
                               action=partial(look, news.sheet)))
        parts.append(Token("fine", theme.WOAD, quiet=True, name=f"fine {news.sheet}",
                           action=partial(sources.dismiss, news.sheet)))
    for name, clips in list(offered_spreads(document.puppet).items())[:2]:
        parts += [
            Word(f"{name} has {len(clips)} facings:"),
            Token("make them a spread", theme.WOAD, name=f"spread {name}",
                  tip="One state plays them, each for its facing",
                  action=partial(lambda name, clips: document.edit(
                      "make spread", lambda now: spread_added(now, name, clips)[0]), name, clips)),
        ]
    return parts


def said_news(news: SheetNews) -> str:
    """News in words: how many frames went where."""
    if news.problem:
        return f"cannot be read now: {news.problem}"
    counts = ((len(news.moved), "moved"), (len(news.redrawn), "redrawn"),
              (len(news.lost), "gone"), (len(news.fresh), "new"))
    shown = ", ".join(f"{count} {words}" for count, words in counts if count)
    return f"has changed: {shown or 'all as it was'}" + (
        f"; {news.kept} as they were" if news.kept else "")


def frame_numbers(frames: list[int]) -> str:
    """Frames as people count them: "frame 3", "frames 3 to 7 and 9"."""
    runs: list[list[int]] = []
    for number in sorted(frame + 1 for frame in frames):
        if runs and number == runs[-1][-1] + 1:
            runs[-1].append(number)
        else:
            runs.append([number])
    words = [str(run[0]) if len(run) == 1
             else f"{run[0]} {'and' if len(run) == 2 else 'to'} {run[-1]}" for run in runs]
    said = ", ".join(words[:-1]) + (" and " if len(words) > 1 else "") + words[-1]
    return f"frame{'s' * (len(frames) > 1)} {said}"


class NewsList(QDialog):
    """Each frame that is gone or new as a sentence, with what can be done about it. It stays while
    one works."""

    def __init__(
        self,
        sheet: str,
        document: Document,
        sources: Sources,
        desk: ClipDesk,
        art: Art,
        parent: QWidget | None,
    ):
        super().__init__(parent)
        self.sheet, self.document, self.sources, self.desk, self.art = (
            sheet,
            document,
            sources,
            desk,
            art,
        )
        self.setObjectName("news")
        theme.dressed(self)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        found = find(document.puppet.sheets, sheet)
        self.setWindowTitle(f"What changed in {found.name if found else sheet}")
        self.resize(560, 320)
        self.sentences: list[Sentence] = []
        self._rows = QVBoxLayout()
        self._rows.setSpacing(4)
        self._rows.addStretch(1)
        inside = QWidget()
        inside.setLayout(self._rows)
        scroll = QScrollArea()
        scroll.setWidget(inside)
        scroll.setWidgetResizable(True)
        QVBoxLayout(self).addWidget(scroll)
        sources.changed.connect(self.refresh)
        document.puppet_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show what is still to be settled, and what was found by itself."""
        news = self.sources.news.get(self.sheet)
        for sentence in self.sentences:
            sentence.hide()
            sentence.deleteLater()
        self.sentences = []
        rows: list[list[Part]] = self._rows_of(news) if news is not None else []
        nothing: list[list[Part]] = [[Word("Nothing is left to decide.")]]
        for number, parts in enumerate(rows or nothing):
            sentence = Sentence()
            sentence.show_parts(parts)
            self._rows.insertWidget(number, sentence)
            self.sentences.append(sentence)

    def _rows_of(self, news: SheetNews) -> list[list[Part]]:
        puppet = self.document.puppet
        rows: list[list[Part]] = [row for each in news.lost if (row := self._lost(each))]
        used = {frame.cell for clip in puppet.clips for frame in clip.frames}
        rows += [self._fresh(cell) for cell in news.fresh if cell not in used]
        for words, places in (("moved", news.moved),
                              ("redrawn, found by its place", news.redrawn)):
            by_clip: dict[str, list[int]] = {}
            for at in places:
                by_clip.setdefault(at.clip, []).append(at.frame)
            for id, frames in by_clip.items():
                clip = puppet.clip(id)
                if clip is not None:
                    rows.append([Word(clip.name, strong=True),
                                 Word(f"{frame_numbers(frames)}: {words}"),
                                 self._show(id, frames[0])])
        return rows

    def _show(self, clip: str, frame: int) -> Token:
        return Token("show", theme.INDIGO, quiet=True, name=f"show {clip} {frame}",
                     action=lambda: self.desk.show_clip(clip, frame))

    def _lost(self, lost: Lost) -> list[Part]:
        frames = frames_of(self.document.puppet, lost)
        clip = self.document.puppet.clip(lost.clip)
        if not frames or clip is None:
            return []
        return [
            Word(clip.name, strong=True), Word(f"frame {frames[0] + 1} is no longer in the sheet"),
            self._show(clip.id, frames[0]),
            Token("remove it", theme.MADDER, name=f"remove {clip.id} {frames[0]}",
                  tip="Its boxes, anchors and moments go to its neighbour",
                  action=lambda: self.document.edit(
                      "remove frames", lambda now: frames_removed(now, clip.id, frames))),
        ]

    def _fresh(self, cell: Cell) -> list[Part]:
        home = home_of(self.document.puppet, cell)
        clip = self.document.puppet.clip(home.clip) if home else None
        parts: list[Part] = [Word("new", strong=True), Word(f"at {cell.x}, {cell.y} of the sheet")]
        if home is not None and clip is not None:
            where = f"after frame {home.frame}" if home.frame else "as the first frame"
            parts.append(Token(f"take it into {clip.name} {where}", theme.WOAD,
                               name=f"take {cell.x} {cell.y}",
                               action=lambda: self.document.edit(
                                   "take frame in", lambda now: cell_taken_in(
                                   now, cell, self.art.mark(cell), home))))
        return parts
