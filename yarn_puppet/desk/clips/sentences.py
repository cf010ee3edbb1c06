"""The sentences of the Clips page: the clip and its frame, and the moment or window selected on its lanes."""

from __future__ import annotations

from typing import get_args

from ...core.engine.clip_tables import compile_clip
from ...core.engine.counting import counts
from ...core.model.clips import Clip, Moment, MomentKind, PlaybackMode, Window, WindowKind
from ...core.model.edits import clips as edits
from ...core.model.edits.entries import changed
from ...core.model.puppet import Puppet
from ...core.rules.renames import windows_renamed
from ...core.rules.scope import window_names
from .. import theme
from ..document import Document
from ..widgets.parts import Field, Part, Suggestion, Token, Word, choice_field, name_field, number_field
from .clip_desk import ClipDesk

CALLS = ("jump",)
"""Calls that the booth's mover answers to."""


def clip_sentence(document: Document, desk: ClipDesk) -> list[Part]:
    """The clip on the desk and the frame at its head."""
    clip, frame = desk.clip, desk.frame
    if clip is None:
        return [Word("No clip", strong=True), Word("· bring in a picture and drag over its cells")]
    if frame is None:
        return [Word(clip.name, strong=True), Word("has no frames")]
    index = desk.index

    def change(name: str, /, **values: object) -> None:
        document.edit(name, lambda now: edits.clip_changed(now, clip.id, **values))

    def mirror() -> None:
        puppet, id = edits.mirrored_copy(document.puppet, clip.id)
        document.edit("make mirrored copy", puppet)
        desk.show_clip(id, index)

    return [
        Token(clip.name, theme.INK, name_field(clip.name, lambda text: change("rename clip", name=text)),
              name="clip name"),
        Word(f"frame {index + 1} of {len(clip.frames)}, {frame.cell.width}×{frame.cell.height} px, lasts"),
        Token(f"{frame.duration:g} ms", theme.INDIGO, name="duration",
              field=number_field(frame.duration, lambda value: document.edit(
                  "change duration", lambda now: edits.frame_changed(now, clip.id, index, duration=value)),
                  1, 60000, 10)),
        Word("· all"),
        Token("…" if len({each.duration for each in clip.frames}) > 1 else f"{frame.duration:g} ms", theme.INDIGO,
              name="all durations", tip="One duration for every frame",
              field=number_field(frame.duration, lambda value: document.edit(
                  "change durations", lambda now: edits.frames_changed(now, clip.id, duration=value)), 1, 60000, 10)),
        Word("· plays"),
        Token(clip.mode, theme.INDIGO, name="mode",
              field=choice_field(clip.mode, [(mode, mode) for mode in get_args(PlaybackMode)],
                                 lambda mode: change("change mode", mode=mode))),
        Word("· art faces"),
        Token(clip.faces, theme.MOSS, name="faces",
              field=choice_field(clip.faces, [("right", "right"), ("left", "left")],
                                 lambda side: change("change facing of art", faces=side))),
        Token("mirrored copy", theme.WOAD, action=mirror, quiet=True, name="mirrored copy",
              tip="A copy that faces the other way: frames, boxes, anchors and events"),
        Token("remove", theme.MADDER, quiet=True, name="remove clip",
              action=lambda: document.edit("remove clip", lambda now: edits.clip_removed(now, clip.id))),
    ]


def timing_sentence(document: Document, desk: ClipDesk) -> list[Part]:
    """The clip's length and counts, or the event selected on its lanes."""
    clip = desk.clip
    if clip is None or not clip.frames:
        return [Word("Events", strong=True), Word("· a clip's windows and moments stand here")]
    event = desk.chosen_event
    if isinstance(event, Window):
        return _window(document, desk, clip, event)
    if isinstance(event, Moment):
        return _moment(document, desk, clip, event)
    rate = document.puppet.rate
    places = {name: number for number, name in enumerate(window_names(document.puppet))}
    count = counts(compile_clip(clip, rate, places, {}))
    words = f"{clip.length / 1000:.2f} s at 1.0×, {count.total} ticks at {rate} Hz"
    if count.active:
        words += f" · startup {count.startup}   active {count.active}   recovery {count.recovery}"
    return [
        Word(clip.name, strong=True), Word(words),
        Word("· drag along a lane for a window, click for a moment; Alt is free of the frames"),
    ]


def _window(document: Document, desk: ClipDesk, clip: Clip, window: Window) -> list[Part]:
    puppet = document.puppet
    color = theme.EVENT_COLORS[window.kind]

    def change(name: str, /, **values: object) -> None:
        document.edit(name, lambda now: edits.event_changed(now, clip.id, window.id, **values))

    def rename(name: str) -> None:
        shared = sum(each.name == window.name for other in puppet.clips for each in other.windows) > 1
        if shared or window.name in window_names(puppet)[:4]:
            change("rename window", name=name)
        else:
            document.edit("rename window", lambda now: windows_renamed(now, window.name, name))

    parts: list[Part] = [
        Token(window.kind, color, name="window kind",
              field=choice_field(window.kind, [(kind, kind) for kind in get_args(WindowKind)],
                                 lambda kind: change("change window", kind=kind))),
        Word("window"),
        Token(window.name, color, _shared_name(window.name, puppet.window_names(), rename), name="window name"),
        Word("from"),
        Token(f"{window.start:g}", theme.INDIGO, name="window start",
              field=number_field(window.start, lambda value: change("move window", start=value), 0, clip.length, 10)),
        Word("to"),
        Token(f"{window.end:g} ms", theme.INDIGO, name="window end",
              field=number_field(window.end, lambda value: change("move window", end=value), 0, clip.length, 10)),
    ]
    if window.kind == "hit":
        parts += [Word("· damage"),
                  Token(str(window.damage), theme.MADDER, name="damage", field=number_field(
                      window.damage, lambda value: change("change damage", damage=int(value)), 0, 9999, 1))]
    if window.kind == "cancel":
        parts += _into(document, clip, window)
    parts.append(_remove(document, desk, clip, window.id))
    return parts


