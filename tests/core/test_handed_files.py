"""Hand-offs that are broken off: by a full disk while files are written, or by an end while they
are put in place; and whose what is handed off is."""

from __future__ import annotations

import json
import os
import tempfile
from pathlib import Path
from unittest import mock

import msgspec
from msgspec.structs import replace

from tests.helpers import Case, demo_puppet, demo_setup
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.formats.take_file import load_take
from yarn_puppet.core.handoff.files import hand_off, write_changed
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.takes.run import set_up
from yarn_puppet.demo import DEMO_FOLDER, DEMO_TAKE


class Killed(BaseException):
    """The process ended here."""


class BrokenOff(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "game"
        self.files = hand_off(demo_puppet(), ["c", "javascript", "python"], "it",
                              art=DEMO_FOLDER).files

    def seen(self) -> dict[str, bytes]:
        return {path.relative_to(self.folder).as_posix(): path.read_bytes()
                for path in self.folder.rglob("*") if path.is_file()}

    def test_by_a_full_disk_nothing_is_written_and_the_next_one_is(self) -> None:
        for failing in range(len(self.files)):
            written = [0]

            def fsync(handle: int, written: list[int] = written, failing: int = failing) -> None:
                written[0] += 1
                if written[0] > failing:
                    raise OSError(28, "No space left on device")

            with mock.patch.object(os, "fsync", fsync), self.assertRaisesRegex(
                FileProblem, "No space left"):
                write_changed(self.folder, self.files)
            self.assertEqual(self.seen(), {}, failing)
        made = write_changed(self.folder, self.files)
        self.assertEqual(self.seen(), self.files)
        self.assertTrue(all(each.new and each.changed for each in made))
        again = write_changed(self.folder, self.files)
        self.assertFalse(any(each.new or each.changed for each in again))

    def test_ended_while_they_are_put_in_place_it_can_be_made_again(self) -> None:
        replaces = Path.replace
        for ending in range(len(self.files)):
            moved = [0]

            def replace(
                path: Path, target: Path, moved: list[int] = moved, ending: int = ending
            ) -> Path:
                moved[0] += 1
                if moved[0] > ending:
                    raise Killed
                return replaces(path, target)

            self.folder = self.folder.parent / f"game {ending}"
            with mock.patch.object(Path, "replace", replace), self.assertRaises(Killed):
                write_changed(self.folder, self.files)
            self.assertEqual("it.hand-off.json" in self.seen(), ending > 0,
                             "it says first what is ours")
            write_changed(self.folder, self.files)
            self.assertEqual(self.seen(), self.files)


class Whose(Case):
    def test_every_file_of_ours_says_in_its_head_that_it_is_the_user_s(self) -> None:
        setup = demo_setup()
        take = load_take(DEMO_TAKE)
        made = hand_off(demo_puppet(), ["c", "javascript", "python", "scxml"], "it", wire=True,
                        takes=[("one", setup, take)])
        code = {name: content for name, content in made.files.items()
                if not name.endswith((".json", ".txt"))}
        self.assertLessEqual({"it.c", "it.h", "it.js", "it.d.ts", "it.py", "it.scxml", "it_test.c",
                              "it_test.mjs",
                              "it_test.py", "yarn_wire.h", "yarn_wire.js", "yarn_wire.d.ts",
                              "yarn_wire.py"},
                             set(code))
        for name, content in code.items():
            self.assertIn(b"SPDX-License-Identifier: MIT-0", content[:400], name)
        self.assertEqual(json.loads(made.files["it.hand-off.json"])["license"], "MIT-0")


class AfterAnEdit(Case):
    def test_takes_are_handed_off_of_a_puppet_that_was_compiled_over_an_earlier_one(self) -> None:
        # A clip whose moments do deeds is compiled at every edit: the states that play it play
        # what the program has, whoever looks it up there.
        puppet = load_puppet(DEMO_FOLDER / "gardener.puppet.json")
        puppet = replace(puppet, states=tuple(
            replace(state, spread=None, clip="pour_left") if state.id == "water_state" else state
            for state in puppet.states))
        edited = replace(puppet, transitions=(*puppet.transitions, replace(
            puppet.transitions[0], id="more")))
        compile_puppet(edited, compile_puppet(puppet))
        take = load_take(DEMO_FOLDER / "beds_watered.take.json")
        world = load_booth(DEMO_FOLDER / str(take.booth))
        made = hand_off(edited, ["c"], "it", [("beds", set_up(edited, world), take)])
        fresh = msgspec.json.decode(msgspec.json.encode(edited), type=Puppet)
        again = hand_off(fresh, ["c"], "it", [("beds", set_up(fresh, world), take)])
        self.assertEqual(made.files, again.files)
