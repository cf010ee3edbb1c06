"""The stops at graphs of many states, and at the tables of a graph."""

from __future__ import annotations

import shutil
import tempfile
from pathlib import Path

from PyQt6.QtCore import QRectF, Qt

from ...core.formats.puppet_file import save_puppet
from ...core.model.puppet import Puppet
from ...demo import DEMO_PUPPET
from .keyboard import KEYBOARD
from .stops import Stops


class Crowded(Stops):
    """Tables, layers, and crowds."""

    def tables(self) -> None:
        """Frame data of everything that hits; who may go where, and what ends the guard."""
        window, hand = self.window, self.hand
        hand.click(window.header.pages["Weave"])
        page = window.page("Weave")
        window.document.deselect()
        hand.click(page.strip.kinds["frame data"])
        hand.until(lambda: bool(page.frame_data.rows) and page.frame_data.is_measured,
                   "the frame data")
        hand.click(page.frame_data, page.frame_data.row(0))
        self.save("frame-data")
        hand.click(page.strip.kinds["crossings"])
        hand.click(page.crossings,
                   page.crossings.name_area(page.crossings.states.index("guard_state")))
        self.save("crossings")
        hand.click(page.strip.kinds["cards"])

    def night(self) -> None:
        """The umbrella held over walking legs, the lantern lit; the whole desk by night, and all of
        it in another skin."""
        window, hand = self.window, self.hand
        window.appearance.choose("night")
        window.document.wear("tamsin.skin.json")
        window.player.restart()
        window.player.pause()
        hand.click(window.booth)
        booth = window.booth
        KEYBOARD.keyClick(booth, Qt.Key.Key_L)
        KEYBOARD.keyPress(booth, Qt.Key.Key_Right)
        self.steps(40)
        KEYBOARD.keyPress(booth, Qt.Key.Key_K)
        self.steps(26)
        for key in (Qt.Key.Key_Right, Qt.Key.Key_K):
            KEYBOARD.keyRelease(booth, key)
        window.document.select("layer", "arms")
        self.save("night")
        window.appearance.choose("day")
        window.document.wear("")

    def grown(self) -> None:
        """A character of 42 states: what the second step of its combo can be broken off by."""
        from ...demo.make.grown import grown_puppet

        self._crowded(grown_puppet(), "light_2", "weave-forty")

    def crowd(self) -> None:
        """Two hundred and ten states, as large as they all can be seen."""
        from ...demo.make.grown import crowd

        self._crowded(crowd(), "", "weave-crowd")

    def _strike_until(self, state: str) -> None:
        """Walk up to Old Thatch, then press attack until the combo has come to a state."""
        self.hand.click(self.window.booth)
        booth = self.window.booth
        KEYBOARD.keyPress(booth, Qt.Key.Key_Right)
        self.steps(106)
        KEYBOARD.keyRelease(booth, Qt.Key.Key_Right)
        self.steps(10)
        for _ in range(20):
            KEYBOARD.keyPress(booth, Qt.Key.Key_J)
            self.steps(3)
            KEYBOARD.keyRelease(booth, Qt.Key.Key_J)
            self.steps(3)
            shown = self.window.player.shown
            if shown is not None and shown.report.layers[0].state == state:
                break
        self.steps(6)

    def _crowded(self, puppet: Puppet, selected: str, name: str) -> None:
        window, hand = self.window, self.hand
        sizes = window.above.sizes()
        with tempfile.TemporaryDirectory() as folder:
            shutil.copy(DEMO_PUPPET.parent / "lamplighter.png", folder)
            path = Path(folder) / "grown.puppet.json"
            save_puppet(puppet, path)
            window.files.drop_edits()
            window.files.load(path)
            window.player.restart()
            window.player.pause()
            hand.click(window.header.pages["Weave"])
            window.above.setSizes([sum(sizes) - 60, 60])
            self.steps(10)
            if selected:
                self._strike_until(selected)
                hand.click(window.page("Weave").view, QRectF(
                    *window.page("Weave").view.layout_now.cards[selected].box))
            hand.until(lambda: not window.player.busy, "the run")
            self.save(name)
            window.above.setSizes(sizes)
            window.files.drop_edits()
            window.files.load(DEMO_PUPPET)
            window.player.pause()
