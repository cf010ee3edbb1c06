"""The sentences of senses, memos and thresholds: what they are, where they start, who reads and
sets them."""

from __future__ import annotations

from typing import get_args

from ...core.model.starter import BOOTH_SENSES
from ...core.model.wiring import Memo, Sense, Threshold, ValueType
from ...core.takes.explaining.explain import said
from ..session.document import Document
from ..session.run.player import Player
from ..widgets import theme
from ..widgets.parts import Field, Part, Token, Word, choice_field, number_field
from .names import change, name_token

OWN = frozenset(sense.id for sense in BOOTH_SENSES)
"""The senses that every booth reports."""


def sense_sentence(document: Document, player: Player, sense: Sense) -> list[Part]:
    """A sense with its type, range and unit, and whether it is forced by hand."""
    def put(name: str, /, **values: object) -> None:
        change(document, name, "senses", sense.id, **values)

    parts: list[Part] = [name_token(document, "senses", sense, theme.WOAD)]
    if sense.id not in OWN:
        parts.append(_type(document, "senses", sense))
        if sense.type == "bool":
            parts.append(
                Token(
                    "event",
                    theme.WOAD,
                    filled=sense.event,
                    quiet=not sense.event,
                    name="event",
                    tip="An event: it stays true until a tick has read it",
                    action=lambda: put("report an event", event=not sense.event),
                )
            )
    if sense.type in ("int", "float"):
        parts += [
            Token(f"{sense.low:g}", theme.INDIGO, quiet=True, name="low",
                  tip="Lowest value drawn",
                  field=number_field(sense.low, lambda value: put("change range", low=value), -1e6,
                                     1e6, 1)),
            Word("to"),
            Token(f"{sense.high:g}", theme.INDIGO, quiet=True, name="high",
                  tip="Highest value drawn",
                  field=number_field(sense.high, lambda value: put("change range", high=value),
                                     -1e6, 1e6, 1)),
            Token(sense.unit or "unit…", theme.INDIGO, quiet=True, name="unit", field=Field(
                sense.unit, lambda text: put("change unit", unit=text.strip()),
                hint="its unit",
                longest=20)),
        ]
    if sense.id not in OWN:
        parts += [Word("starts"),
                  Token(_said(sense) or "nothing", theme.INDIGO, quiet=True, name="start",
                                        field=_start_field(
                                            sense, lambda value: put("change start", start=value)))]
    forced = player.forced.get(sense.id)
    if forced is not None:
        parts.append(Token(f"forced: {said(forced)} ×", theme.WELD, filled=True, name="force",
                           tip="Held by hand. Click to release it",
                           action=lambda: player.force(sense.id, None)))
    else:
        parts.append(Token("force…", theme.WELD, quiet=True, name="force",
                           tip="Hold it at a value by hand",
                           field=_start_field(sense, lambda value: player.force(sense.id, value))))
    return parts


def _start_field(entry: Sense | Memo, put) -> Field:  # type: ignore[no-untyped-def]
    """A field for a value of an entry's type."""
    if entry.type == "bool":
        return choice_field(_said(entry), [("false", "false"), ("true", "true")],
                            lambda text: put(text == "true"))
    if entry.type == "choice":
        return choice_field(str(entry.start), [(choice, choice) for choice in entry.choices], put)
    whole = entry.type == "int"
    start = float(entry.start) if isinstance(entry.start, int | float) else 0.0
    return number_field(start, lambda value: put(int(value) if whole else value), -1e6, 1e6, 1)


def _said(entry: Sense | Memo) -> str:
    """What an entry starts at, in words: `false` is kept as zero."""
    return said(bool(entry.start) if entry.type == "bool" else entry.start)


def memo_sentence(document: Document, memo: Memo) -> list[Part]:
    """A memo with its start; an int may wrap, and any goes back by itself if it shall."""
    def put(name: str, /, **values: object) -> None:
        change(document, name, "memos", memo.id, **values)

    parts: list[Part] = [
        name_token(document, "memos", memo, theme.PLUM), _type(document, "memos", memo),
        Word("starts at"),
        Token(_said(memo) or "nothing", theme.INDIGO, name="start",
              field=_start_field(memo, lambda value: put("change start", start=value))),
    ]
    if memo.type == "int":
        parts.append(Token(
            f"wraps after {memo.wraps}" if memo.wraps else "wraps…", theme.INDIGO,
            quiet=not memo.wraps, name="wraps",
            tip="After this many steps it returns to its start: 0, 1, 2, 0. 0 means never",
            field=number_field(memo.wraps, lambda value: put("let memo wrap", wraps=int(value)), 0,
                               1000, 1)))
    parts.append(
        Token(
            f"goes back after {memo.returns:g} s" if memo.returns else "goes back…",
            theme.INDIGO,
            quiet=not memo.returns,
            name="returns",
            tip="If nothing sets it for this long, it returns to its start. 0 means never",
            field=number_field(
                memo.returns, lambda value: put("let memo go back", returns=value), 0, 600, 0.1
            ),
        )
    )
    return parts


def threshold_sentence(document: Document, threshold: Threshold) -> list[Part]:
    """A threshold: on from one value, off past another."""
    puppet = document.puppet
    numbers = [(sense.name, sense.id) for sense in puppet.senses if sense.type in ("int", "float")]
    numbers += [(memo.name, memo.id) for memo in puppet.memos if memo.type in ("int", "float")]
    source = next((name for name, id in numbers if id == threshold.source), threshold.source)
    up = threshold.on >= threshold.off

    def put(**values: object) -> None:
        change(document, "change threshold", "thresholds", threshold.id, **values)

    return [
        name_token(document, "thresholds", threshold, theme.WOAD), Word("once"),
        Token(source.replace("_", " "), theme.WOAD, name="source", field=choice_field(
            threshold.source, numbers, lambda id: put(source=id))),
        Word("is at least" if up else "is at most"),
        Token(f"{threshold.on:g}", theme.INDIGO, name="on", field=number_field(
            threshold.on, lambda value: put(on=value), -1e6, 1e6, 1)),
        Word("until it is below" if up else "until it is above"),
        Token(f"{threshold.off:g}", theme.INDIGO, name="off", field=number_field(
            threshold.off, lambda value: put(off=value), -1e6, 1e6, 1)),
    ]


def _type(document: Document, field: str, entry: Sense | Memo) -> Token:
    words = {"bool": "yes or no", "int": "whole number", "float": "number"}
    if entry.choices:
        words["choice"] = "choice"
    return Token(words.get(entry.type, entry.type), theme.INDIGO, name="type", field=choice_field(
        entry.type, [(label, arg) for arg in get_args(ValueType) if (label := words.get(arg))],
        lambda type: change(document, "change type", field, entry.id, type=type)))
