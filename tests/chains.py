"""Chains of random edits of random clips, beside the simple rows of `simple_frames`.

`python -m tests.chains FIRST COUNT` tries that many seeds; the test of the same tries a few
hundred.
"""

from __future__ import annotations

import sys
from fractions import Fraction
from random import Random

from msgspec.structs import replace

from tests.simple_frames import ANYWHERE, Row, Span, Spot, copy_of, lies_elsewhere, looks
from yarn_puppet.core.formats.puppet_file import puppet_bytes, puppet_from
from yarn_puppet.core.model.clips import AnchorPoint, Box, Cell, Clip, Frame, Mark, Point
from yarn_puppet.core.model.edits import clips as clip_edits
from yarn_puppet.core.model.edits import joining
from yarn_puppet.core.model.edits.following.matching import Drawing
from yarn_puppet.core.model.edits.following.recutting import recut
from yarn_puppet.core.model.edits.frames import frames as edits
from yarn_puppet.core.model.events import Moment, Window
from yarn_puppet.core.model.puppet import Puppet

SHARES = (0.0, 0.2, 0.35, 0.5, 0.8)
DURATIONS = (1.0, 16.667, 33.333, 40.0, 100.0, 250.5)


class Chain:
    """A puppet and its rows, edited together."""

    def __init__(self, seed: int) -> None:
        self.dice = Random(seed)
        self.shown = 0
        self.drawn: dict[Cell, Mark] = {}
        """What is drawn in each cell of the sheet."""
        self.puppet = Puppet(clips=(self.clip("one", "right"), self.clip("two", "left"),
                                    self.clip("three", "right")))
        self.rows = {clip.id: self.row(clip) for clip in self.puppet.clips}

    def clip(self, id: str, faces: str) -> Clip:
        dice = self.dice
        frames = tuple(self.frame() for _ in range(dice.randint(1, 6)))
        clip = Clip(id, id, frames, "loop", faces,  # type: ignore[arg-type]
                    dice.choice((None, Point(7.5, 20), Point(8, 19.5))))
        borders = clip.borders
        moments, windows = [], []
        for number in range(dice.randint(0, 4)):
            index = dice.randrange(len(frames))
            at = borders[index] + dice.choice(SHARES) * frames[index].duration
            moments.append(Moment(f"{id}_m{number}", round(at, 3), "effect", "x"))
        if dice.random() < 0.3:
            moments.append(Moment(f"{id}_end", clip.length, "effect", "x"))
        for number in range(dice.randint(0, 3)):
            first, last = sorted(dice.choices(range(len(frames)), k=2))
            low, high = dice.choice((0.0, 0.3)), dice.choice((0.6, 1.0, 0.3))
            start, end = borders[first] + low * frames[first].duration, borders[
                last] + high * frames[last].duration
            windows.append(Window(f"{id}_w{number}", round(start, 3), round(end, 3), "hit", "x"))
        return Clip(id, id, frames, "loop", clip.faces, clip.pivot, tuple(moments), tuple(windows))

    def frame(self) -> Frame:
        dice = self.dice
        self.shown += 1
        cell = Cell("sheet", self.shown * 40, 0, dice.choice((16, 21, 30)), dice.choice((20, 25)))
        mark = self.drawn[cell] = self.picture()
        anchors = tuple(AnchorPoint(each, dice.randint(0, 20), dice.randint(0, 20))
                        for each in ("a", "b")
                        if dice.random() < 0.4)
        boxes = tuple(Box("hit", dice.randint(0, 9), 3.5, 4, 5) for _ in range(dice.randint(0, 2)))
        return Frame(cell, dice.choice(DURATIONS), dice.random() < 0.3,
                     dice.choice((None, None, Point(9, 18.5))),
                     boxes, anchors, mark)

    def picture(self, digest: str | None = None) -> Mark:
        """Something drawn somewhere in a cell; what was never drawn before, unless it is told."""
        if digest is None:
            self.shown += 1
        return Mark(digest or f"{self.shown:08x}", self.dice.randint(0, 6), self.dice.randint(0, 6))

    def row(self, clip: Clip) -> Row:
        """A clip as a row. Its times are read here once; from then on the row goes its own way."""
        row = Row([looks(clip, index) for index in range(len(clip.frames))])
        borders = [round(border * 1000) for border in clip.borders]

        def spot(time: float, end: bool) -> Spot:
            at = round(time * 1000)
            index = next((number for number in range(len(borders) - 1)
                          if (at <= borders[number + 1] if end else at < borders[number + 1])),
                          len(borders) - 2)
            return Spot(row.pictures[index],
                        Fraction(at - borders[index], row.pictures[index].lasts))

        row.moments = [spot(moment.at, False) for moment in clip.moments]
        for window in clip.windows:
            first = spot(window.start, False)
            row.windows.append(Span(first,
                                    spot(window.end, True) if window.end > window.start else Spot(
                first.picture, first.share, Fraction(2, first.picture.lasts))))
        return row

    # One edit of both -----------------------------------------------------------------------------

    def edit(self) -> str:
        """Do something; what, in words."""
        act = self.dice.choice((
            self.redraw, self.duration, self.duration, self.length, self.move, self.move, self.copy,
            self.put_in,
            self.remove, self.reverse, self.split, self.merge, self.mirror, self.bring))
        id = self.dice.choice(sorted(self.rows))
        return f"{act.__name__} {id}: {act(id)}"

    def redraw(self, id: str) -> str:
        """The sheet is redrawn: pictures move between cells and inside them, some go, some come
        back, some are painted over."""
        dice, before, now = self.dice, self.drawn, dict[Cell, Mark]()
        frames = [frame for clip in self.puppet.clips for frame in clip.frames]
        for size in sorted({(cell.width, cell.height) for cell in before}):
            cells = sorted((cell for cell in before if (cell.width, cell.height) == size),
                           key=lambda each: each.x)
            pictures = [before[cell].digest for cell in cells if dice.random() > 0.1]
            places = cells[:]
            if dice.random() < 0.5:
                dice.shuffle(pictures)
                dice.shuffle(places)
            now |= {cell: self.picture(digest)
                    for cell, digest in zip(places, pictures, strict=False)}
            for cell in cells:
                if cell not in now and dice.random() < 0.5:
                    now[cell] = self.picture()
        gone = sorted({frame.mark.digest for frame in frames if frame.mark} - {
            mark.digest for mark in now.values()})
        for digest in gone:
            frame = next(each for each in frames if each.mark and each.mark.digest == digest)
            if dice.random() < 0.3:
                self.shown += 1
                now[replace(frame.cell, x=self.shown * 40)] = self.picture(digest)
        drawing = Drawing("sheet", tuple(sorted(now, key=lambda each: each.x)), (), now, before)
        there = {mark.digest for mark in now.values()}
        held = {frame.mark.digest for frame in frames if frame.mark}
        for clip in self.puppet.clips:
            for picture, frame in zip(self.rows[clip.id].pictures, clip.frames, strict=True):
                over = now.get(frame.cell)
                assert frame.mark is not None
                if picture.shows in there:
                    # Its cell may stand elsewhere about what is drawn.
                    picture.corner = ANYWHERE
                elif (
                    before.get(frame.cell) == frame.mark
                    and over is not None
                    and over.digest not in held
                ):
                    picture.shows, picture.drawn = over.digest, ANYWHERE
        self.puppet, self.drawn = recut(self.puppet, drawing).puppet, now
        return f"{len(there)} pictures"

    def some(self, id: str) -> list[int]:
        count = len(self.rows[id].pictures)
        return sorted(self.dice.sample(range(count), self.dice.randint(1, min(3, count))))

    def duration(self, id: str) -> str:
        chosen, lasts = self.some(id), self.dice.choice(DURATIONS)
        self.puppet = edits.frames_changed(self.puppet, id, chosen, duration=lasts)
        row = self.rows[id]
        row.last_for([round(lasts * 1000) if number in chosen else each.lasts
                      for number, each in enumerate(row.pictures)])
        return f"{chosen} {lasts}"

    def length(self, id: str) -> str:
        row = self.rows[id]
        count = len(row.pictures)
        whole = self.dice.choice((count, count * 1.5, 100.0, 333.333, 1000.0))
        self.puppet = edits.length_set(self.puppet, id, whole)
        clip = self.puppet.clip(id)
        assert clip is not None
        made = [round(frame.duration * 1000) for frame in clip.frames]
        wanted = max(round(whole * 1000), 1000 * count)
        assert sum(made) == wanted, f"{id}: {made} is not {wanted}"
        fair = _fair([picture.lasts for picture in row.pictures], wanted)
        assert all(abs(one - two) <= 1 and one >= 1000
                   for one, two in zip(made, fair, strict=True)), (made, fair)
        row.last_for(made)
        return str(whole)

    def move(self, id: str) -> str:
        chosen, pictures = self.some(id), self.rows[id].pictures
        to = self.dice.randint(0, len(pictures))
        self.puppet = edits.frames_moved(self.puppet, id, chosen, to)
        staying = [each for number, each in enumerate(pictures)
                   if number not in chosen and number < to]
        behind = [each for number, each in enumerate(pictures)
                  if number not in chosen and number >= to]
        self.rows[id].ordered([*staying, *[pictures[number] for number in chosen], *behind])
        return f"{chosen} to {to}"

    def copy(self, id: str) -> str:
        chosen, row = self.some(id), self.rows[id]
        self.puppet = edits.frames_copied(self.puppet, id, chosen)
        at = chosen[-1] + 1
        row.ordered([*row.pictures[:at], *[copy_of(row.pictures[number]) for number in chosen],
                     *row.pictures[at:]])
        return str(chosen)

    def put_in(self, id: str) -> str:
        row, frame = self.rows[id], self.frame()
        at = self.dice.randint(0, len(row.pictures))
        self.puppet = edits.frames_inserted(self.puppet, id, [frame], at)
        clip = self.puppet.clip(id)
        assert clip is not None
        seen = looks(clip, at)
        own = {each.anchor for each in frame.anchors}
        seen.anchors = {anchor: place for anchor, place in seen.anchors.items() if anchor in own}
        row.ordered([*row.pictures[:at], seen, *row.pictures[at:]])
        return str(at)

    def remove(self, id: str) -> str:
        chosen, row = self.some(id), self.rows[id]
        self.puppet = edits.frames_removed(self.puppet, id, chosen)
        left = [each for number, each in enumerate(row.pictures) if number not in chosen]
        if left:
            row.ordered(left)
        return str(chosen)

    def reverse(self, id: str) -> str:
        self.puppet = edits.frames_reversed(self.puppet, id)
        self.rows[id].reversed()
        return ""

    def split(self, id: str) -> str:
        at = self.dice.randint(1, max(1, len(self.rows[id].pictures) - 1))
        if len(self.rows[id].pictures) < 2:
            return "one frame"
        self.puppet, made = joining.clip_split(self.puppet, id, at)
        self.rows[made] = self.rows[id].split(at)
        return f"before {at}: {made}"

    def merge(self, id: str) -> str:
        other = self.dice.choice(sorted(self.rows))
        if other == id:
            return "with itself"
        self.puppet = joining.clips_merged(self.puppet, [id, other])
        self.rows[id].joined(self.rows.pop(other))
        return f"with {other}"

    def mirror(self, id: str) -> str:
        self.puppet, made = clip_edits.mirrored_copy(self.puppet, id)
        self.rows[made] = self.rows[id].copied()
        for picture in self.rows[made].pictures:
            # Facing right the copy looks as the clip does.
            picture.anchors = dict(picture.anchors)
        return made

    def bring(self, id: str) -> str:
        other = self.dice.choice(sorted(self.rows))
        chosen, row = self.some(other), self.rows[id]
        at = self.dice.randint(0, len(row.pictures))
        copies = [copy_of(self.rows[other].pictures[number]) for number in chosen]
        self.puppet = edits.frames_brought(self.puppet, other, chosen, id, at)
        row.ordered([*row.pictures[:at], *copies, *row.pictures[at:]])
        return f"{chosen} of {other} at {at}"

    def wrong(self) -> str | None:
        """What is not as the rows say."""
        for id, row in self.rows.items():
            clip = self.puppet.clip(id)
            found = lies_elsewhere(row, clip) if clip is not None else "gone"
            if found:
                return f"{id}: {found}"
        if puppet_from(puppet_bytes(self.puppet)) != self.puppet:
            return "the file is read as something else"
        return None


