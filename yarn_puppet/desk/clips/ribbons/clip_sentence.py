"""The sentence of what is selected among clips: a clip and its frame, several frames, or several
clips."""

from __future__ import annotations

from collections.abc import Callable
from typing import get_args

from PyQt6.QtGui import QColor

from ....core.model.clips import Clip, PlaybackMode
from ....core.model.edits import clips as edits
from ....core.model.edits.frames import frames as frame_edits
from ....core.model.edits.naming import places_of
from ...pictures.art import Art
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Part, Token, Word, choice_field, name_field, number_field
from ..clip_desk import ClipDesk
from ..pose.sentences import motion_sentence
from ..skin_sentence import own_parts

Does = Callable[[str], None]
"""Does what a name stands for: one of `ACTS`, or what the page itself does."""


def clip_sentence(document: Document, desk: ClipDesk, art: Art, does: Does) -> list[Part]:
    """What is selected, and what can be done with it, which `does` is then asked for."""
    clip = desk.clip
    if clip is None:
        return [Word("No clip", strong=True),
                Word("· bring in a picture and drag over its cells, or a file of bones")]
    if len(desk.chosen_clips) > 1:
        return _several_clips(document, desk, does)
    if len(desk.chosen_frames) > 1:
        return _several_frames(document, desk, clip, does)
    if clip.motion is not None:
        return motion_sentence(document, desk, art.bones, clip, clip.motion, does)
    return _one(document, desk, clip, does)


def _one(document: Document, desk: ClipDesk, clip: Clip, does: Does) -> list[Part]:
    index, frame = desk.index, desk.frame

    def change(name: str, /, **values: object) -> None:
        document.edit(name, lambda now: edits.clip_changed(now, clip.id, **values))

    places = places_of(document.puppet, "clips", clip.name)
    parts: list[Part] = [
        Token(clip.name, theme.INK, name="clip name",
              field=name_field(clip.name, lambda text: change("rename clip", name=text),
                               f"seen in {', '.join(places)}"
                               if places else "a name; nothing plays it yet")),
    ]
    if frame is None:
        parts.append(Word("has no frames ·"))
    else:
        parts += [
            Word(
                f"frame {index + 1} of {len(clip.frames)}, {frame.cell.width}×{frame.cell.height} "
                "px, lasts"
            ),
            _duration(document, clip, (index,), frame.duration, "duration"),
            Word("· all"),
            _all_durations(document, clip),
            Word("· whole"),
            Token(
                f"{clip.length:g} ms",
                theme.INDIGO,
                name="length",
                tip="Every frame keeps its share",
                field=number_field(
                    clip.length,
                    lambda value: document.edit(
                        "change length", lambda now: frame_edits.length_set(now, clip.id, value)
                    ),
                    len(clip.frames),
                    600_000,
                    10,
                ),
            ),
        ]
    parts += [
        Word("· plays"),
        Token(clip.mode, theme.INDIGO, name="mode",
              field=choice_field(clip.mode, [(mode, mode) for mode in get_args(PlaybackMode)],
                                 lambda mode: change("change mode", mode=mode))),
        Word("· faces"),
        Token(clip.faces, theme.MOSS, name="faces", tip="The side the art looks to",
              field=choice_field(clip.faces, [("right", "right"), ("left", "left")],
                                 lambda side: change("change facing of art", faces=side))),
        *own_parts(document, clip.id),
        Token("mirrored copy", theme.WOAD, quiet=True, name="mirrored copy",
              action=lambda: does("mirror"),
              tip="A copy that faces the other way: frames, boxes, anchors and events"),
        Token("more…", theme.WOAD, quiet=True, name="more",
              field=choice_field("", [(words, name) for name, words in _offers(clip, index)],
                                 does)),
        Token("remove", theme.MADDER, quiet=True, name="remove clip",
              action=lambda: document.edit("remove clip",
                                           lambda now: edits.clip_removed(now, clip.id))),
    ]
    return parts


def _offers(clip: Clip, index: int) -> list[tuple[str, str]]:
    """What can be done with one clip: a name, and words."""
    offers = [("duplicate", "a copy"), ("reverse", "run it backwards")]
    if index > 0:
        offers.append(("split", f"split before frame {index + 1}"))
    if clip.frames:
        offers += [("copy frames", "this frame once more"), ("still", "a clip of this frame alone"),
                   ("save moving", "save as GIF or APNG…")]
    if len(clip.frames) > 1:
        offers.append(("remove frames", "remove this frame"))
    return offers


def _duration(
    document: Document, clip: Clip, indices: tuple[int, ...], value: float, name: str
) -> Token:
    return Token(f"{value:g} ms", theme.INDIGO, name=name,
                 field=number_field(value, lambda duration: document.edit(
        "change duration", lambda now: frame_edits.frames_changed(
            now, clip.id, indices, duration=duration)),
        1, 60000, 10))


def _all_durations(document: Document, clip: Clip) -> Token:
    durations = {frame.duration for frame in clip.frames}
    value = clip.frames[0].duration
    return Token("…" if len(durations) > 1 else f"{value:g} ms", theme.INDIGO, name="all durations",
                 tip="One duration for every frame",
                 field=number_field(value, lambda duration: document.edit(
                     "change durations", lambda now: frame_edits.frames_changed(
                         now, clip.id, duration=duration)),
                     1, 60000, 10))


def _several_frames(document: Document, desk: ClipDesk, clip: Clip, does: Does) -> list[Part]:
    chosen = desk.chosen_frames
    return [
        Word(f"{len(chosen)} frames", strong=True), Word(f"of {clip.name}, each lasts"),
        _duration(document, clip, chosen, clip.frames[chosen[0]].duration, "duration"),
        Word("· drag them to another place ·"),
        Token("copy", theme.WOAD, quiet=True, name="copy frames",
              tip="Once more, after the last of them",
              action=lambda: does("copy frames")),
        Token("a clip of them", theme.WOAD, quiet=True, name="clip of frames",
              action=lambda: does("still")),
        Token("remove", theme.MADDER, quiet=True, name="remove frames", tip="Delete",
              action=lambda: does("remove frames")),
    ]


def _several_clips(document: Document, desk: ClipDesk, does: Does) -> list[Part]:
    ids = desk.chosen_clips
    first = document.puppet.clip(ids[0])

    def act(words: str, name: str, tip: str, color: QColor = theme.WOAD) -> Token:
        return Token(words, color, quiet=True, name=name, tip=tip,
                     action=lambda: does(name))

    return [
        Word(f"{len(ids)} clips", strong=True), Word("·"),
        act(f"merge into {first.name if first else ids[0]}", "merge",
            "One after the other, in the order chosen"),
        act("mirrored copies", "mirror", "Of each a copy that faces the other way"),
        act("copies", "duplicate", "A copy of each"),
        act("save as a packed sheet…", "save packed",
            "One picture of all their frames, described in JSON"),
        act("remove", "remove", "Delete", theme.MADDER),
    ]
