"""What is selected, as one sentence whose tokens are its fields."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace

from ...core.model.edits import graph as edits
from ...core.model.events import Deed
from ...core.model.graph import Group, SpeedMap, State
from ...core.model.puppet import find
from ...core.model.words import LONGEST_SETTING
from ...core.rules.translate import quoted, to_ids, to_names
from ..session.document import Document
from ..widgets import theme
from ..widgets.parts import Field, Part, Token, Word, choice_field, name_field, number_field
from .conditions import wrong
from .spread_sentence import spread_sentence
from .tokens import remove_token, rule_tokens
from .transition_sentence import transition_sentence


def sentence_for(document: Document) -> list[Part]:
    """The sentence of what is selected in the weave."""
    kind, id = document.selection or ("", "")
    puppet = document.puppet
    state, group, transition = puppet.state(id), puppet.group(id), puppet.transition(id)
    if kind == "state" and state is not None:
        return _state(document, state)
    if kind == "group" and group is not None:
        return _group(document, group)
    spread = find(puppet.spreads, id)
    if kind == "spread" and spread is not None:
        return spread_sentence(document, spread)
    if kind == "transition" and transition is not None:
        return transition_sentence(document, transition)
    return _nothing(document)


def _nothing(document: Document) -> list[Part]:
    states, threads = len(document.puppet.states), len(document.puppet.transitions)
    return [
        Word(f"{states} state{'s' * (states != 1)}, {threads} transition{'s' * (threads != 1)}", strong=True),
        Word("· drag a clip into a band, or a card or a seam onto a card ·"),
        Token("+ band", theme.QUIET, action=lambda: _add_band(document), quiet=True, name="add band"),
    ]


def _add_band(document: Document) -> None:
    puppet, id = edits.group_added(document.puppet, "Ground" if not document.puppet.groups else "Band")
    document.edit("add band", puppet)
    document.select("group", id)


# States and groups ----------------------------------------------------------------------------------------------


def _state(document: Document, state: State) -> list[Part]:
    puppet = document.puppet
    clips = [("nothing, it passes on", ""), *((f"{spread.name} (spread)", spread.id) for spread in puppet.spreads),
             *((clip.name, clip.id) for clip in puppet.clips)]
    bands = [(group.name, group.id) for group in puppet.groups] + [("no band", "")]
    layer = next((each for each in puppet.layers if each.id == state.layer), None)
    is_start = layer is not None and layer.start == state.id

    def change(name: str, /, **values: object) -> None:
        document.edit(name, lambda now: edits.state_changed(now, state.id, **values))

    plays = state.spread or state.clip or ""
    group = puppet.group(state.group)
    parts: list[Part] = [
        Token(state.name, theme.INK, name_field(state.name, lambda text: change("rename state", name=text)),
              name="state name"),
        Word("plays"),
        Token(next((name for name, id in clips if id == plays), plays) if plays else "nothing", theme.INDIGO,
              choice_field(plays, clips, lambda id: document.edit(
                  "choose clip", lambda now: edits.state_playing(now, state.id, id or None))), name="clip"),
        Word("at"), *_speed(document, state, change),
        Word("in"),
        Token(group.name if group else "no band", theme.MOSS,
              choice_field(state.group or "", bands,
                           lambda id: change("move to another band", group=id or None, place=None)), name="band"),
        *rule_tokens(document, state.id, state.rules),
        *_memo_sets(document, state),
    ]
    if is_start:
        parts.append(Token("starts here", theme.WELD, action=lambda: None, filled=True, name="start",
                           tip="The puppet starts in this state; choose another to move the pin"))
    else:
        parts.append(Token("start here", theme.WELD, quiet=True, name="start",
                           action=lambda: document.edit("move the start", lambda now: edits.start_set(now, state.id))))
    parts.append(remove_token(document, "remove state", lambda now: edits.state_removed(now, state.id)))
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
                           lambda id: remap(source=id) if id else change("set speed", speed_map=None)),
              name="speed by"),
        Word("goes"),
        Token(f"{mapped.low:g}", theme.WOAD, number_field(mapped.low, lambda v: remap(low=v), -1e6, 1e6, 1),
              name="lowest value"),
        Word("to"),
        Token(f"{mapped.high:g}", theme.WOAD, number_field(mapped.high, lambda v: remap(high=v), -1e6, 1e6, 1),
              name="highest value"),
    ]


def _memo_sets(document: Document, state: State) -> list[Part]:
    """What a state sets on entering and leaving; shown once the puppet has a memo."""
    puppet = document.puppet
    if not puppet.memos:
        return []
    parts: list[Part] = []
    for which, word in (("on_enter", "on entering"), ("on_leave", "on leaving")):
        sets: tuple[Deed, ...] = getattr(state, which)

        def put(number: int, text: str, which: str = which, sets: tuple[Deed, ...] = sets) -> None:
            kept = list(sets)
            if not text.strip():
                kept.pop(number)
            else:
                memo = next(each for each in puppet.memos if each.id == kept[number].memo)
                kept[number] = Deed(memo.id, to_ids(text, puppet, memo.type))
            document.edit("set memo", lambda now: edits.state_changed(now, state.id, **{which: tuple(kept)}))

        def add(memo: str, which: str = which, sets: tuple[Deed, ...] = sets) -> None:
            found = next(each for each in puppet.memos if each.id == memo)
            value = {"int": f"{memo} + 1", "bool": "true", "float": "0.0"}.get(
                found.type, quoted(found.choices[0] if found.choices else ""))
            document.edit("set memo", lambda now: edits.state_changed(
                now, state.id, **{which: (*sets, Deed(memo, value))}))

        for number, each in enumerate(sets):
            memo = next((memo for memo in puppet.memos if memo.id == each.memo), None)
            if memo is None:
                continue
            shown = to_names(each.value, puppet, memo.type)
            parts += [
                Word(f"· {word} {memo.name.replace('_', ' ')} becomes"),
                Token(shown, theme.PLUM, name=f"{which} {memo.name}",
                      field=Field(shown, lambda text, number=number, put=put: put(number, text),
                                  check=lambda text, memo=memo: wrong(text, puppet, memo.type, LONGEST_SETTING),
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
        *rule_tokens(document, group.id, group.rules),
        remove_token(document, "remove band", lambda now: edits.group_removed(now, group.id)),
    ]
