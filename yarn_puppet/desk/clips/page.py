"""The Clips page: the frame, all clips, and the lanes; and in place of the first two, a sheet being cut."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QGuiApplication, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QScrollArea,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ...core.formats.cutting import grid_size
from ...core.model.clips import Cell
from ...core.model.edits import clips as edits
from ...core.model.puppet import Puppet, find
from .. import theme
from ..art import Art
from ..dialogs import choose_file, complain
from ..document import Document
from ..player import Player
from ..settings import Settings
from ..widgets.buttons import PillButton
from ..widgets.panel import Panel
from ..widgets.sentence import Sentence
from .clip_desk import TOOLS, ClipDesk
from .cut_panel import CutPanel
from .frame_view import FrameView
from .lanes import Lanes
from .reader import PictureReader, Read
from .ribbons import Ribbons
from .sentences import anchor_tokens, clip_sentence, timing_sentence

PICTURES = "Pictures (*.png *.apng *.gif *.webp *.ora)"


class ClipsPage(QWidget):
    """Everything about art and timing."""

    def __init__(
        self, document: Document, player: Player, art: Art, settings: Settings, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.document, self.art, self.settings = document, art, settings
        self.desk = ClipDesk(document)
        self.frame_view = FrameView(document, self.desk, art)
        self.ribbons = Ribbons(document, self.desk, art)
        self.lanes = Lanes(document, self.desk, art)
        self.reader = PictureReader()
        self.reader.finished.connect(self._pictures_read)
        self.reader.progressed.connect(self.refresh)
        self.cutting = CutPanel(document, self.desk, art)
        self.cut, self.cut_sentence = self.cutting.cut, self.cutting.sentence
        self.clip_sentence, self.timing = Sentence(background=False), Sentence(background=False)
        self.anchor_sentence = Sentence(background=False)
        self.clip_sentence.fallback = self.anchor_sentence.fallback = self.frame_view
        self.timing.fallback = self.lanes
        self.setAcceptDrops(True)
        self._lay_out()
        self.desk.changed.connect(self.refresh)
        document.replaced.connect(self._replaced)
        self.cutting.finished.connect(self.finish_cutting)
        self.desk._puppet_changed()

    # Layout -----------------------------------------------------------------------------------------------------

    def _lay_out(self) -> None:
        frame = Panel(self.clip_sentence, self.frame_view, self._tools())
        frame.column.setStretchFactor(self.frame_view, 1)
        self.heading, self.source = QLabel(), QLabel()
        self.heading.setStyleSheet("font-size: 14.5px; font-weight: 700;")
        self.source.setStyleSheet(f"color: {theme.QUIET.name()};")
        self.bring_in, self.recut = PillButton("bring in…", size=13), PillButton("cut again…", size=13)
        for button in (self.bring_in, self.recut):
            button.setCheckable(False)
            button.outlined = True
        self.bring_in.clicked.connect(self.ask_pictures)
        self.frame_view.invited.connect(self.ask_pictures)
        self.recut.clicked.connect(self._cut_again)
        top = QWidget()
        row = QHBoxLayout(top)
        row.setContentsMargins(4, 0, 0, 0)
        row.addWidget(self.heading)
        row.addSpacing(6)
        row.addWidget(self.source, 1)
        row.addWidget(self.bring_in)
        row.addWidget(self.recut)
        scroll = QScrollArea()
        scroll.setWidget(self.ribbons)
        scroll.setWidgetResizable(True)
        scroll.setStyleSheet("QScrollArea, QScrollArea > QWidget > QWidget { background: transparent; }")
        clips = Panel(top, scroll)
        beside = QSplitter(Qt.Orientation.Horizontal)
        beside.addWidget(frame)
        beside.addWidget(clips)
        beside.setSizes([560, 690])
        beside.setHandleWidth(11)
        beside.setChildrenCollapsible(False)
        self.upper = QStackedWidget()
        self.upper.addWidget(beside)
        self.upper.addWidget(self.cutting)
        lower = Panel(self.timing, self.lanes)
        lower.column.setStretchFactor(self.lanes, 1)
        whole = QSplitter(Qt.Orientation.Vertical)
        whole.addWidget(self.upper)
        whole.addWidget(lower)
        whole.setSizes([470, 254])
        whole.setHandleWidth(11)
        whole.setChildrenCollapsible(False)
        whole.setStretchFactor(0, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(11, 11, 11, 11)
        column.addWidget(whole)

    def _tools(self) -> QWidget:
        row = QWidget()
        layout = QHBoxLayout(row)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        self.tools: dict[str, PillButton] = {}
        for name in TOOLS:
            self._tool(layout, name, f"Drag on the frame: {name}", lambda name=name: self.desk.set(tool=name))
        layout.addWidget(self.anchor_sentence, 1)
        self._tool(layout, "ghosts", "Show the frames before and after",
                   lambda: self.desk.set(ghosts=not self.desk.ghosts))
        self._tool(layout, "mirror", "See it as it faces the other way",
                   lambda: self.desk.set(mirrored=not self.desk.mirrored))
        self._tool(layout, "play", "Play the clip here (Space)", self.desk.toggle_playing)
        return row

    def _tool(self, layout: QHBoxLayout, name: str, tip: str, does: Callable[[], None]) -> None:
        button = PillButton(name, size=13, height=26)
        button.setToolTip(tip)
        button.outlined = True
        button.clicked.connect(lambda _: does())
        layout.addWidget(button)
        self.tools[name] = button

    def refresh(self) -> None:
        """Show the sentences, the tools and the heading."""
        desk, puppet = self.desk, self.document.puppet
        self.clip_sentence.show_parts(clip_sentence(self.document, desk))
        self.timing.show_parts(timing_sentence(self.document, desk))
        self.anchor_sentence.show_parts(anchor_tokens(self.document, desk))
        on = {desk.tool, *(["ghosts"] if desk.ghosts else []), *(["mirror"] if desk.mirrored else []),
              *(["play"] if desk.playing else [])}
        for name, button in self.tools.items():
            button.setChecked(name in on)
        count = len(puppet.clips)
        self.heading.setText(f"{count} clip{'s' * (count != 1)}")
        self.source.setText(self._sources(puppet))
        self.recut.setEnabled(bool(puppet.sheets))
        self.ribbons.update()

    def _sources(self, puppet: Puppet) -> str:
        if self.reader.total:
            return f"reading {self.reader.done + 1} of {self.reader.total} · Esc stops it"
        if not puppet.sheets:
            return "no art yet: bring in a picture, or drop one here"
        first = puppet.sheets[0]
        more = f" and {len(puppet.sheets) - 1} more" if len(puppet.sheets) > 1 else ""
        if first.grid is None:
            return f"from {first.name}{more}"
        image = self.art.sheet(first.id)
        size = grid_size(image.width(), image.height(), first.grid) if image else (0, 0)
        cells = f"{size[0]} × {size[1]} cells of {first.grid.cell_width}×{first.grid.cell_height}" if image else \
            "the picture is missing"
        return f"from {first.name}{more}, {cells}"

    def _replaced(self) -> None:
        self.upper.setCurrentIndex(0)
        self.desk.clip_id = None

    # Bringing in ------------------------------------------------------------------------------------------------

    def ask_pictures(self) -> None:
        """Choose pictures to bring in."""
        choose_file(self, "Bring in art", PICTURES, self.settings.folder, lambda path: None,
                    many=self.bring_in_pictures)

    def bring_in_pictures(self, paths: list[Path]) -> None:
        """Bring files and folders in; they are read in a thread, and the page stays live."""
        self.reader.read(paths)

    def _pictures_read(self, read: list[Read], wrong: list[str]) -> None:
        """Stills become sheets to cut, what moves a clip; what is wrong is said, and the rest still comes in."""
        puppet, last, last_clip = self.document.puppet, None, None
        for each in read:
            self.settings.folder = str(each.path.parent)
            known = next((sheet for sheet in puppet.sheets
                          if (self.document.folder / sheet.path).resolve() == each.path.resolve()), None)
            if known is not None:
                last, last_clip = known.id, None
                continue
            moves = len(each.images) > 1
            puppet, id = edits.sheet_added(puppet, self._stored(each.path), each.path.name, each.grid)
            self.art.know(self.document.folder / puppet.sheets[-1].path, each.images)
            if moves:
                cells = tuple(Cell(id, 0, 0, image.width(), image.height(), page)
                              for page, image in enumerate(each.images))
                puppet, last_clip = edits.clip_added(puppet, each.path.stem, cells)
                for index, duration in enumerate(each.durations):
                    puppet = edits.frame_changed(puppet, last_clip, index, duration=duration or 100.0)
            else:
                last, last_clip = id, None
        self.document.edit("bring in art", puppet)
        if last_clip is not None:
            self.desk.show_clip(last_clip)
        elif last is not None:
            self.cut_sheet(last)
        if wrong:
            complain(self.window(), "Not everything could be brought in", "\n".join(wrong))

    def _stored(self, path: Path) -> str:
        """Relative to the puppet's file where it has one; `save` makes it so where it has none yet."""
        folder = self.document.folder.resolve()
        path = path.resolve()
        if self.document.path is not None and path.is_relative_to(folder):
            return path.relative_to(folder).as_posix()
        return str(path)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event.key() == Qt.Key.Key_Escape and self.reader.total:
            self.reader.cancel()
        elif event.matches(QKeySequence.StandardKey.Paste):
            urls = QGuiApplication.clipboard().mimeData().urls()
            self.bring_in_pictures([Path(url.toLocalFile()) for url in urls if url.isLocalFile()])
        else:
            super().keyPressEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        paths = [Path(url.toLocalFile()) for url in event.mimeData().urls() if url.isLocalFile()]
        event.acceptProposedAction()
        self.bring_in_pictures(paths)

    def _cut_again(self) -> None:
        clip = self.desk.clip
        sheets = self.document.puppet.sheets
        wanted = clip.frames[0].cell.sheet if clip and clip.frames else sheets[-1].id
        self.cut_sheet(wanted if find(sheets, wanted) else sheets[-1].id)

    def cut_sheet(self, id: str) -> None:
        """Show a sheet to be cut into clips."""
        if self.cutting.show_sheet(id):
            self.upper.setCurrentIndex(1)
            self.cut.setFocus()

    def finish_cutting(self) -> None:
        """Back to the clips."""
        self.upper.setCurrentIndex(0)
        self.refresh()
        self.ribbons.setFocus()
