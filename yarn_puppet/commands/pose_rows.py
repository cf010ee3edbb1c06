"""Poses as rows of a table: a row a bone and time."""

from __future__ import annotations

import sys
from collections.abc import Iterable, Iterator, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ..core.model.bones import Skeleton
    from ..core.pose.bones.sampling import LocalPose

HEAD = ("time_ms", "bone", "x", "y", "z", "qx", "qy", "qz", "qw")


def rows_of(
    skeleton: Skeleton, pose: LocalPose, milliseconds: Sequence[float]
) -> Iterator[tuple[object, ...]]:
    """A row a bone for each time of a pose, which are these milliseconds."""
    from ..core.pose.bones.turns import with_positive_w
    from ..core.pose.bones.world_pose import in_world

    posed = in_world(skeleton, pose)
    turns = with_positive_w(posed.turns)
    for time, places, turned in zip(milliseconds, posed.places, turns, strict=True):
        for name, place, turn in zip(skeleton.names, places, turned, strict=True):
            # Plus nought: a negative zero is read as another number by who compares texts.
            yield (time, name, *[float(value) + 0.0 for value in (*place, *turn)])


def write_rows(rows: Iterable[tuple[object, ...]], out: Path | None) -> None:
    """Rows as CSV, in a file or to standard output."""
    from ..core.formats.table_file import save_table, table_text

    if out is not None:
        save_table(list(rows), out)
    else:
        for row in rows:
            sys.stdout.write(table_text([row]))
