"""Writes every file of the demo: `python -m yarn_puppet.demo.make`."""

from __future__ import annotations

from functools import cache
from pathlib import Path

from PIL import Image

from ...core.formats.booth_file import save_booth
from ...core.formats.puppet_file import save_puppet
from ...core.formats.skin_file import save_skin
from ...core.formats.take_file import save_take
from .art.bryony import draw_bryony
from .art.pell import HEIGHT, TAMSIN, WIDTH, draw_pell, in_colours
from .art.poses import CLIPS
from .art.sounds import write_sounds
from .art.thatch import draw_thatch
from .art.world_poses import WORLD_CLIPS
from .booths import CANAL, GARDENS, canal_steps, roof_gardens
from .gardener import SHEET as GARDENER_SHEET
from .gardener import gardener
from .harrow.files import write_harrow
from .harrow.puppet import harrow
from .lamplighter import first_steps, with_marks
from .lamplighter_in_the_world import SHEET, in_the_world
from .rooftop import BOOTH, rooftop
from .takes import takes
from .tamsin import hers_of, tamsin

FOLDER = Path(__file__).parent.parent
COLUMNS = 12
FIRST_SHEET = "lamplighter"


@cache
def draw_sheet(of_the_world: bool = False) -> Image.Image:
    """Pell's first sheet, or that of what the world has: twelve cells across, a clip a row."""
    return _drawn(of_the_world)


def _drawn(of_the_world: bool) -> Image.Image:
    clips = WORLD_CLIPS if of_the_world else CLIPS
    sheet = Image.new("RGBA", (WIDTH * (6 if of_the_world else COLUMNS), HEIGHT * len(clips)))
    for row, (poses, _) in enumerate(clips.values()):
        for column, (pose, _) in enumerate(poses()):
            sheet.paste(draw_pell(pose), (column * WIDTH, row * HEIGHT))
    return sheet


def tamsins_sheets() -> dict[str, Image.Image]:
    """The same two as Tamsin, by the ids of Pell's."""
    with in_colours(TAMSIN):
        return {FIRST_SHEET: _drawn(False), SHEET: _drawn(True)}


def main() -> None:
    """Draw and write everything."""
    write_harrow(FOLDER)
    sheet = draw_sheet()
    sheet.save(FOLDER / "lamplighter.png", optimize=True)
    world_sheet = draw_sheet(of_the_world=True)
    world_sheet.save(FOLDER / f"{SHEET}.png", optimize=True)
    draw_bryony().save(FOLDER / "bryony_walk.png", optimize=True)
    write_sounds(FOLDER / "sounds")
    draw_thatch().save(FOLDER / "thatch.png", optimize=True)
    pell = with_marks(with_marks(in_the_world(), sheet), world_sheet, SHEET)
    save_puppet(pell, FOLDER / "lamplighter.puppet.json")
    hers = tamsins_sheets()
    for id, picture in hers.items():
        picture.save(FOLDER / f"{hers_of(id)}.png", optimize=True)
    save_skin(tamsin(pell, hers), FOLDER / "tamsin.skin.json")
    garden = with_marks(gardener(), draw_bryony(), GARDENER_SHEET)
    save_puppet(garden, FOLDER / "gardener.puppet.json")
    save_puppet(harrow(), FOLDER / "harrow.puppet.json")
    save_puppet(with_marks(first_steps(), sheet), FOLDER / "first_steps.puppet.json")
    for booth, world in ((BOOTH, rooftop()), (CANAL, canal_steps()), (GARDENS, roof_gardens())):
        save_booth(world, FOLDER / booth)
    for name, take in takes().items():
        save_take(take, FOLDER / name)


if __name__ == "__main__":
    main()