def _fair(durations: list[int], whole: int) -> list[Fraction]:
    """Durations that keep their shares of another whole, none under a millisecond, to any part of a
    step."""
    fixed: set[int] = set()
    while True:
        rest = sum(each for number, each in enumerate(durations) if number not in fixed)
        left = whole - 1000 * len(fixed)
        short = {number for number, each in enumerate(durations)
                 if number not in fixed and Fraction(each * left, rest) < 1000}
        if not short:
            return [Fraction(1000) if number in fixed else Fraction(each * left, rest)
                    for number, each in enumerate(durations)]
        # The shortest first: what it takes more than its share may make others too short.
        fixed.add(min(short, key=lambda number: durations[number]))


def chained(seed: int, most: int = 30) -> str | None:
    """What is wrong after a chain of edits, and which chain it was; or None."""
    chain = Chain(seed)
    done: list[str] = []
    if found := chain.wrong():
        return f"seed {seed}, before any edit: {found}"
    for _ in range(chain.dice.randint(1, most)):
        done.append(chain.edit())
        if found := chain.wrong():
            return f"seed {seed}: {found}\n  after " + "\n  ".join(done)
    return None


if __name__ == "__main__":
    first, count = int(sys.argv[1]), int(sys.argv[2])
    wrong = [found for seed in range(first, first + count) if (found := chained(seed))]
    print("\n".join(wrong[:3]))
    print(f"{count} chains, {len(wrong)} wrong")
