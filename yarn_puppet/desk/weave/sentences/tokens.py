"""Tokens that the sentences of the weave share: removing, while-rules, and what does not listen."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from msgspec.structs import replace

from ....core.model.edits import graph as edits
from ....core.model.events import Rule
from ....core.model.graph import Group, State
from ....core.model.kinds.modes import MODES
from ....core.model.kinds.while_rules import WHILE_RULES
from ....core.model.puppet import Puppet
from ....core.model.starter import with_senses_for
from ....core.rules.translate import to_ids, to_names
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import (
    Field,
    Part,
    Suggestion,
    Token,
    Word,
    choice_field,
    number_field,
    shared_name_field,
)
from .conditions import term_suggestions, wrong

FACTORS = {kind: each for kind, each in WHILE_RULES.items()
           if each.form == "factor" and not each.chooses}
"""Rules that are no more than a factor."""
SWITCHES = {kind: each.words for kind, each in WHILE_RULES.items() if each.form == "switch"}
MOST_SECONDS = 60.0


def remove_token(document: Document, name: str, change: Callable[[Puppet], Puppet]) -> Token:
    """A token that removes what the sentence is about."""
    def action() -> None:
        document.deselect()
        document.edit(name, change)

    return Token("×", theme.MADDER, action=action, quiet=True, tip=f"{name.capitalize()} (Delete)",
                 name="remove")


def rule_tokens(document: Document, owner: str, rules: Sequence[Rule]) -> list[Part]:
    """The while-rules of a state or group, each with its eases, and a token that adds one."""
    def change(made: tuple[Rule, ...]) -> None:
        # What it may do, it can be asked about too.
        modes = [rule.mode for rule in made if rule.kind == "mode"]
        document.edit("change while-rules",
                      lambda now: with_senses_for(edits.rules_changed(now, owner, made), modes))

    return rule_parts(document.puppet, rules, change, "here")


def rule_parts(
    puppet: Puppet, rules: Sequence[Rule], change: Callable[[tuple[Rule, ...]], None], where: str
) -> list[Part]:
    """Some while-rules as tokens, whatever they belong to; `where` says while what they are in
    force."""
    parts: list[Part] = []
    for number, rule in enumerate(rules):
        def put(made: Rule | None, number: int = number) -> None:
            change((*rules[:number], *((made,) if made is not None else ()), *rules[number + 1:]))

        parts += _rule(puppet, rule, put)
    parts.append(Token(
        f"while {where}…" if not rules else "+", theme.PLUM, quiet=True, name="add while-rule",
        tip="Add a while-rule: in force exactly while this is active, undone however that ends",
        field=choice_field("", _offered(puppet, rules),
                           lambda value: change((*rules, _new_rule(puppet, value))))))
    return [Word(f"· while {where}"), *parts] if rules else parts


def _offered(puppet: Puppet, rules: Sequence[Rule]) -> list[tuple[str, str]]:
    """The while-rules that can still be added, in words."""
    kinds = {rule.kind for rule in rules}
    found: list[tuple[str, str]] = [(each.words, kind)
                                    for kind, each in FACTORS.items() if kind not in kinds]
    found += [(words, kind) for kind, words in SWITCHES.items() if kind not in kinds]
    if "mode" not in kinds:
        found += [(each.words, f"mode {mode}") for mode, each in MODES.items()]
    memos = {rule.memo for rule in rules}
    found += [(f"{memo.name.replace('_', ' ')} is…", f"memo {memo.id}") for memo in puppet.memos
              if memo.id not in memos]
    anchors = {rule.anchor for rule in rules if rule.kind == "prop"}
    found += [(f"a prop at {anchor.name}", f"prop {anchor.id}")
              for anchor in puppet.anchors if anchor.id not in anchors]
    boxes = _body_boxes(puppet)
    if boxes and "box" not in kinds:
        found.append(("another body box", "box"))
    if "tint" not in kinds:
        found.append(("tint", "tint"))
    layers = {rule.layer for rule in rules}
    if len(puppet.layers) > 1:
        found += [(f"weight of {layer.name}", f"layer_weight {layer.id}") for layer in puppet.layers
                  if layer.id not in layers]
    return found


def _body_boxes(puppet: Puppet) -> tuple[str, ...]:
    return tuple(dict.fromkeys(
        box.name for clip in puppet.clips for frame in clip.frames for box in frame.boxes
        if box.kind == "body" and box.name))


def _new_rule(puppet: Puppet, value: str) -> Rule:
    kind, _, id = value.partition(" ")
    if kind == "memo":
        memo = next(each for each in puppet.memos if each.id == id)
        return Rule("memo", memo=id, to=memo.start)
    if kind == "prop":
        return Rule("prop", anchor=id)
    if kind == "box":
        return Rule("box", box=_body_boxes(puppet)[0])
    if kind == "tint":
        return Rule("tint", WHILE_RULES["tint"].start, colour=theme.DYES["madder"])
    if kind == "layer_weight":
        return Rule("layer_weight", WHILE_RULES["layer_weight"].start, layer=id)
    if kind == "mode":
        return Rule("mode", mode=id)  # type: ignore[arg-type]
    return plain_rule(kind)


def plain_rule(kind: str) -> Rule:
    """A new while-rule that chooses nothing."""
    known = next(each for each in WHILE_RULES if each == kind)
    return Rule(known, WHILE_RULES[known].start)


def _rule(puppet: Puppet, rule: Rule, change: Callable[[Rule | None], None]) -> list[Part]:
    """One while-rule: what it does, how it comes and goes, and a token that removes it."""
    def put(**values: Any) -> None:
        change(replace(rule, **values))

    name = _name_of(rule)
    if rule.kind in FACTORS:
        traits = FACTORS[rule.kind]
        said: list[Part] = [Token(
            f"{traits.words} × {rule.value:g}", theme.PLUM, name=name,
            tip="In force exactly while this is active",
            field=number_field(rule.value, lambda value: put(value=value), traits.low, traits.high,
                               0.1))]
    elif rule.kind in SWITCHES:
        said = [Word(SWITCHES[rule.kind], strong=True)]
    else:
        said = SAID_BY[rule.kind](puppet, rule, put, name)
    return [*said, _condition(puppet, rule, put, name), *_eases(rule, put, name), Token(
        "×", theme.PLUM, quiet=True, name=f"remove {name}", tip="Remove this while-rule",
        action=lambda: change(None))]


def _name_of(rule: Rule) -> str:
    about = rule.memo or rule.anchor or rule.layer
    return f"{rule.kind} {about}" if about else rule.kind


def _condition(puppet: Puppet, rule: Rule, put: Callable[..., None], name: str) -> Token:
    """What has to hold too; quiet for nothing."""
    shown = to_names(rule.when, puppet)
    return Token(
        f"if {shown}" if shown else "if…", theme.WOAD, quiet=not shown, name=f"condition of {name}",
        tip="It counts only while this holds too",
        field=Field(shown, lambda text: put(when=to_ids(text, puppet)), term_suggestions(puppet),
                    check=lambda text: wrong(text, puppet),
                    hint="a condition; leave it empty for always"))


def _eases(rule: Rule, put: Callable[..., None], name: str) -> list[Part]:
    """One token for both eases; with none it is quiet."""
    def check(text: str) -> str | None:
        return None if _seconds(text) else "expected seconds in and out, as in 0.1 0.3"

    def commit(text: str) -> None:
        ease_in, ease_out = _seconds(text) or (0.0, 0.0)
        put(ease_in=ease_in, ease_out=ease_out)

    eased = rule.ease_in or rule.ease_out
    text = f"~ {rule.ease_in:g}, {rule.ease_out:g} s" if eased else "~"
    return [Token(text, theme.PLUM, quiet=not eased, name=f"eases of {name}",
                  tip="Its ease: how long it takes to come into force, and to go out of it",
                  field=Field(f"{rule.ease_in:g} {rule.ease_out:g}", commit, check=check,
                              hint="seconds in, and out"))]


def _seconds(text: str) -> tuple[float, float] | None:
    try:
        numbers = [float(part) for part in text.replace(",", ".").split()]
    except ValueError:
        return None
    if not 1 <= len(numbers) <= 2 or not all(0 <= number <= MOST_SECONDS for number in numbers):
        return None
    return numbers[0], numbers[-1]


def _mode(puppet: Puppet, rule: Rule, put: Callable[..., None], name: str) -> list[Part]:
    words = MODES[rule.mode].words if rule.mode else "moves…"
    return [Token(words, theme.MOSS, name=name, field=choice_field(
        rule.mode, [(each.words, mode) for mode, each in MODES.items()],
        lambda mode: put(mode=mode)),
        tip="How the mover may move where the world has a ladder, a ledge or water")]


def _memo(puppet: Puppet, rule: Rule, put: Callable[..., None], name: str) -> list[Part]:
    memo = next((each for each in puppet.memos if each.id == rule.memo), None)
    if memo is None:
        return [Word(f"{rule.memo} (gone)")]
    said = str(rule.to).lower() if isinstance(rule.to, bool) else f"{rule.to:g}" if isinstance(
        rule.to, int | float) else str(rule.to)
    if memo.type in ("bool", "choice"):
        options = ["true", "false"] if memo.type == "bool" else list(memo.choices)
        field = choice_field(said, [(option, option) for option in options], lambda value: put(
            to=value == "true" if memo.type == "bool" else value))
    else:
        whole = memo.type == "int"
        field = number_field(float(rule.to) if isinstance(rule.to, int | float) else 0.0,
                             lambda value: put(to=round(value) if whole else value), -1e6, 1e6, 1)
    return [Word(f"{memo.name.replace('_', ' ')} is"), Token(said, theme.PLUM, field, name=name)]


def _prop(puppet: Puppet, rule: Rule, put: Callable[..., None], name: str) -> list[Part]:
    anchor = next((each.name for each in puppet.anchors if each.id == rule.anchor),
                  rule.anchor or "")
    nodes: tuple[State | Group, ...] = (*puppet.states, *puppet.groups)
    known = tuple(dict.fromkeys([
        *[moment.file for clip in puppet.clips
          for moment in clip.moments if moment.kind == "attach" and moment.file],
        *[each.shows for node in nodes for each in node.rules if each.shows]]))
    clip = puppet.clip(rule.clip)
    clips = [(each.name, each.id) for each in puppet.clips]
    if clip is not None:
        shown: list[Part] = [
            Token(clip.name, theme.INDIGO, name=name, tip="The clip of the prop",
                  field=choice_field(
                rule.clip or "", [*clips, ("no clip", "")], lambda id: put(clip=id or None))),
            Token("round" if rule.round else "once", theme.INDIGO, name=f"{name} round",
                  action=lambda: put(round=not rule.round)),
        ]
    else:
        shown = [
            Token(rule.shows or "a bundle", theme.PLUM, name=name,
                  tip="Its picture, or its file of bones",
                  field=shared_name_field(rule.shows, known, lambda path: put(shows=path))),
            Token("or a clip…", theme.INDIGO, name=f"{name} clip", quiet=True, field=choice_field(
                "", clips, lambda id: put(clip=id), "any clip of the puppet")),
        ]
    return [*shown, Word(f"at {anchor}"),
            Token("under" if rule.under else "over", theme.PLUM, name=f"{name} under",
                                                action=lambda: put(under=not rule.under))]


def _box(puppet: Puppet, rule: Rule, put: Callable[..., None], name: str) -> list[Part]:
    return [Word("body box"), Token(rule.box, theme.MOSS, name=name, field=choice_field(
        rule.box, [(each, each) for each in _body_boxes(puppet)], lambda box: put(box=box)))]


def _tint(puppet: Puppet, rule: Rule, put: Callable[..., None], name: str) -> list[Part]:
    colours = list(theme.DYES.items())
    said = next((word for word, value in colours if value.lower() == rule.colour.lower()),
                rule.colour)

    def check(text: str) -> str | None:
        right = (
            len(text) == 7
            and text.startswith("#")
            and all(each in "0123456789abcdefABCDEF" for each in text[1:])
        )
        return None if right else "expected a colour as #rrggbb, or one of those below"

    field = Field(rule.colour, lambda text: put(colour=text),
                  tuple(Suggestion(word, value) for word, value in colours), check=check,
                  hint="a colour, as #A8323A")
    return [Word("tint"), Token(said, theme.PLUM, field, name=name), Token(
        f"{rule.value:.0%}", theme.PLUM, name="tint strength",
        field=number_field(rule.value, lambda value: put(value=value), 0, 1, 0.1))]


def _layer_weight(puppet: Puppet, rule: Rule, put: Callable[..., None], name: str) -> list[Part]:
    layer = next((each.name for each in puppet.layers if each.id == rule.layer), rule.layer or "")
    return [Token(f"weight of {layer} × {rule.value:g}", theme.PLUM, name=name,
                  field=number_field(rule.value, lambda value: put(value=value), 0, 10, 0.1))]


SAID_BY: dict[str, Callable[..., list[Part]]] = {
    "memo": _memo, "prop": _prop, "box": _box, "tint": _tint,
    "layer_weight": _layer_weight, "mode": _mode,
}
"""How each while-rule is said that has to choose something."""


def deaf_tokens(document: Document, node: State | Group) -> list[Part]:
    """The transitions of the groups around a node that it does not listen to, and a token that adds
    one."""
    puppet = document.puppet
    names = {each.id: each.name for each in puppet.nodes}
    around = [each for group in puppet.groups_around(node)
              for each in puppet.transitions_of(group.id)]
    if not around:
        return []
    parts: list[Part] = []
    for each in around:
        if each.id in node.deaf_to:
            parts.append(Token(
                f"{names.get(each.source, '?')} → {names.get(each.target, '?')}", theme.MADDER,
                name=f"deaf to {each.id}", tip="Click: it listens to this again",
                action=partial(lambda id: document.edit(
                    "listen again", lambda now: edits.deaf_set(now, node.id, id, False)), each.id)))
    others = [(f"{names.get(each.source, '?')} → {names.get(each.target, '?')}", each.id)
              for each in around
              if each.id not in node.deaf_to and each.target != node.id]
    if others:
        parts.append(Token("deaf to…" if not parts else "+", theme.MADDER, quiet=True,
                           name="deaf to",
                           tip="A way out of the band that this does not take",
                           field=choice_field("", others, lambda id: document.edit(
                               "do not listen", lambda now: edits.deaf_set(
                                   now, node.id, id, True)))))
    return [Word("· does not listen to"), *parts] if node.deaf_to else parts
