"""The full example without a monitor: drives the real window through the demo and saves its main
views."""

from __future__ import annotations

import os
import shutil
import tempfile
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt

from ...core.formats.errors import FileProblem
from ...demo import DEMO_PUPPET, DEMO_TAKE
from .crowded import Crowded
from .handing import Handing, StandIn
from .keyboard import KEYBOARD
from .takes import Takes
from .worlds import Worlds

SIZE = (1280, 800)


def run_tour(folder: Path, stand_in: StandIn) -> int:
    """Save the views as PNG files in `folder`; returns the exit code. Raises FileProblem.
    `stand_in` makes a game."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileProblem(folder, "", f"cannot be made ({error.strerror})") from None
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    # The tour neither reads nor writes what the user's own desk remembers.
    with tempfile.TemporaryDirectory() as settings:
        os.environ["XDG_CONFIG_HOME"] = f"{settings}/config"
        os.environ["XDG_DATA_HOME"] = f"{settings}/data"
        from ..shell.application import make_application

        application = make_application()
        from ..shell.window import Window

        window = Window()
        window.resize(*SIZE)
        window.show()
        tour = Tour(window, folder)
        tour.stand_in = stand_in
        tour.run()
        window.files.drop_edits()
        window.close()
        application.processEvents()
    print(f"{len(tour.saved)} views saved in {folder}: {', '.join(tour.saved)}")
    return 0


FIRST_DAY = {0: ("idle", 6), 1: ("walk", 8), 2: ("jump", 3), 4: ("attack_1", 7),
             11: ("attack_2", 6), 5: ("heavy", 10), 6: ("guard", 3), 7: ("crouch", 4),
             8: ("run", 6), 15: ("flag", 6)}
"""By row of Pell's sheet, what a strip of it is called, and its frames."""


