"""The sentences on top of the Booth page: the booth, its brushes, and the thing that is chosen."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, get_args

from msgspec.structs import replace

from ....core.model.edits import worlds as edits
from ....core.model.world import (
    Does,
    Dummy,
    World,
    WorldProp,
    Zone,
)
from ...widgets import theme
from ...widgets.parts import (
    Part,
    Token,
    Word,
    choice_field,
    name_field,
    number_field,
    ticks_field,
    ticks_text,
)
from .brushes import BRUSHES, FROM_ABOVE, SLOPE_BRUSHES, color_of
from .editing import Painting
from .opponent_sentence import replaying_tokens
from .tile_sentence import picture_token

SEEN = ("from the side", "from above")
NEW, COPY, NEW_ABOVE = "+new", "+copy", "+above"


def booth_sentence(painting: Painting) -> list[Part]:
    """The booth's name, how it is seen and how large it is."""
    booths, world = painting.booths, painting.booths.world
    names = booths.names()
    place = next((number for number, (_, file) in enumerate(names) if file == booths.file), 0)

    def chosen(file: str) -> None:
        if file in (NEW, NEW_ABOVE):
            above = file == NEW_ABOVE
            booths.add("New booth", edits.new_world(
                "New booth", "from above" if above else "from the side"))
        elif file == COPY:
            booths.add(f"{world.name} copy", world)
        else:
            booths.choose(file)

    options = [*names, ("new booth, from the side", NEW), ("new booth, from above", NEW_ABOVE),
               (f"copy of {world.name}", COPY)]
    return [
        Token(world.name, theme.INK, name="booth name", field=name_field(
            world.name, lambda text: painting.change(
                "rename booth", lambda now: replace(now, name=text))),
            tip="The booth's name; its file keeps its own"),
        Word("is seen"),
        Token(world.seen, theme.MOSS, name="seen", field=choice_field(
            world.seen, [(each, each) for each in SEEN],
            lambda seen: painting.change("change view", lambda now: replace(now, seen=seen)))),
        Word("·"),
        Token(f"{world.columns}", theme.INDIGO, name="columns", field=number_field(
            world.columns, lambda wide: painting.change(
                "resize booth", lambda now: edits.resized(now, round(wide), len(now.rows))), 1,
                4096, 1),
            tip="Tiles wide; it grows at the right"),
        Word("×"),
        Token(f"{len(world.rows)}", theme.INDIGO, name="rows", field=number_field(
            len(world.rows), lambda high: painting.change(
                "resize booth", lambda now: edits.resized(now, now.columns, round(high))), 1, 1024,
                1),
            tip="Tiles high; it grows at the top"),
        Word("tiles of"),
        Token(f"{world.tile_size} px", theme.INDIGO, name="tile size", field=number_field(
            world.tile_size, lambda size: painting.change(
                "change size of tiles", lambda now: edits.tile_sized(now, round(size))), 1, 512, 1),
            tip="As your tiles are drawn; what stands in the booth grows with them"),
        Word("drawn as"),
        picture_token(painting, "tiles", "ours"),
        Word("before"),
        picture_token(painting, "background", "the night" if world.seen == "from the side"
                 else "stone flags"),
        Word("·"),
        Token(f"{place + 1} of {len(names)} booths…", theme.INK, name="booths", quiet=True,
              field=choice_field(
            booths.file, options, chosen, "another booth, a new one, or a copy of this")),
    ]


def brush_sentence(painting: Painting) -> list[Part]:
    """What the hand paints with."""
    above = painting.booths.world.from_above
    parts: list[Part] = [Word("paint")]
    slope = painting.view.brush if painting.view.brush in SLOPE_BRUSHES else ""
    for brush in BRUSHES.values():
        if above and brush.name not in FROM_ABOVE:
            continue
        if brush.name == "cell" and not painting.booths.world.tiles:
            continue
        on = painting.view.brush == brush.name
        if brush.name in SLOPE_BRUSHES:
            if brush.name == SLOPE_BRUSHES[0]:
                options = [(each, each) for each in SLOPE_BRUSHES]
                parts.append(Token(slope or "slope…", theme.INK if slope else color_of("brick"),
                                   name="slope",
                                   filled=bool(slope), tip="Two steepnesses, each way",
                                   field=choice_field(
                                       slope, options, painting.choose_brush)))
            continue
        parts.append(Token(
            brush.name, theme.INK if on else color_of(brush.name), name=f"brush {brush.name}",
            filled=on,
            tip=f"{brush.says} ({brush.key})",
            action=lambda name=brush.name: painting.choose_brush(name)))  # type: ignore[misc]
    return parts


