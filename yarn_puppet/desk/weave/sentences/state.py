"""The sentence of a state: what it plays, where, how fast, what it brings and does."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from msgspec.structs import replace

from ....core.model.basics.base import LONGEST_NAME
from ....core.model.edits import graph as edits
from ....core.model.edits.frames.events import events_carried
from ....core.model.edits.spreads import any_of_several
from ....core.model.graph import SpeedMap, State
from ....core.model.puppet import find
from ....core.patterns.clip_names import USUAL_WORDS
from ....core.snags.dead_ends import windows_waited_for
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import (
    Field,
    Part,
    Suggestion,
    Token,
    Word,
    choice_field,
    name_field,
    number_field,
)
from .deeds import deed_tokens
from .ready_made import state_gestures
from .tokens import deaf_tokens, remove_token, rule_tokens


def state_sentence(document: Document, state: State) -> list[Part]:
    """Every token a field, the ready-made pieces at the end."""
    puppet = document.puppet
    clips = [("nothing, it passes on", ""),
             *((f"{spread.name} (spread)", spread.id) for spread in puppet.spreads),
             *((clip.name, clip.id) for clip in puppet.clips)]
    bands = [(group.name, group.id) for group in puppet.groups
             if group.layer == state.layer and not group.anywhere] + [("no band", "")]
    layer = next((each for each in puppet.layers if each.id == state.layer), None)
    is_start = layer is not None and layer.start == state.id

    def change(name: str, /, **values: object) -> None:
        document.edit(name, lambda now: edits.state_changed(now, state.id, **values))

    plays = state.spread or state.clip or ""
    around = [group for group in puppet.groups_around(state) if not group.anywhere]
    parts: list[Part] = [
        Token(state.name, theme.INK,
              name_field(state.name, lambda text: change("rename state", name=text)),
              name="state name"),
        Word("plays"),
        Token(next((name for name, id in clips if id == plays), plays) if plays else "nothing",
              theme.INDIGO,
              choice_field(plays, clips, lambda id: document.edit(
                  "choose clip", lambda now: edits.state_playing(now, state.id, id or None))),
                  name="clip"),
        *_or_another(document, state),
        *_waiting(state, change),
        *_carrying(document, state),
        Word("at"), *_speed(document, state, change),
        Word("in"),
        *[Token(group.name, theme.THREADS[group.thread], name=f"in {group.name}",
                tip="Go to this band",
                action=partial(lambda id: document.select("group", id), group.id))
                for group in reversed(around[1:])],
        Token(around[0].name if around else "no band",
              theme.THREADS[around[0].thread] if around else theme.MOSS,
              choice_field(state.group or "", bands,
                           lambda id: change("move to another band", group=id or None, place=None)),
                           name="band"),
        *rule_tokens(document, state.id, state.rules),
        *deaf_tokens(document, state),
        *deed_tokens(document, state),
    ]
    if is_start:
        parts.append(Token("starts here", theme.WELD, action=lambda: None, filled=True,
                           name="start",
                           tip="The puppet starts in this state; choose another to move the pin"))
    else:
        parts.append(Token("start here", theme.WELD, quiet=True, name="start",
                           action=lambda: document.edit(
                               "move the start", lambda now: edits.start_set(now, state.id))))
    parts += state_gestures(document, (state.id,))
    parts.append(remove_token(document, "remove state",
                              lambda now: edits.state_removed(now, state.id)))
    return parts


def _carrying(document: Document, state: State) -> list[Part]:
    """Where its clip lacks a window that its ways out wait for: from which clip it is taken over,
    and how."""
    puppet = document.puppet
    windows = windows_waited_for(puppet, state)
    if not windows or state.clip is None:
        return []
    clip = state.clip
    options = [(f"from {other.name}, {words}", f"{by} {other.id}") for other in puppet.clips
               if other.id != clip and any(
                   window in (each.name, each.kind) for each in other.windows
                   for window in windows)
               for by, words in (("share", "by their share of the length"),
                                 ("frames", "frame by frame"))]

    def carry(picked: str) -> None:
        by, _, other = picked.partition(" ")
        document.edit("take windows over", lambda now: events_carried(
            now, other, clip, "frames" if by == "frames" else "share"))

    return [Token("take windows over…", theme.WELD, quiet=True, name="carry windows",
                  tip=f"Its ways out wait for a window {', '.join(windows)}, which its clip has "
                      "not: take windows and moments of another clip",
                  field=choice_field("", options, carry))]


def _or_another(document: Document, state: State) -> list[Part]:
    """Another clip beside the one it plays, picked at random: what it has at random already is on
    its spread's own sentence."""
    puppet = document.puppet
    spread = find(puppet.spreads, state.spread)
    if (spread is not None and not spread.random) or (spread is None and state.clip is None):
        return []
    held = {clip.id for clip in puppet.clips_of(state)}
    others = [(clip.name, clip.id) for clip in puppet.clips if clip.id not in held]
    found: list[Part] = []
    if spread is not None:
        found.append(Token("weights…", theme.INDIGO, quiet=True, name="weights",
                           tip="How often each of its clips comes",
                           action=lambda: document.select("spread", spread.id)))
    if others:
        found.append(Token("or…", theme.INDIGO, quiet=True, name="or another clip",
                           tip="Any of several, at random: each time it is entered, and each time "
                               "one came to its end",
                           field=choice_field("", others, lambda clip: document.edit(
                               "any of several", lambda now: any_of_several(
                                   now, state.id, clip)))))
    return found


