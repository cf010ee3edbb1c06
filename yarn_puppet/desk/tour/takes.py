"""The stops of the tour at the takes: what an edit broke, and why an attack did not come out."""

from __future__ import annotations

from PyQt6.QtCore import Qt

from ...core.model.edits.graph import state_changed
from ...core.model.events import Rule
from ...demo import DEMO_PUPPET
from .stops import Stops

BROKEN = "guarded_fall.take.json"


class Takes(Stops):
    """The Takes page, and a question asked of the ways out."""

    def takes(self) -> None:
        """A walk at half speed: one promise of a take is broken by it, and what else it changed."""
        window, hand = self.window, self.hand
        window.files.load(DEMO_PUPPET)
        window.player.pause()
        hand.click(window.header.pages["Takes"])
        page, kept = window.page("Takes"), window.kept
        hand.until(lambda: bool(kept.outcomes) and not kept.busy, "the kept takes")
        page.desk.choose(BROKEN)
        hand.until(lambda: not window.player.busy, "the take")
        slow = (Rule("move_speed", 0.5),)
        window.document.edit("Walk · while here · move speed × 0.5", lambda now: state_changed(
            now, "walk_state", rules=slow))
        hand.until(lambda: not window.player.busy, "the take run again")
        hand.until(lambda: window.kept.differs and not kept.busy, "the kept takes run again")
        window.player.seek(196)
        self.save("takes")
        window.files.drop_edits()

    def why_not(self) -> None:
        """Pressed too early before landing: by how much, and what would have worked."""
        window, hand = self.window, self.hand
        window.files.load(DEMO_PUPPET)
        hand.click(window.header.pages["Weave"])
        self.begin()
        self.steps(10)
        self.held(Qt.Key.Key_Space, 4)
        self.steps(30)
        self.held(Qt.Key.Key_J, 3)
        self.steps(30)
        window.document.select("state", "light_swing_state")
        window.player.seek(59)
        window.ways_out.why("state", "light_swing_state")
        window.ways_out.why_not.answer()
        self.save("why-not")
        window.ways_out.show_exits()
        window.document.deselect()
