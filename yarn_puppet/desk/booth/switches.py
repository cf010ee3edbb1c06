"""Tokens in the booth's corner: what is drawn over the puppet, how large, and whether the booth
fills the window."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QAction, QColor, QPainter
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QMenu, QSizePolicy, QWidget

from ..pictures.mesh.choice import MeshChoice
from ..session.document import Document
from ..session.settings import Settings
from ..widgets import theme
from ..widgets.certain import sure
from ..widgets.painting import painting

OVER = {
    "state": "the name of its state", "velocity": "its speed, as numbers and an arrow",
    "boxes": "its body boxes",
    "anchors": "its anchors", "sensors": "what its sensors touch and ignore",
    "ghosts": "where it was some ticks ago",
    "slides": "where feet that stand were moved over the ground in the last second and a half",
}
LARGEST = 6


class Switch(QAbstractButton):
    """A small token on the night sky; lit while it is on."""

    def __init__(self, text: str, tip: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setText(text)
        self.setObjectName(f"over {text}")
        self.setAccessibleName(f"{text}: {tip}")
        self.setToolTip(tip)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setSizePolicy(QSizePolicy.Policy.Minimum, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        return QSize(int(theme.text_width(self.text(), theme.font(11))) + 10, 18)

    def paintEvent(self, event: object) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            on = self.isChecked()
            rect = QRectF(self.rect()).adjusted(1, 1, -1, -1)
            painter.setPen(theme.pen(QColor("#E6B45A") if self.hasFocus() else theme.DUSK if on
                                     or self.underMouse()
                                     else QColor(140, 146, 172, 120), 1))
            painter.setBrush(QColor(58, 64, 104, 220) if on else QColor(24, 26, 44, 150))
            painter.drawRoundedRect(rect, 5, 5)
            painter.setFont(theme.font(11))
            painter.setPen(theme.MOONLIGHT if on else theme.DUSK)
            painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, self.text())


class Switches(QWidget):
    """Says when something was switched; what is on is kept in the settings."""

    changed = pyqtSignal()
    fill_wanted = pyqtSignal()

    def __init__(
        self, document: Document, settings: Settings, meshes: MeshChoice, parent: QWidget
    ) -> None:
        super().__init__(parent)
        self.document, self.settings, self.meshes = document, settings, meshes
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(2)
        self.switches: dict[str, Switch] = {}
        for name, tip in OVER.items():
            switch = self._add(name, f"Over the puppet: {tip}")
            switch.setCheckable(True)
            switch.setChecked(name in settings.over)
            switch.clicked.connect(lambda on, name=name: self._switch(name, on))
        mesh = self._add("mesh", "The puppet as the mesh of its file, or as limbs")
        mesh.setCheckable(True)
        mesh.clicked.connect(self._want_mesh)
        meshes.changed.connect(self._say_mesh)
        document.puppet_changed.connect(self._say_mesh)
        document.replaced.connect(self._say_mesh)
        self._say_mesh()
        self._add("values…", "Choose senses and memos to write beside the puppet").clicked.connect(
            self._choose)
        self.zoom = self._add("", "How many screen pixels a pixel of the booth is")
        self.zoom.setObjectName("zoom")
        self.zoom.clicked.connect(self._closer)
        self._add("fill", "The booth fills the window (F11)").clicked.connect(self.fill_wanted)
        self._say_zoom()

    def _add(self, text: str, tip: str) -> Switch:
        switch = self.switches[text] = Switch(text, tip, self)
        sure(self.layout()).addWidget(switch)
        return switch

    def _switch(self, name: str, on: bool) -> None:
        over = self.settings.over
        self.settings.over = (
            [*over, name]
            if on and name not in over
            else [each for each in over if each != name or on]
        )
        self.changed.emit()

    def _want_mesh(self, on: bool) -> None:
        self.meshes.want(on)

    def _say_mesh(self) -> None:
        switch = self.switches["mesh"]
        of_bones = self.document.puppet.is_of_bones
        switch.setVisible(of_bones)
        # Feet are found in pictures.
        self.switches["slides"].setVisible(not of_bones)
        switch.setChecked(self.meshes.wanted and not self.meshes.impossible)
        switch.setEnabled(not self.meshes.impossible)

    def _closer(self) -> None:
        self.settings.zoom = (self.settings.zoom + 1) % (LARGEST + 1)
        self._say_zoom()
        self.changed.emit()

    def _say_zoom(self) -> None:
        self.zoom.setText(f"{self.settings.zoom}×" if self.settings.zoom else "fit")
        self.zoom.setAccessibleName(f"zoom: {self.zoom.text()}")
        self.zoom.updateGeometry()

    def _choose(self) -> None:
        menu = theme.dressed(QMenu(self))
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for each in self.document.puppet.values:
            action = QAction(each.name.replace("_", " "), menu)
            action.setCheckable(True)
            action.setChecked(each.id in self.settings.values)
            action.toggled.connect(lambda on, id=each.id: self._write(id, on))
            menu.addAction(action)
        menu.popup(self.mapToGlobal(self.switches["values…"].geometry().topLeft()))

    def _write(self, id: str, on: bool) -> None:
        self.settings.values = [*(value for value in self.settings.values if value != id),
                                *((id,) if on else ())]
        self.changed.emit()
