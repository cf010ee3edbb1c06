"""Tokens that the sentences of the weave share: removing, and while-rules."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ...core.model.edits import graph as edits
from ...core.model.events import Rule
from ...core.model.puppet import Puppet
from ..session.document import Document
from ..widgets import theme
from ..widgets.parts import Part, Token, Word, choice_field, number_field

RULE_WORDS = {
    "move_speed": "move speed", "lock_movement": "movement locked", "lock_facing": "facing locked",
}


def remove_token(document: Document, name: str, change: Callable[[Puppet], Puppet]) -> Token:
    def action() -> None:
        document.deselect()
        document.edit(name, change)

    return Token("×", theme.MADDER, action=action, quiet=True, tip=f"{name.capitalize()} (Delete)", name="remove")


def rule_tokens(document: Document, owner: str, rules: Sequence[Rule]) -> list[Part]:
    """The while-rules of a state or group, and a token that adds one."""
    parts: list[Part] = []

    def put(rule: Rule) -> None:
        document.edit("set while-rule", lambda now: edits.rule_set(now, owner, rule))

    for rule in rules:
        if rule.kind == "move_speed":
            parts.append(
                Token(f"move speed × {rule.value:g}", theme.PLUM,
                      number_field(rule.value, lambda value: put(Rule("move_speed", value)), 0, 10, 0.1),
                      name="move_speed", tip="In force exactly while this is active")
            )
        else:
            parts.append(Token(RULE_WORDS[rule.kind], theme.PLUM, name=rule.kind,
                               field=choice_field("keep", [("keep it", "keep"), ("remove this while-rule", "remove")],
                                                  lambda pick, kind=rule.kind: pick == "remove" and document.edit(
                                                      "remove while-rule",
                                                      lambda now: edits.rule_removed(now, owner, kind)))))
    if any(rule.kind == "move_speed" for rule in rules):
        parts.append(Token("×", theme.PLUM, quiet=True, name="remove move_speed", tip="Remove the move speed rule",
                           action=lambda: document.edit(
                               "remove while-rule", lambda now: edits.rule_removed(now, owner, "move_speed"))))
    missing = [kind for kind in RULE_WORDS if kind not in {rule.kind for rule in rules}]
    if missing:
        starting = {"move_speed": 0.5}
        parts.append(
            Token("while here…" if not rules else "+", theme.PLUM, quiet=True, name="add while-rule",
                  tip="Add a while-rule: in force exactly while this is active, undone however that ends",
                  field=choice_field("", [(RULE_WORDS[kind], kind) for kind in missing],
                                     lambda kind: put(Rule(kind, starting.get(kind, 1.0)))))  # type: ignore[arg-type]
        )
    return [Word("· while here"), *parts] if rules else parts
