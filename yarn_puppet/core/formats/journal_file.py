"""`*.journal`: work that no file has yet, as it is done, in lines of JSON.

A line says how many of the steps before it stay, the steps that follow them, and at which of them
one is. A step is told by what differs from the one before it: an edit of a puppet of thousands of
states is a few hundred bytes. Lines are only ever added, so that an end in the middle of writing
costs the line that was being written and no other.
"""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any, NamedTuple

import msgspec

from ..model.history import History, Step
from ..model.puppet import COLLECTIONS, Puppet
from ..model.skin import Skin
from ..model.take import Take
from ..model.world import World
from .errors import FileProblem, read_whole
from .puppet_file import checked
from .skin_file import checked as checked_skin

SUFFIX = ".journal"
FORMAT = 1
FIELDS = {field.name: field.type
          for field in msgspec.structs.fields(Puppet) if field.name != "format"}
EMPTY = Puppet()
LARGEST = 512 * 1024 * 1024
"""Bytes of a journal beyond which it is not read."""


class Work(NamedTuple):
    """What a desk has at one time: the steps that can be undone, the present one, and those that
    can be made again, in the order of time; the place of the present one; the puppet's file;
    whether all is in it."""

    steps: tuple[Step, ...] = ()
    here: int = 0
    path: Path | None = None
    saved: bool = True

    @classmethod
    def of(cls, history: History, path: Path | None, saved: bool) -> Work:
        """What is in a history."""
        return cls((*history.past, *reversed(history.future)), len(history.past) - 1, path, saved)

    @property
    def history(self) -> History:
        """The same as a history."""
        return History(self.steps[:self.here + 1], tuple(reversed(self.steps[self.here + 1:])))


class _Step(msgspec.Struct, omit_defaults=True):
    """A step beside the one before it: of a field that holds entries its splice, (first, how many
    go, what comes); of any other its value; None stands for a booth that was not edited, or a take
    or skin that was taken away."""

    name: str
    puppet: dict[str, msgspec.Raw] = {}
    worlds: list[tuple[str, World]] | None = None
    takes: list[tuple[str, Take | None]] | None = None
    skins: list[tuple[str, Skin | None]] | None = None


class _Line(msgspec.Struct, omit_defaults=True):
    at: float
    """Seconds since 1970, UTC."""
    keep: Annotated[int, msgspec.Meta(ge=0)]
    here: Annotated[int, msgspec.Meta(ge=0)]
    put: list[_Step] = []
    path: str | None = None
    saved: bool = False
    format: int = FORMAT


_LINE = msgspec.json.Decoder(_Line)


def line_of(before: Work, now: Work, at: float) -> bytes:
    """The line that leads from what a journal told last to what is now; `at` in seconds since
    1970."""
    keep, most = 0, min(len(before.steps), len(now.steps))
    while keep < most and before.steps[keep] is now.steps[keep]:
        keep += 1
    put = []
    for place in range(keep, len(now.steps)):
        put.append(_beside(now.steps[place - 1] if place else None, now.steps[place]))
    path = str(now.path) if now.path is not None else None
    return msgspec.json.encode(_Line(at, keep, now.here, put, path, now.saved)) + b"\n"


def _beside(before: Step | None, step: Step) -> _Step:
    puppet, old = step.puppet, before.puppet if before is not None else EMPTY
    written: dict[str, msgspec.Raw] = {}
    for name in FIELDS:
        was, now = getattr(old, name), getattr(puppet, name)
        if was is not now:
            written[name] = msgspec.Raw(msgspec.json.encode(
                _splice(was, now) if name in COLLECTIONS else now))
    worlds = None if before is not None and before.worlds == step.worlds else list(step.worlds)
    takes = None if before is not None and before.takes == step.takes else list(step.takes)
    skins = None if before is not None and before.skins == step.skins else list(step.skins)
    return _Step(step.name, written, worlds, takes, skins)


