"""Pell's sheet redrawn, in the ways in which artists redraw a sheet: what following is tried
with."""

from __future__ import annotations

from collections.abc import Callable

from PIL import Image

from .. import DEMO_FOLDER
from .art.pell import HEIGHT, WIDTH
from .art.poses import CLIPS

Cells = dict[tuple[int, int], Image.Image]
"""What is drawn in the cell of a column and row."""
COLUMNS = 12
SWING = list(CLIPS).index("light_swing")
"""The row in which frames come and go."""
SHIFT = (-4, 0)
"""By how many pixels every figure is moved: none is cut off by that."""
GROWN = (WIDTH + 16, HEIGHT + 8)
"""The cells of a sheet that has more room."""


def drawn_cells() -> Cells:
    """The sheet as it was drawn, cell by cell."""
    sheet = Image.open(DEMO_FOLDER / "lamplighter.png").convert("RGBA")
    return {(column, row): sheet.crop((column * WIDTH, row * HEIGHT, (column + 1) * WIDTH,
                                       (row + 1) * HEIGHT))
            for row, (poses, _) in enumerate(CLIPS.values()) for column in range(len(poses()))}


def laid_out(cells: Cells, width: int = WIDTH, height: int = HEIGHT) -> Image.Image:
    """Cells as a sheet."""
    sheet = Image.new("RGBA", (width * COLUMNS, height * len(CLIPS)))
    for (column, row), picture in cells.items():
        sheet.paste(picture, (column * width, row * height))
    return sheet


def _moved(
    picture: Image.Image, x: int, y: int, width: int = WIDTH, height: int = HEIGHT
) -> Image.Image:
    made = Image.new("RGBA", (width, height))
    made.paste(picture, (x, y))
    return made


def _in_row(change: Callable[[list[Image.Image]], list[Image.Image]]) -> Cells:
    """The sheet with the pictures of the swing's row changed."""
    cells = drawn_cells()
    row = [cells.pop((column, SWING)) for column in range(COLUMNS) if (column, SWING) in cells]
    return cells | {(column, SWING): picture for column, picture in enumerate(change(row))}


def _repainted(picture: Image.Image) -> Image.Image:
    red, green, blue, alpha = picture.split()
    return Image.merge("RGBA", (blue, red, green, alpha))


def shifted() -> Image.Image:
    """Every figure stands elsewhere in its cell."""
    return laid_out({place: _moved(picture, *SHIFT) for place, picture in drawn_cells().items()})


def one_added() -> Image.Image:
    """A frame more in the swing, after the second; those behind it are moved on."""
    return laid_out(_in_row(lambda row: [*row[:2], _repainted(row[1]), *row[2:]]))


def one_removed() -> Image.Image:
    """The swing's third frame is gone; those behind it close up."""
    return laid_out(_in_row(lambda row: [*row[:2], *row[3:]]))


def two_identical() -> Image.Image:
    """The swing's third frame is drawn like its second."""
    return laid_out(_in_row(lambda row: [*row[:2], row[1], *row[3:]]))


def one_blank() -> Image.Image:
    """Nothing is drawn in the swing's third frame."""
    return laid_out(_in_row(lambda row: [*row[:2], Image.new("RGBA", row[2].size), *row[3:]]))


def all_repainted() -> Image.Image:
    """Every figure in other colours."""
    return laid_out({place: _repainted(picture) for place, picture in drawn_cells().items()})


def grown() -> Image.Image:
    """The same figures in larger cells."""
    room = ((GROWN[0] - WIDTH) // 2, GROWN[1] - HEIGHT)
    return laid_out({place: _moved(picture, *room, *GROWN)
                     for place, picture in drawn_cells().items()}, *GROWN)


WAYS: dict[str, Callable[[], Image.Image]] = {
    "shifted": shifted, "one added": one_added, "one removed": one_removed,
    "two identical": two_identical,
    "one blank": one_blank, "all repainted": all_repainted, "grown": grown,
}
"""Beside these a sheet can be renamed, and is found again."""
