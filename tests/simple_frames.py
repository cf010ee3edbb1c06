"""Clips as simply as docs/frames.md says it: pictures in a row, and events that know their picture
and not the time.

Written from that page alone. A picture is kept as it looks in the world, facing right, about where
it stands: no edit of frames may change that, which is all there is to say of pivots, boxes, anchors
and mirrored copies.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from fractions import Fraction

from yarn_puppet.core.model.clips import Clip

Place = tuple[float, float]
ANYWHERE = (float("nan"), float("nan"))
"""A place that is taken as it is found."""
HALF_STEP = Fraction(3, 2)
"""What one rounding may take away from a time, with the step by which it must stay in its frame."""


@dataclass(eq=False)
class Picture:
    """A frame. `lasts` is in steps. `anchors` holds where they must be; one that is not in it may
    be anywhere.

    `drawn` is where what is drawn in it stands, `corner` where its cell does.
    """

    shows: str
    flipped: bool
    drawn: Place
    corner: Place
    boxes: tuple[tuple[str, float, float, float, float], ...]
    anchors: dict[str, Place]
    lasts: int


@dataclass
class Spot:
    """A place of a picture, as a share of how long it lasts, and the share by which roundings may
    have moved it."""

    picture: Picture
    share: Fraction
    error: Fraction = Fraction(0)

    def retimed(self) -> None:
        self.error += HALF_STEP / self.picture.lasts


@dataclass
class Span:
    """What a window covers: all from one spot to another."""

    first: Spot
    last: Spot


@dataclass
class Row:
    """A clip."""

    pictures: list[Picture]
    moments: list[Spot] = field(default_factory=list)
    windows: list[Span] = field(default_factory=list)
    as_read: bool = True
    """Whether no edit of its frames has given windows without length one."""

    @property
    def spots(self) -> list[Spot]:
        return [*self.moments, *[spot for window in self.windows
                                 for spot in (window.first, window.last)]]

    def settled(self) -> Row:
        """A moment at the end of what is the last picture no more is just before that picture's
        end."""
        for moment in self.moments:
            if moment.share == 1 and moment.picture is not self.pictures[-1]:
                moment.share = 1 - Fraction(1, moment.picture.lasts)
        return self

    def last_for(self, durations: list[int]) -> None:
        for picture, lasts in zip(self.pictures, durations, strict=True):
            if picture.lasts != lasts:
                self.as_read = False
                picture.lasts = lasts
                for spot in self.spots:
                    if spot.picture is picture:
                        spot.retimed()
        self.settled()

    def covered(self, span: Span) -> list[Picture]:
        first, last = self.pictures.index(span.first.picture), self.pictures.index(
            span.last.picture)
        return self.pictures[first: last + 1]

    def ordered(self, pictures: list[Picture]) -> None:
        """The same pictures in another order, or some more, or some fewer."""
        before = self.pictures
        covers = [self.covered(window) for window in self.windows]
        self.as_read &= pictures == before
        self.pictures = pictures
        for moment in self.moments:
            if moment.picture not in pictures:
                self._let_go(moment, before)
        for span, cover in zip(self.windows, covers, strict=True):
            left = [picture for picture in pictures if picture in cover]
            if not left:
                home = self._neighbour(cover[0], before)
                span.first, span.last = Spot(home[0], Fraction(0)), Spot(home[0], Fraction(1))
                continue
            if left[0] is not span.first.picture:
                span.first = Spot(left[0], Fraction(0))
            if left[-1] is not span.last.picture:
                span.last = Spot(left[-1], Fraction(1))
        self.settled()

    def _neighbour(self, gone: Picture, before: list[Picture]) -> tuple[Picture, bool]:
        at = before.index(gone)
        later = [each for each in before[at + 1:] if each in self.pictures]
        return (
            (later[0], True)
            if later
            else ([each for each in before[:at] if each in self.pictures][-1], False)
        )

    def _let_go(self, moment: Spot, before: list[Picture]) -> None:
        moment.picture, later = self._neighbour(moment.picture, before)
        moment.share, moment.error = Fraction(0 if later else 1), Fraction(0)

    def reversed(self) -> None:
        self.as_read = False
        self.pictures = self.pictures[::-1]
        for moment in self.moments:
            moment.share = Fraction(0) if moment.share in (0, 1) else 1 - moment.share
            # Turned, it may have had to be put a step before the end.
            moment.error += Fraction(1, moment.picture.lasts)
        for span in self.windows:
            span.first, span.last = span.last, span.first
            for spot in (span.first, span.last):
                spot.share = 1 - spot.share
        self.settled()

    def split(self, at: int) -> Row:
        self.as_read = False
        rest = Row(self.pictures[at:], as_read=False)
        rest.moments = [moment for moment in self.moments if moment.picture in rest.pictures]
        self.moments = [moment for moment in self.moments if moment not in rest.moments]
        kept = []
        border = self.pictures[at - 1], self.pictures[at]
        for span in self.windows:
            cover = self.covered(span)
            if border[0] in cover and border[1] in cover:
                kept.append(Span(span.first, Spot(border[0], Fraction(1))))
                rest.windows.append(Span(Spot(border[1], Fraction(0)), span.last))
            else:
                (rest.windows if cover[0] in rest.pictures else kept).append(span)
        self.pictures, self.windows = self.pictures[:at], kept
        return rest

    def joined(self, other: Row) -> None:
        self.pictures = self.pictures + other.pictures
        self.moments, self.windows = self.moments + other.moments, self.windows + other.windows
        self.as_read = False
        self.settled()

    def copied(self) -> Row:
        """The same once more, with pictures of its own."""
        twins = {id(picture): copy_of(picture) for picture in self.pictures}

        def again(spot: Spot) -> Spot:
            return replace(spot, picture=twins[id(spot.picture)])

        return Row(list(twins.values()), [again(moment) for moment in self.moments],
                   [Span(again(window.first), again(window.last)) for window in self.windows],
                   self.as_read)


def copy_of(picture: Picture) -> Picture:
    """Another picture that looks the same."""
    return replace(picture, anchors=dict(picture.anchors))


def looks(clip: Clip, index: int) -> Picture:
    """A frame as it looks in the world, facing right."""
    frame, pivot = clip.frames[index], clip.pivot_of(index)
    turned = clip.faces == "left"

    def place(x: float, y: float) -> Place:
        return (pivot.x - x if turned else x - pivot.x), y - pivot.y

    boxes = tuple(
        (box.name, *place(box.x + box.width if turned else box.x, box.y), box.width, box.height)
        for box in frame.boxes)
    points = {each: at for each in ("a", "b") if (at := clip.anchor_at(index, each)) is not None}
    assert frame.mark is not None
    x = frame.cell.width - frame.mark.x if frame.mirrored else frame.mark.x
    return Picture(frame.mark.digest, frame.mirrored != turned, place(x, frame.mark.y),
                   place(frame.cell.width if turned else 0, 0), boxes,
                   {each: place(at.x, at.y) for each, at in points.items()},
                   round(frame.duration * 1000))


def lies_elsewhere(row: Row, clip: Clip) -> str | None:
    """What of a clip is not as the row says, or None."""
    if len(row.pictures) != len(clip.frames):
        return f"{len(clip.frames)} frames for {len(row.pictures)}"
    for index, picture in enumerate(row.pictures):
        seen = looks(clip, index)
        if (picture.shows, picture.flipped, picture.lasts) != (
            seen.shows, seen.flipped, seen.lasts):
            return f"frame {index} is {seen}, not {picture}"
        # What was redrawn may stand elsewhere; from then on it stays.
        picture.drawn = seen.drawn if picture.drawn is ANYWHERE else picture.drawn
        picture.corner = seen.corner if picture.corner is ANYWHERE else picture.corner
        wanted = [*picture.drawn, *picture.corner,
                  *[number for box in picture.boxes for number in box[1:]]]
        found = [*seen.drawn, *seen.corner, *[number for box in seen.boxes for number in box[1:]]]
        for anchor, place in picture.anchors.items():
            wanted += place
            found += seen.anchors.get(anchor, (1e9, 1e9))
        if len(wanted) != len(found) or any(
            abs(one - two) > 0.01 for one, two in zip(wanted, found, strict=True)
        ):
            return f"frame {index} stands {seen}, not {picture}"
    return _events_elsewhere(row, clip)


def _events_elsewhere(row: Row, clip: Clip) -> str | None:
    borders = [0]
    for picture in row.pictures:
        borders.append(borders[-1] + picture.lasts)

    def away(spot: Spot, time: float, is_end: bool, may_end: bool) -> str | None:
        index, at = row.pictures.index(spot.picture), round(time * 1000)
        low, high = borders[index], borders[index + 1]
        inside = low < at <= high if is_end else low <= at < high or (may_end and at == high)
        wanted = low + spot.share * spot.picture.lasts
        if not inside or abs(at - wanted) > spot.error * spot.picture.lasts + 1:
            return (f"at {at}, wanted {float(wanted)} in {low} to {high}, of {borders}, error "
                    f"{float(spot.error)}")
        return None

    if (len(row.moments), len(row.windows)) != (len(clip.moments), len(clip.windows)):
        return f"{len(clip.moments)} moments and {len(clip.windows)} windows"
    for spot, moment in zip(row.moments, clip.moments, strict=True):
        at_end = spot.share == 1 and spot.picture is row.pictures[-1]
        if wrong := away(spot, moment.at, False, at_end):
            return f"moment {moment.id} {wrong}"
    for span, window in zip(row.windows, clip.windows, strict=True):
        if round((window.end - window.start) * 1000) < 1:
            if row.as_read:
                continue
            return f"window {window.id} has no length"
        if wrong := away(span.first, window.start, False, False) or away(
            span.last, window.end, True, True
        ):
            return f"window {window.id} {wrong}"
    return None
