"""The sentence of what is offered: which patterns, taken how, and the card that is selected."""

from __future__ import annotations

from functools import partial

from ....core.model.puppet import Puppet
from ...widgets import theme
from ...widgets.parts import Part, Token, Word, choice_field
from .offer import Offer

COLORS = {"walker": theme.MOSS, "climber": theme.PLUM, "brawler": theme.MADDER,
          "wanderer": theme.WOAD}
"""Of the patterns that ship; others have the ink's."""


def offer_sentence(offer: Offer) -> list[Part]:
    """What would be made of which clips, the ways to answer, and the card that is selected."""
    if offer.is_new and not offer.chosen:
        return _new(offer)
    clips, made = offer.unused, offer.wired
    placed = len(clips) - len(made.unplaced)
    parts: list[Part] = [
        Word(f"{len(clips)} clip{'s' * (len(clips) != 1)}" if clips else "A new puppet",
             strong=True),
        Word("make" if clips else "begins with"),
    ]
    for name in offer.patterns:
        if name in offer.chosen:
            parts.append(Token(name, COLORS.get(name, theme.INK), name=f"pattern {name}",
                               tip="Leave this pattern out", action=partial(offer.toggle, name)))
    others = [name for name in offer.patterns if name not in offer.chosen]
    if others:
        parts.append(Token("+ pattern", theme.QUIET, quiet=True, name="more patterns",
                           field=choice_field("", [(_said(name, offer.patterns[name]), name)
                                                   for name in others], offer.toggle)))
    if clips:
        parts.append(Word(f"of {placed} of them" if placed < len(clips) else "of all of them"))
    if offer.chosen:
        parts += [
            Token("wire them" if clips else "take it", theme.MADDER, filled=True, name="wire them",
                  action=offer.take, tip="One edit; one undo takes it back"),
            Token("only the cards", theme.QUIET, quiet=True, name="only the cards",
                  action=partial(offer.take, True),
                  tip="States in their bands, without transitions"),
        ]
    parts.append(Token("not now", theme.QUIET, quiet=True, name="not now", action=offer.leave))
    return [*parts, *_selected(offer)]


def _new(offer: Offer) -> list[Part]:
    """What a new puppet begins with: art, a pattern, or nothing."""
    parts: list[Part] = [Word("A new puppet", strong=True), Word("begins with"),
                         Token("art…", theme.MADDER, filled=True, name="bring in art",
                               action=offer.art_wanted.emit,
                               tip="Pictures, strips and sheets; they can be dropped here too"),
                         Word("or with a pattern:")]
    for name, pattern in offer.patterns.items():
        parts.append(Token(name, COLORS.get(name, theme.INK), name=f"pattern {name}",
                           tip=_said(name, pattern), action=partial(offer.toggle, name)))
    parts += [Word("or with"), Token("nothing", theme.QUIET, quiet=True, name="not now",
                                     action=offer.leave)]
    return parts


def _said(name: str, pattern: Puppet) -> str:
    cards = ", ".join(state.name.casefold() for state in pattern.states[:6])
    return f"{name}: {cards}{' …' if len(pattern.states) > 6 else ''}"


def _selected(offer: Offer) -> list[Part]:
    """The card that is selected in the preview, and its clip as a field."""
    kind, id = offer.preview.selection or ("", "")
    state = offer.preview.puppet.state(id) if kind == "state" else None
    if state is None or not state.waits_for or offer.document.puppet.state(id) is not None:
        return [Word("· nothing is changed yet; click a card for another clip")]
    given = offer.wired.cards.get(state.id)
    clips = {clip.id: clip.name for clip in offer.unused}
    options = [(clips[clip], clip) for clip in clips] + [("none yet", "")]
    name = clips.get(given.clip, "none yet") if given is not None else "none yet"
    parts: list[Part] = [
        Word("·"), Word(state.name, strong=True), Word("plays"),
        Token(name, theme.WELD if given is None or given.guess else theme.INDIGO,
              name="clip of card", quiet=given is None,
              field=choice_field(given.clip if given else "", options,
                                 lambda clip: offer.give(state.name, clip or None))),
    ]
    if given is not None and given.guess:
        parts.append(Word("(a guess: the name says more, or another would do as well)"))
    return parts

