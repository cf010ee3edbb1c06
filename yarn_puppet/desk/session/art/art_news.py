"""What there is to tell of art that was redrawn or cut again, and which cells of it clips show."""

from __future__ import annotations

from typing import NamedTuple

from ....core.model.clips import Cell, Mark
from ....core.model.edits.following.recutting import FrameAt, home_of, shown_of
from ....core.model.puppet import Puppet


class Lost(NamedTuple):
    """A frame that its sheet does not hold any more: its clip, and by what it is found there."""

    clip: str
    cell: Cell
    mark: Mark | None


class SheetNews(NamedTuple):
    """What became of a sheet's frames when it was redrawn or cut again."""

    sheet: str
    kept: int
    moved: tuple[FrameAt, ...]
    redrawn: tuple[FrameAt, ...]
    lost: tuple[Lost, ...]
    fresh: tuple[Cell, ...]
    problem: str = ""


def own_cells(puppet: Puppet, sheet: str) -> frozenset[Cell]:
    """The cells of a sheet that clips show."""
    return frozenset(cell for cell, _ in shown_of(puppet, sheet))


def frames_of(puppet: Puppet, lost: Lost) -> tuple[int, ...]:
    """Which frames of its clip a lost frame still stands for."""
    clip = puppet.clip(lost.clip)
    frames = clip.frames if clip else ()
    return tuple(index for index, frame in enumerate(frames)
                 if (frame.cell, frame.mark) == (lost.cell, lost.mark))


def stands_between(puppet: Puppet, cell: Cell) -> bool:
    """Whether a cell stands between two frames of one clip: where nobody saw the sheet before, only
    that is news."""
    home = home_of(puppet, cell)
    clip = puppet.clip(home.clip) if home else None
    return home is not None and clip is not None and 0 < home.frame < len(clip.frames)
