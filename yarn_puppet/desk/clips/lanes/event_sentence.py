"""The sentence of the moments and windows selected on the lanes, and the counts of the clip."""

from __future__ import annotations

from functools import partial
from typing import Any

from ....core.engine.compiling.clip_tables import compile_clip
from ....core.engine.counting import Counts, counts
from ....core.model.clips import Clip
from ....core.model.edits.frames import events as edits
from ....core.model.edits.naming import places_of
from ....core.model.events import Window
from ....core.model.kinds.windows import WINDOW_WORDS, WINDOWS
from ....core.rules.renames import windows_renamed
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import (
    Part,
    Token,
    Word,
    choice_field,
    number_field,
    shared_name_field,
    ticks_field,
    ticks_text,
)
from ..clip_desk import ClipDesk
from .brought import window_rule_tokens
from .file_tokens import Ask, Change, Hear
from .moment_sentence import moment_sentence


def counts_words(document: Document, desk: ClipDesk) -> str:
    """A clip's length, and its startup, active and recovery, counted in ticks."""
    clip = desk.clip
    if clip is None or not clip.plays:
        return ""
    rate = document.puppet.rate
    count = _counted(clip, rate)
    words = f"{clip.length / 1000:.2f} s, {count.total} ticks at {rate} Hz"
    if count.active:
        words += f" · startup {count.startup}   active {count.active}   recovery {count.recovery}"
    return words


_last: tuple[Clip, int, Counts] | None = None
"""The clip that was counted last: one is asked for again and again while it is on the desk."""


def _counted(clip: Clip, rate: int) -> Counts:
    global _last
    if _last is None or _last[0] is not clip or _last[1] != rate:
        _last = (clip, rate, counts(compile_clip(clip, rate)))
    return _last[2]


def event_sentence(document: Document, desk: ClipDesk, ask: Ask, hear: Hear) -> list[Part]:
    """What is selected on the lanes, each token the field itself."""
    clip = desk.clip
    if clip is None or not clip.plays:
        return [Word("Events", strong=True), Word("· a clip's windows and moments stand here")]
    if len(desk.chosen_events) > 1:
        return _several(document, desk, clip)
    event = desk.chosen_event
    if event is None:
        by = "frames" if clip.motion is None else "ticks"
        return [Word(clip.name, strong=True),
                Word("· drag along a lane for a window, click for a moment, or press 1 "
                     f"to 7 at the head; Alt is free of the {by}")]

    def change(name: str, /, **values: Any) -> None:
        document.edit(name, lambda now: edits.event_changed(now, clip.id, event.id, **values))

    if isinstance(event, Window):
        parts = _window(document, clip, event, change)
    else:
        parts = moment_sentence(document, clip, event, change, ask, hear)
    if isinstance(event, Window) and event.guess:
        parts.append(Token("a guess", theme.WELD, name="guess",
                           action=lambda: change("keep a guess", guess=False),
                           tip="Read off the drawing; a click says that it is right"))
    return [*parts, _copy_to(document, desk, clip), _remove(document, desk, clip)]


def _several(document: Document, desk: ClipDesk, clip: Clip) -> list[Part]:
    ids = desk.events

    def move(by: float) -> None:
        document.edit("move events", lambda now: edits.events_moved(now, clip.id, ids, by))

    return [
        Word(f"{len(desk.chosen_events)} events", strong=True),
        Word("· drag them together, or move by"),
        Token("… ms", theme.INDIGO, name="move by",
              field=number_field(0, move, -clip.length, clip.length, 10)),
        _copy_to(document, desk, clip), _remove(document, desk, clip),
    ]


def _copy_to(document: Document, desk: ClipDesk, clip: Clip) -> Token:
    """Copies what is selected into another clip, at the same times."""
    ids = desk.events
    others = [(each.name, each.id) for each in document.puppet.clips if each.id != clip.id]

    def copy(target: str) -> None:
        document.edit("copy events", edits.events_copied(document.puppet, clip.id, ids, target)[0])

    return Token("copy to…", theme.WOAD, quiet=True, name="copy event",
                 tip="Into another clip, at the same times",
                 field=choice_field("", others, copy))


