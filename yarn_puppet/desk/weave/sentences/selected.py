"""What is selected, as one sentence whose tokens are its fields."""

from __future__ import annotations

from ....core.model.edits import graph as edits
from ....core.model.puppet import find
from ...pictures.bones import Bones
from ...session.document import Document
from ...session.run.player import Player
from ...widgets import theme
from ...widgets.parts import Part, Token, Word
from ..offer.keeping import keep_as_pattern
from ..showing import Showing
from .group import group_sentence
from .layer import layer_sentence
from .several import several_sentence
from .spread import spread_sentence
from .state import state_sentence
from .transition import transition_sentence


def sentence_for(
    document: Document, showing: Showing, player: Player | None = None, bones: Bones | None = None
) -> list[Part]:
    """The sentence of what is selected in the weave."""
    kind, id = document.selection or ("", "")
    puppet = document.puppet
    state, group, transition = puppet.state(id), puppet.group(id), puppet.transition(id)
    spread, layer = find(puppet.spreads, id), find(puppet.layers, id)
    if kind == "state" and len(document.selected_states) > 1:
        return several_sentence(document, document.selected_states)
    if kind == "state" and state is not None:
        return state_sentence(document, state)
    if kind == "group" and group is not None:
        return group_sentence(document, group)
    if kind == "spread" and spread is not None:
        return spread_sentence(document, spread)
    if kind == "transition" and transition is not None:
        return transition_sentence(document, transition, player)
    if kind == "layer" and layer is not None:
        return layer_sentence(document, layer, bones)
    return _nothing(document, showing)


def _nothing(document: Document, showing: Showing) -> list[Part]:
    states, threads = len(document.puppet.states), len(document.puppet.transitions)
    return [
        Word(f"{states} state{'s' * (states != 1)}, {threads} transition{'s' * (threads != 1)}",
             strong=True),
        Word("· drag a clip into a band, or a card or a seam onto a card ·"),
        Token("+ band", theme.QUIET, action=lambda: _add_band(document, showing), quiet=True,
              name="add band"),
        *([Token("keep it as a pattern", theme.QUIET, quiet=True, name="keep pattern",
                 action=lambda: keep_as_pattern(document),
                 tip="Its graph and wiring, without its art, for other puppets")]
          if states else []),
    ]


def _add_band(document: Document, showing: Showing) -> None:
    name = "Ground" if not document.puppet.groups else "Band"
    puppet, id = edits.group_added(document.puppet, name, layer=showing.layer)
    document.edit("add band", puppet)
    document.select("group", id)
