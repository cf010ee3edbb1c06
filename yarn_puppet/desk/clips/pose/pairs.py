"""Which bone of another file is which of ours, on two small figures: a click on one and then on the
other pairs them. What was paired by hand is taken back in the list between."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from functools import partial

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPaintEvent, QPen
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from ....core.model.bones import Skeleton
from ....core.model.edits.bone_settings import paired_as
from ....core.model.edits.motions import unpaired
from ....core.model.puppet import find
from ....core.pose.bones.sampling import rest_pose
from ....core.pose.bones.world_pose import in_world
from ...pictures.bones import Bones
from ...session.document import Document
from ...widgets import theme
from ...widgets.painting import painting
from ...widgets.parts import Field, Part, Suggestion, Token, Word
from ...widgets.sentence import Sentence

MARGIN, JOINT, NEAR = 18.0, 3.5, 12.0
"""Pixels around a figure, of a joint, and from one within which a click means it."""
LEFT_OUT = "leave it out"


class RestFigure(QWidget):
    """A skeleton at rest from the front, as lines and joints. Its sentence is its accessible
    description; the list beside it does all that a click here does."""

    picked = pyqtSignal(int)
    """A joint was clicked."""

    def __init__(self, title: str, skeleton: Skeleton, parent: QWidget) -> None:
        super().__init__(parent)
        self.skeleton, self.title = skeleton, title
        self.paired: Collection[int] = ()
        self.chosen: int | None = None
        self.setMinimumSize(220, 320)
        self.setAccessibleName(title)
        places = in_world(skeleton, rest_pose(skeleton)).places[0]
        # Its left is to the right of who looks at it, as on the big figure.
        self._flat = np.column_stack((places[:, 0], -places[:, 1]))

    def places(self) -> list[QPointF]:
        """Where each joint is drawn."""
        low, size = self._flat.min(axis=0), np.maximum(np.ptp(self._flat, axis=0), 1e-6)
        room = np.array((self.width(), self.height() - 20)) - 2 * MARGIN
        scale = float((room / size).min())
        origin = MARGIN + (room - size * scale) / 2 + (0, 20)
        return [QPointF(x, y) for x, y in ((self._flat - low) * scale + origin).tolist()]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The figure: what is paired full, what is not as rings."""
        places = self.places()
        with painting(self) as painter:
            painter.setRenderHint(painter.RenderHint.Antialiasing)
            painter.setPen(theme.INK)
            painter.drawText(QRectF(4, 2, self.width() - 8, 18), Qt.AlignmentFlag.AlignLeft,
                             self.title)
            painter.setPen(QPen(theme.FAINT, 1.5))
            for bone, parent in enumerate(self.skeleton.parents):
                if parent >= 0:
                    painter.drawLine(places[parent], places[bone])
            for bone, place in enumerate(places):
                color = theme.INDIGO if bone in self.paired else theme.WELD
                painter.setPen(QPen(color, 1.5))
                painter.setBrush(color if bone in self.paired else theme.PAPER)
                painter.drawEllipse(place, JOINT, JOINT)
            if self.chosen is not None:
                place = places[self.chosen]
                painter.setPen(QPen(theme.MADDER, 2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(place, 2 * JOINT, 2 * JOINT)
                painter.drawText(QRectF(4, self.height() - 20, self.width() - 8, 18),
                                 Qt.AlignmentFlag.AlignLeft, self.skeleton.names[self.chosen])

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Pick the joint that is nearest."""
        if event is None:
            return
        gaps = [(place - event.position()).manhattanLength() for place in self.places()]
        nearest = int(np.argmin(gaps))
        if gaps[nearest] <= NEAR:
            self.picked.emit(nearest)


class PairsDialog(QDialog):
    """The figures and the list, for as long as one likes: edits go to the puppet at once."""

    def __init__(
        self, document: Document, bones: Bones, file: str, parent: QWidget | None
    ) -> None:
        super().__init__(parent)
        self.document, self.bones, self.file = document, bones, file
        self.setObjectName("pairs")
        theme.dressed(self)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(940, 560)
        poses = bones.poses
        assert poses is not None
        entry = find(document.puppet.bone_files, file)
        name = entry.name if entry is not None else file
        self.setWindowTitle(f"Which bone is which: {name}")
        self.theirs = RestFigure(name, poses.arts[file].skeleton, self)
        self.ours = RestFigure("ours", poses.skeleton, self)
        self.theirs.picked.connect(self.choose)
        self.ours.picked.connect(self._pair)
        self.rows = [Sentence() for _ in self.theirs.skeleton.names]
        listed = QWidget()
        under = QVBoxLayout(listed)
        under.setSpacing(2)
        for row in self.rows:
            under.addWidget(row)
        under.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidget(listed)
        scroll.setWidgetResizable(True)
        self.line = Sentence(background=False)
        across = QHBoxLayout()
        for widget, share in ((self.theirs, 3), (scroll, 4), (self.ours, 3)):
            across.addWidget(widget, share)
        down = QVBoxLayout(self)
        down.addWidget(self.line)
        down.addLayout(across, 1)
        document.puppet_changed.connect(self.refresh)
        bones.arrived.connect(self.refresh)
        self.refresh()

    def _match(self) -> Mapping[int, int]:
        poses = self.bones.poses
        if poses is None or self.file not in poses.arts:
            return {}
        return poses.source(self.file).match.ours

    def refresh(self) -> None:
        """Show the pairs as they are now; where the file or its bones are others, no more."""
        poses = self.bones.poses
        if (poses is None or poses.puppet is not self.document.puppet
                or self.file not in poses.arts
                or poses.arts[self.file].skeleton.names != self.theirs.skeleton.names
                or poses.skeleton.names != self.ours.skeleton.names):
            return
        match, names = self._match(), self.theirs.skeleton.names
        self.theirs.paired, self.ours.paired = match.keys(), frozenset(match.values())
        self.ours.chosen = match.get(self.theirs.chosen) if self.theirs.chosen is not None else None
        file = find(self.document.puppet.bone_files, self.file)
        by_hand = {pair.theirs: pair.ours for pair in file.pairs} if file is not None else {}
        self.line.show_parts([
            Word(f"{len(match)} of {len(names)} bones are ours", strong=True),
            Word("· click one of theirs, then the one of ours that it is"
                 if self.theirs.chosen is None else
                 f"· {names[self.theirs.chosen]} is chosen: click the one of ours that it is")])
        for their, name in enumerate(names):
            self.rows[their].show_parts(self._row(their, name, match, by_hand))
        self.theirs.update()
        self.ours.update()

    def _row(
        self, their: int, name: str, match: Mapping[int, int], by_hand: Mapping[str, str | None]
    ) -> list[Part]:
        our = match.get(their)
        shown = self.ours.skeleton.names[our] if our is not None else (
            "left out" if name in by_hand else "none of ours")
        parts: list[Part] = [
            Token(name, theme.MADDER if their == self.theirs.chosen else theme.INK, quiet=True,
                  name=f"choose {name}", action=partial(self.choose, their)),
            Word("is"),
            Token(shown, theme.INDIGO if our is not None else theme.WELD, name=f"pair {name}",
                  field=self._field(name, shown))]
        if name in by_hand:
            parts.append(Token("take back", theme.WOAD, quiet=True, name=f"unpair {name}",
                               tip="As names, sides and kinds say",
                               action=lambda: self.document.edit(
                                   "take a pair back",
                                   lambda now: unpaired(now, self.file, name))))
        return parts

    def _field(self, name: str, shown: str) -> Field:
        return Field(shown, lambda ours: self._set(name, None if ours == LEFT_OUT else ours),
                     free=False, offers=lambda: (
                         Suggestion(LEFT_OUT, LEFT_OUT),
                         *[Suggestion(each, each) for each in self.ours.skeleton.names]))

    def choose(self, their: int) -> None:
        """Choose one of theirs, or none where it is already."""
        self.theirs.chosen = None if self.theirs.chosen == their else their
        self.refresh()

    def _pair(self, our: int) -> None:
        if self.theirs.chosen is not None:
            name, self.theirs.chosen = self.theirs.skeleton.names[self.theirs.chosen], None
            self._set(name, self.ours.skeleton.names[our])

    def _set(self, theirs: str, ours: str | None) -> None:
        self.document.edit("match a bone", lambda now: paired_as(now, self.file, {theirs: ours}))
        self.refresh()
