"""What is selected, as one sentence whose tokens are its fields."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import get_args

from msgspec.structs import replace

from ...core.model.clips import Rule
from ...core.model.edits import graph as edits
from ...core.model.graph import Blend, BlendKind, Group, Leave, LeaveKind, MemoSet, SpeedMap, State, Transition
from ...core.model.puppet import Puppet
from ...core.rules.parse import parse
from ...core.rules.phrase import phrase
from ...core.rules.scope import WINDOW_KINDS, ConditionError, scope_by_id, scope_by_name, window_names
from ...core.rules.translate import quoted, to_ids, to_names
from ...core.rules.tree import Read, conjuncts, reads
from .. import theme
from ..document import Document
from ..widgets.parts import Field, Part, Suggestion, Token, Word, choice_field, name_field, number_field

RULE_WORDS = {
    "move_speed": "move speed", "lock_movement": "movement locked", "lock_facing": "facing locked",
}


def sentence_for(document: Document) -> list[Part]:
    """The sentence of what is selected in the weave."""
    kind, id = document.selection or ("", "")
    puppet = document.puppet
    state, group, transition = puppet.state(id), puppet.group(id), puppet.transition(id)
    if kind == "state" and state is not None:
        return _state(document, state)
    if kind == "group" and group is not None:
        return _group(document, group)
    if kind == "transition" and transition is not None:
        return _transition(document, transition)
    return _nothing(document)


def _nothing(document: Document) -> list[Part]:
    states, threads = len(document.puppet.states), len(document.puppet.transitions)
    return [
        Word(f"{states} state{'s' * (states != 1)}, {threads} transition{'s' * (threads != 1)}", strong=True),
        Word("· drag a clip into a band for a state, a card onto a card for a transition, a seam for a whole band ·"),
        Token("+ band", theme.QUIET, action=lambda: _add_band(document), quiet=True, name="add band"),
    ]


def _add_band(document: Document) -> None:
    puppet, id = edits.group_added(document.puppet, "Ground" if not document.puppet.groups else "Band")
    document.edit("add band", puppet)
    document.select("group", id)


def _remove(document: Document, name: str, change: Callable[[Puppet], Puppet]) -> Token:
    def action() -> None:
        document.deselect()
        document.edit(name, change)

    return Token("×", theme.MADDER, action=action, quiet=True, tip=f"{name.capitalize()} (Delete)", name="remove")


# States and groups ----------------------------------------------------------------------------------------------


def _state(document: Document, state: State) -> list[Part]:
    puppet = document.puppet
    clips = [("nothing, it passes on", ""), *((clip.name, clip.id) for clip in puppet.clips)]
    bands = [(group.name, group.id) for group in puppet.groups] + [("no band", "")]
    layer = next((each for each in puppet.layers if each.id == state.layer), None)
    is_start = layer is not None and layer.start == state.id

    def change(name: str, /, **values: object) -> None:
        document.edit(name, lambda now: edits.state_changed(now, state.id, **values))

    clip = puppet.clip(state.clip)
    group = puppet.group(state.group)
    parts: list[Part] = [
        Token(state.name, theme.INK, name_field(state.name, lambda text: change("rename state", name=text)),
              name="state name"),
        Word("plays"),
        Token(clip.name if clip else "nothing", theme.INDIGO,
              choice_field(state.clip or "", clips, lambda id: change("choose clip", clip=id or None)), name="clip"),
        Word("at"), *_speed(document, state, change),
        Word("in"),
        Token(group.name if group else "no band", theme.MOSS,
              choice_field(state.group or "", bands,
                           lambda id: change("move to another band", group=id or None, place=None)), name="band"),
        *_rules(document, state.id, state.rules),
        *_memo_sets(document, state),
    ]
    if is_start:
        parts.append(Token("starts here", theme.WELD, action=lambda: None, filled=True, name="start",
                           tip="The puppet starts in this state; choose another to move the pin"))
    else:
        parts.append(Token("start here", theme.WELD, quiet=True, name="start",
                           action=lambda: document.edit("move the start", lambda now: edits.start_set(now, state.id))))
    parts.append(_remove(document, "remove state", lambda now: edits.state_removed(now, state.id)))
    return parts


def _speed(document: Document, state: State, change: Callable[..., None]) -> list[Part]:
    puppet = document.puppet
    mapped = state.speed_map
    if mapped is None:
        numbers = [each for each in (*puppet.senses, *puppet.memos) if each.type in ("int", "float")]
        parts: list[Part] = [
            Token(f"{state.speed:g}× speed", theme.INDIGO,
                  number_field(state.speed, lambda value: change("set speed", speed=value), 0, 100, 0.1), name="speed"),
        ]
        if numbers:
            senses = {each.id: each for each in puppet.senses}

            def follow(id: str) -> None:
                sense = senses.get(id)
                low, high = (max(0.0, sense.low), sense.high) if sense else (0.0, 1.0)
                change("let speed follow", speed_map=SpeedMap(id, low, high, 0.5, 1.0))

            parts.append(Token("by…", theme.INDIGO, choice_field("", [(each.name, each.id) for each in numbers], follow,
                                                                "a value that the speed follows"),
                               quiet=True, name="speed by", tip="Let the speed follow a sense or memo"))
        return parts

    def remap(**values: object) -> None:
        change("set speed", speed_map=replace(mapped, **values))

    name = next((each.name for each in puppet.named_values if each.id == mapped.source), mapped.source)
    return [
        Token(f"{mapped.slow:g}", theme.INDIGO, number_field(mapped.slow, lambda v: remap(slow=v), 0, 100, 0.1),
              name="slowest"),
        Word("to"),
        Token(f"{mapped.fast:g}× speed", theme.INDIGO, number_field(mapped.fast, lambda v: remap(fast=v), 0, 100, 0.1),
              name="fastest"),
        Word("as"),
        Token(name.replace("_", " "), theme.WOAD,
              choice_field(mapped.source, [(each.name, each.id) for each in (*puppet.senses, *puppet.memos)
                                           if each.type in ("int", "float")] + [("fixed speed", "")],
                           lambda id: remap(source=id) if id else change("set speed", speed_map=None)), name="speed by"),
        Word("goes"),
        Token(f"{mapped.low:g}", theme.WOAD, number_field(mapped.low, lambda v: remap(low=v), -1e6, 1e6, 1),
              name="lowest value"),
        Word("to"),
        Token(f"{mapped.high:g}", theme.WOAD, number_field(mapped.high, lambda v: remap(high=v), -1e6, 1e6, 1),
              name="highest value"),
    ]


def _rules(document: Document, owner: str, rules: Sequence[Rule]) -> list[Part]:
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


def _memo_sets(document: Document, state: State) -> list[Part]:
    """What a state sets on entering and leaving; shown once the puppet has a memo."""
    puppet = document.puppet
    if not puppet.memos:
        return []
    parts: list[Part] = []
    for which, word in (("on_enter", "on entering"), ("on_leave", "on leaving")):
        sets: tuple[MemoSet, ...] = getattr(state, which)

        def put(number: int, text: str, which: str = which, sets: tuple[MemoSet, ...] = sets) -> None:
            kept = list(sets)
            if not text.strip():
                kept.pop(number)
            else:
                memo = next(each for each in puppet.memos if each.id == kept[number].memo)
                kept[number] = MemoSet(memo.id, to_ids(text, puppet, memo.type))
            document.edit("set memo", lambda now: edits.state_changed(now, state.id, **{which: tuple(kept)}))

        def add(memo: str, which: str = which, sets: tuple[MemoSet, ...] = sets) -> None:
            found = next(each for each in puppet.memos if each.id == memo)
            value = {"int": f"{memo} + 1", "bool": "true", "float": "0.0"}.get(
                found.type, quoted(found.choices[0] if found.choices else ""))
            document.edit("set memo", lambda now: edits.state_changed(
                now, state.id, **{which: (*sets, MemoSet(memo, value))}))

        for number, each in enumerate(sets):
            memo = next((memo for memo in puppet.memos if memo.id == each.memo), None)
            if memo is None:
                continue
            shown = to_names(each.value, puppet, memo.type)
            parts += [
                Word(f"· {word} {memo.name.replace('_', ' ')} becomes"),
                Token(shown, theme.PLUM, name=f"{which} {memo.name}",
                      field=Field(shown, lambda text, number=number, put=put: put(number, text),
                                  check=lambda text, memo=memo: _wrong(text, puppet, memo.type),
                                  hint="a value; leave it empty to remove it")),
            ]
        parts.append(
            Token(f"+ {word}…", theme.PLUM, quiet=True, name=f"add {which}",
                  field=choice_field("", [(memo.name, memo.id) for memo in puppet.memos], add))
        )
    return parts


def _group(document: Document, group: Group) -> list[Part]:
    puppet = document.puppet
    inside = [node for node in puppet.nodes if node.group == group.id]
    others = [(each.name, each.id) for each in puppet.groups if each.id != group.id] + [("no other band", "")]

    def change(name: str, /, **values: object) -> None:
        document.edit(name, lambda now: edits.group_changed(now, group.id, **values))

    start = puppet.node(group.start)
    around = puppet.group(group.group)
    return [
        Token(group.name, theme.THREADS[group.thread],
              name_field(group.name, lambda text: change("rename band", name=text)), name="band name"),
        Word("starts in"),
        Token(start.name if start else "its first state", theme.WELD,
              choice_field(group.start or "", [(node.name, node.id) for node in inside],
                           lambda id: change("choose the band's start", start=id)), name="band start"),
        Token("and remembers where it was" if group.remembers else "each time", theme.INDIGO, name="remembers",
              action=lambda: change("let the band remember", remembers=not group.remembers),
              tip="Click to switch between starting anew and going on where it was"),
        Word("· in"),
        Token(around.name if around else "no other band", theme.MOSS, name="inside",
              field=choice_field(group.group or "", others, lambda id: document.edit(
                  "nest band", lambda now: edits.group_nested(now, group.id, id or None)))),
        Word("· thread"),
        Token(group.thread, theme.THREADS[group.thread], name="thread",
              field=choice_field(group.thread, [(each, each) for each in edits.THREADS],
                                 lambda thread: change("choose thread", thread=thread))),
        *_rules(document, group.id, group.rules),
        _remove(document, "remove band", lambda now: edits.group_removed(now, group.id)),
    ]


# Transitions ----------------------------------------------------------------------------------------------------


def _transition(document: Document, each: Transition) -> list[Part]:
    puppet = document.puppet
    source, target = puppet.node(each.source), puppet.node(each.target)
    siblings = puppet.transitions_of(each.source)
    order = [sibling.id for sibling in siblings].index(each.id) + 1
    nodes = [(node.name, node.id) for node in (*puppet.states, *puppet.groups)]

    def change(name: str, /, **values: object) -> None:
        document.edit(name, lambda now: edits.transition_changed(now, each.id, **values))

    return [
        Word(source.name if source else each.source, strong=True),
        Word("→"),
        Token(target.name if target else each.target, theme.INK,
              choice_field(each.target, nodes, lambda id: change("lead elsewhere", target=id)), name="target"),
        Word("when"),
        *_condition(document, each),
        Word("· leave"), *_leave(document, each, change),
        Word("· blend"), *_blend(each, change),
        Word("· order"),
        Token(f"{order}, overrides" if each.overrides else str(order), theme.INDIGO, name="order",
              tip=f"Tried {order} of {len(siblings)}", field=_order(document, each, len(siblings), change)),
        *([Token("re-enters" if each.reenters else "never itself", theme.INDIGO, quiet=not each.reenters,
                 name="reenters", action=lambda: change("switch re-entering", reenters=not each.reenters),
                 tip="Whether the state may enter itself")]
          if each.source == each.target or puppet.group(each.source) is not None else []),
        _remove(document, "remove transition", lambda now: edits.transition_removed(now, each.id)),
    ]


def _order(document: Document, each: Transition, count: int, change: Callable[..., None]) -> Field:
    """The place among the transitions of its source, and whether it is tried before everything further in."""
    turn = "overrides everything further in" if not each.overrides else "in turn, overriding nothing"
    options = [(str(number), str(number)) for number in range(1, count + 1)] + [(turn, "turn")]

    def put(value: str) -> None:
        if value == "turn":
            change("switch overriding", overrides=not each.overrides)
        else:
            document.edit("change order", lambda now: edits.transition_ordered(now, each.id, int(value)))

    return choice_field("", options, put, "which of its source's transitions is tried first")


def term_texts(when: str, puppet: Puppet) -> list[tuple[str, str, str]]:
    """The terms of a stored condition: each as stored, in words, and the kind of what it reads first."""
    if not when.strip():
        return []
    try:
        tree = parse(when, scope_by_id(puppet))
    except ConditionError:
        return [(when, when, "broken")]
    names = {node.id: node.name for node in puppet.nodes}
    found = []
    for term in conjuncts(tree):
        first = next(iter(reads(term)), None)
        kind = first.symbol.kind if isinstance(first, Read) else "window" if first else "built-in"
        text = when[term.span[0]: term.span[1]]
        found.append((f"({text})" if " or " in text else text, phrase(term, names), kind))
    return found


def _condition(document: Document, each: Transition) -> list[Part]:
    """One token a term; an empty text removes the term. A last token adds one."""
    puppet = document.puppet
    terms = term_texts(each.when, puppet)
    suggestions = term_suggestions(puppet)

    def put(number: int, text: str) -> None:
        texts = [stored for stored, _, _ in terms]
        new = to_ids(text, puppet) if text.strip() else ""
        if " or " in new and not (new.startswith("(") and new.endswith(")")):
            new = f"({new})"
        texts[number: number + 1] = [new] if new else []
        joined = " and ".join(texts)
        document.edit("change condition", lambda now: edits.transition_changed(
            now, each.id, when=joined[1:-1] if len(texts) == 1 and joined.startswith("(") and joined.count("(") == 1
            else joined))

    parts: list[Part] = []
    for number, (stored, words, kind) in enumerate(terms):
        if number:
            parts.append(Word("and"))
        shown = to_names(stored, puppet)
        color = theme.WELD if kind == "broken" else theme.TERM_COLORS.get(kind, theme.INDIGO)
        parts.append(
            Token(words, color, name=f"term {number + 1}", tip=_explained(stored, puppet) or shown,
                  field=Field(shown, lambda text, number=number: put(number, text), suggestions,
                              check=lambda text: _wrong(text, puppet) if text.strip() else None,
                              hint="a condition; leave it empty to remove it"))
        )
    parts.append(
        Token("and…" if terms else "always; choose when…", theme.WOAD, quiet=True, name="add term",
              field=Field("", lambda text: put(len(terms), text), suggestions,
                          check=lambda text: _wrong(text, puppet),
                          hint="pick one, or type: speed > 20 and not grounded"))
    )
    return parts


def _wrong(text: str, puppet: Puppet, expected: str = "bool") -> str | None:
    """What is wrong with a condition or value over names, or None."""
    if not text.strip():
        return None
    try:
        parse(text, scope_by_name(puppet), expected)  # type: ignore[arg-type]
    except ConditionError as error:
        return str(error)
    return None


def _explained(stored: str, puppet: Puppet) -> str:
    """The gesture behind an intent that a term reads."""
    for intent in puppet.intents:
        if stored.strip() == intent.id:
            action = next((each.name for each in puppet.actions if each.id == intent.action), intent.action)
            return f"{intent.gesture} {action}, buffered {intent.buffer:g} s"
    return ""


def term_suggestions(puppet: Puppet) -> tuple[Suggestion, ...]:
    """Whole terms that can be picked, and words to go on typing after."""
    found = []
    actions = {action.id: action.name for action in puppet.actions}
    for intent in puppet.intents:
        remark = f"{intent.gesture} {actions.get(intent.action, '?')}"
        found.append(Suggestion(intent.name, intent.name, remark))
        if intent.gesture == "held":
            found.append(Suggestion(f"not {intent.name}", f"not {intent.name}", remark))
    for value in (*puppet.senses, *puppet.memos):
        word = "sense" if value in puppet.senses else "memo"
        if value.type == "bool":
            found.append(Suggestion(value.name, value.name, word))
            found.append(Suggestion(f"not {value.name}", f"not {value.name}", word))
        elif value.id == "move_x":
            found.append(Suggestion(f"{value.name} != 0", f"{value.name} != 0", "wants to move"))
            found.append(Suggestion(f"{value.name} == 0", f"{value.name} == 0", "wants to stand"))
        else:
            found.append(Suggestion(f"{value.name} …", f"{value.name} >", f"{word}, go on typing", finishes=False))
    found.append(Suggestion("done", "done", "the clip is at its end"))
    found += [Suggestion(f'window("{name}")', f'window("{name}")', "while it is open") for name in used_windows(puppet)]
    found += [Suggestion("elapsed …", "elapsed >", "seconds in the state", finishes=False),
              Suggestion("loops …", "loops >=", "times the clip came round", finishes=False)]
    return tuple(found)


def used_windows(puppet: Puppet) -> list[str]:
    """The windows that conditions and leave rules can usefully name: those the clips have, and their kinds."""
    kinds = {window.kind for clip in puppet.clips for window in clip.windows}
    return [name for name in window_names(puppet) if name not in WINDOW_KINDS or name in kinds]


def _leave(document: Document, each: Transition, change: Callable[..., None]) -> list[Part]:
    puppet = document.puppet
    leave = each.leave

    def put(kind: LeaveKind) -> None:
        windows = used_windows(puppet)
        best = "cancel" if "cancel" in windows else windows[0] if windows else "cancel"
        change("change leave rule", leave=Leave(kind, 0.2 if kind == "after" else 0.0,
                                                best if kind == "in a window" else ""))

    parts: list[Part] = [
        Token(leave.kind, theme.INDIGO, name="leave",
              field=choice_field(leave.kind, [(kind, kind) for kind in get_args(LeaveKind)], put))
    ]
    if leave.kind == "after":
        parts.append(Token(f"{leave.seconds:g} s", theme.INDIGO, name="leave seconds",
                           field=number_field(leave.seconds, lambda value: change(
                               "change leave rule", leave=replace(leave, seconds=value)), 0, 600, 0.05)))
    if leave.kind == "in a window":
        parts.append(Token(leave.window, theme.INDIGO, name="leave window",
                           field=choice_field(leave.window, [(name, name) for name in used_windows(puppet)],
                                              lambda name: change("change leave rule",
                                                                  leave=replace(leave, window=name)))))
    return parts


def _blend(each: Transition, change: Callable[..., None]) -> list[Part]:
    blend = each.blend

    def put(kind: BlendKind) -> None:
        seconds = 0.0 if kind == "cut" else blend.seconds or 0.1
        change("change blend", blend=Blend(kind, seconds, blend.easing))

    parts: list[Part] = [
        Token(blend.kind, theme.INDIGO, name="blend", tip="Sprites cut; bones blend",
              field=choice_field(blend.kind, [(kind, kind) for kind in get_args(BlendKind)], put))
    ]
    if blend.kind != "cut":
        parts.insert(0, Token(f"{blend.seconds:g} s", theme.INDIGO, name="blend seconds",
                              field=number_field(blend.seconds, lambda value: change(
                                  "change blend", blend=replace(blend, seconds=value)), 0, 10, 0.01)))
    return parts
