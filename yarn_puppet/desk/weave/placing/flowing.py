"""Cards flow in rows, like the words of a text; a group inside a band keeps its cards together."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

from .sizes import Size


class Block(NamedTuple):
    """A state, or a group with what flows in it."""

    id: str
    is_group: bool
    inside: tuple[Block, ...]


class Flowed(NamedTuple):
    """A card in its row, "" for the room of one: its x from where the rows begin, the groups inside
    the band that are around it, the outermost first, and the room that their frames take above and
    under its row."""

    state: str
    x: float
    frames: tuple[str, ...]
    above: float
    under: float


@lru_cache(maxsize=512)
def flowed(blocks: tuple[Block, ...], width: float, size: Size) -> tuple[tuple[Flowed, ...], ...]:
    """The rows of a band of this width. An edit mostly leaves all bands but one as they were."""
    return tuple(_CardFlow(width, size).rows_of(blocks))


class _CardFlow:
    def __init__(self, width: float, size: Size) -> None:
        self.width, self.size = width, size
        self.rows: list[list[Flowed]] = [[]]
        self.x = 0.0

    def rows_of(self, blocks: Sequence[Block]) -> list[tuple[Flowed, ...]]:
        self.put(blocks, ())
        return [tuple(row) for row in self.rows if row]

    def put(self, blocks: Sequence[Block], frames: tuple[str, ...]) -> None:
        for block in blocks:
            if not block.is_group:
                self.put_card(block.id, frames)
                continue
            # A group that fits into one row is not torn apart; one that does not begins a row of
            # its own.
            wide = _cards(block) * (self.size.width + self.size.gap) + 2 * self.size.frame_pad
            if self.x and self.x + wide - self.size.gap > self.width:
                self.new_row()
            self.x += self.size.frame_pad
            began = len(self.rows)
            if _cards(block):
                self.put(block.inside, (*frames, block.id))
            else:
                # Room for the first card of a group that has none yet.
                self.put_card("", (*frames, block.id))
            self.x += self.size.frame_pad
            if len(self.rows) > began:
                # What follows must not stand in its frame.
                self.new_row()

    def put_card(self, state: str, frames: tuple[str, ...]) -> None:
        indent = len(frames) * self.size.frame_pad
        if self.rows[-1] and self.x + self.size.width + indent > self.width:
            self.new_row()
            self.x = indent
        room = len(frames) * self.size.frame_pad
        self.rows[-1].append(Flowed(state, self.x, frames, room, room))
        self.x += self.size.width + self.size.gap

    def new_row(self) -> None:
        if self.rows[-1]:
            self.rows.append([])
        self.x = 0.0


def _cards(block: Block) -> int:
    return sum(_cards(each) if each.is_group else 1 for each in block.inside)
