"""The sentence of an axis: a stick, two actions, its dead zone and its curve."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace

from ...core.model.puppet import Puppet
from ...core.model.wiring import Axis
from ..session.document import Document
from ..widgets import theme
from ..widgets.keys import said_key
from ..widgets.parts import Part, Token, Word, choice_field, number_field
from .names import change, name_token


def axis_sentence(document: Document, axis: Axis, capture: Callable[[], None]) -> list[Part]:
    """Every part a field; `capture` asks for a stick by having it moved."""
    puppet = document.puppet
    names = {action.id: action.name for action in puppet.actions}
    options = [*((action.name, action.id) for action in puppet.actions), ("no action", "")]

    def put(name: str, /, **values: object) -> None:
        change(document, name, "axes", axis.id, **values)

    def end(which: str, id: str | None) -> Token:
        return Token(names.get(id or "", "no action"), theme.MADDER, name=which, field=choice_field(
            id or "", options, lambda chosen: put("change axis", **{which: chosen or None})))

    parts: list[Part] = [
        name_token(document, "axes", axis, theme.MADDER), Word("is"),
        Token(said_key(axis.stick) if axis.stick else "stick…", theme.INK, name="stick",
              quiet=not axis.stick,
              action=capture, tip="Move the stick it should have"),
        Word("or from"), end("less", axis.less), Word("to"), end("more", axis.more),
    ]
    if axis.stick:
        parts += [
            Word("· dead"), Token(f"{axis.dead:.0%}", theme.INDIGO, name="dead", field=number_field(
                axis.dead, lambda value: put("change dead zone", dead=value), 0, 0.9, 0.05),
                tip="A stick nearer to its middle than this gives 0"),
            Word("curve"), Token(f"{axis.curve:g}", theme.INDIGO, name="curve", field=number_field(
                axis.curve, lambda value: put("change curve", curve=value), 0.2, 5, 0.1),
                tip="Above 1 it is finer near the middle: half a stick walks slower"),
        ]
    moves = puppet.mover.across == axis.id
    parts.append(Token("moves it across" if moves else "moves it across?", theme.MOSS,
                       quiet=not moves, name="across",
                       tip="Whether the mover follows this axis; click to switch",
                       action=lambda: document.edit(
                           "move along axis", lambda now: _across(now, axis.id, not moves))))
    return parts


def _across(puppet: Puppet, axis: str, on: bool) -> Puppet:
    return replace(puppet, mover=replace(puppet.mover, across=axis if on else None))
