"""Tokens for what a window and a moment bring beside themselves: while-rules, and deeds."""

from __future__ import annotations

from ....core.model.edits.frames import events as edits
from ....core.model.events import Deed, Moment, Rule, Window
from ...session.document import Document
from ...weave.sentences.deeds import deed_options, new_deed, tokens_of
from ...weave.sentences.tokens import rule_parts
from ...widgets import theme
from ...widgets.parts import Part, Token, Word, choice_field


def window_rule_tokens(document: Document, clip: str, window: Window) -> list[Part]:
    """The while-rules of a window."""
    def change(rules: tuple[Rule, ...]) -> None:
        document.edit("change while-rules",
                      lambda now: edits.event_changed(now, clip, window.id, rules=rules))

    return rule_parts(document.puppet, window.rules, change, "open")


def moment_deed_tokens(document: Document, clip: str, moment: Moment) -> list[Part]:
    """What a moment sets, arms or drops; offered once the puppet has something that can be."""
    options = deed_options(document.puppet)
    if not options:
        return []

    def change(deeds: tuple[Deed, ...]) -> None:
        document.edit("change deeds",
                      lambda now: edits.event_changed(now, clip, moment.id, deeds=deeds))

    said = tokens_of(document.puppet, moment.deeds, change, "moment")
    return [
        *([Word("· then")] if moment.deeds else []), *said,
        Token("does…", theme.PLUM, quiet=True, name="add deed",
              tip="Set a memo, arm or drop an intent as it fires",
              field=choice_field("", options, lambda value: change(
                  (*moment.deeds, new_deed(document.puppet, value))))),
    ]
