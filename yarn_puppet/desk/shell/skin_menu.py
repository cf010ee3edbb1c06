"""The menu of the skins: which is on show, and another."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QWidget

from ..clips.incoming.skin_art import SkinArt
from ..session.document import Document

NONE = "The puppet's own look"


class SkinMenu(QObject):
    """Makes the menu as it is now."""

    def __init__(self, window: QWidget, document: Document, skin_art: SkinArt) -> None:
        super().__init__(window)
        self.document, self.skin_art = document, skin_art

    def actions(self) -> list[QAction | None]:
        """Each of the looks, then what can be done; None is a dividing line."""
        document, shown = self.document, self.document.wearing.shown
        found: list[QAction | None] = [self._look(NONE, "", not shown)]
        found += [self._look(skin.name, file, file == shown)
                  for file, skin in document.skins.items()]
        found += [self._unreadable(file, why) for file, why in document.wearing.problems.items()]
        found += [None, self._action("Another skin…", self.skin_art.ask_another)]
        if shown:
            skin = document.skins[shown]
            found += [
                self._action(f"More art for {_plain(skin.name)}…", self.skin_art.ask_more),
                self._action(f"Take {_plain(skin.name)} away", partial(
                    document.edit_skins, "take skin away", {shown: None}, show=""))]
        return found

    def _look(self, name: str, file: str, on: bool) -> QAction:
        action = self._action(_plain(name), partial(self.document.wear, file))
        action.setCheckable(True)
        action.setChecked(on)
        return action

    def _unreadable(self, file: str, why: str) -> QAction:
        action = self._action(f"{_plain(file)} cannot be read", lambda: None)
        action.setEnabled(False)
        action.setToolTip(why)
        return action

    def _action(self, text: str, does: object) -> QAction:
        action = QAction(text, self)
        action.triggered.connect(lambda _=False: does())  # type: ignore[operator]
        return action


def _plain(name: str) -> str:
    """A name as a menu shows it: an ampersand would mark a key."""
    return name.replace("&", "&&")