def _splice(was: tuple[Any, ...], now: tuple[Any, ...]) -> tuple[int, int, tuple[Any, ...]]:
    first, most = 0, min(len(was), len(now))
    while first < most and was[first] is now[first]:
        first += 1
    last = 0
    while last < most - first and was[-1 - last] is now[-1 - last]:
        last += 1
    return first, len(was) - first - last, now[first:len(now) - last]


class Journal(NamedTuple):
    """What a journal holds: the work as it was last, the names of the edits that no file has, and
    since when, in seconds since 1970."""

    work: Work
    names: tuple[str, ...]
    since: float
    last: float

    @property
    def words(self) -> str:
        """What it holds, for people: "14 edits: rename state, …"."""
        count = len(self.names)
        few = list(dict.fromkeys(reversed(self.names)))[:3]
        more = ", …" if len(set(self.names)) > len(few) else ""
        return (
            f"{count} edit{'s' * (count != 1)}: {', '.join(few)}{more}"
            if count
            else "edits that were taken back"
        )


def read_journal(path: Path) -> Journal | None:
    """What a journal holds; None where it holds nothing that is not in a file. What a line cannot
    be read of, and what follows, is left: it is what was being written. Raises FileProblem for what
    is no journal."""
    try:
        lines = read_whole(path, LARGEST).splitlines(keepends=True)
    except MemoryError:
        raise FileProblem(path, "", "is too large for the memory there is") from None
    work, saved_to, since, last = Work(), 0, 0.0, 0.0
    for number, text in enumerate(lines):
        try:
            line = _LINE.decode(text)
            after = _after(work, line, path)
        except (msgspec.MsgspecError, FileProblem, UnicodeDecodeError, RecursionError) as error:
            if number == 0:
                raise FileProblem(path, "line 1", f"expected a journal ({error})") from None
            break
        saved_to, last = max(0, min(saved_to, line.keep - 1)), line.at
        work = after
        if work.saved:
            saved_to, since = work.here, line.at
        elif not since:
            since = line.at
    if not work.steps or work.saved:
        return None
    names = tuple([step.name for step in work.steps[saved_to + 1:work.here + 1]])
    return Journal(work, names, since, last)


def _after(work: Work, line: _Line, path: Path) -> Work:
    if line.format != FORMAT or line.keep > len(work.steps):
        raise FileProblem(path, "", "expected what follows the line before")
    steps = list(work.steps[:line.keep])
    for written in line.put:
        steps.append(_step(steps[-1] if steps else None, written, path))
    if line.here >= len(steps):
        raise FileProblem(path, "here", f"expected less than {len(steps)}, found {line.here}")
    return Work(tuple(steps), line.here, Path(line.path) if line.path is not None else None,
                line.saved)


def _step(before: Step | None, written: _Step, path: Path) -> Step:
    puppet, changes = before.puppet if before is not None else EMPTY, dict[str, Any]()
    for name, raw in written.puppet.items():
        kind = FIELDS.get(name)
        if kind is None:
            raise FileProblem(path, name, "expected a field of a puppet")
        if name in COLLECTIONS:
            first, gone, come = msgspec.json.decode(
                raw, type=tuple[int, int, kind])  # type: ignore[valid-type]
            was = getattr(puppet, name)
            if not 0 <= first <= first + gone <= len(was):
                raise FileProblem(path, name, f"expected a place among {len(was)}")
            changes[name] = (*was[:first], *come, *was[first + gone:])
        else:
            changes[name] = msgspec.json.decode(raw, type=kind)
    if changes:
        puppet = checked(msgspec.structs.replace(puppet, **changes), path)
    worlds = (
        tuple(written.worlds)
        if written.worlds is not None
        else before.worlds
        if before is not None
        else ()
    )
    takes = (
        tuple(written.takes)
        if written.takes is not None
        else before.takes
        if before is not None
        else ()
    )
    skins = before.skins if before is not None else ()
    if written.skins is not None:
        skins = tuple(written.skins)
        for _, skin in skins:
            if skin is not None:
                checked_skin(skin, path)
    return Step(puppet, written.name, worlds, takes, skins)


__all__ = ["FORMAT", "SUFFIX", "Journal", "Work", "line_of", "read_journal"]
