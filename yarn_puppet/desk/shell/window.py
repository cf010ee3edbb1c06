"""The one window: header, pages, and what each page stands beside."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from ...core.model.take import Take
from ...core.takes.promising.promises import Verdict
from ...core.takes.run import Record
from ...demo import DEMO_FOLDER
from ..booth.booth_view import BoothView
from ..booth.opponents_drawing import CastArt
from ..booth.sounds import Sounds
from ..booth.ways_out import WaysOut
from ..clips.incoming.skin_art import SkinArt
from ..pads.pads import Pads
from ..pictures.art import Art
from ..session.art.sources import Sources
from ..session.booths import Booths
from ..session.document import Document
from ..session.files.booth_files import BoothFiles
from ..session.files.journal import JournalKeeper
from ..session.files.own_files import OwnFiles
from ..session.kept_takes import KeptTakes
from ..session.run.collector import Collector
from ..session.run.pad_input import PadInput
from ..session.run.player import Player
from ..session.settings import save_settings, settings_and_problem, settings_path
from ..session.snag_list import SnagList
from ..trace.bone_columns import BoneColumns
from ..trace.trace_view import TraceView
from ..widgets import theme
from ..widgets.panel import scrolling, splitter_of
from ..widgets.parts import Token, Word
from ..widgets.view import DrawnView
from .actions import PUPPET_MENU, TAKE_MENU, Actions, Views
from .appearance import Appearance
from .exporting import Exporting
from .file_notices import FileNotices
from .files import Files
from .header import Header
from .news import News
from .notices import Notices
from .others import Others
from .pages import PAGES
from .place import remember, restore
from .recovery import Recovery
from .skin_menu import SkinMenu
from .traces import Traces

if TYPE_CHECKING:
    from ..handoff.desk import HandOffDesk
    from ..handoff.wire_desk import WireDesk

class Window(QMainWindow):
    """Holds the document, the player and the pages; pages are made when they are first shown."""

    def __init__(self, journals: Path | None = None) -> None:
        """`journals` is where what is worked on is written down as it is done; nowhere where there
        is none."""
        super().__init__()
        first_time = not settings_path().exists()
        self.settings, problem = settings_and_problem()
        self.appearance = Appearance(self.settings)
        self.document = Document()
        self.art = Art()
        self.booths = Booths(self.document)
        self.kept = KeptTakes(self.document, self.booths)
        self.player = Player(self.document.puppet, self.booths.world, self.booths.file)
        self.pads = Pads()
        self.pad_input = PadInput(self.pads, self.document, self.player)
        self.collector = Collector(self.player)
        for signal in (self.document.puppet_changed, self.document.selection_changed,
                       self.player.moved):
            signal.connect(self.collector.put_off)
        self.snags = SnagList(self.document, self.player)
        self.sources = Sources(self.document, self.art)
        self.booth_files = BoothFiles(self.document, self.booths, self.art)
        self.sounds = Sounds()
        self.skin_art = SkinArt(self.document, self.art, self.settings, self)
        self.skin_menu = SkinMenu(self, self.document, self.skin_art)
        self.files = Files(self, self.document, self.booths, self.kept, self.player, self.settings)
        self.header = Header(self.document, self.player, PAGES)
        self.cast_art = CastArt(self.art, self.update_pictures, self.player.bones_arrived)
        self.art.bones.arrived.connect(self.player.bones_arrived)
        self.booth = BoothView(self.document, self.player, self.art, self.cast_art, DEMO_FOLDER,
                               self.settings, self.booths)
        self.exporting = Exporting(self, self.booth, self.player, self.settings)
        self.ways_out = WaysOut(self.document, self.player)
        self.bone_columns = BoneColumns(self.player, self.art.bones, self)
        self.trace = TraceView(self.document, self.player, self.bone_columns)
        self.trace.shown.verdicts = self._verdicts
        self.traces = Traces(self.trace, self.booths)
        self.notices = Notices()
        self.file_notices = FileNotices(self.document, self.notices)
        self.news = News(self.notices, self.settings, first_time)
        self.keeper = JournalKeeper(self.document, journals) if journals is not None else None
        self.own_files = OwnFiles(self.document, self.booths, self.kept,
                                  journals.parent / "open" if journals else None)
        self.others = Others(self, self.own_files, self.notices)
        self.others.write = self.files.save
        self.files.own, self.files.ask_about = self.own_files, self.others.say
        if problem:
            self.notices.tell("settings", [Word(problem), Token(
                "dismiss", theme.INDIGO, quiet=True, name="dismiss",
                action=lambda: self.notices.drop("settings"))])
        self.recovery = Recovery(self.keeper, self.notices) if self.keeper is not None else None
        self.pages: dict[str, QWidget] = {}
        self.frames: dict[str, QWidget] = {}
        """What a page that may be higher than the window scrolls in."""
        self._lay_out()
        self.commands = Actions(
            self, self.document, self.player, self.files, self.exporting, self.appearance,
            Views(self.close, self.show_page, self.fill_with_booth, self.ask_why, self.show_keys,
                  self.skin_art.ask_another),
            PAGES)
        self._connect()
        restore(self, self.settings)
        self._title()
        self.commands.refresh()
        self.show_page("Weave")
        self.booth.setFocus()

    def _connect(self) -> None:
        meshes = self.art.bones.meshes
        meshes.want(self.settings.meshes)
        meshes.changed.connect(self._meshes_chosen)
        self.document.puppet_changed.connect(self._puppet_changed)
        self.document.world_changed.connect(self._world_changed)
        self.document.replaced.connect(self._puppet_replaced)
        self.document.replaced.connect(self.file_notices.say_size)
        self.document.takes_changed.connect(self._takes_changed)
        self.kept.changed.connect(self._show_broken)
        self.kept.renamed.connect(self._takes_renamed)
        self.files.saved.connect(self._saved)
        self.player.left.connect(self._future_left)
        self.art.bones.arrived.connect(self.snags.look_again)
        self.snags.changed.connect(self._show_snags)
        self.sources.changed.connect(self.update_pictures)
        self.booth_files.changed.connect(self._booth_files_changed)
        self.player.ran.connect(self._hear)
        self.player.state_changed.connect(self.commands.refresh)
        self.files.begun.connect(lambda: self.show_page("Weave"))
        self.files.closable.connect(self.close)
        self.files.lost.connect(self.file_notices.say_missing)
        self.files.opening.connect(self.file_notices.say_opening)
        self.booth.switches.fill_wanted.connect(self.fill_with_booth)
        self.header.page_chosen.connect(self.show_page)
        self.header.keys_asked.connect(self.show_keys)
        for button, names in ((self.header.puppet, PUPPET_MENU), (self.header.take, TAKE_MENU)):
            button.clicked.connect(
                lambda _=False, button=button, names=names: self.header.menu_at(
                    button, self.commands.menu(names)))
        self.header.skin.clicked.connect(
            lambda _=False: self.header.menu_at(self.header.skin, self.skin_menu.actions()))

    # Layout ---------------------------------------------------------------------------------------

    def _lay_out(self) -> None:
        self.left = splitter_of(Qt.Orientation.Vertical, self.booth, self.ways_out)
        self.stack = QStackedWidget()
        self.beside = splitter_of(Qt.Orientation.Horizontal, self.left, self.stack)
        self.above = splitter_of(Qt.Orientation.Vertical, self.beside, self.traces)
        self.wide = QStackedWidget()
        work = QWidget()
        column = QVBoxLayout(work)
        column.setContentsMargins(11, 11, 11, 11)
        column.addWidget(self.above)
        self.wide.addWidget(work)
        whole = QWidget()
        layout = QVBoxLayout(whole)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.header)
        layout.addWidget(self.notices)
        layout.addWidget(self.wide, 1)
        self.setCentralWidget(whole)
        self.splitters = {"left": self.left, "beside": self.beside, "above": self.above}
        for name, sizes in (("left", [290, 190]), ("beside", [470, 774]), ("above", [476, 250])):
            self.splitters[name].setSizes(self.settings.splits.get(name, sizes))
        self.beside.setStretchFactor(1, 1)
        self.above.setStretchFactor(0, 1)

    @cached_property
    def hand_off(self) -> HandOffDesk:
        """What is handed off. Made when it is first asked for, as the page is: nobody who plays
        should wait for it."""
        from ..handoff.desk import HandOffDesk

        return HandOffDesk(self.document, self.kept, self.settings)

    @cached_property
    def wire(self) -> WireDesk:
        """The live wire."""
        from ..handoff.wire_desk import WireDesk

        wire = WireDesk(self.document, self.booths, self.kept, self.player, self.settings)
        wire.changed.connect(self._show_game)
        return wire

    def _saved(self) -> None:
        """Hand off what was saved, where that is wanted."""
        if "hand_off" in self.__dict__:
            self.hand_off.saved()

    def page(self, name: str) -> QWidget:
        """A page, made when it is first asked for."""
        if name not in self.pages:
            page = self.pages[name] = PAGES[name](
                self)  # type: ignore[arg-type]  # made as asked for
            if name == "Snags":
                # As many as there are: they scroll.
                frame = scrolling(page)
                page.looked_at.connect(  # type: ignore[attr-defined]  # pages are made by name
                    lambda card: frame.ensureVisible(0, int(card.center().y()), 0, 60))
                self.frames[name] = frame
            elif name == "Weave":
                self.traces.offers(page)  # type: ignore[arg-type]  # pages are made by name
            (self.wide if name == "Clips" else self.stack).addWidget(self.frames.get(name, page))
        return self.pages[name]

    def show_page(self, name: str) -> None:
        """Go to a page. Clips takes the whole room below the header; the others stand beside the
        booth."""
        page = self.page(name)
        if self.stack.isHidden():
            self.fill_with_booth()
        if name == "Clips":
            self.wide.setCurrentWidget(page)
        else:
            self.stack.setCurrentWidget(self.frames.get(name, page))
            self.wide.setCurrentIndex(0)
        self.header.show_page(name)
        self.current_page = name
        self.traces.look()
        self.news.shown(name)

    def go_to(self, page: str, kind: str, id: str) -> None:
        """Show an entry where it is worked on."""
        self.show_page(page)
        if page in ("Weave", "Wiring"):
            self.page(page).go_to(kind, id)  # type: ignore[attr-defined]
        elif kind == "clip":
            self.page(page).desk.show_clip(id)  # type: ignore[attr-defined]
            self.document.select(kind, id)

    # What is done from here -----------------------------------------------------------------------

    def ask_why(self) -> None:
        """Ask about the state, group or transition that is selected, at the tick on show."""
        kind, id = self.document.selection or ("", "")
        if kind in ("state", "group", "transition"):
            self.ways_out.why("transition" if kind == "transition" else "state", id)
        else:
            self.ways_out.ask.click()

    def show_keys(self) -> None:
        """What keys do on this page, and beside it."""
        from .help import HelpDialog, sections

        name = self.current_page
        beside = (self.booth, self.ways_out, self.trace)
        HelpDialog(self, name, sections(name, self.page(name), beside, self.actions(),
                                        self.document.puppet)).open()

    def fill_with_booth(self) -> None:
        """The booth takes the whole window below the header, or gives the room back."""
        fills = not self.stack.isHidden()
        for each in (self.stack, self.traces, self.ways_out):
            each.setHidden(fills)
        self.booth.setFocus()

    def _show_game(self) -> None:
        """What is said of a game that is watched stands in the booth."""
        row = self.wire.row(self.wire.watched)
        self.booth.game_note = self.wire.note(row) if row is not None else ""
        self.booth.update()
        self.trace.update()

    # What changes ---------------------------------------------------------------------------------

    def _puppet_replaced(self) -> None:
        if str(self.document.path) in self.settings.hand_offs:
            # How it is handed off goes with it, also to another name.
            _ = self.hand_off
        self.art.show(self.document.puppet, self.document.folder)
        self.player.load(self.document.puppet, self.booths.world, self.booths.file)

    def _puppet_changed(self) -> None:
        self.art.show(self.document.puppet, self.document.folder)
        self._follow()
        self.booth.update()
        self._title()
        self.commands.refresh()

    def _world_changed(self) -> None:
        self._follow()
        self.booth.update()
        self._title()
        self.commands.refresh()

    def _meshes_chosen(self) -> None:
        self.settings.meshes = self.art.bones.meshes.wanted

    def _takes_changed(self) -> None:
        self._title()
        self.commands.refresh()
        self.header.refresh()

    def _takes_renamed(self, names: dict[str, str]) -> None:
        self.player.take_file = names.get(self.player.take_file, self.player.take_file)

    def _future_left(self, take: Take, tick: int) -> None:
        """What was played after a tick from which it was played on is kept."""
        self.kept.keep(replace(take, first=tick), f"left at {tick}")

    def _verdicts(self) -> Sequence[Verdict]:
        """How the promises of the take on show stand, or where a game that is watched differs."""
        if self.player.game:
            return self.wire.verdicts()
        outcome = self.kept.outcomes.get(self.player.take_file) if self.player.take_file else None
        return outcome.verdicts if outcome is not None else ()

    def _show_broken(self) -> None:
        broken = sum(not verdict.kept for outcome in self.kept.outcomes.values()
                     for verdict in outcome.verdicts)
        self.header.pages["Takes"].show_badge(str(broken) if broken else "")
        self.trace.update()

    def _follow(self) -> None:
        """Play on with the puppet and the booth as they are now; in another booth a new run
        begins."""
        puppet, recording = self.document.puppet, self.player.recording
        if self.player.game:
            return
        world, file = self.booths.world, self.booths.file
        if puppet.booth != recording.puppet.booth:
            playing = self.player.playing
            self.player.load(puppet, world, file)
            if playing:
                self.player.play()
            return
        # A take that was opened may be of another booth than the one that is painted.
        painted = world if recording.booth == file else recording.world
        if recording.puppet is not puppet or recording.world is not painted:
            self.player.edit(puppet, painted)

    def _booth_files_changed(self) -> None:
        """What the booth is made with is another: its pictures, or those of its opponents."""
        self.cast_art.forget()
        self.update_pictures()

    def update_pictures(self) -> None:
        """The art is another: draw what shows it again."""
        self.booth.feet.forget()
        self.booth.update()
        for page in self.pages.values():
            page.update()
            for child in page.findChildren(DrawnView):
                child.update()

    def _hear(self, record: Record) -> None:
        """Play the sounds of a tick that has just been run."""
        booth = record.after.booth
        answers = [each.report for each in booth.answerers
                   if each is not None and each.report is not None] if booth else []
        for fired in [fired for report in (record.report, *answers) for fired in report.moments]:
            if fired.moment.kind == "sound" and fired.file:
                self.sounds.play(self.document.folder / fired.file, fired.volume, fired.pitch)

    def _title(self) -> None:
        star = "*" if self.document.unsaved else ""
        self.setWindowTitle(f"{self.document.puppet.name}{star} · Yarn Puppet")

    def _show_snags(self) -> None:
        # Notes are of what is not finished: nobody is called to them.
        count = sum(snag.severity != "note" for snag in self.snags.snags)
        self.header.pages["Snags"].show_badge("" if not count else str(count)
                                              if count < 100 else "99+")

    def closeEvent(self, event: QCloseEvent | None) -> None:
        assert event is not None
        if not self.files.may_close():
            event.ignore()
            return
        if self.keeper is not None:
            self.keeper.let_go()
        self._put_down()
        event.accept()

    def keep_and_end(self) -> None:
        """Write down what there is, and put everything down: the program is told to end, and nobody
        can be asked."""
        if self.keeper is not None:
            self.keeper.flush_now()
        self._put_down()

    def _put_down(self) -> None:
        self.player.pause()
        self.traces.put_down()
        self.pads.close()
        self.kept.process.close()
        if "hand_off" in self.__dict__:
            self.hand_off.stop_comparing()
        if "wire" in self.__dict__:
            self.wire.close()
        remember(self, self.settings)
        for name, splitter in self.splitters.items():
            if any(splitter.sizes()):
                self.settings.splits[name] = splitter.sizes()
        save_settings(self.settings)

    def start_on(self, path: Path) -> None:
        """Open a file as the window opens; what is wrong with it is shown once the window is."""
        def start() -> None:
            self.files.load(path)
            if self.recovery:
                self.recovery.offer()

        QTimer.singleShot(0, start)
