"""Whether figures of bones are drawn as their meshes or as limbs, and whether they can be."""

from __future__ import annotations

from concurrent.futures import Future

from PyQt6.QtCore import QObject, pyqtSignal

from ...widgets.window_call import WindowCall
from .renderer import RENDERER, Renderer


class MeshChoice(QObject):
    """Of one window. Until it is known that there is OpenGL, limbs are drawn; so they are where
    there is none."""

    changed = pyqtSignal()
    """Something else is drawn from now on."""

    def __init__(self, parent: QObject | None = None, renderer: Renderer = RENDERER) -> None:
        super().__init__(parent)
        self.renderer = renderer
        self.wanted = False
        self._is_known = WindowCall(self._on_known)

    def want(self, wanted: bool) -> None:
        """Draw meshes from now on, or limbs."""
        if wanted == self.wanted:
            return
        self.wanted = wanted
        if wanted and not self.renderer.ready:
            is_known = self._is_known

            def tell(found: Future[bool]) -> None:
                is_known()

            self.renderer.begin().add_done_callback(tell)
        self.changed.emit()

    @property
    def draws(self) -> bool:
        """Whether meshes are drawn now."""
        return self.wanted and self.renderer.ready

    @property
    def impossible(self) -> bool:
        """Whether they are wanted, and it is known that they cannot be drawn."""
        return self.wanted and self.renderer.failed

    def _on_known(self) -> None:
        self.changed.emit()
