"""Tokens for the ready-made pieces of a graph: each is one edit, and can be undone as one."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ....core.model.edits import pieces
from ....core.model.edits import ready_made as edits
from ....core.model.edits.anywhere import anywhere_added, from_anywhere
from ....core.model.graph import Group, Layer
from ....core.model.kinds.gestures import GESTURES
from ....core.model.puppet import Puppet, find
from ....core.rules.needs import words_of
from ....core.rules.scope import BUILT_IN
from ....core.rules.translate import to_ids
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Field, Part, Token, choice_field, many_field
from ..offer.keeping import keep_as_pattern
from ..transfer import copy_selected, duplicate_selected, nodes_selected
from .conditions import comparisons, opposite, term_suggestions, wrong

ANYWHERE = " anywhere"
"""In place of the id of a source: the seam of the layer, which has none yet."""


def state_gestures(document: Document, states: Sequence[str]) -> list[Part]:
    """What can be made of one state, or of several."""
    puppet = document.puppet
    parts: list[Part] = []
    if len(states) > 1:
        parts.append(Token(
            "chain on…", theme.QUIET, quiet=True, name="chain on",
            tip="A combo: each leads on to the next in its cancel window, a memo counts the steps",
            field=_condition(puppet, lambda when: _do(
                document, "chain", lambda now: edits.chained(now, states, when)),
                "what leads on to the next",
                             edits.chain_trouble(puppet, states))))
    parts.append(Token(
        "back at the end", theme.QUIET, quiet=True, name="back at the end",
        tip="At the end of its clip it goes back to the start", action=lambda: _do(
            document, "back at the end", lambda now: edits.back_at_the_end(now, states))))
    if len(states) == 1:
        state = puppet.state(states[0])
        others = [(node.name, node.id) for node in puppet.nodes
                  if state is not None and node.id != state.id and node.layer == state.layer]
        parts.append(Token(
            "there and back…", theme.QUIET, quiet=True, name="there and back",
            tip="To another state on a condition, and back on its opposite",
            field=many_field(lambda: _lasting_ways(puppet, others), lambda picked: _there_and_back(
                document, states[0], picked), "where to, on what; a press is no reason to stay")))
        if state is not None:
            sources = [(group.name, group.id)
                       for group in puppet.groups if group.layer == state.layer]
            if puppet.anywhere(state.layer) is None:
                sources.append((f"anywhere in {_layer_name(puppet, state.layer)}", ANYWHERE))
            sources += [other for other in others if other not in sources]
            parts.append(Token(
                "on a press…", theme.QUIET, quiet=True, name="on a press",
                tip="From a band or a state on an intent, and back at the end of its clip",
                field=many_field(lambda: _from_where(puppet, sources), lambda picked: _performed(
                    document, states[0], picked), "on what, from where")))
        held = [(intent.name, intent.id)
                for intent in puppet.intents if GESTURES[intent.gesture].is_level]
        bands = [group for group in puppet.groups
                 if state is not None and group.layer == state.layer and not group.anywhere]
        options = [(f"{name}, from {band.name}", f"{id} {band.id}") for name, id in held
                   for band in bands]
        if options:
            parts.append(
                Token(
                    "while held…",
                    theme.QUIET,
                    quiet=True,
                    name="while held",
                    tip="From every state of a band while an intent is held, and back where it was "
                        "when it is let go",
                    field=choice_field(
                        "", options, lambda picked: _while_held(document, states[0], picked)
                    ),
                )
            )
    parts += _pieces(document, states)
    parts.append(_copying(document))
    return parts


def _pieces(document: Document, states: Sequence[str]) -> list[Part]:
    """What most characters have, made of these states in the order in which they stand."""
    puppet, parts = document.puppet, list[Part]()
    first = puppet.state(states[0]) if states else None
    if first is not None and pieces.jump_trouble(puppet, states) is None:
        sources = [(node.name, node.id) for node in puppet.nodes
                   if node.layer == first.layer and node.id not in states
                   and node.id != first.group]
        parts.append(Token(
            "a jump…", theme.QUIET, quiet=True, name="a jump",
            tip="The first rises, the second falls, the third lands: with the call, and both ways",
            field=many_field(lambda: _from_where(puppet, sources), lambda picked: _jump(
                document, states, picked), "on what, from where")))
    if pieces.moving_trouble(puppet, states) is None:
        parts.append(Token(
            "while moving", theme.QUIET, quiet=True, name="while moving",
            tip="The first stands, the second moves: there while it is steered, back once it "
                "stands", action=lambda: _do(
                    document, "while moving",
                    lambda now: pieces.while_moving(now, states[0], states[1]))))
    return parts


def _jump(document: Document, states: Sequence[str], picked: str) -> None:
    when, _, source = picked.partition(" ")
    _do(document, "a jump", lambda now: pieces.jump(now, states, source, when))


def from_anywhere_token(document: Document, layer: Layer) -> Token:
    """A transition from anywhere in a layer."""
    puppet = document.puppet
    nodes = [(node.name, node.id) for node in puppet.states_and_groups if node.layer == layer.id]

    def made(picked: str) -> None:
        target, _, word = picked.partition(" ")
        when = to_ids(word, document.puppet)
        puppet, id = from_anywhere(document.puppet, layer.id, target, when)
        document.edit("add transition from anywhere", puppet)
        document.select("transition", id)

    return Token("from anywhere to…", theme.QUIET, quiet=True, name="from anywhere",
                 tip="One transition of the whole layer, whatever is active in it",
                 field=many_field(lambda: _ways(puppet, nodes), made, "where to, on what"))


def _layer_name(puppet: Puppet, id: str) -> str:
    layer = find(puppet.layers, id)
    return layer.name if layer is not None else id


def _copying(document: Document) -> Token:
    """Copying and duplicating, which the keyboard does too."""
    does: dict[str, Callable[[Document], None]] = {
        "copy": copy_selected, "duplicate": duplicate_selected,
        "pattern": lambda each: keep_as_pattern(each, nodes_selected(each))}
    return Token("copy…", theme.QUIET, quiet=True, name="copy",
                 tip="With all it needs (Ctrl+C, Ctrl+V, Ctrl+D)",
                 field=choice_field("", [("copy, to paste here or in another puppet", "copy"),
                                         ("duplicate", "duplicate"),
                                         ("keep as a pattern, without its art", "pattern")],
                                         lambda picked: does[picked](document)))


def band_gestures(document: Document, group: Group) -> list[Part]:
    """What can be made of a band."""
    puppet = document.puppet
    others = [(node.name, node.id)
              for node in puppet.nodes if node.id != group.id and node.layer == group.layer]
    return [
        Token("every state of this band to…", theme.QUIET, quiet=True, name="every state to",
              tip="One transition of the whole band", field=many_field(
                  lambda: _ways(puppet, others),
                  lambda picked: _every_state(document, group.id, picked),
                  "where to, on what")),
        _copying(document),
    ]


def _do(document: Document, name: str, change: object) -> None:
    document.edit(name, change)  # type: ignore[arg-type]


def _condition(puppet: Puppet, commit: object, hint: str, trouble: str | None = None) -> Field:
    """A field for a condition over names. Where there is `trouble` it takes none, and says why."""
    return Field("", lambda text: commit(to_ids(text, puppet)),  # type: ignore[operator]
                 term_suggestions(puppet) if trouble is None else (),
                 check=lambda text: trouble
                 or (wrong(text, puppet) if text.strip() else "expected a condition"),
                 hint=trouble or hint)


def _ways(puppet: Puppet, nodes: list[tuple[str, str]]) -> list[tuple[str, str]]:
    """Every node with every simple condition: what is typed narrows it."""
    words = [suggestion.value for suggestion in term_suggestions(puppet) if suggestion.finishes]
    words += comparisons(puppet)
    return [(f"{name}, on {word}", f"{id} {word}") for name, id in nodes for word in words]


def _lasting_ways(puppet: Puppet, nodes: list[tuple[str, str]]) -> list[tuple[str, str]]:
    """Those on what can go on for a while, and then no more: not on what a press arms for a moment,
    nor on what only the time of the state itself brings."""
    momentary = {intent.name
                 for intent in puppet.intents if not GESTURES[intent.gesture].is_level} | {
                     *BUILT_IN, "window"}
    words = [suggestion.value for suggestion in term_suggestions(puppet) if suggestion.finishes
             and not momentary & set(words_of(suggestion.value))]
    words += comparisons(puppet)
    return [(f"{name}, on {word}", f"{id} {word}") for name, id in nodes for word in words]


def _from_where(puppet: Puppet, nodes: list[tuple[str, str]]) -> list[tuple[str, str]]:
    """Every intent from every node."""
    gestures = [(each.name, each.id)
                for each in puppet.intents if not GESTURES[each.gesture].is_level]
    return [(f"{name}, from {node}", f"{intent} {id}") for node, id in nodes
            for name, intent in gestures]


def _performed(document: Document, state: str, picked: str) -> None:
    when, _, source = picked.partition(" ")

    def made(now: Puppet) -> Puppet:
        found = now.state(state)
        if source != ANYWHERE or found is None:
            return edits.performed(now, state, source, when)
        now, seam = anywhere_added(now, found.layer)
        return edits.performed(now, state, seam, when)

    document.edit("on a press", made)


def _there_and_back(document: Document, source: str, picked: str) -> None:
    target, _, word = picked.partition(" ")
    when = to_ids(word, document.puppet)
    document.edit("there and back",
                  lambda now: edits.there_and_back(now, source, target, when, opposite(when)))


def _every_state(document: Document, group: str, picked: str) -> None:
    target, _, word = picked.partition(" ")
    when = to_ids(word, document.puppet)
    document.edit("every state to", lambda now: edits.every_state_to(now, group, target, when))
    document.select("transition", document.puppet.transitions[-1].id)


def _while_held(document: Document, state: str, picked: str) -> None:
    intent, _, group = picked.partition(" ")
    document.edit("while held", lambda now: edits.while_held(now, group, state, intent))
