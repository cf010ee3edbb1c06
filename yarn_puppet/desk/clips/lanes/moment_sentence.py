"""The sentence of one moment: what it has depends on its kind."""

from __future__ import annotations

import ast
import re
from functools import partial
from typing import Any

from ....core.model.basics.base import Scalar
from ....core.model.clips import Clip
from ....core.model.events import Argument, Moment
from ....core.model.kinds.moments import MOMENTS
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Field, Part, Token, Word, choice_field, number_field, shared_name_field
from .brought import moment_deed_tokens
from .file_tokens import Ask, Change, Context, Hear, file_tokens
from .sound_sentence import sound_tokens

PICTURES = "Pictures (*.png *.gif *.webp)"


def moment_sentence(
    document: Document, clip: Clip, moment: Moment, change: Change, ask: Ask, hear: Hear
) -> list[Part]:
    """Kind, name and time; what the kind has besides; and whether it is only for a hit."""
    color, traits = theme.EVENT_COLORS[moment.kind], MOMENTS[moment.kind]
    known = dict.fromkeys([
        *traits.known_names,
        *(each.name for other in document.puppet.clips
          for each in other.moments if each.kind == moment.kind),
    ])
    parts: list[Part] = [
        Token(moment.kind, color, name="moment kind",
              field=choice_field(moment.kind, [(kind, kind) for kind in MOMENTS],
                                 lambda kind: change("change moment", kind=kind))),
        Token(moment.name, color, name="moment name", field=shared_name_field(
            moment.name, tuple(known), lambda name: change("rename moment", name=name))),
        Word("at"),
        Token(f"{moment.at:g} ms", theme.INDIGO, name="moment at",
              field=number_field(moment.at, lambda value: change("move moment", at=value), 0,
                                 clip.length, 10)),
    ]
    context = (document, clip, moment, change, ask, hear)
    for has, part in (
        (traits.is_anchored, _anchor), (traits.can_follow, _follow), (traits.numbers, _numbers),
        (traits.has_look, _looks), (traits.is_heard, sound_tokens),
        (traits.has_arguments, _arguments),
    ):
        if has:
            parts += part(context)
    parts.append(Token("only on a hit" if moment.only_on_hit else "always", theme.MADDER,
                       name="only on hit",
                       quiet=not moment.only_on_hit,
                       tip="Always, or only once a hit of this visit has landed",
                       action=lambda: change("change moment", only_on_hit=not moment.only_on_hit)))
    return parts + moment_deed_tokens(document, clip.id, moment)


def _anchor(context: Context) -> list[Part]:
    document, _, moment, change, _, _ = context
    anchors = [("the puppet's feet", "")] + [(anchor.name, anchor.id)
                                             for anchor in document.puppet.anchors]
    label = next((name for name, id in anchors if id == (moment.anchor or "")), moment.anchor or "")
    return [Word("· at"), Token(label, theme.PLUM, name="moment anchor", field=choice_field(
        moment.anchor or "", anchors, lambda id: change("change anchor", anchor=id or None)))]


def _follow(context: Context) -> list[Part]:
    _, _, moment, change, _, _ = context
    return [
        Token("follows it" if moment.follow else "stays there", theme.PLUM, name="follow",
              action=lambda: change("switch following", follow=not moment.follow)),
        Token("mirrors" if moment.mirrors else "never mirrors", theme.PLUM, name="mirrors",
              tip="Whether it turns about with the facing",
              action=lambda: change("switch mirroring", mirrors=not moment.mirrors)),
    ]


def _looks(context: Context) -> list[Part]:
    """What is shown: a clip of the puppet, once or round, or a picture; over the puppet or under
    it."""
    document, _, moment, change, _, _ = context
    puppet = document.puppet
    clips = [(each.name, each.id) for each in puppet.clips]
    clip = puppet.clip(moment.clip)
    parts: list[Part] = []
    if clip is None:
        parts += file_tokens(context, "picture", PICTURES)
        parts.append(Token("or a clip…", theme.INDIGO, name="clip shown", quiet=True,
                           field=choice_field(
            "", clips, lambda id: change("show clip", clip=id), "any clip of the puppet")))
    else:
        parts += [
            Token(clip.name, theme.INDIGO, name="clip shown", field=choice_field(
                moment.clip or "", clips, lambda id: change("show clip", clip=id))),
            Token("×", theme.MADDER, quiet=True, name="no clip", tip="No clip",
                  action=lambda: change("show no clip", clip=None)),
            Token("round" if moment.round else "once", theme.INDIGO, name="round",
                  tip="Played once, or round",
                  action=lambda: change("switch playing round", round=not moment.round)),
        ]
    parts.append(Token("under it" if moment.under else "over it", theme.PLUM, name="under",
                       tip="Whether the puppet is drawn before it or behind it",
                       action=lambda: change("switch over and under", under=not moment.under)))
    return parts


def _numbers(context: Context) -> list[Part]:
    moment, change = context[2], context[3]
    found: list[Part] = []
    for each in MOMENTS[moment.kind].numbers:
        value: Any = getattr(moment, each.field)
        field = number_field(value,
                             partial(lambda name, number: change(
                                 f"change {name}", **{name: number}), each.field),
                             each.low, each.high, each.step)
        found += [Word(each.word), Token(
            f"{value:g}{each.unit}", theme.EVENT_COLORS[moment.kind], field, name=each.field)]
    return found


def _arguments(context: Context) -> list[Part]:
    _, _, moment, change, _, _ = context

    def put(index: int, text: str) -> None:
        kept = list(moment.arguments)
        kept[index: index + 1] = [parse_argument(text)] if text.strip() else []
        change("change arguments", arguments=tuple(kept))

    def field(index: int, text: str) -> Field:
        return Field(
            text,
            lambda typed: put(index, typed),
            check=_argument_fits,
            hint='name = value, such as loud = 3, far = true or tone = "low"; empty takes it away',
        )

    parts: list[Part] = [Word("with" if moment.arguments else "·")]
    for index, each in enumerate(moment.arguments):
        said = said_argument(each)
        parts.append(Token(said, theme.WOAD, field(index, said), name=f"argument {each.name}"))
    parts.append(Token("+" if moment.arguments else "add an argument…", theme.WOAD, quiet=True,
                       name="add argument",
                       field=field(len(moment.arguments), "")))
    return parts


def said_argument(argument: Argument) -> str:
    """An argument as it is typed."""
    value = argument.value
    said = {True: "true", False: "false"}[value] if isinstance(value, bool) else \
        f'"{value}"' if isinstance(value, str) else f"{value!r}"
    return f"{argument.name} = {said}"


def parse_argument(text: str) -> Argument:
    """`name = value` as an argument. Raises ValueError with what was expected."""
    name, equals, value = (part.strip() for part in text.partition("="))
    if not equals or not re.fullmatch(r"[A-Za-z_]\w*", name, re.ASCII):
        raise ValueError("expected name = value")
    return Argument(name, _scalar(value))


def _scalar(text: str) -> Scalar:
    if text in ("true", "false"):
        return text == "true"
    try:
        value = ast.literal_eval(text)
    except (ValueError, SyntaxError, MemoryError, RecursionError):
        raise ValueError('expected a number, true, false or a quoted text') from None
    if isinstance(value, bool) or not isinstance(value, int | float | str) or (
            not isinstance(value, str) and not abs(value) <= 1e9):
        raise ValueError('expected a number, true, false or a quoted text')
    return value


def _argument_fits(text: str) -> str | None:
    if not text.strip():
        return None
    try:
        parse_argument(text)
    except ValueError as error:
        return str(error)
    return None
