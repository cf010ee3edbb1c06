"""Writes every file of the demo: `python -m yarn_puppet.demo.make`."""

from __future__ import annotations

from functools import cache
from pathlib import Path

from PIL import Image

from ...core.formats.booth_file import save_booth
from ...core.formats.puppet_file import save_puppet
from ...core.formats.take_file import save_take
from .bryony import draw_bryony
from .lamplighter import first_steps, with_marks
from .lamplighter_in_full import lamplighter
from .pell import HEIGHT, WIDTH, draw_pell
from .poses import CLIPS
from .rooftop import BOOTH, rooftop, takes
from .sounds import write_sounds
from .thatch import draw_thatch

FOLDER = Path(__file__).parent.parent
COLUMNS = 12


@cache
def draw_sheet() -> Image.Image:
    """Pell's sheet: twelve cells across, a clip a row."""
    sheet = Image.new("RGBA", (WIDTH * COLUMNS, HEIGHT * len(CLIPS)))
    for row, (poses, _) in enumerate(CLIPS.values()):
        for column, (pose, _) in enumerate(poses()):
            sheet.paste(draw_pell(pose), (column * WIDTH, row * HEIGHT))
    return sheet


def main() -> None:
    """Draw and write everything."""
    sheet = draw_sheet()
    sheet.save(FOLDER / "lamplighter.png", optimize=True)
    draw_bryony().save(FOLDER / "bryony_walk.png", optimize=True)
    write_sounds(FOLDER / "sounds")
    draw_thatch().save(FOLDER / "thatch.png", optimize=True)
    save_puppet(with_marks(lamplighter(), sheet), FOLDER / "lamplighter.puppet.json")
    save_puppet(with_marks(first_steps(), sheet), FOLDER / "first_steps.puppet.json")
    save_booth(rooftop(), FOLDER / BOOTH)
    for name, take in takes().items():
        save_take(take, FOLDER / name)


if __name__ == "__main__":
    main()
