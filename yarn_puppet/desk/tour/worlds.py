"""The stops of the tour in other booths: hanging from a gutter beside the painted world, and the
gardens from above."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt

from ...core.model.edits.worlds import thing_added
from ...core.model.world import TILE, Dummy
from ...core.takes.opponent_hands import held
from ...demo import DEMO_FOLDER, DEMO_PUPPET
from .keyboard import KEYBOARD
from .stops import Stops

GARDENER = DEMO_FOLDER / "gardener.puppet.json"
HARROW = DEMO_FOLDER / "harrow.puppet.json"


class Worlds(Stops):
    """Plays with the keys, and paints with the mouse."""

    def painted(self) -> None:
        """Pell on a plank over the canal, its sensors drawn, an opponent before it; a plank about
        to be painted, dummies that strike."""
        window, hand = self.window, self.hand
        window.files.load(DEMO_PUPPET)
        hand.click(window.header.pages["Booth"])
        page = window.page("Booth")
        hand.token(page.booth, "booths")
        hand.pick("Canal steps")
        window.settings.over = ["state", "velocity", "sensors", "ghosts"]
        self._opponent()
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

    def _opponent(self) -> None:
        """Tamsin, who guards all the time."""
        puppet, booths = self.window.document.puppet, self.window.booths
        hands, long = held(puppet, "held_guard")
        guard = Dummy("Tamsin", 30.5 * TILE, 13.0 * TILE, puppet.mover.width, puppet.mover.height,
                      does="answers", cast="tamsin.skin.json", plays="held_guard, kept down",
                      hands=hands, long=long)
        booths.edit("add dummy", lambda world: thing_added(world, "dummies", guard))

    def bones(self) -> None:
        """Harrow's guard: idle, with the arm of the shield raised by keys of ours."""
        window, hand = self.window, self.hand
        window.files.load(HARROW)
        hand.wait()
        hand.click(window.header.pages["Clips"])
        page = window.page("Clips")
        row = [clip.name for clip in page.ribbons.clips].index("guard")
        hand.click(page.ribbons, QRectF(20, page.ribbons.row(row).y() + 8, 60, 12))
        page.desk.choose_bone("upper arm L")
        page.desk.show_time(700.0)
        page.refresh()
        # As his mesh, where there is OpenGL; else as limbs.
        meshes = window.art.bones.meshes
        hand.key(page.pose_view, Qt.Key.Key_M)
        hand.until(lambda: meshes.draws or meshes.impossible, "OpenGL")
        self.save("bones")
        meshes.want(False)
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
