"""The sentence of the tool in hand: the pivot, the box or the anchor of the frame at the head, in
numbers."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace

from ....core.model.clips import Box, Clip, Frame, Point
from ....core.model.edits.entries import changed
from ....core.model.edits.frames import boxes as edits
from ....core.model.edits.frames.anchors_everywhere import Beside, anchor_everywhere
from ....core.model.edits.frames.frames import frames_changed
from ....core.model.puppet import Puppet
from ...pictures.art import Art
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
from ..clip_desk import ClipDesk
from ..cutting.fitting import body_box, own_pivot, shared_pivot
from .measuring import Measures

FAR = 1e6

BESIDE: tuple[tuple[str, Beside], ...] = (
    ("kept in its place beside the body box", "the body box"),
    ("as in the nearest frame that has it", "the nearest frame"))
"""How an anchor is put into all clips."""


def tool_sentence(document: Document, desk: ClipDesk, art: Art, measures: Measures) -> list[Part]:
    """What the tool works on, each number a field."""
    clip, frame = desk.clip, desk.frame
    if clip is None or frame is None:
        return []
    if desk.tool == "pivot":
        return _pivot(document, desk, art, measures, clip, frame)
    if desk.tool == "anchor":
        return _anchor(document, desk, clip)
    return _box(document, desk, art, clip, frame)


def _number(value: float, name: str, commit: Callable[[float], None], low: float = -FAR) -> Token:
    return Token(
        f"{value:g}",
        theme.INDIGO,
        name=name,
        field=number_field(value, commit, low, FAR, 1, "pixels; the arrow keys step"),
    )


# The pivot ----------------------------------------------------------------------------------------


def _pivot(
    document: Document, desk: ClipDesk, art: Art, measures: Measures, clip: Clip, frame: Frame
) -> list[Part]:
    index, own = desk.index, desk.own_pivot or frame.pivot is not None
    pivot = clip.pivot_of(index)
    drift = measures.drift(clip)

    def put(made: Point) -> None:
        document.edit("move pivot",
                      lambda now: edits.pivot_set(now, clip.id, index if own else None, made))

    places = [("bottom centre", "bottom"), ("centre", "centre"), ("by the feet", "feet")]
    parts: list[Part] = [
        Token("this frame's" if own else "the clip's", theme.INK, name="whose pivot",
              tip="A pivot for the whole clip, or for this frame alone", field=choice_field(
                  "frame" if own else "clip", [("the clip's", "clip"), ("this frame's", "frame")],
                  lambda whose: _choose_own(document, desk, clip, whose == "frame"))),
        Word("pivot at"),
        _number(pivot.x, "pivot x", lambda x: put(Point(x, pivot.y))), Word(","),
        _number(pivot.y, "pivot y", lambda y: put(Point(pivot.x, y))),
        Token("put it…", theme.INDIGO, quiet=True, name="put pivot",
              tip="For the chosen frames, or the clip",
              field=choice_field("", places, lambda place: document.edit(
                  "put pivot", lambda now: _pivots_put(now, art, desk, clip, own, place)))),
        Word(f"· feet drift {drift[0]:g} px across, {drift[1]:g} down"
             if drift else "· the feet are being measured"),
    ]
    return parts


def _choose_own(document: Document, desk: ClipDesk, clip: Clip, own: bool) -> None:
    if not own:
        index = desk.index
        document.edit("clear pivot", lambda now: edits.pivot_set(now, clip.id, index, None))
    desk.set(own_pivot=own)


def _pivots_put(
    puppet: Puppet, art: Art, desk: ClipDesk, clip: Clip, own: bool, place: str
) -> Puppet:
    """Pivots at the bottom centre, the centre or the feet: of each chosen frame, or one for the
    clip."""
    if not own:
        cells = [frame.cell for frame in clip.frames]
        cell = cells[0]
        at = {"bottom": Point(cell.width / 2, float(cell.height)),
              "centre": Point(cell.width / 2, cell.height / 2)}
        return edits.pivot_set(puppet, clip.id, None, at.get(place) or shared_pivot(art, cells))
    for index in desk.chosen_frames:
        frame = clip.frames[index]
        wide, high = frame.cell.width, frame.cell.height
        at = {"bottom": Point(wide / 2, float(high)), "centre": Point(wide / 2, high / 2)}
        puppet = edits.pivot_set(puppet, clip.id, index, at.get(place) or own_pivot(art, frame))
    return puppet


# Boxes --------------------------------------------------------------------------------------------


def _box(document: Document, desk: ClipDesk, art: Art, clip: Clip, frame: Frame) -> list[Part]:
    index, number, kind = desk.index, desk.box_number, "hit" if desk.tool == "hit box" else "body"
    mine = [place for place, box in enumerate(frame.boxes) if box.kind == kind]
    parts: list[Part] = []
    if number is None:
        parts.append(Word(f"no {desk.tool} in this frame: drag one"))
    else:
        box = frame.boxes[number]

        def put(made: Box) -> None:
            document.edit(f"change {desk.tool}",
                          lambda now: edits.box_changed(now, clip.id, index, number, made))

        if len(mine) > 1:
            after = mine[(mine.index(number) + 1) % len(mine)]
            parts.append(Token(f"{mine.index(number) + 1} of {len(mine)}", theme.INK,
                               name="which box",
                               tip="The next one", action=lambda: desk.set(box=after)))
        if kind == "hit":
            parts += [Word("box of"),
                      Token(box.name or "any hit window", theme.MADDER, name="box window",
                                            field=_window_names(document.puppet, box, put))]
        parts += [
            Word("at"), _number(box.x, "box x", lambda x: put(replace(box, x=x))), Word(","),
            _number(box.y, "box y", lambda y: put(replace(box, y=y))), Word("size"),
            _number(box.width, "box width", lambda width: put(replace(box, width=width)), 1),
            Word("×"),
            _number(box.height, "box height", lambda height: put(replace(box, height=height)), 1),
        ]
    parts.append(Token("+", theme.INDIGO, quiet=True, name="add box",
                       tip="One more, in front of the figure",
                       action=lambda: _add_box(document, desk, art, clip, frame, kind)))
    if kind == "body":
        parts.append(Token("fit…", theme.MOSS, quiet=True, name="fit", tip="Around what is drawn",
                           field=choice_field(
            "", [("the chosen frames", "chosen"), ("every frame", "all")],
            lambda which: document.edit(
                "fit body box", lambda now: _fitted(now, art, desk, clip, which == "all")))))
    if mine:
        parts += [
            Token("copy on", theme.INDIGO, quiet=True, name="copy on",
                  tip="The same in all frames after this one",
                  action=lambda: document.edit(f"copy {desk.tool}", lambda now: edits.boxes_copied(
                      now, clip.id, index, kind, range(index + 1, len(clip.frames))))),
            Token("×", theme.MADDER, quiet=True, name="remove box", tip="Remove it (Delete)",
                  action=lambda: document.edit(f"remove {desk.tool}", lambda now: edits.box_removed(
                      now, clip.id, index, number if number is not None else mine[-1]))),
        ]
    return parts


def _add_box(
    document: Document, desk: ClipDesk, art: Art, clip: Clip, frame: Frame, kind: str
) -> None:
    """A box beside what is drawn, on the side the art faces: somewhere to begin, without the
    mouse."""
    index, cell = desk.index, frame.cell
    drawn = body_box(art, frame) or Box("body", 0, 0, float(cell.width), float(cell.height))
    wide, high = max(4.0, drawn.width / 2), max(4.0, drawn.height / 3)
    x = drawn.x + drawn.width if clip.faces == "right" else drawn.x - wide
    x = max(0.0, min(x, cell.width - wide))
    names = [window.name for window in clip.windows if window.kind == "hit"]
    made = (
        Box("hit", x, drawn.y + high, wide, high, names[0] if names else "")
        if kind == "hit"
        else drawn
    )
    document.edit(f"draw {desk.tool}", lambda now: edits.box_added(now, clip.id, index, made))
    desk.set(box=len(frame.boxes))


def _window_names(puppet: Puppet, box: Box, put: Callable[[Box], None]) -> Field:
    names = dict.fromkeys(window.name for clip in puppet.clips
                          for window in clip.windows if window.kind == "hit")
    return choice_field(box.name, [("any hit window", ""), *((name, name) for name in names)],
                        lambda name: put(replace(box, name=name)))


def _fitted(puppet: Puppet, art: Art, desk: ClipDesk, clip: Clip, every: bool) -> Puppet:
    """With one body box around what is drawn, in place of those there, in the chosen frames or in
    all."""
    for index in range(len(clip.frames)) if every else desk.chosen_frames:
        frame = clip.frames[index]
        box = body_box(art, frame)
        kept = tuple(each for each in frame.boxes if each.kind != "body")
        puppet = frames_changed(puppet, clip.id, (index,), boxes=(*((box,) if box else ()), *kept))
    return puppet


# Anchors ------------------------------------------------------------------------------------------


def _anchor(document: Document, desk: ClipDesk, clip: Clip) -> list[Part]:
    parts, index, id = _which_anchor(document, desk), desk.index, desk.anchor_id
    if id is None:
        return [*parts, Word("drag on the frame to place one")]
    anchor = next(each for each in document.puppet.anchors if each.id == id)
    point = clip.anchor_at(index, id)
    if point is None:
        return [*parts, Word("is not in this frame: click to place it")]

    def put(x: float, y: float) -> None:
        document.edit("move anchor", lambda now: edits.anchor_set(now, clip.id, index, id, x, y))

    parts += [Word("at"), _number(point.x, "anchor x", lambda x: put(x, point.y)), Word(","),
              _number(point.y, "anchor y", lambda y: put(point.x, y))]
    if any(each.anchor == id for each in clip.frames[index].anchors):
        parts.append(Token("let it lie between", theme.PLUM, quiet=True, name="clear anchor",
                           tip="Take its place in this frame from the frames around",
                           action=lambda: document.edit(
                               "clear anchor", lambda now: edits.anchor_cleared(
                               now, clip.id, index, id))))
    else:
        parts += [Word("between its neighbours"),
                  Token("keep it here", theme.PLUM, quiet=True, name="keep anchor",
                        action=lambda: put(*_xy(point)))]
    if any(each.anchor == id and each.guess for each in clip.frames[index].anchors):
        parts.append(Token("a guess", theme.WELD, name="guessed anchor",
                           action=lambda: put(*_xy(point)),
                           tip="Put in by a guess; a click, or a drag, says where it is"))

    def everywhere(by: Beside) -> None:
        document.edit("put an anchor into all clips",
                      lambda now: anchor_everywhere(now, id, clip.id, index, by))

    parts.append(Token("into all clips…", theme.PLUM, quiet=True, name="anchor everywhere",
                       tip="Into every frame in which its clip does not have it, as a guess",
                       field=choice_field("", BESIDE, everywhere)))
    parts.append(Token("rename", theme.PLUM, quiet=True, name="rename anchor", field=name_field(
        anchor.name, lambda text: document.edit(
            "rename anchor", lambda now: changed(now, "anchors", id, name=text)))))
    return parts


def _xy(point: Point) -> tuple[float, float]:
    return point.x, point.y


def _which_anchor(document: Document, desk: ClipDesk) -> list[Part]:
    """Which anchor the tool moves, with a way to add one."""
    anchors = document.puppet.anchors

    def choose(value: str) -> None:
        known = {anchor.name: anchor.id for anchor in anchors}
        if value in known:
            desk.set(anchor_id=known[value])
            return
        made, id = edits.anchor_added(document.puppet, value)
        document.edit("add anchor", made)
        desk.set(anchor_id=id)

    current = next((anchor.name for anchor in anchors if anchor.id == desk.anchor_id), "+ anchor")
    return [Token(current, theme.PLUM, name="which anchor", quiet=not anchors,
                  tip="Which anchor is placed: pick one, or type the name of a new one",
                  field=Field("", lambda text: choose(text.strip()),
                              tuple(Suggestion(anchor.name, anchor.name) for anchor in anchors),
                              check=lambda text: None if text.strip() else "expected a name",
                              hint="pick one, or type a new anchor's name"))]
