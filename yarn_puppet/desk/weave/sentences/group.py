"""The sentence of a group: where it starts, whether it remembers, what all in it share."""

from __future__ import annotations

from ....core.model.edits import graph as edits
from ....core.model.graph import Group
from ....core.model.puppet import Puppet, find
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Part, Token, Word, choice_field, name_field
from .ready_made import band_gestures
from .tokens import deaf_tokens, remove_token, rule_tokens


def group_sentence(document: Document, group: Group) -> list[Part]:
    """Its start, whether it remembers, where it is, what it brings; the ready-made pieces at the
    end."""
    puppet = document.puppet
    inside = puppet.held_by(group.id)
    others = [(each.name, each.id) for each in puppet.groups
              if each.id != group.id and each.layer == group.layer and not each.anywhere]
    others.append(("no other band", ""))

    def change(name: str, /, **values: object) -> None:
        document.edit(name, lambda now: edits.group_changed(now, group.id, **values))

    start = puppet.node(group.start)
    around = puppet.group(group.group)
    return [
        Token(group.name, theme.THREADS[group.thread],
              name_field(group.name, lambda text: change("rename band", name=text)),
              name="band name"),
        Word("starts in"),
        Token(start.name if start else "its first state", theme.WELD,
              choice_field(group.start or "", [(node.name, node.id) for node in inside],
                           lambda id: change("choose the band's start", start=id)),
                           name="band start"),
        Token("and remembers where it was" if group.remembers else "each time", theme.INDIGO,
              name="remembers",
              action=lambda: change("let the band remember", remembers=not group.remembers),
              tip="Click to switch between its start and the state it was left in"),
        *(_around_all(puppet, group) if group.anywhere else [
            Word("· in"),
            Token(around.name if around else "no other band", theme.MOSS, name="inside",
                  field=choice_field(group.group or "", others, lambda id: document.edit(
                      "nest band", lambda now: edits.group_nested(now, group.id, id or None))))]),
        Word("· thread"),
        Token(group.thread, theme.THREADS[group.thread], name="thread",
              field=choice_field(group.thread, [(each, each) for each in edits.THREADS],
                                 lambda thread: change("choose thread", thread=thread))),
        *rule_tokens(document, group.id, group.rules),
        *deaf_tokens(document, group),
        *band_gestures(document, group),
        remove_token(document, "remove band", lambda now: edits.group_removed(now, group.id)),
    ]


def _around_all(puppet: Puppet, group: Group) -> list[Part]:
    """What a layer's seam is around."""
    layer = find(puppet.layers, group.layer)
    return [Word(f"· around all of {layer.name if layer is not None else group.layer}")]
