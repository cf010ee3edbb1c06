"""A journal holds what was worked on: whatever was done, and wherever writing it ended."""

from __future__ import annotations

import tempfile
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.core.test_running_again import mutated
from tests.depth import examples
from tests.helpers import Case, demo_puppet, demo_world
from tests.random_puppets import Shaker
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.journal_file import Journal, Work, line_of, read_journal
from yarn_puppet.core.formats.puppet_file import checked
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.core.model.history import History
from yarn_puppet.core.model.take import Take


def worked(seed: int, steps: int = 30) -> list[Work]:
    """Random edits, some merged, undone, made again, saved, and of booths and takes."""
    shaker = Shaker(seed)
    history, path = History.starting_with(demo_puppet()), None
    found = [Work.of(history, path, True)]
    for number in range(steps):
        does = shaker.pick(["edit", "edit", "merge", "undo", "undo", "redo", "world", "take",
                            "save", "rename"])
        saved = False
        if does in ("edit", "merge"):
            puppet = mutated(shaker, history.puppet,
                             demo_puppet() if shaker.chance(3) else shaker.puppet())
            try:
                puppet = checked(puppet, "it")
            except FileProblem:
                continue
            history = history.edited(puppet, "shake", merge=does == "merge")
        elif does == "undo":
            history = history.undone()
        elif does == "redo":
            history = history.redone()
        elif does == "world":
            worlds = {**history.worlds,
                      "roof.booth.json": replace(demo_world(), start_x=float(number))}
            history = history.edited(history.puppet, "paint", worlds=worlds)
        elif does == "take":
            takes = {**history.takes,
                     "it.take.json": Take(None, 60, number + 1) if shaker.chance(5) else None}
            history = history.edited(history.puppet, "keep take", takes=takes)
        elif does == "rename" and history.puppet.states:
            one = shaker.pick(history.puppet.states)
            history = history.edited(state_changed(history.puppet, one.id, name=f"New {number}"),
                                     "rename state")
        else:
            saved, path = True, Path(f"/somewhere/{number}.puppet.json")
        found.append(Work.of(history, path, saved))
    return found


class Journals(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.file = Path(folder.name) / "it.journal"

    def lines(self, works: list[Work], at: float = 1000.0) -> list[bytes]:
        return [line_of(before, now, at + number)
                for number, (before, now) in enumerate(zip([Work(), *works], works, strict=False))]

    def read(self, *lines: bytes) -> Journal | None:
        self.file.write_bytes(b"".join(lines))
        return read_journal(self.file)

    @settings(max_examples=examples(12))
    @given(some.integers(0, 10_000), some.data())
    def test_wherever_it_ends_it_holds_what_was_said_by_then(
        self, seed: int, data: some.DataObject
    ) -> None:
        works = worked(seed)
        lines = self.lines(works)
        count = data.draw(some.integers(1, len(lines)))
        torn = (
            lines[count][: data.draw(some.integers(0, len(lines[count]) - 2))]
            if count < len(lines)
            else b""
        )
        found, now = self.read(*lines[:count], torn), works[count - 1]
        if now.saved:
            self.assertIsNone(found)
            return
        assert found is not None
        self.assertEqual((found.work, found.work.history), (now, now.history))
        self.assertEqual(found.last, 1000.0 + count - 1)

    def test_it_says_what_no_file_has_and_since_when(self) -> None:
        history = History.starting_with(demo_puppet())
        works = [Work.of(history, Path("/it"), True)]
        for number, saved in enumerate((False, False, True, False, False, False)):
            puppet = state_changed(history.puppet, "walk_state", name=f"Stroll {number}")
            history = history if saved else history.edited(puppet, "rename state")
            works.append(Work.of(history, Path("/it"), saved))
        found = self.read(*self.lines(works))
        assert found is not None
        self.assertEqual((found.names, found.since, found.words),
                         (("rename state",) * 3, 1003.0, "3 edits: rename state"))
        undone = [*works, *(Work.of(each, Path("/it"), False) for each in (
            history.undone(), history.undone().undone().undone().undone()))]
        found = self.read(*self.lines(undone))
        assert found is not None
        self.assertEqual((found.names, found.words), ((), "edits that were taken back"))

    def test_an_edit_of_a_large_puppet_is_a_short_line(self) -> None:
        states = tuple(replace(demo_puppet().states[0], id=f"s{number}") for number in range(1000))
        history = History.starting_with(replace(demo_puppet(), states=states))
        edited = history.edited(state_changed(history.puppet, "s500", name="Other"),
                                "rename state")
        line = line_of(Work.of(history, None, True), Work.of(edited, None, False), 0.0)
        self.assertLess(len(line), 1500)

    def test_what_is_no_journal_is_refused_and_what_is_wrong_further_on_is_left(self) -> None:
        works = worked(3)
        lines = self.lines(works)
        for first in (b"", b"{}\n", b"[1]\n", b"\xff\xfe\n", b'{"at": 1, "keep": 9, "here": 0}\n',
                      b"{" * 9000 + b"\n"):
            if first:
                with self.assertRaises(FileProblem, msg=first[:20]):
                    self.read(first, *lines[1:])
        self.assertIsNone(self.read())
        good = next(number for number, work in enumerate(works) if number > 4 and not work.saved)
        for wrong in (
            b"nonsense\n",
            b'{"at": 1, "keep": 1, "here": 99}\n',
            b'{"at": 1, "keep": 1, "here": 0, "put": [{"name": "x", "puppet": {"states": [5, 99, '
            b'[]]}}]}\n',
            b'{"at": 1, "keep": 1, "here": 0, "put": [{"name": "x", "puppet": {"format": 2}}]}\n',
            b'{"at": 1, "keep": 1, "here": 0, "put": [{"name": "x", "puppet": {"rate": -1}}]}\n',
        ):
            found = self.read(*lines[:good + 1], wrong, *lines[good + 1:])
            assert found is not None
            self.assertEqual(found.work, works[good])