def _remove(document: Document, desk: ClipDesk, clip: Clip) -> Token:
    def action() -> None:
        ids = desk.events
        desk.select_event(None)
        document.edit("remove event", lambda now: edits.events_removed(now, clip.id, ids))

    return Token("remove", theme.MADDER, action=action, quiet=True, name="remove event",
                 tip="Delete")


# Windows ------------------------------------------------------------------------------------------


def _window(document: Document, clip: Clip, window: Window, change: Change) -> list[Part]:
    puppet = document.puppet
    color = theme.EVENT_COLORS[window.kind]

    def rename(name: str) -> None:
        shared = sum(each.name == window.name for other in puppet.clips
                     for each in other.windows) > 1
        if shared or window.name in WINDOW_WORDS:
            change("rename window", name=name)
        else:
            document.edit("rename window", lambda now: windows_renamed(
                now, {window.name: name}))

    parts: list[Part] = [
        Token(window.kind, color, name="window kind",
              field=choice_field(window.kind, [(kind, kind) for kind in WINDOWS],
                                 lambda kind: change("change window", kind=kind))),
        Word("window"),
        Token(window.name, color, shared_name_field(
            window.name, puppet.window_names(), rename, places_of(puppet, "windows", window.name)),
            name="window name"),
        Word("from"),
        Token(f"{window.start:g}", theme.INDIGO, name="window start",
              field=number_field(window.start, lambda value: change("move window", start=value), 0,
                                 clip.length, 10)),
        Word("to"),
        Token(f"{window.end:g} ms", theme.INDIGO, name="window end",
              field=number_field(window.end, lambda value: change("move window", end=value), 0,
                                 clip.length, 10)),
    ]
    parts += window_rule_tokens(document, clip.id, window)
    traits = WINDOWS[window.kind]
    if traits.has_blow:
        parts += _blow(window, change)
    if traits.lets_in:
        parts += _lets_in(document, window, change)
    return parts


def _blow(window: Window, change: Change) -> list[Part]:
    return [
        Word("· damage"), Token(str(window.damage), theme.MADDER, name="damage", field=number_field(
            window.damage, lambda value: change("change damage", damage=int(value)), 0, 9999, 1)),
        Word("push"), Token(f"{window.push:g} px", theme.MADDER, name="push", field=number_field(
            window.push, lambda value: change("change push", push=value), -500, 500, 1,
            "away from the puppet")),
        Word("hit stop"), Token(
            ticks_text(window.hit_stop, window.hit_stop_seconds), theme.MADDER, name="hit stop",
            field=ticks_field(
                window.hit_stop, window.hit_stop_seconds,
                lambda ticks, seconds: change("change hit stop", hit_stop=ticks,
                                              hit_stop_seconds=seconds), 120,
                "for which a landed hit holds both")),
    ]


def _lets_in(document: Document, window: Window, change: Change) -> list[Part]:
    """Which states and groups a cancel window lets in: a token each, and one that adds."""
    puppet = document.puppet

    def put(into: tuple[str, ...]) -> None:
        change("change cancel window", into=into)

    parts: list[Part] = [Word("· into" if window.into else "· into anything;")]
    for id in window.into:
        node = puppet.node(id)
        parts.append(Token(f"{node.name if node else id} ×", theme.INDIGO, name=f"into {id}",
                           tip="Take it out",
                           action=partial(lambda id: put(
                               tuple(each for each in window.into if each != id)), id)))
    others = [(node.name, node.id)
              for node in puppet.states_and_groups if node.id not in window.into]
    if others:
        parts.append(Token("+" if window.into else "only into…", theme.INDIGO, quiet=True,
                           name="add into",
                           field=choice_field("", others, lambda id: put((*window.into, id)))))
    return parts

