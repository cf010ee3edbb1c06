"""What views keep of what they drew is what they would draw anew: after any edit, at any tick, in
any light."""

from __future__ import annotations

from random import Random

from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QWidget

from tests.desk.case import APPLICATION, DeskCase, without_takes
from tests.long_desk import edited
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.core.model.edits import worlds
from yarn_puppet.demo import DEMO_PUPPET
from yarn_puppet.desk.takes.view import TakesView
from yarn_puppet.desk.weave.tables.crossings import CrossingsView
from yarn_puppet.desk.weave.tables.crossings_drawing import CellPictures
from yarn_puppet.desk.widgets import theme
from yarn_puppet.desk.widgets.stills import Stills


class Kept(DeskCase):
    file = without_takes(DEMO_PUPPET)

    def setUp(self) -> None:
        super().setUp()
        self.weave = self.go("Weave")
        self.addCleanup(lambda: theme.wear(APPLICATION, "day"))

    def drawn(self, view: QWidget) -> QImage:
        view.update()
        self.hand.wait()
        return view.grab().toImage()

    def compare(self, view: QWidget) -> None:
        """As it is kept, and without anything that is."""
        # What is said of an edit comes with the picture after it.
        self.drawn(view)
        kept = self.drawn(view)
        for name, value in list(vars(view).items()):
            if isinstance(value, Stills | CellPictures):
                setattr(view, name, type(value)())
        picture = getattr(view, "picture", None)
        if picture is not None and hasattr(picture, "_stills"):
            picture._stills, picture._key = Stills(), ()
        self.assertTrue(kept == self.drawn(view), type(view).__name__)

    def edit(self, dice: Random, number: int) -> None:
        document = self.window.document
        choice = dice.randrange(6)
        if choice == 0:
            document.undo()
        elif choice == 1:
            document.edit("add", lambda now: edits.state_added(
                now, f"New {number}", now.clips[number % len(now.clips)].id, None)[0])
        elif choice == 2:
            document.edit("remove", lambda now: edits.state_removed(
                now, dice.choice(now.states).id))
        else:
            document.edit("edit", edited(document.puppet, dice, number))
        if number % 4 == 0:
            document.select("state", dice.choice(document.puppet.states).id)
        if number % 4 == 3:
            theme.wear(APPLICATION, "night" if number % 8 == 3 else "day")

    def test_in_the_weave_and_on_its_shelf(self) -> None:
        dice = Random(3)
        for number in range(8):
            self.edit(dice, number)
            for view in (self.weave.view, self.weave.shelf):
                self.compare(view)

    def test_in_crossings(self) -> None:
        dice = Random(4)
        self.weave.showing.show_kind("crossings")
        view = self.weave.findChild(CrossingsView)
        for number in range(8):
            self.edit(dice, number)
            if number % 5 == 0:
                self.window.resize(1280 - 40 * number, 800)
            self.compare(view)

    def test_of_kept_takes(self) -> None:
        dice = Random(5)
        self.window.files.load(DEMO_PUPPET)
        self.window.player.pause()
        view = self.go("Takes").findChild(TakesView)
        for number in range(4):
            self.edit(dice, number)
            self.compare(view)
            self.hand.until(lambda: not self.window.kept.busy, "the takes")
            self.compare(view)

    def test_in_the_booth(self) -> None:
        dice, player = Random(6), self.window.player
        for key in ("right", "jump", "left"):
            player.press(key)
            for _ in range(40):
                player.run_tick()
            player.release(key)
        for number in range(9):
            if number % 3 == 0:
                self.edit(dice, number)
            player.seek(dice.randrange(100))
            self.compare(self.window.booth)

    def test_in_a_booth_that_is_painted_while_one_stands_in_it(self) -> None:
        player, booth = self.window.player, self.window.booth
        for _ in range(30):
            player.run_tick()
        before = self.drawn(booth)
        state = player.recording.state.booth
        assert state is not None
        column, row = int(state.body.x // 16) + 3, int(state.body.y // 16) - 3
        self.window.booths.edit("paint", lambda world: worlds.painted(
            world, [(column, row), (column, row - 1)], "#"))
        player.run_tick()
        self.compare(booth)
        self.assertFalse(before == self.drawn(booth), "what was painted is seen")
