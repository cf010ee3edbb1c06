"""From reports to poses: what the layers of a puppet of bones show, tick by tick.

Rules 7 to 9 and 13 of docs/poses.md.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from ...engine.state import LayerReport, Report
from ...model.puppet import Puppet
from .blending import between
from .clip_poses import ClipPoses
from .layering import added
from .momentum import Offset, offset_of
from .sampling import LocalPose, rest_pose

if TYPE_CHECKING:
    from ...model.bones import Floats


class _Dying(NamedTuple):
    """An offset that dies away in so many seconds, and the ticks in which it did so far."""

    offset: Offset
    seconds: float
    ticks: int = 0


class _Shown:
    """What a layer carries from tick to tick: its poses in the last two that moved on, what dies
    away, and how long its state had been played."""

    def __init__(self) -> None:
        self.last: LocalPose | None = None
        self.before: LocalPose | None = None
        self.dying: _Dying | None = None
        self.elapsed: tuple[int, float] | None = None


class FigurePoses:
    """Poses of one run, whose reports are given in their order: momentum needs what was on show
    before."""

    def __init__(self, poses: ClipPoses, carries: bool = True) -> None:
        """One that does not carry leaves momentum out: then each report stands for itself."""
        self.poses, self.puppet = poses, poses.puppet
        self._shown: dict[str, _Shown] = {}
        self._momentum = momentum_of(self.puppet) if carries else {}
        self._layers = {layer.id: layer for layer in self.puppet.layers}
        self._masks = {layer.id: poses.mask(layer) for layer in self.puppet.layers}
        self._references = {layer.id: poses.reference(layer)
                            for layer in self.puppet.layers if layer.adds}

    def of(self, reports: Sequence[Report]) -> LocalPose:
        """The poses (ticks, bones, …) of the next reports."""
        whole = rest_pose(self.poses.skeleton, len(reports))
        for entry in self.puppet.layers:
            told: list[tuple[int, LayerReport]] = [
                (place, layer) for place, report in enumerate(reports)
                for layer in report.layers if layer.layer == entry.id]
            if not told:
                continue
            places, layers = [place for place, _ in told], [layer for _, layer in told]
            pose, shares = self._layer(layers)
            for which, place in enumerate(places if self._momentum else ()):
                taken = [each.transition for each in reports[place].taken
                         if each.layer == entry.id]
                self._add_momentum(pose, which, layers[which], taken, shares[which] > 0)
            weights = shares * np.array([layer.weight for layer in layers])
            below = _picked(whole, places)
            mask = self._masks[entry.id] * weights[:, None]
            if entry.adds:
                reference = self._references[entry.id]
                made = added(below, pose, _repeated(reference, len(places)), mask, 1.0)
            else:
                made = between(below, pose, mask[..., None])
            for old, new in zip(whole, made, strict=True):
                old[places] = new
        return whole

    def _layer(self, layers: list[LayerReport]) -> tuple[LocalPose, Floats]:
        """What a layer shows, tick by tick, and how much of it there is: a state that plays nothing
        shows nothing."""
        count = len(layers)
        found, so_far = rest_pose(self.poses.skeleton, count), np.zeros(count)
        shown = [_clips_shown(layer) for layer in layers]
        for depth in range(max(map(len, shown), default=0)):
            by_clip: dict[str, list[tuple[int, float, float]]] = {}
            for place, clips in enumerate(shown):
                if depth < len(clips):
                    clip, time, weight = clips[depth]
                    by_clip.setdefault(clip, []).append((place, time, weight))
            for clip, entries in by_clip.items():
                places = [place for place, *_ in entries]
                new = self.poses.at(self.puppet.clip(clip),
                                    np.array([time for _, time, _ in entries]))
                weights = np.array([weight for *_, weight in entries])
                so_far[places] += weights
                total = so_far[places]
                share = np.divide(weights, total, out=np.zeros_like(total), where=total > 0)
                mixed = between(_picked(found, places), new, share[:, None, None])
                for old, mix in zip(found, mixed, strict=True):
                    old[places] = mix
        return found, np.minimum(so_far, 1.0)

    def _add_momentum(
        self, pose: LocalPose, place: int, layer: LayerReport, taken: list[str], shows: bool
    ) -> None:
        """Put what dies away onto one of the poses of a layer."""
        kept = self._shown.setdefault(layer.layer, _Shown())
        elapsed = (layer.visit, layer.elapsed)
        # A hit stop holds what dies away, too.
        stopped, kept.elapsed = kept.elapsed == elapsed and not taken, elapsed
        now = LocalPose(*[each[place:place + 1] for each in pose])
        blend = self._momentum.get(taken[-1]) if taken else None
        if blend is not None:
            kept.dying = None
            if blend > 0 and shows and kept.last is not None:
                before = kept.before if kept.before is not None else kept.last
                kept.dying = _Dying(offset_of(kept.last, before, now, 1 / self.puppet.rate), blend)
        if kept.dying is not None:
            # The tick that takes it shows what was there moved on by a tick: nothing stalls.
            ticks = kept.dying.ticks + (not stopped)
            kept.dying = kept.dying._replace(ticks=ticks)
            time = ticks / self.puppet.rate
            if time >= kept.dying.seconds:
                kept.dying = None
            else:
                now = kept.dying.offset.onto(now, kept.dying.seconds, time)
                for old, new in zip(pose, now, strict=True):
                    old[place] = new[0]
        if not stopped:
            kept.before = kept.last if shows else None
            kept.last = LocalPose(*[each.copy() for each in now]) if shows else None


def momentum_of(puppet: Puppet) -> dict[str, float]:
    """By transition the seconds of its momentum, zero for a cut, where the puppet has momentum at
    all. One that crossfades is not among them: what dies away goes on under it."""
    if not any(each.blend.kind == "momentum" for each in puppet.transitions):
        return {}
    found = {}
    for each in puppet.transitions:
        seconds = each.blend.seconds
        if each.blend.kind == "momentum":
            found[each.id] = seconds
        elif each.blend.kind == "cut" or seconds <= 0:
            found[each.id] = 0.0
    return found


def first_needed(puppet: Puppet, reports: Sequence[Report], tick: int) -> int:
    """The place of the first report that the pose at one of them depends on."""
    momentum = momentum_of(puppet)
    longest = max(momentum.values(), default=0.0)
    ticks, start = int(longest * puppet.rate) + 2, tick
    if longest <= 0:
        return tick
    looked = tick + 1
    while True:
        low = max(0, start - ticks)
        taken = [place for place in range(low, min(start + 1, looked))
                 if any(momentum.get(each.transition, 0.0) > 0 for each in reports[place].taken)]
        if not taken:
            return start
        # The two before a change give its speed, and may hang on an earlier one themselves.
        looked, start = taken[0], max(0, taken[0] - 2)
        if start == 0:
            return 0


class PoseByPose:
    """Poses of single reports. The one after that which was asked for last costs one pose; any
    other as many as momentum lasts."""

    def __init__(self, poses: ClipPoses) -> None:
        self.poses = poses
        self._figure = FigurePoses(poses)
        self._last: tuple[int, Report] | None = None

    def at(self, reports: Sequence[Report], tick: int) -> LocalPose:
        """The pose of one report of a run, (1, bones, …)."""
        last, start = self._last, tick
        if last is None or last[0] != tick - 1 or reports[tick - 1] is not last[1]:
            self._figure = FigurePoses(self.poses)
            start = first_needed(self.poses.puppet, reports, tick)
        found = self._figure.of(reports[start:tick + 1])
        self._last = (tick, reports[tick])
        return LocalPose(*[each[-1:] for each in found])


def _clips_shown(layer: LayerReport) -> list[tuple[str, float, float]]:
    """The clips on show with their times in seconds and weights, the oldest first."""
    found = [(each.clip, each.clip_time, each.weight) for each in layer.fading if each.weight > 0]
    if layer.clip is not None and layer.blend > 0:
        found.append((layer.clip, layer.clip_time, layer.blend))
    return found


def _picked(pose: LocalPose, places: list[int]) -> LocalPose:
    return LocalPose(*[each[places] for each in pose])


def _repeated(pose: LocalPose, times: int) -> LocalPose:
    return LocalPose(*[np.repeat(each, times, axis=0) for each in pose])