class Tour(Crowded, Worlds, Takes, Handing):
    """One stop a view."""

    def run(self) -> None:
        """Go through all stops."""
        window, hand = self.window, self.hand
        window.files.load(DEMO_PUPPET)
        self.play()
        window.files.load_take(DEMO_TAKE)
        hand.until(lambda: not window.player.busy, "the take")
        for stop in (self.past, self.clips, self.several, self.cutting, self.wiring, self.painted,
                     self.bones, self.gardens,
                     self.takes, self.why_not, self.snags, self.tables, self.night, self.grown,
                     self.crowd,
                     self.new_art, self.new_puppet, self.first_day, self.large, self.directions,
                     self.handed_off):
            stop()

    def play(self) -> None:
        """Walk up to Old Thatch and swing, by keys, tick by tick."""
        window, hand = self.window, self.hand
        hand.click(window.booth)
        hand.click(window.booth)
        window.player.restart()
        window.player.pause()
        booth = window.booth
        KEYBOARD.keyPress(booth, Qt.Key.Key_Right)
        self.steps(106)
        KEYBOARD.keyRelease(booth, Qt.Key.Key_Right)
        self.steps(10)
        KEYBOARD.keyPress(booth, Qt.Key.Key_J)
        self.steps(4)
        KEYBOARD.keyRelease(booth, Qt.Key.Key_J)
        self.steps(11)
        self.save("play")

    def past(self) -> None:
        """Drag the trace's head to where the guard cancels the swing, and select that exit."""
        window, hand = self.window, self.hand
        trace = window.trace
        window.player.seek(150)
        y = 90.0
        hand.drag(trace, QPointF(trace.x_of(150.5), y), QPointF(trace.x_of(158.5), y))
        hand.click(window.ways_out, QPointF(70, 79))
        self.save("weave")

    def clips(self) -> None:
        """The swing's fourth frame."""
        window, hand = self.window, self.hand
        hand.click(window.header.pages["Clips"])
        page = window.page("Clips")
        number = [clip.id for clip in window.document.puppet.clips].index("light_swing")
        hand.click(page.ribbons, page.ribbons.thumb(number, 3))
        self.save("clips")

    def several(self) -> None:
        """Four frames of the walk chosen, by night, with the ghosts of three neighbours each
        way."""
        page, hand = self.window.page("Clips"), self.hand
        ribbons, number = page.ribbons, [clip.id
                                         for clip in self.window.document.puppet.clips].index(
                                             "walk")
        hand.click(ribbons, ribbons.thumb(number, 1))
        KEYBOARD.mouseClick(ribbons, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier,
                         ribbons.thumb(number, 4).center().toPoint())
        hand.click(page.tools["pivot"])
        hand.token(page.view_sentence, "ground")
        hand.token(page.view_sentence, "ghosts")
        hand.pick("3")
        self.save("several-frames")
        hand.token(page.view_sentence, "ground")
        hand.token(page.view_sentence, "ghosts")
        hand.pick("1")
        hand.click(page.tools["hit box"])

    def new_art(self) -> None:
        """The sheet redrawn while the puppet is open: a step more in the swing, another gone."""
        window, hand = self.window, self.hand
        from PIL import Image

        with tempfile.TemporaryDirectory() as folder:
            for name in ("lamplighter.png", "lamplighter_world.png", "lamplighter.puppet.json"):
                shutil.copy(DEMO_PUPPET.parent / name, folder)
            window.files.drop_edits()
            window.files.load(Path(folder) / "lamplighter.puppet.json")
            window.player.pause()
            sheet = Path(folder) / "lamplighter.png"
            image = Image.open(sheet).convert("RGBA")
            cells = [image.crop((column * 96, 256, column * 96 + 96, 320)) for column in range(7)]
            extra = Image.blend(cells[0], cells[1], 0.5)
            for column, cell in enumerate((cells[0], extra, *cells[1:5], cells[6])):
                image.paste(cell, (column * 96, 256))
            image.save(sheet)
            hand.until(lambda: bool(window.sources.news), "the news")
            hand.click(window.header.pages["Clips"])
            window.page("Clips").desk.show_clip("light_swing", 5)
            self.save("new-art")
            window.files.drop_edits()
            window.files.load(DEMO_PUPPET)
            window.player.pause()

    def first_day(self) -> None:
        """Strips of Pell, cut from the sheet, and what their names say."""
        window, hand = self.window, self.hand
        from PIL import Image

        with tempfile.TemporaryDirectory() as folder:
            paths = []
            with Image.open(DEMO_PUPPET.parent / "lamplighter.png") as sheet:
                for row, (name, count) in FIRST_DAY.items():
                    paths.append(Path(folder) / f"pell_{name}.png")
                    sheet.crop((0, row * 64, count * 96, row * 64 + 64)).save(paths[-1])
            clips, weave = window.page("Clips"), window.page("Weave")
            clips.bringing.bring_in(paths)
            hand.until(lambda: not clips.bringing.busy, "the strips")
            clips.came_in.done()
            window.show_page("Weave")
            window.snags.refresh()
            hand.until(lambda: any(window.guess for clip in weave.offer.preview.puppet.clips
                                   for window in clip.windows if window.kind == "hit"),
                       "the guesses")
            offered = weave.preview.player
            hand.until(lambda: len(offered.records) > 100 and not offered.busy, "what it would do")
            hand.wait(3)
            self.save("first-day")
            window.files.drop_edits()

    def large(self) -> None:
        """Pell four times as large, brought in, wired by names and taken as drawn."""
        window, hand = self.window, self.hand
        from PIL import Image

        with tempfile.TemporaryDirectory() as folder:
            paths = []
            with Image.open(DEMO_PUPPET.parent / "lamplighter.png") as sheet:
                for row, (name, count) in FIRST_DAY.items():
                    strip = sheet.crop((0, row * 64, count * 96, row * 64 + 64))
                    paths.append(Path(folder) / f"large_{name}.png")
                    strip.resize((strip.width * 4, strip.height * 4),
                                 Image.Resampling.NEAREST).save(paths[-1])
            clips, weave = window.page("Clips"), window.page("Weave")
            window.document.start_new()
            clips.bringing.bring_in(paths)
            hand.until(lambda: not clips.bringing.busy, "the strips")
            clips.came_in.done()
            window.show_page("Weave")
            hand.token(weave.sentence, "wire them")
            hand.until(lambda: not window.player.busy, "the run")
            hand.click(window.booth.as_drawn.button)
            hand.click(window.header.pages["Booth"])
            self.begin()
            self.held(Qt.Key.Key_Right, 40)
            self.held(Qt.Key.Key_J, 4)
            self.steps(14)
            window.page("Booth").view.fit()
            self.save("large")
            window.files.drop_edits()

    def directions(self) -> None:
        """Bryony's sheet, about to become eight clips."""
        page, hand = self.window.page("Clips"), self.hand
        page.bringing.bring_in([DEMO_PUPPET.parent / "bryony_walk.png"])
        hand.until(lambda: page.upper.currentIndex() == 1, "the sheet")
        hand.token(page.cut_sentence, "directions")
        self.save("directions")
        hand.pick("walk_{down,left,right,up}")
        self.window.files.drop_edits()

    def cutting(self) -> None:
        """The sheet under its grid, with a row picked."""
        page, hand = self.window.page("Clips"), self.hand
        hand.click(page.heading.recut)
        hand.drag(page.cut, page.cut.cell_rect(0, 4), page.cut.cell_rect(6, 4))
        self.save("cutting")
        hand.popup().close()
        hand.key(page.cut, Qt.Key.Key_Escape)

    def wiring(self) -> None:
        """A sense forced by hand, and an intent fired."""
        window, hand = self.window, self.hand
        hand.click(window.header.pages["Wiring"])
        page = window.page("Wiring")
        hand.token(page.rows["blocked"], "force")
        hand.pick("true")
        window.player.seek(136)
        self.save("wiring")
        window.player.force("blocked", None)

    def snags(self) -> None:
        """A transition that can never be first, found."""
        window, hand = self.window, self.hand
        hand.click(window.header.pages["Weave"])
        view = window.page("Weave").view
        cards = view.layout_now.cards
        idle, walk = (QRectF(*cards[id].box) for id in ("idle_state", "walk_state"))
        hand.drag(view, idle, walk)
        hand.token(window.page("Weave").sentence, "add term")
        hand.pick("move_x != 0")
        window.snags.refresh()
        hand.click(window.header.pages["Snags"])
        self.save("snags")
        window.document.undo()
        window.document.undo()

    def new_puppet(self) -> None:
        """An empty puppet, waiting for its first picture."""
        window = self.window
        window.files.drop_edits()
        KEYBOARD.keyClick(window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
        window.snags.refresh()
        self.save("new-puppet")
