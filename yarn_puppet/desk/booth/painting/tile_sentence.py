"""What a booth is drawn with, as sentences: its pictures, and what a cell stands for."""

from __future__ import annotations

from msgspec.structs import replace

from ....core.model.edits import tile_art
from ....core.model.world import AIR, BRICK, LADDER, PLANK, SLOPES, WATER, TileLook
from ...widgets import theme
from ...widgets.parts import Part, Token, Word, choice_field
from .brushes import tile_word
from .editing import Painting

TILES = (BRICK, PLANK, *SLOPES, LADDER, WATER, AIR)
"""What can have a look of the booth's own."""
EDGES = {"none": "alone", "outside": "with edges: 3 × 3 cells",
         "all": "with edges and corners: 5 × 3 cells"}


def picture_token(painting: Painting, field: str, usual: str) -> Token:
    """A picture of the booth: ours, or one that lies beside it."""
    folders, now = painting.picture_folders(), getattr(painting.booths.world, field)
    there = not now or any((folder / now).is_file() for folder in folders)
    found = [path.name for folder in reversed(folders) for path in sorted(folder.glob("*.png"))]

    def chosen(name: str) -> None:
        painting.change(f"change {field}", lambda world: replace(world, **{field: name}))
        if field == "tiles" and name:
            # What it is for comes next.
            painting.choose_brush("cell")

    return Token(
        (now if there else f"{now} (not there)") if now else usual, theme.CLAY, name=field,
        quiet=not now,
        tip="A PNG beside the booth, cut by the size of its tiles; its cells are brushes"
        if field == "tiles" else "A PNG beside the booth that lies behind all, again and again",
        field=choice_field(
            now, [(usual, ""), *((name, name) for name in dict.fromkeys(found))],
            chosen, "a PNG beside the puppet's file"))


def cell_sentence(painting: Painting) -> list[Part] | None:
    """What the cell that is laid stands for besides; None where another brush is in hand."""
    world = painting.booths.world
    if painting.view.brush != "cell" or not world.tiles:
        return None
    column, row = painting.cell
    parts: list[Part] = [Word("cell"), Word(f"{column}, {row}", strong=True)]
    here = [look for look in world.looks if (look.column, look.row) == painting.cell]
    for number, look in enumerate(here):
        said = tile_word(look.tile)
        parts += [
            Word("is how" if not number else "and how"),
            Token(said, theme.CLAY, name=f"look {said}"), Word("looks,"),
            Token(EDGES[look.edges], theme.CLAY, name=f"edges {said}", field=choice_field(
                look.edges, [(words, edges) for edges, words in EDGES.items()],
                lambda edges, look=look: painting.change(  # type: ignore[misc]
                    "change edges", lambda now: tile_art.looking(
                        now, replace(look, edges=edges))),
                "the block begins with this cell")),
            Token("×", theme.INK, quiet=True, name=f"no look {said}",
                  tip=f"Draw {said} as we do",
                  action=lambda tile=look.tile: painting.change(  # type: ignore[misc]
                      "take look away", lambda now: tile_art.looking_usual(now, tile))),
        ]
    tiles = [each for each in TILES if each not in {look.tile for look in here}]
    parts.append(Token("is how… looks" if not here else "and…", theme.CLAY, quiet=True,
                       name="look", field=choice_field(
        "", [(tile_word(tile), tile) for tile in tiles],
        lambda tile: painting.change("change look", lambda now: tile_art.looking(
            now, TileLook(tile, column, row))), "which tile looks like this cell")))
    return parts
