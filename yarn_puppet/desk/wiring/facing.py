"""The sentence of how the puppet turns."""

from __future__ import annotations

from msgspec.structs import replace

from ...core.model.edits import wiring as edits
from ...core.model.puppet import Puppet, find
from ..session.document import Document
from ..widgets import theme
from ..widgets.parts import Part, Token, Word, choice_field

KINDS = [("left and right", "mirror"), ("four sides", "four"), ("eight sides", "eight")]
SIDES = {
    "mirror": ("right", "left"), "four": ("right", "up", "left", "down"),
    "eight": ("right", "up right", "up", "up left", "left", "down left", "down", "down right"),
}


def facing_sentence(document: Document) -> list[Part]:
    """Which sides it turns to, by which senses, and where it looks at first."""
    puppet = document.puppet
    facing = puppet.facing
    numbers = [(sense.name, sense.id) for sense in puppet.senses if sense.type in ("int", "float")]

    def change(**values: str) -> None:
        document.edit("change facing", lambda now: _changed(now, **values))

    def sense(id: str, name: str, field: str) -> Token:
        label = next((label for label, each in numbers if each == id), id)
        return Token(label, theme.WOAD,
                     choice_field(id, numbers, lambda chosen: change(**{field: chosen})), name=name)

    parts: list[Part] = [
        Word("turns to"), Token({kind: words for words, kind in KINDS}[facing.kind],
                                theme.MOSS, name="facing kind", field=choice_field(
                                    facing.kind, KINDS, lambda kind: change(kind=kind))),
        Word("by"), sense(facing.follows, "facing follows", "follows"),
    ]
    if facing.kind != "mirror":
        parts += [Word("and up by"), sense(facing.follows_up, "facing follows up", "follows_up")]
    parts += [Word(", at first to"),
              Token(facing.start, theme.MOSS, name="facing start", field=choice_field(
        facing.start, [(side, side) for side in SIDES[facing.kind]],
        lambda side: change(start=side)))]
    return parts


def _changed(puppet: Puppet, **values: str) -> Puppet:
    """With another facing; one of more than two sides needs a sense that says how far up."""
    facing = replace(puppet.facing, **values)
    if facing.start not in SIDES[facing.kind]:
        facing = replace(facing, start="right")
    if facing.kind != "mirror" and find(puppet.senses, facing.follows_up) is None:
        puppet, id = edits.sense_added(puppet, facing.follows_up, "int")
        facing = replace(facing, follows_up=id)
    return replace(puppet, facing=facing)
