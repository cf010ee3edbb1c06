"""The sentence of a layer: how much of it is shown and when, and where it is drawn."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from ....core.model.edits import layers as edits
from ....core.model.graph import Layer
from ....core.rules.translate import to_ids, to_names
from ...pictures.bones import Bones
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Field, Part, Token, Word, choice_field, name_field, number_field
from ..transfer import copy_layer
from .conditions import term_suggestions, wrong
from .layer_bones import mask_parts
from .ready_made import from_anywhere_token
from .tokens import remove_token


def layer_sentence(
    document: Document, layer: Layer, bones: Bones | None = None
) -> list[Part]:
    """Of the lowest layer only what matters there: it is drawn first, where the puppet stands."""
    puppet = document.puppet
    place = [each.id for each in puppet.layers].index(layer.id)
    states = [(state.name, state.id) for state in puppet.states if state.layer == layer.id]
    start = next((name for name, id in states if id == layer.start), "its first state")

    def change(name: str, /, **values: object) -> None:
        document.edit(name, lambda now: edits.layer_changed(now, layer.id, **values))

    parts: list[Part] = [
        Word("layer"),
        Token(layer.name, theme.INK,
              name_field(layer.name, lambda text: change("rename layer", name=text)),
              name="layer name"),
        Word("starts in"),
        Token(start, theme.WELD, choice_field(layer.start or "", states, lambda id: change(
            "choose the layer's start", start=id)), name="layer start"),
        Word("· shown"),
        Token(f"{layer.weight:.0%}", theme.CLAY, name="weight",
              tip="How much of it is shown. It runs either way",
              field=number_field(layer.weight, lambda value: change("set weight", weight=value), 0,
                                 1, 0.1)),
        *_when(document, layer, change),
    ]
    if puppet.is_of_bones:
        parts += mask_parts(document, layer, bones, change)
    elif place:
        below = puppet.layers[place - 1]
        anchors = [("where the puppet stands", "")] + [
            (anchor.name, anchor.id) for anchor in puppet.anchors]
        pinned = next((anchor.name for anchor in puppet.anchors if anchor.id == layer.pinned_to),
                      "where the puppet stands")
        parts += [
            Word("· drawn"),
            Token("under" if layer.under else "over", theme.INDIGO, name="under",
                  action=lambda: change("draw over or under", under=not layer.under),
                  tip="Click to switch"),
            Word(f"{below.name}, its pivot at"),
            Token(pinned, theme.PLUM, name="pinned to",
                  tip=f"The anchor of {below.name} at which it is held",
                  field=choice_field(layer.pinned_to or "", anchors,
                                     lambda id: change("pin layer", pinned_to=id or None))),
        ]
    parts.append(from_anywhere_token(document, layer))
    if len(puppet.layers) > 1:
        for by, word in ((1, "higher"), (-1, "lower")):
            if 0 <= place + by < len(puppet.layers):
                parts.append(Token(word, theme.QUIET, quiet=True, name=word,
                                   action=partial(lambda by: document.edit(
                    "order layers", lambda now: edits.layer_moved(now, layer.id, by)), by)))
    parts.append(Token("copy", theme.QUIET, quiet=True, name="copy",
                       tip="Copy the whole layer with all it needs",
                       action=lambda: copy_layer(document, layer.id)))
    if len(puppet.layers) > 1:
        parts.append(remove_token(document, "remove layer",
                                  lambda now: edits.layer_removed(now, layer.id)))
    return parts


def _when(document: Document, layer: Layer, change: Callable[..., None]) -> list[Part]:
    """The condition by which it is shown, and how it comes and goes."""
    puppet = document.puppet
    shown = to_names(layer.shown_when, puppet)

    def seconds(name: str, value: float) -> Token:
        word = "in" if name == "ease_in" else "out"
        return Token(f"{word} over {value:g} s", theme.CLAY, name=name, quiet=not value,
                     field=number_field(
            value, lambda made: change("ease layer", **{name: made}), 0, 60, 0.05))

    parts: list[Part] = [
        Word("while") if shown else Word("always"),
        Token(shown or "only while…", theme.WOAD, name="shown when", quiet=not shown, field=Field(
            shown, lambda text: change("show layer while",
                                       shown_when=to_ids(text, puppet)),
            term_suggestions(puppet), check=lambda text: wrong(text, puppet),
            hint="a condition; leave it empty for always")),
    ]
    return (
        [*parts, seconds("ease_in", layer.ease_in), seconds("ease_out", layer.ease_out)]
        if shown
        else parts
    )
