"""Which lanes the trace shows now, where each stands, and what is drawn in it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

import numpy as np

from ...core.takes.columns import Columns
from ...core.takes.promising.promises import Verdict
from ..session.run.player import Player
from .bone_columns import BoneColumns
from .drawing import Stretch
from .folding import Folding
from .lanes import Lane, differ, lanes_of

LEAST_LANE, MOST_LANE = 14.0, 26.0
STATE_LANE = 23.0
"""Pixels of height."""


class PlacedLane(NamedTuple):
    """A lane, how far down the view it begins, and how high it is, in pixels."""

    lane: Lane
    top: float
    height: float


class ShownLanes:
    """The lanes of a player's run: the puppet's that change, those of bones, and the promises'."""

    def __init__(self, player: Player, bones: BoneColumns | None) -> None:
        self.player, self.bones = player, bones
        self.verdicts: Callable[[], Sequence[Verdict]] = tuple
        """How the promises of the take on show stand."""
        self.unfolded = False
        """Whether lanes that do not change are shown too."""
        self._lanes: tuple[object, tuple[Lane, ...]] = (None, ())
        self._folding, self._folding_earlier = Folding(), Folding()

    def lanes(self) -> tuple[Lane, ...]:
        """From the top."""
        setup = self.player.recording.compiled
        if self._lanes[0] is not setup:
            self._lanes = (setup, lanes_of(setup.puppet, setup.program))
        lanes = self._folded(self._lanes[1])
        if self.bones is not None and (bones := self.bones.lanes()):
            folds = sum(lane.kind == "folded" for lane in lanes)
            lanes = (*lanes[:len(lanes) - folds], *bones, *lanes[len(lanes) - folds:])
        if any(verdict.marks for verdict in self.verdicts()):
            # Beside the states, that it is seen however many lanes there are.
            states = sum(lane.kind == "states" for lane in lanes)
            promises = Lane("promises", "promises", "the game" if self.player.game else "promises")
            return (*lanes[:states], promises, *lanes[states:])
        return lanes

    def _folded(self, lanes: tuple[Lane, ...]) -> tuple[Lane, ...]:
        """The lanes that change within the piece on show, in this run or in the one before the last
        edit, and one that names the others."""
        recording, first = self.player.recording, self.player.begins
        still = self._folding.unchanged(lanes, recording.records.columns, first)
        if recording.earlier:
            before = self._folding_earlier.unchanged(lanes, recording.earlier.columns, first)
            still = {key: words for key, words in still.items() if before.get(key) == words}
        if not still:
            return lanes
        words = ", ".join(still.values())
        shown = (
            lanes
            if self.unfolded
            else tuple([lane for lane in lanes if (lane.kind, lane.key) not in still])
        )
        return (*shown, Lane("folded", words, "unchanged ▾" if self.unfolded else "unchanged ▸"))

    def placed(self, top: float, room: float) -> Iterator[PlacedLane]:
        """Each lane under the one before it, from `top` on. Those of states need height for names,
        the others share what is left of the `room`, and are never too low to be read."""
        lanes = self.lanes()
        states = sum(lane.kind == "states" for lane in lanes)
        shares = sum(1.6 if lane.kind == "curve" else 1.0 for lane in lanes) - states
        share = max(LEAST_LANE, min(MOST_LANE, (room - states * STATE_LANE) / max(1.0, shares)))
        heights = {"states": STATE_LANE, "curve": share * 1.6, "folded": MOST_LANE - 6}
        for lane in lanes:
            height = heights.get(lane.kind, share)
            yield PlacedLane(lane, top, height)
            top += height

    def columns_of(self, lane: Lane) -> Columns | BoneColumns:
        """What has the values of a lane."""
        if self.bones is not None and lane.of_bones:
            return self.bones
        return self.player.records.columns

    def stretches(self, lane: Lane, first: int, last: int) -> list[Stretch]:
        """The run, and under it the one before the last edit where that was another."""
        if self.bones is not None and lane.of_bones:
            return [Stretch(self.player.records.columns, first, last, False, bones=self.bones)]
        now, earlier = self.player.records.columns, self.player.recording.earlier.columns
        before_last = min(last, earlier.count - 1)
        if before_last < first:
            return [Stretch(now, first, last, False)]
        if lane.kind in ("steps", "curve"):
            was, own = (each.values(lane.key, first, before_last) for each in (earlier, now))
            if np.array_equal(was, own):
                return [Stretch(now, first, last, False)]
            whole = now.values(lane.key, first, last)
            low, high = min(was.min(), whole.min()), max(was.max(), whole.max())
            return [Stretch(earlier, first, before_last, True, low, high),
                    Stretch(now, first, last, False, low, high)]
        if not differ(earlier, now, lane, first, before_last):
            return [Stretch(now, first, last, False)]
        return [Stretch(earlier, first, before_last, True), Stretch(now, first, last, False)]
