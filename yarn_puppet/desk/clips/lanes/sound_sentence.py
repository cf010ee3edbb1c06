"""The part of a moment's sentence that says what is heard: one of several files, how loud, how
high."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import Any

from msgspec.structs import replace

from ....core.model.events import Sound
from ...widgets import theme
from ...widgets.parts import Part, Token, Word, number_field
from .file_tokens import Context, file_tokens

SOUNDS = "Sounds (*.wav *.ogg *.flac)"


def sound_tokens(context: Context) -> list[Part]:
    """Its file, the others that may be heard in its place with their weights, volume and pitch."""
    document, _, moment, change, ask, hear = context
    parts = file_tokens(context, "sound", SOUNDS)
    if not moment.file and not moment.heard.others:
        return parts
    if moment.heard.others:
        parts = [parts[0], _weight(context, -1, moment.heard.weight), _first_removed(context)]
        for place in range(len(moment.heard.others)):
            parts += _other(context, place)

    def added(paths: list[Path]) -> None:
        others = (*moment.heard.others, *[Sound(document.stored(path)) for path in paths])
        change("other sounds", heard=replace(moment.heard, others=others))

    parts.append(Token("or…", theme.CLAY, quiet=True, name="another sound",
                       tip="Other sounds: one of them is heard each time, picked at random",
                       action=lambda: ask("Choose other sounds", SOUNDS, added, several=True)))
    if moment.heard.others:
        parts.append(Token(
            "the same may come again" if moment.heard.repeats else "never the same twice running",
            theme.INDIGO, quiet=moment.heard.repeats, name="repeats",
            action=lambda: change("let sounds come again",
                                  heard=replace(moment.heard, repeats=not moment.heard.repeats))))
    for word, field, low, high in (("volume", "volume", 0, 4), ("pitch", "pitch", 0.1, 4)):
        parts += _varied(context, word, field, low, high)
    if moment.file:
        parts.append(Token("hear it", theme.CLAY, quiet=True, name="hear",
                           action=lambda: hear(moment.file, moment.heard.volume,
                                               moment.heard.pitch)))
    return parts


def _first_removed(context: Context) -> Token:
    """The moment's own sound away: the next one is its own then."""
    moment, change = context[2], context[3]
    next_one, *others = moment.heard.others
    return Token("×", theme.MADDER, quiet=True, name="no file", tip="Not this one",
                 action=lambda: change("remove sound", file=next_one.file, heard=replace(
                     moment.heard, weight=next_one.weight, others=tuple(others))))


def _other(context: Context, place: int) -> list[Part]:
    """One of the others: what it is, how often it comes, and away with it."""
    document, _, moment, change, ask, _ = context
    sound = moment.heard.others[place]

    def chosen(paths: list[Path]) -> None:
        _put(context, "choose sound", place, replace(sound, file=document.stored(paths[0])))

    def removed() -> None:
        others = (*moment.heard.others[:place], *moment.heard.others[place + 1:])
        change("remove sound", heard=replace(moment.heard, others=others))

    number = place + 2
    return [
        Word("or"),
        Token(Path(sound.file).name or "silence", theme.CLAY, name=f"sound {number}",
              tip=sound.file or "Nothing is heard; click to choose a sound",
              action=lambda: ask("Choose a sound", SOUNDS, chosen)),
        _weight(context, place, sound.weight),
        Token("×", theme.MADDER, quiet=True, name=f"remove sound {number}", tip="Not this one",
              action=removed),
    ]


def _put(context: Context, name: str, place: int, sound: Sound) -> None:
    moment, change = context[2], context[3]
    others = list(moment.heard.others)
    others[place] = sound
    change(name, heard=replace(moment.heard, others=tuple(others)))


def _weight(context: Context, place: int, weight: float) -> Token:
    """How often a sound comes; place -1 is the moment's own."""
    moment, change = context[2], context[3]

    def put(value: float) -> None:
        if place < 0:
            change("weigh sound", heard=replace(moment.heard, weight=value))
        else:
            _put(context, "weigh sound", place, replace(moment.heard.others[place], weight=value))

    return Token(f"× {weight:g}", theme.INDIGO, name=f"weight of sound {place + 2}",
                 tip="How often it comes, beside the others",
                 field=number_field(weight, put, 0, 1000, 0.5))


def _varied(context: Context, word: str, field: str, low: float, high: float) -> list[Part]:
    """A factor, and by how much it may be off."""
    moment, change = context[2], context[3]
    value: float = getattr(moment.heard, field)
    spread: float = getattr(moment.heard, f"{field}_spread")

    def put(name: str, number: float) -> None:
        changes: dict[str, Any] = {name: number}
        change(f"change {word}", heard=replace(moment.heard, **changes))

    return [
        Token(f"{word} {value:g}", theme.CLAY, quiet=value == 1.0, name=field,
              tip=f"How many times the {word} of the file it is heard at",
              field=number_field(value, partial(put, field), low, high, 0.05)),
        Token(f"± {spread:g}", theme.CLAY, quiet=not spread, name=f"{field} spread",
              tip=f"By how much the {word} is more or less, anew each time",
              field=number_field(spread, partial(put, f"{field}_spread"), 0, 4, 0.05)),
    ]
