"""The stops of the tour in other booths: hanging from a gutter beside the painted world, and the
gardens from above."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt

from ...core.model.world import TILE
from ...demo import DEMO_FOLDER, DEMO_PUPPET
from .keyboard import KEYBOARD
from .stops import Stops

GARDENER = DEMO_FOLDER / "gardener.puppet.json"


class Worlds(Stops):
    """Plays with the keys, and paints with the mouse."""

    def painted(self) -> None:
        """Pell at the corner of a roof, its sensors drawn; a plank about to be painted, a dummy
        that strikes."""
        window, hand = self.window, self.hand
        window.files.load(DEMO_PUPPET)
        hand.click(window.header.pages["Booth"])
        page = window.page("Booth")
        hand.token(page.booth, "booths")
        hand.pick("Canal steps")
        window.settings.over = ["state", "velocity", "sensors", "ghosts"]
        self.begin()
        self.held(Qt.Key.Key_Right, 96)
        self.held(Qt.Key.Key_Space, 30)
        KEYBOARD.keyPress(window.booth, Qt.Key.Key_Right)
        self.steps(150)
        KEYBOARD.keyRelease(window.booth, Qt.Key.Key_Right)
        page.painting.choose_brush("plank")
        page.view.fit()
        middle = page.view.to_view(44.5 * TILE, 9.5 * TILE)
        KEYBOARD.mouseMove(page.view, QPointF(middle).toPoint())
        self.save("booth")
        window.settings.over = ["state", "velocity", "boxes", "ghosts"]
        window.files.drop_edits()

    def gardens(self) -> None:
        """Bryony before a bed, seen from above."""
        window, hand = self.window, self.hand
        window.files.load(GARDENER)
        hand.click(window.header.pages["Booth"])
        self.begin()
        self.held(Qt.Key.Key_Left, 62)
        self.held(Qt.Key.Key_Up, 50)
        self.steps(12)
        self.held(Qt.Key.Key_J, 2)
        self.steps(16)
        window.page("Booth").view.fit()
        self.save("gardens")
        window.files.drop_edits()
        window.files.load(DEMO_PUPPET)
        window.player.pause()
