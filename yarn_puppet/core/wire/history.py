"""What a game told, tick after tick, kept small: each tick as what is other than in the one
before."""

from __future__ import annotations

from array import array
from collections.abc import Iterator, Sequence
from typing import Any

import msgspec

from ..model.take import Take
from ..takes.controls import NO_CONTROLS, Controls, GameInput
from ..takes.recording import take_of

WHOLE_EVERY = 256
"""Each so many ticks are kept whole, so that reading may begin there."""
MOST_TICKS, MOST_BYTES = 1_000_000, 64 << 20
MOST_TOGETHER = 256 << 20
"""Bytes that all runs on one wire may take, with where their ticks begin."""
BYTES_OF_A_PLACE = 8


class Room:
    """What the runs that share it take up, in bytes."""

    def __init__(self, most: int = MOST_TOGETHER) -> None:
        self.most, self.used = most, 0


class ControlsHistory:
    """The controls of a run from its first tick on. `full` once it, or those that share its room,
    hold as much as they may: nothing more is kept."""

    def __init__(self, room: Room | None = None) -> None:
        self._room = room or Room()
        self._text = bytearray()
        self._starts: array[int] = array("Q")
        self._last = NO_CONTROLS
        self.full = False

    def __len__(self) -> int:
        return len(self._starts)

    def append(self, controls: Controls) -> None:
        """Keep one more tick."""
        if (
            self.full
            or len(self) >= MOST_TICKS
            or len(self._text) >= MOST_BYTES
            or self._room.used >= self._room.most
        ):
            self.full = True
            return
        before = self._last if len(self) % WHOLE_EVERY else None
        self._starts.append(len(self._text))
        text = msgspec.msgpack.encode(_packed(controls, before))
        self._text += text
        self._room.used += len(text) + BYTES_OF_A_PLACE
        self._last = controls

    def cut(self, tick: int) -> None:
        """Forget what was told from a tick on."""
        if tick >= len(self):
            return
        self._room.used -= len(self._text) - self._starts[tick] + BYTES_OF_A_PLACE * (
            len(self) - tick)
        del self._text[self._starts[tick]:]
        del self._starts[tick:]
        self._last = list(self.controls(tick - 1))[-1] if tick else NO_CONTROLS
        self.full = False

    def controls(self, first: int = 0) -> Iterator[Controls]:
        """The controls from a tick on."""
        begin = first - first % WHOLE_EVERY
        now = NO_CONTROLS
        for tick in range(begin, len(self)):
            end = self._starts[tick + 1] if tick + 1 < len(self) else len(self._text)
            now = _unpacked(msgspec.msgpack.decode(self._text[self._starts[tick]:end]), now)
            if tick >= first:
                yield now

    def take(self, rate: int, last_seconds: float) -> Take:
        """All of it as a take, of which only the last so many seconds are looked at."""
        first = max(0, len(self) - round(last_seconds * rate))
        return msgspec.structs.replace(take_of(list(self.controls()), None, rate), first=first)


def _packed(controls: Controls, before: Controls | None) -> list[Any]:
    """What is other than before; all of it after none. What is the same is nothing."""
    game = controls.game or GameInput()
    if before is None:
        return [list(controls.down), list(controls.forced), game, *_edges(controls)]
    down = None if controls.down == before.down else list(controls.down)
    return [down, _others(controls.forced, before.forced),
            None if controls.game == before.game else game,
            *_edges(controls)]


def _edges(controls: Controls) -> list[Any]:
    """What is told in few ticks, and stands at the end of those."""
    return [controls.edges] if controls.edges else []


def _others(now: Sequence[tuple[str, Any]], before: Sequence[tuple[str, Any]]) -> Any:
    if now == before:
        return None
    if len(now) == len(before) and all(
        [one[0] == other[0] for one, other in zip(now, before, strict=True)]
    ):
        # By place: the names need not be said again.
        return {index: each[1] for index, each in enumerate(now) if each != before[index]
                or type(each[1]) is not type(before[index][1])}
    return list(now)


def _unpacked(row: list[Any], before: Controls) -> Controls:
    down, forced, game, *edges = row
    held = before.down if down is None else frozenset(down)
    values = before.forced
    if isinstance(forced, dict):
        found = list(values)
        for place, value in forced.items():
            found[place] = (found[place][0], value)
        values = tuple(found)
    elif forced is not None:
        values = tuple([(id, value) for id, value in forced])
    news = before.game
    if game is not None:
        landed, stopped, at = game
        news = GameInput(tuple([(layer, visit, cycle) for layer, visit, cycle in landed]), stopped,
                         tuple(at))
    return Controls(held, values, (), news,
                    tuple([(id, count) for id, count in edges[0]]) if edges else ())
