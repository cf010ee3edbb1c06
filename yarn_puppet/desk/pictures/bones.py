"""The bones of one puppet: its files read in a thread, its clips as poses, and small pictures of
them."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import replace
from math import ceil
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QObject, QRectF, QSizeF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPixmap

from ...core.model.bones import BoneArt
from ...core.model.clips import Clip
from ...core.model.events import Window
from ...core.model.graph import Group, State
from ...core.model.motions import BoneSetting
from ...core.model.puppet import Puppet, find
from ...core.pose.bones.camera import from_the_side
from ...core.pose.bones.clip_poses import ClipPoses
from ...core.pose.bones.known import know
from ...core.pose.bones.limbs import Limbs
from ...core.pose.bones.world_pose import WorldPose, in_world
from ..widgets import theme
from ..widgets.painting import painting
from ..widgets.timers import timer
from ..widgets.window_call import WindowCall
from .bone_file import PLAIN, Drawable, ReadFile, read_bone_file
from .limbs import draw_limbs
from .mesh.choice import MeshChoice
from .mesh.model import MeshModel

ENDINGS = (".glb", ".gltf")
"""Of props that are meshes."""
MOST_STRIPS = 96
"""Strips of poses that are kept: some screens full."""
POSES_A_TURN = 6
"""Of strips: a few thousandths of a second."""
HEADROOM = 1.12
"""How much higher than the figure at rest a small picture is."""


class _Strip:
    """Poses of a motion as a picture, of which the first `drawn` of `count` are there."""

    def __init__(
        self, motion: object, arts: object, size: QSizeF, ratio: float, count: int
    ) -> None:
        self.motion, self.arts, self.count, self.drawn = motion, arts, count, 0
        self.picture = QPixmap(max(1, ceil(size.width() * ratio)),
                               max(1, ceil(size.height() * ratio)))
        self.picture.setDevicePixelRatio(ratio)
        self.picture.fill(Qt.GlobalColor.transparent)


class Bones(QObject):
    """Where the bones of a puppet are. Nothing, until its files are read."""

    arrived = pyqtSignal()
    """Other files were read, or could not be."""
    came = pyqtSignal()
    """More poses of strips can be drawn now."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.puppet, self.folder = Puppet(), Path()
        self._files: dict[Path, ReadFile] = {}
        self._as_read: dict[Path, BoneSetting | None] = {}
        """How those files of the puppet that are read were meant then."""
        self._other: set[Path] = set()
        """Those that are others than they were when they were read."""
        self._under_way: tuple[Path, ...] = ()
        self._was_read = WindowCall(self._on_read)
        self._run = 0
        self._poses: ClipPoses | None = None
        self._body: Drawable | None = None
        self.meshes = MeshChoice(self)
        self._strips: OrderedDict[object, _Strip] = OrderedDict()
        self._poses_left, self._waiting = POSES_A_TURN, False
        self._next = timer(self, 0, once=True)
        self._next.timeout.connect(self._go_on)

    def show(self, puppet: Puppet, folder: Path) -> None:
        """The puppet whose bones are wanted from now on."""
        if puppet is self.puppet and folder == self.folder:
            return
        self.puppet, self.folder = puppet, folder
        self._made()
        wanted, settings = self._paths(), self._settings()
        missing = tuple([path for path in wanted if path not in self._files or path in self._other
                         or self._as_read.get(path) != settings.get(path)])
        if missing and missing != self._under_way:
            self._under_way = missing
            self._as_read |= {path: settings.get(path) for path in missing}
            self._run += 1
            run, was_read = self._run, self._was_read
            threading.Thread(target=lambda: was_read(run, missing, _all_read(missing, settings)),
                             daemon=True).start()

    def read_now(self) -> None:
        """Wait for all files: for programs without a window."""
        missing = tuple([path for path in self._paths() if path not in self._files])
        self._read(missing, _all_read(missing, self._settings()))

    def forget(self, path: Path) -> None:
        """Read a file again: it is another. Until that is done what was read before is on show, and
        where it cannot be: it may be half written."""
        self._other.add(path)
        self._under_way = ()
        puppet, self.puppet = self.puppet, Puppet()
        self.show(puppet, self.folder)

    @property
    def busy(self) -> bool:
        """Whether a file is being read."""
        return bool(self._under_way)

    @property
    def problems(self) -> dict[Path, str]:
        """Why files cannot be read."""
        return {path: found.problem for path in self._paths()
                if (found := self._files.get(path)) is not None and found.problem}

    @property
    def poses(self) -> ClipPoses | None:
        """The puppet's clips as poses; None where it is of sprites, or its skeleton is not read."""
        return self._poses

    @property
    def limbs(self) -> Limbs | None:
        """The tubes of its body."""
        return self._body.limbs if self._body is not None else None

    @property
    def height(self) -> float:
        """How high it stands at rest, in metres."""
        return self._body.height if self._body is not None else 1.0

    def digest_of(self, bones: str) -> str:
        """The digest of the content of a file of bones, by its id; "" where it is not read."""
        file = find(self.puppet.bone_files, bones)
        read = self._files.get(self.folder / file.path) if file is not None else None
        return read.drawable.digest if read is not None and read.drawable is not None else ""

    def art_of(self, bones: str) -> BoneArt | None:
        """What a file of bones holds, by its id."""
        return self._poses.arts.get(bones) if self._poses is not None else None

    @property
    def model(self) -> MeshModel | None:
        """The meshes of its body."""
        return self._body.model if self._body is not None else None

    def prop(self, file: str) -> Drawable | None:
        """A prop, by its path relative to the puppet; None where it is no file of bones, or is not
        read."""
        if not file.lower().endswith(ENDINGS):
            return None
        read = self._files.get(self.folder / file)
        return read.drawable if read is not None else None

    def _paths(self) -> tuple[Path, ...]:
        return tuple(dict.fromkeys(self.folder / path for path in files_of(self.puppet)))

    def _settings(self) -> dict[Path, BoneSetting]:
        return {self.folder / file.path: file.setting for file in self.puppet.bone_files}

    def _on_read(self, run: int, paths: tuple[Path, ...], files: list[ReadFile]) -> None:
        # What was asked for later counts: a file may have changed while it was read.
        if run == self._run:
            self._read(paths, files)

    def _read(self, paths: tuple[Path, ...], files: list[ReadFile]) -> None:
        for path, file in zip(paths, files, strict=True):
            self._other.discard(path)
            before = self._files.get(path)
            if file.drawable is None and before is not None:
                file = replace(file, drawable=before.drawable)
            self._files[path] = file
            if file.drawable is not None:
                # Who poses by content has it too, whichever puppet is of it.
                know(file.drawable.digest, file.drawable.art)
        self._under_way = ()
        self._made()
        self.arrived.emit()

    def _made(self) -> None:
        drawn = {file.id: found.drawable for file in self.puppet.bone_files
                 if (found := self._files.get(self.folder / file.path)) is not None
                 and found.drawable is not None}
        first = self.puppet.bone_files[0].id if self.puppet.bone_files else ""
        self._body = drawn.get(first)
        self._poses = None if self._body is None else ClipPoses(
            self.puppet, {id: each.art for id, each in drawn.items()}, self._poses,
            {(id, name): sampler for id, each in drawn.items()
             for name, sampler in each.samplers.items()})

    # Small pictures -------------------------------------------------------------------------------

    def world(self, clip: Clip, *milliseconds: float) -> WorldPose | None:
        """Where the bones are at times of a clip."""
        if self._poses is None:
            return None
        times = np.array(milliseconds) / 1000
        return in_world(self._poses.skeleton, self._poses.at(clip, times))

    def draw_strip(self, painter: QPainter, clip: Clip, strip: QRectF, wide: float) -> None:
        """Poses of a clip beside each other, each at the time at which its middle stands, about
        `wide` pixels apart. They are kept as a picture: of most edits of a clip they know nothing.

        In one turn of the window's loop only some poses are made; `came` tells of the next.
        """
        device = painter.device()
        ratio = device.devicePixelRatioF() if device is not None else 1.0
        key = (id(clip.motion), clip.faces, strip.width(), strip.height(), wide, ratio,
               theme.edition())
        known = self._strips.get(key)
        if known is None or known.motion is not clip.motion or known.arts is not self._arts:
            known = self._strips[key] = _Strip(clip.motion, self._arts, strip.size(), ratio,
                                               max(1, int(strip.width() // wide)))
            while len(self._strips) > MOST_STRIPS:
                self._strips.popitem(last=False)
        self._strips.move_to_end(key)
        count = min(self._poses_left, known.count - known.drawn)
        if count > 0 and self._poses is not None:
            self._poses_left -= count
            step = strip.width() / known.count
            numbers = range(known.drawn, known.drawn + count)
            with painting(known.picture) as inside:
                self.draw_fitted(inside, clip, [QRectF(at * step, 0, step, strip.height())
                                                for at in numbers],
                                 [clip.length * (at + 0.5) / known.count for at in numbers])
            known.drawn += count
        if known.drawn < known.count and self._poses is not None:
            self._waiting = True
        if (self._waiting or self._poses_left < POSES_A_TURN) and not self._next.isActive():
            self._next.start()
        painter.drawPixmap(strip.topLeft(), known.picture)

    @property
    def drawing(self) -> bool:
        """Whether poses of strips are still to be drawn."""
        return self._waiting

    def _go_on(self) -> None:
        self._poses_left = POSES_A_TURN
        if self._waiting:
            self._waiting = False
            self.came.emit()

    @property
    def _arts(self) -> object:
        """What poses are made of: the same as long as no file is another."""
        return self._poses.made_of if self._poses is not None else None

    def draw_fitted(
        self, painter: QPainter, clip: Clip, rects: list[QRectF], times: list[float]
    ) -> None:
        """Poses of a clip from the side, each standing in its rectangle, all as large."""
        limbs, pose = self.limbs, self.world(clip, *times)
        if limbs is None or pose is None:
            return
        for number, rect in enumerate(rects):
            scale = rect.height() / (self.height * HEADROOM)
            painter.save()
            painter.setClipRect(rect)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            draw_limbs(painter, limbs, pose,
                       from_the_side(scale, rect.center().x(), rect.bottom() - 1.5), number,
                       rect.center().x() if clip.faces == "left" else None)
            painter.restore()


def _all_read(
    paths: tuple[Path, ...], settings: Mapping[Path, BoneSetting]
) -> list[ReadFile]:
    return [read_bone_file(path, settings.get(path, PLAIN)) for path in paths]


def files_of(puppet: Puppet) -> tuple[str, ...]:
    """The files of bones that a puppet names, as it names them: its own, then those of props."""
    owners: tuple[State | Group | Window, ...] = (
        *puppet.states, *puppet.groups,
        *[window for clip in puppet.clips for window in clip.windows])
    shown = [rule.shows for owner in owners for rule in owner.rules]
    shown += [moment.file for clip in puppet.clips for moment in clip.moments]
    return tuple(dict.fromkeys([*[file.path for file in puppet.bone_files],
                                *[file for file in shown if file.lower().endswith(ENDINGS)]]))
