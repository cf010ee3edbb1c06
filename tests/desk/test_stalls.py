"""Nothing holds the window up: what one gesture does is bounded, with the demo and with the largest
puppet that the desk promises to stay quick with. Counted in calls, which are the same everywhere;
`python -m bench.stalls` has times.
"""

from __future__ import annotations

import shutil
import sys
from collections.abc import Callable
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QEventLoop, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from bench.large import large_puppet
from tests.depth import EVERY_CASE
from tests.desk.case import DeskCase
from yarn_puppet.core.formats.puppet_file import load_puppet, save_puppet
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET
from yarn_puppet.desk.session.largest import MOST_FRAMES, MOST_STATES
from yarn_puppet.desk.shell.pages import PAGES
from yarn_puppet.desk.tour.hand import move_held

OF_DEMO, OF_LARGEST = 100_000, 400_000
"""Calls in one go."""


EDITED = ("Weave", "Wiring", "Clips", "Takes")
"""Pages on which an edit and a tick are looked at."""


class Stalls(DeskCase):
    file = None

    def setUp(self) -> None:
        super().setUp()
        self.most: dict[str, float] = {}

    def turn(self, does: Callable[[], object]) -> int:
        """One turn of the window's loop: how many calls it took."""
        count = 0

        def called(frame: object, event: str, argument: object) -> None:
            nonlocal count
            count += event in ("call", "c_call")

        sys.setprofile(called)
        try:
            does()
        finally:
            sys.setprofile(None)
        return count

    def counted(
        self, what: str, does: Callable[[], object], done: Callable[[], bool] = lambda: True
    ) -> None:
        """Do something, and let what follows run turn by turn until it is done, and six more; the
        most that one turn took is kept."""
        most = max(self.most.get(what, 0), self.turn(does))
        while not done():
            most = max(most, self.turn(_turn))
        self.most[what] = max(most, *[self.turn(_turn) for _ in range(6)])

    def drive(self, path: Path) -> None:
        """Over all pages: shown, shown again, edited, and gone through by key."""
        window = self.window
        self.hand.wait()
        self.counted("asking for it", lambda: window.files.open_path(path),
                     lambda: not window.files.busy)
        self.hand.wait()
        window.player.pause()
        for page in PAGES:
            self.counted(f"{page}, shown first", lambda page=page: window.show_page(page))
        for page in EDITED:
            window.show_page(page)
            renamed = state_changed(window.document.puppet, window.document.puppet.states[1].id,
                                    name=f"Another {page}")
            self.counted(f"{page}, an edit",
                         lambda renamed=renamed: window.document.edit("rename", renamed))
            self.counted(f"{page}, a tick", lambda: QTest.keyClick(window, Qt.Key.Key_F10))
        page = window.page("Clips")
        window.show_page("Clips")
        self.hand.wait()
        longest = max(window.document.puppet.clips, key=lambda clip: len(clip.frames))
        self.counted("the longest clip", lambda: page.desk.show_clip(longest.id))
        for key in (Qt.Key.Key_Right, Qt.Key.Key_Left, Qt.Key.Key_E):
            self.counted("a frame on", lambda key=key: QTest.keyClick(page.lanes, key))
        lane = page.lanes.lane_rect(0)
        begin, end, left = lane.topLeft().toPoint(), lane.center(), Qt.MouseButton.LeftButton
        windows = len(page.desk.clip.windows)
        self.counted("a window, begun", lambda: QTest.mousePress(page.lanes, left, pos=begin))
        self.counted("a window, drawn",
                     lambda: move_held(page.lanes, end, Qt.KeyboardModifier.NoModifier))
        self.counted("a window, made",
                     lambda: QTest.mouseRelease(page.lanes, left, pos=end.toPoint()))
        self.assertEqual(len(page.desk.clip.windows), windows + 1)
        for kind in ("crossings", "cards"):
            window.show_page("Weave")
            self.counted(kind, lambda kind=kind: window.page("Weave").showing.show_kind(kind))
            for choice in ("night", "day"):
                self.counted(f"{choice} over {kind}",
                             lambda choice=choice: window.appearance.choose(choice))
            self.counted(f"{kind}, resized", lambda: window.resize(1500, 900))
            self.counted(f"{kind}, resized back", lambda: window.resize(1280, 800))
        for page in PAGES if EVERY_CASE else EDITED:
            window.show_page(page)
            self.hand.wait()
            for skin in (*list(window.document.skins)[:1], ""):
                self.counted(f"{page}, {'in a' if skin else 'without a'} skin",
                             lambda skin=skin: window.document.wear(skin))
        self.counted("undo", window.document.undo)
        self.counted("redo", window.document.redo)
        window.page("Clips").measures.forget()
        self.quiet()

    def test_with_the_demo(self) -> None:
        own = self.folder / "own"
        shutil.copytree(DEMO_FOLDER, own, ignore=shutil.ignore_patterns("make", "__pycache__"))
        self.drive(own / DEMO_PUPPET.name)
        self.assertEqual({what: count for what, count in self.most.items() if count > OF_DEMO}, {})

    def test_with_the_largest(self) -> None:
        path = self.folder / "large.puppet.json"
        # Without its art, which is looked at in a thread.
        save_puppet(largest(), path)
        self.drive(path)
        self.assertEqual({what: count for what, count in self.most.items() if count > OF_LARGEST},
                         {})


def _turn() -> None:
    QApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 1)


def largest() -> Puppet:
    """As many states, transitions and frames as the desk promises to be quick with, one clip of
    them very long."""
    puppet, clip = large_puppet(MOST_STATES), load_puppet(DEMO_PUPPET).clips[0]
    cell = replace(clip.frames[0].cell, sheet="sheet")
    long = replace(clip, id="long", name="long", mode="hold last", moments=(), windows=(),
                   frames=tuple(replace(clip.frames[0], cell=cell) for _ in range(MOST_FRAMES)))
    return replace(puppet, clips=(*puppet.clips, long))
