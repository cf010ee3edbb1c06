"""The Clips page: the frame, all clips, and the lanes; and in place of the first two, a sheet being
cut."""

from __future__ import annotations

from collections.abc import Callable, Collection
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QGuiApplication, QKeyEvent
from PyQt6.QtWidgets import (
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ...core.model.clips import Grid
from ...core.model.edits import clips as edits
from ...core.model.puppet import find
from ..booth.sounds import Sounds
from ..pictures.art import Art
from ..pictures.preview import PicturePreview
from ..session.art.sources import Sources
from ..session.document import Document
from ..session.settings import Settings
from ..session.snag_list import SnagList
from ..widgets import theme
from ..widgets.asking import complain
from ..widgets.buttons import PillButton
from ..widgets.caption import Caption
from ..widgets.certain import sure
from ..widgets.dialogs import choose_file
from ..widgets.key_table import KeyLine, press
from ..widgets.panel import Panel, row_of, scrolling, splitter_of
from ..widgets.parts import Part, Token, choice_field
from ..widgets.sentence import Sentence
from ..widgets.timers import timer
from .clip_desk import TOOLS, ClipDesk
from .cutting.panel import CutPanel
from .frame.editing import HandledFrame
from .frame.measuring import Measures
from .frame.tool_sentence import tool_sentence
from .frame.view_sentence import play_tokens, view_sentence
from .heading import ClipsHeading
from .incoming.bringing_in import BONE_FILES, PICTURES, BringingIn
from .incoming.came_in import CameIn
from .incoming.news import NewsList, news_parts
from .incoming.skin_art import SkinArt
from .lanes.editing import HandledLanes
from .lanes.event_sentence import counts_words, event_sentence
from .pose.acts import act_on_motion
from .pose.box_sentence import standing_sentence
from .pose.editing import HandledPose
from .pose.file_sentence import bone_file_parts
from .pose.news import bone_news
from .pose.pairs import PairsDialog
from .pose.sentences import bone_sentence, pose_view_tokens, seam_sentence
from .ribbons.clip_acts import act_on_clips
from .ribbons.clip_sentence import clip_sentence
from .ribbons.editing import HandledRibbons
from .ribbons.renaming import RenameDialog
from .ribbons.saving import Saving
from .skin_sentence import skin_parts

BONE_SENTENCE = 58
"""How high the sentence of a bone is at the least: two lines, as it mostly has."""


class ClipsPage(QWidget):
    """Everything about art and timing."""

    def __init__(
        self,
        document: Document,
        art: Art,
        settings: Settings,
        sources: Sources,
        sounds: Sounds,
        snags: SnagList,
        skin_art: SkinArt,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.document, self.art, self.settings, self.sources, self.sounds = (
            document,
            art,
            settings,
            sources,
            sounds,
        )
        self.desk = ClipDesk(document, self)
        self.measures = Measures(art)
        self._to_cut = ""
        """The sheet that is to be cut once its picture is there."""
        self.frame_view = HandledFrame(document, self.desk, art, self.measures)
        self.pose_view = HandledPose(document, self.desk, art)
        self.ribbons = HandledRibbons(document, self.desk, art, snags)
        self.lanes = HandledLanes(document, self.desk, art)
        self.cutting = CutPanel(document, self.desk, art)
        self.cut, self.cut_sentence = self.cutting.cut, self.cutting.sentence
        self.bringing = BringingIn(document, art, settings, self)
        self.came_in = CameIn(document, art, self)
        self.skin_art = skin_art
        self.bringing.for_skin = skin_art
        self.pose_view.attaching.not_a_prop.connect(self.bringing.paste)
        self.saving = Saving(document, art, settings, self)
        self.clip_sentence, self.timing = Sentence(background=False), Sentence(background=False)
        self.tool_sentence, self.view_sentence = Sentence(background=False), Sentence(
            background=False)
        self.play_sentence = Sentence(background=False)
        self.news_sentence, self.heading = Sentence(), ClipsHeading(art)
        for sentence in (self.clip_sentence, self.tool_sentence, self.view_sentence,
                         self.play_sentence):
            sentence.fallback = self.frame_view
        self.timing.fallback = self.lanes
        self.news_sentence.fallback = self.heading.more.fallback = self.ribbons
        self.setAcceptDrops(True)
        self._lay_out()
        self._connect()
        self.desk._puppet_changed()

    # Layout ---------------------------------------------------------------------------------------

    def _lay_out(self) -> None:
        self.shown = QStackedWidget()
        self.shown.addWidget(self.frame_view)
        self.shown.addWidget(self.pose_view)
        frame = Panel(self.clip_sentence, self.shown, self._tools(), self.tool_sentence,
                      self.view_sentence)
        frame.column.setStretchFactor(self.shown, 1)
        frame.column.setSpacing(4)
        self.scroller = scrolling(self.ribbons)
        clips = Panel(self.heading, self.news_sentence, self.scroller)
        clips.column.setStretchFactor(self.scroller, 1)
        beside = splitter_of(Qt.Orientation.Horizontal, frame, clips)
        beside.setSizes([560, 690])
        self.upper = QStackedWidget()
        self.upper.addWidget(beside)
        self.upper.addWidget(self.cutting)
        self.counts = Caption(font=theme.font(13, strong=True))
        self.counts.setFixedHeight(30)
        top = row_of(self.timing, self.counts)
        sure(top.layout()).setAlignment(self.counts, Qt.AlignmentFlag.AlignTop)
        self.below = lower = Panel(top, self.lanes)
        lower.column.setStretchFactor(self.lanes, 1)
        # A sheet being cut wants all the room there is, and its cells have no lanes yet.
        self.upper.currentChanged.connect(lambda place: lower.setVisible(place == 0))
        whole = splitter_of(Qt.Orientation.Vertical, self.upper, lower)
        whole.setSizes([470, 264])
        whole.setStretchFactor(0, 1)
        self.splitters = {"clips beside": beside, "clips above": whole}
        for name, splitter in self.splitters.items():
            if name in self.settings.splits:
                splitter.setSizes(self.settings.splits[name])
            splitter.splitterMoved.connect(
                lambda *_, name=name, splitter=splitter: self.settings.splits.update(
                    {name: splitter.sizes()}
                )
            )
        column = QVBoxLayout(self)
        column.setContentsMargins(11, 11, 11, 11)
        column.addWidget(whole)

    def _tools(self) -> QWidget:
        self.tools: dict[str, PillButton] = {}
        for name in TOOLS:
            button = self.tools[name] = PillButton(name, size=12.5, height=24)
            button.setToolTip(f"Drag on the frame: {name}")
            button.outlined = True
            button.clicked.connect(lambda _, name=name: self.desk.set(tool=name, box=None))
        return row_of(*self.tools.values(), self.play_sentence, stretch=len(self.tools), spacing=3)

    def _connect(self) -> None:
        self.desk.changed.connect(self.refresh)
        self.pose_view.bones.meshes.changed.connect(self.refresh)
        # Read, not played: a few times a second are enough for the sentences while a clip runs.
        self._glance = timer(self, 200, once=True)
        self._glance.timeout.connect(self.refresh)
        self.desk.moved.connect(self._glance_soon)
        self.document.replaced.connect(self._replaced)
        self.cutting.left.connect(self.bringing.cut_no_more)
        self.cutting.finished.connect(self.finish_cutting)
        self.cutting.refit.connect(self.sources.fit_to_cut)
        self.heading.bring_in.clicked.connect(self.bringing.ask_pictures)
        self.frame_view.invited.connect(self.bringing.ask_pictures)
        self.pose_view.invited.connect(self.bringing.ask_pictures)
        self.heading.recut.clicked.connect(self._cut_again)
        self.heading.search.textChanged.connect(lambda text: self.desk.set(search=text))
        self.ribbons.shown_row.connect(self._show_row)
        self.bringing.progressed.connect(self.refresh)
        self.saving.progressed.connect(self.refresh)
        self.measures.measured.connect(self._measured)
        self.bringing.clip_made.connect(self.desk.show_clip)
        self.bringing.clips_made.connect(self._clips_came)
        self.bringing.bones.file_came.connect(self.desk.look_at_file)
        self.came_in.changed.connect(self.refresh)
        self.skin_art.changed.connect(self.refresh)
        self.bringing.sheet_made.connect(self.cut_sheet)
        self.cutting.wanted.connect(self.cut_sheet)
        self.cutting.replace_asked.connect(self._find_file)
        self.sources.changed.connect(self._art_changed)

    # What is shown --------------------------------------------------------------------------------

    def _glance_soon(self) -> None:
        if not self._glance.isActive():
            self._glance.start()

    def refresh(self) -> None:
        """Show the sentences, the tools and the heading."""
        desk, puppet = self.desk, self.document.puppet
        if not self.isVisible():
            return
        of_bones = puppet.is_of_bones
        # What is turned by hand must not move because its sentence grew.
        self.tool_sentence.keep_room(BONE_SENTENCE if of_bones else 0)
        self.shown.setCurrentWidget(self.pose_view if of_bones else self.frame_view)
        self.clip_sentence.show_parts(clip_sentence(self.document, desk, self.art, self.act))
        self.timing.show_parts(event_sentence(self.document, desk, self._ask_file, self._hear))
        self.tool_sentence.show_parts(
            bone_sentence(self.document, desk, self.art.bones, self.pose_view) if of_bones
            else tool_sentence(self.document, desk, self.art, self.measures))
        self.play_sentence.show_parts([
            *play_tokens(desk), *(pose_view_tokens(desk, self.pose_view) if of_bones else ())])
        self.view_sentence.show_parts(
            [*standing_sentence(self.document, desk, self.art.bones),
             *seam_sentence(desk, self.pose_view)] if of_bones
            else view_sentence(desk, self.frame_view, self.measures))
        self.heading.more.show_parts(self._more())
        changed = [*bone_news(self.document, self.art.bones, self.sources.bones,
                              self._find_bones, self._bring_bones),
                   *bone_file_parts(self.document, self.desk, self.art.bones, self._pair_bones),
                   *news_parts(self.document, self.sources, self._find_file, self._look),
                   *skin_parts(self.document, self.skin_art), *self.came_in.parts()]
        self.news_sentence.show_parts(changed)
        self.news_sentence.setVisible(bool(changed))
        self.counts.setText(counts_words(self.document, desk))
        for name, button in self.tools.items():
            button.setChecked(name == desk.tool)
            button.setVisible(not of_bones)
        self.heading.show_puppet(puppet, self._under_way())
        self.ribbons.update()

    def showEvent(self, event: object) -> None:
        self.refresh()

    def _under_way(self) -> str:
        """What is being read or written, nothing where nothing is."""
        return (
            self.bringing.said()
            if self.bringing.busy
            else "reading art for a skin… · Esc stops it"
            if self.skin_art.busy
            else "writing clips…"
            if self.saving.busy
            else ""
        )

    def _more(self) -> list[Part]:
        offers = [("folder", "bring in a folder of numbered pictures…"),
                  ("new", "a new clip without frames"),
                  ("rename", "rename by pattern…"), ("save all", "save all as a packed sheet…")]
        return [Token("more…", theme.WOAD, quiet=True, name="page more",
                      field=choice_field("", [(words, name) for name, words in offers], self.act))]

    def act(self, name: str) -> None:
        """Do what was picked from one of the lists of things to do."""
        own: dict[str, Callable[[], object]] = {
               "folder": self.bringing.ask_folder, "new": self._new_clip,
               "save moving": self._save_moving,
               "rename": lambda: RenameDialog(self.document, self.window()).open(),
               "save all": lambda: self.saving.ask_packed(
                   tuple(clip.id for clip in self.document.puppet.clips)),
               "save packed": lambda: self.saving.ask_packed(self.desk.chosen_clips)}
        if name in own:
            own[name]()
        elif name == "from" or name.startswith("arms "):
            act_on_motion(self.document, self.desk, name)
        else:
            act_on_clips(self.document, self.desk, name)

    def _new_clip(self) -> None:
        puppet, id = edits.clip_of_frames(self.document.puppet, "new clip", ())
        self.document.edit("new clip", puppet)
        self.desk.show_clip(id)

    def _save_moving(self) -> None:
        if self.desk.clip is not None:
            self.saving.ask_moving(self.desk.clip)

    def _show_row(self, number: int) -> None:
        row = self.ribbons.row(number)
        self.scroller.ensureVisible(int(sure(self.scroller.horizontalScrollBar()).value() + 1),
                                    int(row.center().y()), 0, 40)

    def _replaced(self) -> None:
        self.upper.setCurrentIndex(0)
        self._to_cut = ""
        self.desk.clip_id = None
        self.came_in.done()
        self.measures.forget()

    # Art ------------------------------------------------------------------------------------------

    def _art_changed(self) -> None:
        self.measures.forget()
        if self._to_cut:
            self.cut_sheet(self._to_cut)
        elif self.upper.currentIndex() == 1 and not self.bringing.busy:
            self.cutting.show_sheet(self.cut.sheet_id)
        self.frame_view.update()
        self.pose_view.update()
        self.lanes.update()
        self.refresh()

    def _measured(self) -> None:
        self.frame_view.update()
        self.refresh()

    def _clips_came(self, clips: dict[str, tuple[Grid, ...]]) -> None:
        self.finish_cutting()
        self.desk.show_clip(next(iter(clips)))
        self.came_in.show(clips)

    def _find_file(self, sheet: str) -> None:
        choose_file(self, "The file of this sheet", PICTURES, self.settings.folder,
                    self._used(lambda path: self.sources.find_again(sheet, path)),
                    preview=PicturePreview)

    def _find_bones(self, file: str) -> None:
        choose_file(self, "This file of bones", BONE_FILES, self.settings.folder,
                    self._used(lambda path: self.sources.bones.find_again(file, path)))

    def _pair_bones(self, file: str) -> None:
        PairsDialog(self.document, self.art.bones, file, self.window()).show()

    def _bring_bones(self, file: str, clips: Collection[str]) -> None:
        path = self.document.folder / sure(find(self.document.puppet.bone_files, file)).path
        self.bringing.bones.read([path], {path: clips})

    def _used(self, find: Callable[[Path], str]) -> Callable[[Path], None]:
        def found(path: Path) -> None:
            if problem := find(path):
                complain(self.window(), "This file cannot be used", problem)

        return found

    def _look(self, sheet: str) -> None:
        NewsList(sheet, self.document, self.sources, self.desk, self.art, self.window()).show()

    def _ask_file(
        self, title: str, filter: str, then: Callable[[list[Path]], None], several: bool = False
    ) -> None:
        choose_file(self, title, filter, self.settings.folder, lambda path: then([path]),
                    many=then if several else None)

    def _hear(self, file: str, volume: float, pitch: float) -> None:
        self.sounds.play(self.document.folder / file, volume, pitch)

    def _cut_again(self) -> None:
        clip = self.desk.clip
        sheets = self.document.puppet.sheets
        wanted = clip.frames[0].cell.sheet if clip and clip.frames else sheets[-1].id
        self.cut_sheet(wanted if find(sheets, wanted) else sheets[-1].id)

    def cut_sheet(self, id: str) -> None:
        """Show a sheet to be cut into clips, once its picture is there."""
        self._to_cut = id if self.art.awaited(id) else ""
        if not self._to_cut and self.cutting.show_sheet(id):
            self.upper.setCurrentIndex(1)
            self.cut.setFocus()

    def finish_cutting(self) -> None:
        """On to the next sheet that came in with this one and that no clip is cut from, or back to
        the clips."""
        used = {frame.cell.sheet for clip in self.document.puppet.clips for frame in clip.frames}
        while self.bringing.to_cut:
            sheet, *rest = self.bringing.to_cut
            self.bringing.to_cut = tuple(rest)
            if sheet not in used and find(self.document.puppet.sheets, sheet) is not None:
                self.cut_sheet(sheet)
                return
        self.upper.setCurrentIndex(0)
        self.refresh()
        self.ribbons.setFocus()

    # Hands ----------------------------------------------------------------------------------------

    def key_lines(self) -> tuple[KeyLine, ...]:
        """The keys of the page, wherever on it the keyboard is."""
        return (
            KeyLine(("Ctrl+V",), "bring in copied files, or a copied picture",
                    lambda key: self.bringing.paste(sure(QGuiApplication.clipboard()).mimeData())),
            KeyLine(("Ctrl+F",), "find a clip by its name",
                    lambda key: self.heading.search.setFocus()),
            KeyLine(("Esc",), "stop reading", lambda key: self._stop_reading(),
                    lambda: self.bringing.busy or self.skin_art.busy),
        )

    def _stop_reading(self) -> None:
        self.bringing.cancel()
        self.skin_art.cancel()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if not press(self.key_lines(), event):
            super().keyPressEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        assert event is not None
        if sure(event.mimeData()).hasUrls() or sure(event.mimeData()).hasImage():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        assert event is not None
        event.acceptProposedAction()
        self.bringing.paste(event.mimeData())
