"""What bones did in the run on show, tick by tick: how high they were, how fast, how far turned,
and the largest jump of any. Worked out as it is looked at, some ticks at a time."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.engine.state import Report
from ...core.pose.bones.clip_poses import ClipPoses
from ...core.pose.bones.figure_poses import FigurePoses
from ...core.pose.bones.jumps import Jumps
from ...core.pose.bones.turns import inverse, product, turn_about
from ...core.pose.bones.world_pose import in_world
from ..pictures.bones import Bones
from ..session.run.player import Player
from ..widgets.timers import timer
from .lanes import Lane

AT_ONCE = 16
"""Ticks that are posed between two events of the window."""
ROOM = 1024
JUMP = "bone:jump"
WHATS = {"height": "cm", "speed": "cm/s", "turn": "°"}
"""What of a bone is drawn, and its unit."""
Numbers = NDArray[np.float32]


class BoneColumns(QObject):
    """Columns of the bones of the run on show, by keys as "bone:height:hand L"."""

    changed = pyqtSignal()

    def __init__(self, player: Player, bones: Bones, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.player, self.bones = player, bones
        self.chosen: list[str] = []
        """The keys of the curves that are shown, beside that of the largest jump."""
        self.count = 0
        self._of: tuple[object, ...] = ()
        self._held = bones.puppet
        """Holds on to what `_of` tells apart by identity."""
        self._figure: FigurePoses | None = None
        self._jumps: Jumps | None = None
        self._columns: dict[str, Numbers] = {}
        self._last: NDArray[np.float64] | None = None
        self._more = timer(self, 0, once=True)
        self._more.timeout.connect(self._go_on)
        player.run_replaced.connect(self._begin_again)
        bones.arrived.connect(self._begin_again)

    # What is shown --------------------------------------------------------------------------------

    def lanes(self) -> tuple[Lane, ...]:
        """The lanes of the bones: nothing for puppets of sprites."""
        if self.bones.poses is None:
            return ()
        lanes = [Lane("curve", JUMP, "jump, cm", 0.0, 1.0)]
        for key in self.chosen:
            _, what, bone = key.split(":", 2)
            if self.bones.poses.bone(bone) is not None:
                lanes.append(Lane("curve", key, f"{bone} {what}", 0.0, 1.0))
        return tuple(lanes)

    def toggle(self, key: str) -> None:
        """Show a curve, or no more."""
        if key in self.chosen:
            self.chosen.remove(key)
        else:
            self.chosen.append(key)
            self._begin_again()
        self.changed.emit()

    def offers(self) -> list[tuple[str, str]]:
        """The curves that can be shown: words and key."""
        poses = self.bones.poses
        if poses is None:
            return []
        keys = [f"bone:{what}:{name}" for name in poses.skeleton.names for what in WHATS]
        keys.sort(key=lambda key: key not in self.chosen)
        return [(("without " if key in self.chosen else "") + " ".join(key.split(":")[:0:-1]), key)
                for key in keys]

    def largest(self) -> str:
        """The largest jump so far: how far, which bone, in which tick."""
        far, bones = self._columns.get(JUMP), self._columns.get("which")
        poses = self.bones.poses
        if far is None or bones is None or poses is None or not self.count:
            return ""
        tick = int(np.argmax(far[:self.count]))
        name = poses.skeleton.names[int(bones[tick])]
        working = "" if self.count >= len(self.player.records) else " so far"
        return f"largest{working} {float(far[tick]):.1f} cm, {name}, at {tick}"

    def values(self, key: str, first: int, last: int) -> NDArray[np.float64]:
        """The values of a curve from tick `first` to tick `last`, as far as they are worked out."""
        self.follow()
        column = self._columns.get(key)
        if column is None:
            return np.zeros(0)
        return column[max(0, first):min(last + 1, self.count)].astype(np.float64)

    # Working them out -----------------------------------------------------------------------------

    def follow(self) -> None:
        """Begin, or go on, where there is something to be worked out."""
        if self.bones.poses is None:
            return
        if self._state() != self._of or len(self.player.records) < self.count:
            self._begin_again()
        if self.count < len(self.player.records) and not self._more.isActive():
            self._more.start()

    def _state(self) -> tuple[object, ...]:
        """What the poses depend on, beside the run."""
        poses = self.bones.poses
        puppet = self.bones.puppet
        return (poses.arts if poses is not None else None, id(puppet.clips), id(puppet.layers),
                id(puppet.transitions), id(puppet.bone_files))

    def _begin_again(self) -> None:
        self.count, self._figure, self._last = 0, None, None
        self._columns = {}
        self._of = self._state()
        self._held = self.bones.puppet
        self.changed.emit()

    def _go_on(self) -> None:
        poses, records = self.bones.poses, self.player.records
        if poses is None:
            return
        if self._figure is None or self._jumps is None:
            self._figure, self._jumps = FigurePoses(poses), Jumps(poses)
        last = min(len(records), self.count + AT_ONCE)
        reports = [records[tick].report for tick in range(self.count, last)]
        if reports:
            self._add(poses, self._figure, self._jumps, reports)
        self.changed.emit()
        if self.count < len(records):
            self._more.start()

    def _add(
        self, poses: ClipPoses, figure: FigurePoses, jumps: Jumps, reports: list[Report]
    ) -> None:
        pose = figure.of(reports)
        found = jumps.add(pose)
        self._put(JUMP, found.centimetres)
        self._put("which", found.bones)
        if self.chosen:
            places = in_world(poses.skeleton, pose).places
            before = places[:1] if self._last is None else self._last
            steps = np.linalg.norm(np.diff(np.concatenate([before, places]), axis=0), axis=-1)
            self._last = places[-1:]
            for key in self.chosen:
                _, what, name = key.split(":", 2)
                bone = poses.bone(name)
                if bone is None:
                    continue
                if what == "height":
                    self._put(key, places[:, bone, 1] * 100)
                elif what == "speed":
                    self._put(key, steps[:, bone] * 100 * poses.puppet.rate)
                else:
                    rest = poses.skeleton.turns[bone]
                    _, angles = turn_about(product(inverse(rest), pose.turns[:, bone]))
                    self._put(key, np.degrees(angles))
        self.count += len(reports)

    def _put(self, key: str, values: NDArray[np.float64] | NDArray[np.int64]) -> None:
        column = self._columns.get(key)
        need = self.count + len(values)
        if column is None or len(column) < need:
            larger = np.zeros(max(ROOM, 2 * need), dtype=np.float32)
            if column is not None:
                larger[:len(column)] = column
            column = self._columns[key] = larger
        column[self.count:need] = values
