"""The ticks of a run, kept small: the last of them whole, the others as what it takes to run them
again."""

from __future__ import annotations

from bisect import bisect_right
from collections import OrderedDict
from collections.abc import Iterator, Sequence
from contextlib import suppress
from typing import overload

from .columns import Columns
from .controls import Controls
from .first_seen import FirstSeen
from .memory import weight_of, weight_of_state
from .run import Record, RunState, Setup, advance

BLOCK = 32
"""Ticks that are folded together: looking back costs running so many of them."""
OPEN_BLOCKS = 24
"""Blocks at the end that are kept whole: what is looked at while playing."""
LOOKED_AT = 12
"""Folded blocks that stay unfolded once they were looked at."""
MOST_FOLDED = 1024
"""Ticks that are folded together at most, in a run that is kept thin."""
WEIGHED = 8
"""One block of so many is weighed, to stand for the others."""
CONTROL_BYTES = 8
"""What a tick's controls weigh in a folded block: mostly they are the same as before."""


class Block:
    """Ticks in a row of one setup. `records` are None while it is folded: they come from the
    rest."""

    __slots__ = ("before", "controls", "first", "records", "setup")

    def __init__(self, first: int, setup: Setup, before: RunState) -> None:
        self.first, self.setup, self.before = first, setup, before
        self.controls: list[Controls] = []
        self.records: list[Record] | None = []

    def unfolded(self) -> list[Record]:
        """Its records; ticks being pure functions, running them again gives the very same."""
        records = self.records
        if records is not None:
            return records
        state, found = self.before, []
        for controls in self.controls:
            record = advance(self.setup, state, controls)
            state = record.after
            found.append(record)
        return found


class Records(Sequence[Record]):
    """Records of a run from tick 0 on, as a list would hold them, and the columns that are drawn of
    them.

    `weight` is about how many bytes they hold.
    """

    def __init__(self) -> None:
        self.columns = Columns()
        self.first_seen = FirstSeen()
        self.setup: Setup | None = None
        """The setup that all of it holds for, where it was made by running again."""
        self._blocks: list[Block] = []
        self._block_starts: list[int] = []
        self._count = 0
        self._folded_weight = 0
        self._open_weight = 0
        self._weights = 0, 0
        """What a record, and what a state, weighed last."""
        self._folded = 0
        self._unfolded: OrderedDict[int, list[Record]] = OrderedDict()

    def __len__(self) -> int:
        return self._count

    @property
    def weight(self) -> int:
        """About how many bytes are held."""
        return self._folded_weight + self._open_weight + self.columns.weight

    def append(self, record: Record) -> None:
        """Keep one more tick."""
        block = self._blocks[-1] if self._blocks else None
        if (
            block is None
            or len(block.controls) >= BLOCK
            or block.setup is not record.setup
            or block.records is None
        ):
            block = Block(self._count, record.setup, record.before)
            self._blocks.append(block)
            self._block_starts.append(self._count)
            self._fold()
            if len(self._blocks) % WEIGHED == 1:
                self._weights = weight_of(record), weight_of_state(record.before)
            self._open_weight = (len(self._blocks) - self._folded) * BLOCK * self._weights[0]
        assert block.records is not None
        block.controls.append(record.controls)
        block.records.append(record)
        self._count += 1
        self.columns.append(record)
        self.first_seen.append(self._count - 1, record)

    def _fold(self) -> None:
        while len(self._blocks) - self._folded > OPEN_BLOCKS:
            block = self._blocks[self._folded]
            if block.records is not None:
                block.records = None
                self._folded_weight += self._weights[1] + CONTROL_BYTES * len(block.controls)
            self._folded += 1

    def thin(self) -> bool:
        """Hold less: of what is folded every other state is let go, and looking there costs twice
        as much. False where there is nothing left to let go."""
        blocks: list[Block] = []
        folded = self._blocks[:self._folded]
        for block in folded:
            last = blocks[-1] if blocks else None
            if (
                last is not None
                and last.setup is block.setup
                and len(last.controls) < MOST_FOLDED
                and (len(last.controls) <= len(block.controls))
            ):
                joined = Block(last.first, last.setup, last.before)
                joined.controls, joined.records = [*last.controls, *block.controls], None
                blocks[-1] = joined
            else:
                blocks.append(block)
        if len(blocks) == len(folded):
            return False
        self._blocks[:self._folded] = blocks
        self._block_starts = [block.first for block in self._blocks]
        self._folded = len(blocks)
        self._unfolded.clear()
        self._folded_weight = sum(self._weights[1] + CONTROL_BYTES * len(block.controls)
                                  for block in blocks)
        return True

    def _block_at(self, tick: int) -> tuple[Block, list[Record]]:
        place = bisect_right(self._block_starts, tick) - 1
        block = self._blocks[place]
        # Another run that shares the block may fold it meanwhile, in another thread.
        whole = block.records
        if whole is not None:
            return block, whole
        found = self._unfolded.get(place)
        if found is None:
            found = self._unfolded[place] = block.unfolded()
            if len(self._unfolded) > LOOKED_AT:
                self._unfolded.popitem(last=False)
        else:
            # Another thread that looks may have let it go meanwhile.
            with suppress(KeyError):
                self._unfolded.move_to_end(place)
        return block, found

    @overload
    def __getitem__(self, at: int) -> Record: ...
    @overload
    def __getitem__(self, at: slice) -> list[Record]: ...
    def __getitem__(self, at: int | slice) -> Record | list[Record]:
        if isinstance(at, slice):
            first, last, step = at.indices(self._count)
            if step == 1:
                return list(self.between(first, last))
            return [self[tick] for tick in range(first, last, step)]
        tick = at + self._count if at < 0 else at
        if not 0 <= tick < self._count:
            raise IndexError(f"expected a tick before {self._count}, found {at}")
        block, records = self._block_at(tick)
        return records[tick - block.first]

    def __iter__(self) -> Iterator[Record]:
        return self.between(0, self._count)

    def between(self, first: int, last: int) -> Iterator[Record]:
        """The records of ticks from `first` up to but not including `last`."""
        place = max(0, bisect_right(self._block_starts, first) - 1)
        for number in range(place, len(self._blocks)):
            block = self._blocks[number]
            if block.first >= last:
                return
            records = self._unfolded.get(number) or block.unfolded()
            yield from records[max(0, first - block.first): last - block.first]

    def all_controls(self) -> list[Controls]:
        """The controls of every tick."""
        return [controls for block in self._blocks for controls in block.controls]

    def up_to(self, tick: int) -> Records:
        """The same run as far as a tick, not including it; what is folded is shared."""
        made = Records()
        for block in self._blocks:
            if block.first >= tick:
                break
            whole = block.first + len(block.controls) <= tick
            if not whole:
                part = Block(block.first, block.setup, block.before)
                part.controls = block.controls[:tick - block.first]
                part.records = block.unfolded()[:tick - block.first]
                block = part
            elif block.records is not None and len(block.controls) < BLOCK:
                # One that may still grow is not shared.
                part = Block(block.first, block.setup, block.before)
                part.controls, part.records = list(block.controls), list(block.records)
                block = part
            made._blocks.append(block)
            made._block_starts.append(block.first)
            if block.records is None:
                made._folded_weight += self._weights[1] + CONTROL_BYTES * len(block.controls)
        made._folded = sum(block.records is None for block in made._blocks)
        made._weights = self._weights
        made._count = min(tick, self._count)
        made.columns = self.columns.up_to(made._count)
        made.first_seen = self.first_seen.up_to(made._count)
        return made
