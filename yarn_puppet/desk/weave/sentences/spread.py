"""The sentence of a spread: which clips it holds, where each is placed, and along which value."""

from __future__ import annotations

from functools import partial

from ....core.model.edits import spreads as edits
from ....core.model.edits.entries import changed
from ....core.model.graph import Spread
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Field, Part, Token, Word, choice_field, name_field, number_field
from .tokens import remove_token

SIDES = {"right": 0, "up and right": 45, "up": 90, "up and left": 135, "left": 180,
         "down and left": 225, "down": 270,
         "down and right": 315}
"""The facings a clip can be placed at, in degrees anticlockwise from the right."""


def spread_sentence(document: Document, spread: Spread) -> list[Part]:
    """Each clip with its place, both of them fields."""
    puppet = document.puppet
    numbers = [(each.name, each.id)
               for each in puppet.values if each.type in ("int", "float")]
    used = [state.name for state in puppet.states if state.spread == spread.id]
    parts: list[Part] = [
        Token(spread.name, theme.INK, name="spread name", field=name_field(
            spread.name, lambda text: document.edit(
                "rename spread", lambda now: changed(now, "spreads", spread.id, name=text)),
            f"seen in {', '.join(used)}" if used else "a name; no state plays it yet")),
        Word("picks" if spread.random else "spreads along"),
        *_along(document, spread, numbers),
        Word(":"),
    ]
    for number in range(len(spread.clips)):
        parts += _placed(document, spread, number)
    parts += [_again(document, spread)] if spread.random else [
        Word("· holds on for"),
        Token(
            f"{spread.hold:.0%}",
            theme.INDIGO,
            quiet=not spread.hold,
            name="hold",
            tip="The clip that plays stays until another is nearer by this share of the "
                "distance. This prevents flicker",
            field=number_field(
                spread.hold,
                lambda value: document.edit(
                    "let the spread hold on",
                    lambda now: changed(now, "spreads", spread.id, hold=value),
                ),
                0,
                1,
                0.05,
            ),
        ),
    ]
    held = {each.clip for each in spread.clips}
    others = [(clip.name, clip.id) for clip in puppet.clips if clip.id not in held]
    parts.append(Token("+", theme.INDIGO, quiet=True, name="add clip", tip="One more clip",
                       field=choice_field(
        "", others, lambda id: document.edit(
            "put clip into spread", lambda now: edits.spread_clip_placed(now, spread.id, id)))))
    parts.append(remove_token(document, "remove spread",
                              lambda now: edits.spread_removed(now, spread.id)))
    return parts


def _along(document: Document, spread: Spread, numbers: list[tuple[str, str]]) -> list[Part]:
    """The one or two values it is drawn along."""
    options = [("the facing", "facing"), *numbers, ("at random", "")]
    names = {id: name for name, id in options}

    def put(*along: str) -> None:
        document.edit("spread along",
                      lambda now: edits.spread_along(
                          now, spread.id, [each for each in along if each]))

    first, second = (*spread.along, "", "")[:2]
    parts: list[Part] = [Token(names.get(first, first), theme.WOAD, name="along",
                               field=choice_field(
        first, [option for option in options if option[1] != second], lambda id: put(id, second)))]
    others = [option for option in options if option[1] not in ("", first)]
    if spread.random:
        return parts
    if second:
        parts += [Word("and"), Token(names.get(second, second), theme.WOAD, name="along too",
                                     field=choice_field(
            second, [*others, ("nothing else", "")], lambda id: put(first, id)))]
    elif others:
        parts.append(Token("and…", theme.WOAD, quiet=True, name="along too",
                           tip="Along a second value, too",
                           field=choice_field("", others, lambda id: put(first, id))))
    return parts


def _again(document: Document, spread: Spread) -> Token:
    """Whether the same clip may come twice running."""
    return Token(
        "the same may come again" if spread.repeats else "never the same twice running",
        theme.INDIGO, quiet=spread.repeats, name="repeats",
        action=lambda: document.edit("let clips come again", lambda now: changed(
            now, "spreads", spread.id, repeats=not spread.repeats)))


def _placed(document: Document, spread: Spread, which: int) -> list[Part]:
    placed = spread.clips[which]
    clip = document.puppet.clip(placed.clip)
    # A clip that took another in may have several places.
    known = sum(each.clip == placed.clip for each in spread.clips[:which])
    named = f"{placed.clip}{f' {known + 1}' if known else ''}"
    places = (*placed.place, 0.0, 0.0)[:len(spread.along)]
    tokens: list[Part] = []
    if spread.random:
        weight = placed.place[0] if placed.place else 1.0
        tokens.append(Token(
            f"× {weight:g}", theme.INDIGO, name=f"weight of {named}",
            tip="How often it comes, beside the others",
            field=number_field(weight, lambda value: document.edit(
                "weigh clip", lambda now: edits.spread_clip_placed(
                    now, spread.id, placed.clip, value, number=which)), 0, 1000, 1)))
    for number, (along, value) in enumerate(zip(spread.along, places, strict=True)):
        def put(place: float, number: int = number) -> None:
            there = (*places[:number], place, *places[number + 1:])
            document.edit("place clip", lambda now: edits.spread_clip_placed(
                now, spread.id, placed.clip, *there, number=which))

        if along == "facing":
            said = next((side for side, at in SIDES.items() if at == value), f"{value:g}°")
            field: Field = choice_field(said, [(side, str(at)) for side, at in SIDES.items()],
                                        partial(lambda put, at: put(float(at)), put))
        else:
            said, field = f"{value:g}", number_field(value, put, -1e6, 1e6, 1)
        tokens.append(Token(said, theme.INDIGO, field,
                            name=f"place of {named}{' too' if number else ''}"))
    name = clip.name if clip else placed.clip
    return [
        Word(name), *tokens,
        Token("×", theme.MADDER, quiet=True, name=f"take out {named}", tip=f"Take {name} out",
              action=lambda: document.edit(
                  "take clip out of spread", lambda now: edits.spread_clip_taken_out(
                      now, spread.id, placed.clip, which))),
    ]
