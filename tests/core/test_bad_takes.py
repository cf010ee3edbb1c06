"""Takes, booths and revisions that cannot be used: a clear line each, and nothing is lost."""

from __future__ import annotations

import shutil
import subprocess
import tempfile
from pathlib import Path

from msgspec.structs import replace

from tests.core.test_commands import typed
from tests.helpers import Case, demo_puppet, run
from yarn_puppet.core.formats.booth_file import load_booth, save_booth
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.formats.take_file import load_take, save_take
from yarn_puppet.core.model.promise import Happening, Promise
from yarn_puppet.core.model.take import Take
from yarn_puppet.core.model.world import World
from yarn_puppet.core.takes.again.kept import KeptRuns
from yarn_puppet.core.takes.run import set_up
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET

PELL = str(DEMO_PUPPET)


class BadTakes(Case):
    def setUp(self) -> None:
        self.held = tempfile.TemporaryDirectory()
        self.addCleanup(self.held.cleanup)
        self.folder = Path(self.held.name)

    def refused(self, text: str, *said: str, file: str = "odd.take.json") -> None:
        """The command refuses a take with this text in one line, with these words and the file it
        is about."""
        path = self.folder / "odd.take.json"
        path.write_text(text)
        code, _, errors = typed("play", PELL, "--take", str(path))
        self.assertEqual((code, errors.count("\n")), (2, 1), errors)
        for each in (file, *said):
            self.assertIn(each, errors)
        self.assertEqual(path.read_text(), text)

    def test_each_is_said_with_its_place(self) -> None:
        head = '{"booth": "rooftop.booth.json", "rate": 60, "ticks": 9'
        self.refused(f'{head}, "controls": [[2, "jump", 1], [3, "fly", 1]]}}', "controls[1]",
                     "'fly'", "action")
        self.refused(f'{head}, "axes": [[2, "yaw", 50]]}}', "axes[0]", "'yaw'", "axis")
        self.refused(f'{head}, "controls": [[9, "jump", 1]]}}', "controls[0]", "before 9")
        self.refused(f'{head}, "first": 9}}', "first", "before 9")
        self.refused(f'{head.replace("60", "50")}}}', "rate", "60", "50")
        self.refused(f'{head.replace("rooftop", "moon")}}}', "moon.booth.json",
                     file="moon.booth.json")
        self.refused(f'{head.replace("rooftop", "../rooftop")}}}', "rooftop.booth.json",
                     file="booth.json")
        self.refused(
            f'{head}, "promises": [{{"kind": "ever", "first": {{"kind": "state", "id": "x"}}}}]}}',
            "promises",
        )
        self.refused(head, "expected")

    def test_a_kept_take_says_what_the_puppet_lost_and_runs_again_when_it_is_back(self) -> None:
        puppet, take = load_puppet(DEMO_PUPPET), load_take(DEMO_FOLDER / "gutter_climb.take.json")
        worlds = {"rooftop.booth.json": load_booth(DEMO_FOLDER / "rooftop.booth.json")}
        kept = KeptRuns()
        armless = replace(puppet,
                          actions=tuple(action for action in puppet.actions if action.id != "jump"))
        for each, problem in ((puppet, ""),
                              (armless, "it presses jump, which the puppet does not have"),
                              (puppet, "")):
            outcome, = (found for found in kept.run(each, {"a": take}, worlds) if found is not None)
            self.assertEqual(outcome.problem, problem)
        self.assertEqual(len(outcome.verdicts), 3)

    def test_promises_about_what_is_not_there_are_broken_and_say_so(self) -> None:
        take = load_take(DEMO_FOLDER / "three_in_a_row.take.json")
        promises = (Promise("lasts", Happening("state", "gone"), ticks=9),
                    Promise("hits", Happening("state", "combo"), target="Nobody"),
                    Promise("after", Happening("state", "combo"), value="luck", to=1, ticks=3),
                    Promise("can", Happening("state", "combo"), ticks=9))
        for path in (DEMO_FOLDER.glob("*.p*")):
            shutil.copy(path, self.folder)
        save_take(replace(take, promises=promises), self.folder / "three.take.json")
        code, out, _ = typed("check", str(self.folder / "lamplighter.puppet.json"))
        self.assertEqual(code, 1)
        for each in ("no state gone", "no dummy Nobody in its booth", "no value luck",
                     "no second half"):
            self.assertIn(each, out)
        self.assertIn("0 promises kept, 4 broken", out)

    def test_booths_of_every_size_are_run_or_refused_in_a_line(self) -> None:
        puppet = demo_puppet()
        for rows, start in (((".",), 8.0), (("." * 4096, "#" * 4096), 30_000.0),
                            (("." * 9,) * 3, 40.0),
                            (("#" * 9,) * 3, 40.0)):
            world = World("odd", rows, start, 16.0)
            save_booth(world, self.folder / "odd.booth.json")
            self.assertEqual(load_booth(self.folder / "odd.booth.json"), world)
            # Without a floor, all of brick, far narrower than the puppet is high: nothing raises,
            # nobody is lost.
            records = run(set_up(puppet, world), [(0, 60, "right"), (5, 20, "jump")], 90)
            booth = records[-1].after.booth
            assert booth is not None
            self.assertLess(abs(booth.body.x), 4097 * 16)
            self.assertLess(booth.body.y, len(rows) * 16 + 1000)
        for text, said in (('{"name": "x", "rows": [], "start_x": 0, "start_y": 0}', "rows"),
                           ('{"name": "x", "rows": ["' + "." * 4097
                            + '"], "start_x": 0, "start_y": 0}', "rows"),
                           ('{"name": "x", "rows": ["?"], "start_x": 0, "start_y": 0}', "rows"),
                           ("", "expected")):
            (self.folder / "odd.booth.json").write_text(text)
            with self.assertRaises(FileProblem, msg=text[:40]) as caught:
                load_booth(self.folder / "odd.booth.json")
            self.assertIn(said, str(caught.exception))

    def test_a_puppet_taller_than_the_world_stands_in_it(self) -> None:
        puppet = demo_puppet()
        tall = replace(puppet, mover=replace(puppet.mover, height=400.0, width=90.0))
        records = run(set_up(tall, World("low", ("." * 9, "." * 9, "#" * 9), 70.0, 32.0)),
                      [(0, 50, "right")], 60)
        booth = records[-1].after.booth
        assert booth is not None
        self.assertTrue(booth.body.grounded)

    def test_a_repository_or_revision_that_is_not_there(self) -> None:
        for path in DEMO_FOLDER.glob("*.p*"):
            shutil.copy(path, self.folder)
        file = self.folder / "lamplighter.puppet.json"
        code, _, errors = typed("compare", "--git", "HEAD", str(file))
        self.assertEqual((code, errors.count("\n")), (2, 1), errors)
        subprocess.run(["git", "init", "-q", str(self.folder)], check=True)
        code, _, errors = typed("compare", "--git", "no-such-revision", str(file))
        self.assertEqual((code, errors.count("\n")), (2, 1), errors)
        self.assertIn("no-such-revision", errors)

    def test_a_take_is_saved_and_read_as_it_was(self) -> None:
        take = Take(None, 60, 40, ((3, "jump", 1), (9, "jump", 0)), first=12, promises=(
            Promise("can", Happening("state", "a"), Happening("state", "b"), ticks=90),))
        save_take(take, self.folder / "whole.take.json")
        self.assertEqual(load_take(self.folder / "whole.take.json"), take)