def _waiting(state: State, change: Callable[..., None]) -> list[Part]:
    """What clip it waits for; where it has one, nothing is said."""
    if state.clip or state.spread:
        return []
    field = Field(state.waits_for, lambda text: change("wait for a clip", waits_for=text.strip()),
                  tuple(Suggestion(word, word) for word in USUAL_WORDS), longest=LONGEST_NAME,
                  hint="the clip it waits for, in a word; it is never entered till it has one")
    if not state.waits_for:
        return [Token("waits for…", theme.QUIET, field, quiet=True, name="waits for",
                      tip="A card of a pattern: it waits for a clip")]
    return [Word("and waits for"), Token(state.waits_for, theme.WELD, field, name="waits for")]


def _speed(document: Document, state: State, change: Callable[..., None]) -> list[Part]:
    puppet = document.puppet
    mapped = state.speed_map
    if mapped is None:
        numbers = [each for each in puppet.values
                   if each.type in ("int", "float")]
        parts: list[Part] = [
            Token(f"{state.speed:g}× speed", theme.INDIGO,
                  number_field(state.speed, lambda value: change("set speed", speed=value), 0, 100,
                               0.1), name="speed"),
        ]
        if numbers:
            senses = {each.id: each for each in puppet.senses}

            def follow(id: str) -> None:
                sense = senses.get(id)
                low, high = (max(0.0, sense.low), sense.high) if sense else (0.0, 1.0)
                change("let speed follow", speed_map=SpeedMap(id, low, high, 0.5, 1.0))

            parts.append(Token("by…", theme.INDIGO,
                               choice_field("", [(number.name, number.id) for number in numbers],
                                            follow,
                                                                "a value that the speed follows"),
                               quiet=True, name="speed by",
                               tip="Let the speed follow a sense or memo"))
        return parts

    def remap(**values: object) -> None:
        change("set speed", speed_map=replace(mapped, **values))

    name = next((each.name for each in puppet.named_values if each.id == mapped.source),
                mapped.source)
    return [
        Token(f"{mapped.slow:g}", theme.INDIGO,
              number_field(mapped.slow, lambda v: remap(slow=v), 0, 100, 0.1),
              name="slowest"),
        Word("to"),
        Token(f"{mapped.fast:g}× speed", theme.INDIGO,
              number_field(mapped.fast, lambda v: remap(fast=v), 0, 100, 0.1),
              name="fastest"),
        Word("as"),
        Token(name.replace("_", " "), theme.WOAD,
              choice_field(mapped.source,
                           [(each.name, each.id) for each in puppet.values
                                           if each.type in ("int", "float")] + [
                                               ("fixed speed", "")],
                           lambda id: remap(source=id)
                           if id else change("set speed", speed_map=None)),
              name="speed by"),
        Word("goes"),
        Token(f"{mapped.low:g}", theme.WOAD,
              number_field(mapped.low, lambda v: remap(low=v), -1e6, 1e6, 1),
              name="lowest value"),
        Word("to"),
        Token(f"{mapped.high:g}", theme.WOAD,
              number_field(mapped.high, lambda v: remap(high=v), -1e6, 1e6, 1),
              name="highest value"),
    ]
