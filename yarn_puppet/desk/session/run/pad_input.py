"""What a pad does to the puppet: buttons are actions, sticks push axes, as the puppet's wiring
says."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from ....core.booth.move_input import stick_steps
from ...pads.pads import Pads
from ..document import Document
from .player import Player


class PadInput(QObject):
    """Passes what pads tell on to the player. A pad needs no focus: nobody types with one."""

    def __init__(self, pads: Pads, document: Document, player: Player) -> None:
        super().__init__()
        self.document, self.player = document, player
        pads.button.connect(self._button)
        pads.stick.connect(self._stick)

    def _button(self, name: str, down: bool) -> None:
        for action in self.document.puppet.actions:
            if name in action.keys:
                (self.player.press if down else self.player.release)(action.id)

    def _stick(self, name: str, value: float) -> None:
        for axis in self.document.puppet.axes:
            if axis.stick == name:
                self.player.push(axis.id, stick_steps(axis, value))