def thing_sentence(painting: Painting) -> list[Part] | None:
    """The thing chosen, as a sentence; None where nothing is."""
    if painting.view.chosen is None:
        return None
    kind, index = painting.view.chosen
    things = getattr(painting.booths.world, kind)
    if index >= len(things):
        return None
    thing = things[index]

    def put(edit: str, /, **values: Any) -> None:
        if kind == "zones" and "name" in values:
            painting.rename_zone(index, values["name"])
            return
        if kind == "dummies" and "name" in values:
            painting.rename_dummy(index, values["name"])
            return
        painting.change(edit, lambda now: edits.thing_changed(
            now, kind, index, **values))  # type: ignore[arg-type]

    parts: list[Part] = [
        Token(thing.name, theme.WELD if kind == "dummies" else theme.PLUM, name="thing",
              field=name_field(
            thing.name, lambda text: put("rename", name=text))),
    ]
    kinds: dict[str, Callable[..., list[Part]]] = {
        "dummies": _dummy, "props": _prop, "zones": _zone}
    parts += kinds[kind](painting, thing, put)
    parts.append(Token("×", theme.INK, name="remove", quiet=True, tip="Take it away",
                       action=painting.remove_chosen))
    return parts


Put = Callable[..., None]


def _number(
    thing: Any,
    field: str,
    unit: str,
    put: Put,
    low: float,
    high: float,
    step: float,
    whole: bool = False,
) -> Token:
    value = getattr(thing, field)
    return Token(f"{value:g}{unit}", theme.INDIGO, name=field.replace("_", " "), field=number_field(
        value, lambda given: put(f"change {field.replace('_', ' ')}",
                                 **{field: round(given) if whole else given}),
        low, high, step))


def _dummy(painting: Painting, dummy: Dummy, put: Put) -> list[Part]:
    parts: list[Part] = [Token(dummy.does, theme.MADDER, name="does", field=choice_field(
        dummy.does, [(arg, arg) for arg in get_args(Does)],
        lambda does: put("change dummy", does=does)))]
    if dummy.does == "walks":
        parts += [_number(dummy, "span", " px", put, 0, 1000, 8), Word("to and fro at"),
                  _number(dummy, "speed", " px/s", put, 0, 1000, 5)]
    elif dummy.does == "strikes":
        parts += [Word("every"), _number(dummy, "every", " s", put, 0.05, 60, 0.1),
                  Word("as far as"),
                  _number(dummy, "reach", " px", put, 0, 500, 2), Word("for"),
                  _number(dummy, "damage", " damage", put, 0, 1000, 1, True), Word("push"),
                  _number(dummy, "push", " px", put, -500, 500, 2), Word("hit stop"),
                  _ticks(dummy, "hit_stop", put, 60)]
    elif dummy.does in ("replays", "answers"):
        parts += replaying_tokens(painting, dummy, put)
    if dummy.does == "answers":
        # How large it is, what it stands and how long it reels is its puppet's.
        return parts
    parts += [Word("· reels"), _ticks(dummy, "reels", put, 600)]
    if dummy.does == "guards":
        parts += [Word("guarding"), _ticks(dummy, "reels_guarding", put, 600)]
    health = f"{dummy.health} health" if dummy.health else "health…"
    parts += [
        Word("·"), Token(health, theme.INDIGO, name="health", quiet=not dummy.health,
                         field=number_field(
            dummy.health, lambda given: put("change health", health=round(given)), 0, 100000, 1,
            "0 is not counted")),
        Word("·"), _number(dummy, "width", "", put, 1, 500, 1), Word("×"),
        _number(dummy, "height", " px", put, 1, 500, 1),
    ]
    return parts


def _ticks(dummy: Dummy, field: str, put: Put, most: int) -> Token:
    """What is counted in ticks, or given in seconds."""
    ticks, seconds, words = getattr(dummy, field), getattr(
        dummy, f"{field}_seconds"), field.replace("_", " ")
    return Token(ticks_text(ticks, seconds), theme.INDIGO, name=words, field=ticks_field(
        ticks, seconds, lambda now, given: put(
            f"change {words}", **{field: now, f"{field}_seconds": given}), most,
        words))


def _prop(painting: Painting, prop: WorldProp, put: Put) -> list[Part]:
    found = [path.name for folder in painting.picture_folders()
             for path in sorted(folder.glob("*.png"))]
    return [
        Word("is drawn"),
        Token("before the puppet" if prop.before else "behind the puppet", theme.PLUM,
              name="before",
              action=lambda: put("change prop", before=not prop.before)),
        Word("as"),
        Token(prop.picture or "a crate", theme.PLUM, name="picture", field=choice_field(
            prop.picture, [("a crate", ""), *((name, name) for name in dict.fromkeys(found))],
            lambda picture: put("change picture", picture=picture),
            "a PNG beside the booth's file")),
    ]


def _zone(painting: Painting, zone: Zone, put: Put) -> list[Part]:
    return [
        Word("is"), _number(zone, "width", "", put, 1, 4096, 1, True), Word("×"),
        _number(zone, "height", " tiles", put, 1, 1024, 1, True), Word("large"),
    ]


def place_words(world: World, cell: tuple[int, int] | None, word: str) -> str:
    """What is under the pointer, in words."""
    if cell is None:
        return ""
    wet = " under water" if world.is_wet(*cell) and word != "water" else ""
    tile = world.tile_size
    return f"{word}{wet} at {cell[0]}, {cell[1]} · {cell[0] * tile}, {cell[1] * tile} px"
