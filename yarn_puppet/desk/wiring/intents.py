"""The sentence of an intent: an action, a gesture, its threshold, and how long it is kept."""

from __future__ import annotations

from functools import partial

from ...core.model.edits import wiring as edits
from ...core.model.kinds.gestures import GESTURES
from ...core.model.puppet import Puppet
from ...core.model.wiring import LONGEST_SEQUENCE, Intent
from ..session.document import Document
from ..widgets import theme
from ..widgets.parts import Part, Token, Word, choice_field, number_field
from .names import change, name_token

EVEN_IF_USED = "even if used"


def intent_sentence(document: Document, intent: Intent) -> list[Part]:
    """Every part a field."""
    puppet, kind = document.puppet, GESTURES[intent.gesture]

    def put(name: str, /, **values: object) -> None:
        change(document, name, "intents", intent.id, **values)

    # One press is one gesture; seldom is another wanted from the same press, so it takes no room
    # till it is.
    offered = kind.of_the_press and not intent.even_if_used
    even_if_used = (
        [(f"{intent.gesture}, even if the press was used", EVEN_IF_USED)] if offered else []
    )

    def choose(picked: str) -> None:
        gesture = next((each for each in GESTURES if each == picked), None)
        if gesture is None:
            put("let it arm from a used press", even_if_used=True)
        else:
            document.edit("change gesture",
                          lambda now: edits.gesture_chosen(now, intent.id, gesture))

    parts: list[Part] = [
        name_token(document, "intents", intent, theme.MADDER), Word("is"),
        Token(intent.gesture, theme.INDIGO, name="gesture", field=choice_field(
            intent.gesture, [*((each, each) for each in GESTURES), *even_if_used], choose)),
        *_actions(document, puppet, intent),
    ]
    if kind.time_word:
        parts += [Word(kind.time_word), Token(f"{intent.seconds:g} s", theme.INDIGO, name="seconds",
                  field=number_field(intent.seconds,
                                     lambda value: put("change threshold", seconds=value),
                                     0, 10, 0.05))]
    if not kind.is_level:
        parts += [Word("kept"), Token(f"{intent.buffer:g} s", theme.INDIGO, name="buffer",
                  tip="How long it stays armed, waiting for a transition to take it",
                  field=number_field(intent.buffer,
                                     lambda value: put("change buffer", buffer=value), 0, 10,
                                     0.05))]
    if intent.even_if_used and kind.of_the_press:
        parts.append(
            Token(
                "even if used ×",
                theme.WELD,
                filled=True,
                name="even if used",
                tip="It arms even if a transition used the press. Click to let one press be one "
                    "gesture again",
                action=lambda: put("let one press be one gesture", even_if_used=False),
            )
        )
    return parts


def _actions(document: Document, puppet: Puppet, intent: Intent) -> list[Part]:
    """Its actions, in order; its own comes last."""
    names = {action.id: action.name for action in puppet.actions}
    options = [(action.name, action.id) for action in puppet.actions]

    def put(name: str, /, **values: object) -> None:
        change(document, name, "intents", intent.id, **values)

    def other(number: int, id: str) -> None:
        kept = list(intent.others)
        kept[number: number + 1] = [id] if id else []
        put("change sequence", others=tuple(kept))

    last = Token(names.get(intent.action, intent.action), theme.MADDER, name="action",
                 field=choice_field(
        intent.action, options, lambda id: put("change action", action=id)))
    kind = GESTURES[intent.gesture]
    if kind.others == "none":
        return [last]
    parts: list[Part] = []
    removable = [("take it out", "")] if kind.others == "some" and len(intent.others) > 1 else []
    for number, id in enumerate(intent.others):
        parts += [
            Token(names.get(id, id), theme.MADDER, name=f"other {number + 1}", field=choice_field(
                id, [*options, *removable],
                partial(lambda number, chosen: other(number, chosen), number))),
            Word(kind.joined_by),
        ]
    parts.append(last)
    if kind.others == "some" and len(intent.others) < LONGEST_SEQUENCE - 1:
        parts.append(Token("+", theme.MADDER, quiet=True, name="add step",
                           tip="One more action, before the last",
                           field=choice_field("", options, lambda id: put(
                               "change sequence", others=(*intent.others, id)))))
    return parts