def _into(document: Document, clip: Clip, window: Window) -> list[Part]:
    """Which states and groups a cancel window lets in: a token each, and one that adds."""
    puppet = document.puppet

    def put(into: tuple[str, ...]) -> None:
        document.edit("change cancel window",
                      lambda now: edits.event_changed(now, clip.id, window.id, into=into))

    parts: list[Part] = [Word("· into" if window.into else "· into anything;")]
    for id in window.into:
        node = puppet.node(id)
        parts.append(Token(f"{node.name if node else id} ×", theme.INDIGO, name=f"into {id}", tip="Take it out",
                           action=lambda id=id: put(tuple(each for each in window.into if each != id))))
    others = [(node.name, node.id) for node in (*puppet.states, *puppet.groups) if node.id not in window.into]
    if others:
        parts.append(Token("+" if window.into else "only into…", theme.INDIGO, quiet=True, name="add into",
                           field=choice_field("", others, lambda id: put((*window.into, id)))))
    return parts


def _moment(document: Document, desk: ClipDesk, clip: Clip, moment: Moment) -> list[Part]:
    puppet = document.puppet
    color = theme.EVENT_COLORS[moment.kind]

    def change(name: str, /, **values: object) -> None:
        document.edit(name, lambda now: edits.event_changed(now, clip.id, moment.id, **values))

    known = dict.fromkeys([
        *(CALLS if moment.kind == "call" else ()),
        *(each.name for other in puppet.clips for each in other.moments if each.kind == moment.kind),
    ])
    parts: list[Part] = [
        Token(moment.kind, color, name="moment kind",
              field=choice_field(moment.kind, [(kind, kind) for kind in get_args(MomentKind)],
                                 lambda kind: change("change moment", kind=kind))),
        Token(moment.name, color, name="moment name", field=_shared_name(
            moment.name, tuple(known), lambda name: change("rename moment", name=name))),
        Word("at"),
        Token(f"{moment.at:g} ms", theme.INDIGO, name="moment at",
              field=number_field(moment.at, lambda value: change("move moment", at=value), 0, clip.length, 10)),
    ]
    if moment.kind == "effect":
        anchors = [("the puppet's feet", "")] + [(anchor.name, anchor.id) for anchor in puppet.anchors]
        label = next((name for name, id in anchors if id == (moment.anchor or "")), moment.anchor or "")
        parts += [
            Word("· at"),
            Token(label, theme.PLUM, name="moment anchor", field=choice_field(
                moment.anchor or "", anchors, lambda id: change("change anchor", anchor=id or None))),
            Token("follows it" if moment.follow else "stays there", theme.PLUM, name="follow",
                  action=lambda: change("switch following", follow=not moment.follow)),
        ]
    if desk.anchor_id is not None and moment.kind == "effect" and moment.anchor == desk.anchor_id:
        anchor = next((each for each in puppet.anchors if each.id == desk.anchor_id), None)
        if anchor is not None:
            parts.append(Token("rename anchor", theme.PLUM, quiet=True, name="rename anchor",
                               field=name_field(anchor.name, lambda text: document.edit(
                                   "rename anchor", lambda now: changed(now, "anchors", anchor.id, name=text)))))
    parts.append(_remove(document, desk, clip, moment.id))
    return parts


def _shared_name(value: str, known: tuple[str, ...], commit) -> Field:  # type: ignore[no-untyped-def]
    """A name that exists can be picked; only a new one is typed."""
    return Field(value, lambda text: commit(text.strip()), tuple(Suggestion(name, name) for name in known),
                 check=lambda text: None if text.strip() else "expected a name", hint="pick one, or type a new name")


def _remove(document: Document, desk: ClipDesk, clip: Clip, id: str) -> Token:
    def action() -> None:
        desk.select_event(None)
        document.edit("remove event", lambda now: edits.event_removed(now, clip.id, id))

    return Token("remove", theme.MADDER, action=action, quiet=True, name="remove event", tip="Delete")


def anchor_tokens(document: Document, desk: ClipDesk) -> list[Part]:
    """Which anchor the anchor tool moves, with a way to add and to rename one."""
    puppet: Puppet = document.puppet

    def add(name: str) -> None:
        made, id = edits.anchor_added(document.puppet, name)
        document.edit("add anchor", made)
        desk.set(anchor_id=id, tool="anchor")

    def choose(value: str) -> None:
        known = {anchor.name: anchor.id for anchor in puppet.anchors}
        if value in known:
            desk.set(anchor_id=known[value], tool="anchor")
        else:
            add(value)

    current = next((anchor.name for anchor in puppet.anchors if anchor.id == desk.anchor_id), "+ anchor")
    return [Token(current, theme.PLUM, name="which anchor", quiet=not puppet.anchors,
                  tip="Which anchor is placed: pick one, or type the name of a new one",
                  field=Field("", lambda text: choose(text.strip()),
                              tuple(Suggestion(anchor.name, anchor.name) for anchor in puppet.anchors),
                              check=lambda text: None if text.strip() else "expected a name",
                              hint="pick one, or type a new anchor's name"))]
