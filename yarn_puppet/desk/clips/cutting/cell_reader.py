"""What is drawn in the cells that clips are made of: few are looked at at once, many in a
thread."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from PyQt6.QtGui import QImage

from ....core.model.clips import Cell
from ...pictures.pixels import cell_pixels
from ...session.work.job import Job
from .fitting import Drawn, drawn_in

AT_ONCE = 200
"""As many cells as can be looked at without anybody noticing."""
Then = Callable[[Mapping[Cell, Drawn]], None]


class CellReader(Job):
    """Cancelling it leaves everything as it was."""

    def read(self, pages: Sequence[QImage], cells: Sequence[Cell], then: Then) -> None:
        """Look at cells of a picture, and then go on with what is drawn in them."""
        wanted = list(dict.fromkeys(cells))

        def look(cell: Cell) -> Drawn:
            return drawn_in(cell_pixels(pages, cell))

        if len(wanted) <= AT_ONCE:
            then({cell: look(cell) for cell in wanted})
        else:
            self.start(wanted, look, lambda drawn: then(dict(zip(wanted, drawn, strict=True))),
                       stride=32)
