"""The code that a game gets, beside our own engine: the same in every field of every tick."""

from __future__ import annotations

import json
import re
import shutil
import subprocess
import sys
import tempfile
import unittest
from collections.abc import Callable, Sequence
from contextlib import redirect_stderr, redirect_stdout
from io import StringIO
from pathlib import Path
from unittest import mock

from msgspec.structs import replace
from PIL import Image

from tests import c_together, js_engine
from tests.c_engine import FLAGS, Case, differing
from tests.depth import EVERY_CASE, SANITIZED, examples, some_of
from tests.helpers import Case as TestCase
from tests.helpers import clip, demo_puppet, puppet_of
from tests.random_cases import crowded_case, random_case, restless_case
from yarn_puppet.cli import main
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.formats.take_file import load_take, takes_of
from yarn_puppet.core.generate.names import Identifiers, identifier
from yarn_puppet.core.handoff.files import hand_off
from yarn_puppet.core.languages.c.source import c_source
from yarn_puppet.core.languages.python.source import python_module
from yarn_puppet.core.model.clips import Anchor
from yarn_puppet.core.model.events import Argument, Moment
from yarn_puppet.core.model.graph import State
from yarn_puppet.core.model.wiring import Action, Sense
from yarn_puppet.core.takes.run import replay, set_up
from yarn_puppet.demo import DEMO_FOLDER, FIRST_STEPS

COMPILERS = (("gcc", ("-std=c99",)), ("clang", ("-std=c99",)), ("g++", ("-x", "c++", "-std=c++17")),
             ("clang++", ("-x", "c++", "-std=c++17")))
RANDOM = 3


def take_cases(
    chosen: Callable[[Sequence[Path]], Sequence[Path]] = tuple,
) -> list[Case]:
    """The demo's takes, or those that are chosen, each with what the world told the puppet."""
    cases = []
    for name in ("lamplighter", "gardener"):
        file = DEMO_FOLDER / f"{name}.puppet.json"
        puppet = load_puppet(file)
        for path in chosen(takes_of(file)):
            take = load_take(path, puppet)
            setup = set_up(puppet, load_booth(DEMO_FOLDER / take.booth) if take.booth else None)
            records = list(replay(setup, take))
            cases.append(Case(setup.program, [record.inputs for record in records],
                              [record.report for record in records]))
    return cases


class InFolder(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)


@unittest.skipUnless(shutil.which("gcc"), "no compiler is installed")
class InC(InFolder):
    def test_random_puppets_report_the_same_under_the_sanitizers(self) -> None:
        self.assertEqual(differing([random_case(seed) for seed in some_of(range(RANDOM))],
                                   self.folder, "-O0", SANITIZED), [])

    def test_many_random_puppets_report_the_same_under_the_sanitizers(self) -> None:
        cases = [random_case(seed) for seed in some_of(range(100, 122))]
        self.assertEqual(c_together.differing(cases, self.folder, ("-O0", *SANITIZED)), [])

    @unittest.skipUnless(shutil.which("clang"), "no second compiler is installed")
    def test_another_compiler_that_makes_it_fast_gives_the_same(self) -> None:
        cases = [random_case(seed) for seed in some_of(range(220, 230))]
        self.assertEqual(c_together.differing(cases, self.folder, ("-O2", "-march=native"),
                                              "clang"), [])

    def test_every_compiler_takes_it_without_a_word_as_c_and_as_c_plus_plus(self) -> None:
        puppets = {"steps": compile_puppet(load_puppet(FIRST_STEPS)),
                   "shaken": random_case(9, 1).program}
        for name, program in puppets.items():
            source = c_source(program, name)
            (self.folder / f"{name}.h").write_text(source.header)
            (self.folder / f"{name}.c").write_text(source.code)
            for compiler, words in COMPILERS:
                with self.subTest(compiler, puppet=name):
                    if shutil.which(compiler) is None:
                        self.skipTest("it is not installed")
                    # The first also says what it finds as it makes it fast.
                    does = ("-O1", "-c") if compiler == COMPILERS[0][0] else ("-fsyntax-only",)
                    done = subprocess.run([compiler, *words, *FLAGS[1:], *does, f"{name}.c"],
                                          cwd=self.folder,
                                          check=False, capture_output=True, text=True)
                    self.assertEqual((done.returncode, done.stderr), (0, ""))

    def test_a_puppet_of_many_states_or_exits_chooses_in_other_ways_and_the_same(self) -> None:
        for bound, seeds in (("MOST_STRAIGHT", range(50, 53)), ("MOST_TRIES", range(53, 56))):
            with self.subTest(bound), mock.patch(f"yarn_puppet.core.generate.choosing.{bound}", 0):
                self.assertEqual(differing([random_case(seed) for seed in some_of(seeds)],
                                           self.folder, "-O0"), [])

    def test_the_demo_under_restless_input_and_a_crowd_of_actions_report_the_same(self) -> None:
        self.assertEqual(differing([restless_case(), crowded_case()], self.folder, "-O0"), [])

    def test_the_takes_of_the_demo_report_the_same(self) -> None:
        cases = take_cases(some_of)
        self.assertGreater(sum(len(case.inputs) for case in cases), examples(3000))
        self.assertEqual(differing(cases, self.folder, "-O1" if EVERY_CASE else "-O0"), [])

    def test_what_a_game_is_handed_compiles_without_a_word_and_says_where_things_are(self) -> None:
        made = hand_off(demo_puppet(), ["c"])
        for name, content in made.files.items():
            (self.folder / name).write_bytes(content)
        game = GAME.replace("@UPPER", made.name.upper()).replace("@", made.name)
        (self.folder / "main.c").write_text(game)
        self.compiled("-O0", "-o", "game", "main.c", f"{made.name}.c", "-lm")
        said = subprocess.run([self.folder / "game"], capture_output=True, text=True,
                              check=True).stdout.split("\n")
        swing = demo_puppet().clip("light_swing")
        assert swing is not None
        pivot, box = swing.pivot_of(3), next(each
                                             for each in swing.frames[3].boxes
                                             if each.kind == "hit")
        tip = swing.anchor_at(3, "pole_tip")
        assert tip is not None
        self.assertEqual(said[0],
                         f"right {box.x - pivot.x:.3f} {box.y - pivot.y:.3f} {box.width:.3f}")
        self.assertEqual(
            said[1], f"left {pivot.x - box.x - box.width:.3f} {box.y - pivot.y:.3f} {box.width:.3f}"
        )
        self.assertEqual(said[2], f"tip {tip.x - pivot.x:.3f} {tip.y - pivot.y:.3f}")
        self.assertEqual(said[3], "picture 1 to the left")

    def compiled(self, *what: str) -> None:
        done = subprocess.run(["gcc", *FLAGS, *what], cwd=self.folder, check=False,
                              capture_output=True, text=True)
        self.assertEqual((done.returncode, done.stderr), (0, ""))

    def test_names_of_all_kinds_are_fixed_and_say_so(self) -> None:
        names = ["while", "a b", "a-b", "绣", "été", '"*/ int', "1st", "n" * 80]
        puppet = puppet_of([clip("c", [50], moments=[Moment(
            "m", 10, "call", 'say "??/" \\',
            arguments=(Argument("what", 'a"b\n\\'), Argument("loud", 3)))])],
            [State(f"s{number}", name, clip="c") for number, name in enumerate(names)])
        puppet = replace(puppet, name="for", anchors=(Anchor("a", "*/"),),
                         actions=(Action("x", "int"), Action("y", "landed")),
                         senses=(Sense("s", "double"),
                                 Sense("t", "stopped", "choice", "x", choices=("x", "é"))))
        made = hand_off(puppet, ["c", "python"])
        for name, content in made.files.items():
            (self.folder / name).write_bytes(content)
        self.compiled("-c", f"{made.name}.c")
        renamed = {each.name: each.instead for each in made.renames}
        self.assertEqual((renamed["a-b"], renamed["while"]), ("a_b_2", "while_"))
        self.assertEqual(len({*re.findall(r"FOR__STATE_\w+", made.files["for_.h"].decode())}),
                         len(names))


GAME = """#include "@.h"
#include <stdio.h>

int main(void) {
    static @ pell;
    static @_report out;
    @_box box;
    @_open open = {0};
    @_picture picture;
    double x, y;
    @_inputs in;
    @_start(&pell);
    @_nothing(&in);
    in.grounded = true;
    @_tick(&pell, &in, &out);
    open.clip = @_CLIP;
    open.frame = 3;
    open.window = @_WINDOW;
    out.facing = LAMP_RIGHT;
    if (@_hit_boxes(&out, &open, &box, 1) != 1) return 1;
    printf("right %.3f %.3f %.3f\\n", box.x, box.y, box.width);
    out.facing = LAMP_LEFT;
    if (@_hit_boxes(&out, &open, &box, 1) != 1) return 2;
    printf("left %.3f %.3f %.3f\\n", box.x, box.y, box.width);
    if (!@_anchor_of(open.clip, 3, LAMP_RIGHT, 0, &x, &y)) return 3;
    printf("tip %.3f %.3f\\n", x, y);
    picture = @_picture_of(open.clip, 3, LAMP_LEFT);
    printf("picture %d to the left\\n", picture.flipped);
    return out.tick != 0;
}
""".replace("@_CLIP", "LAMP_CLIP_LIGHT_SWING").replace(
    "@_WINDOW", "LAMP_WINDOW_LIGHT_SWING_POLE").replace(
    "LAMP_RIGHT", "LAMP_CHOICE_RIGHT").replace("LAMP_LEFT", "LAMP_CHOICE_LEFT").replace(
        "LAMP", "@UPPER")


@unittest.skipUnless(shutil.which("node"), "no JavaScript is installed")
class InJavaScript(InFolder):
    def test_random_puppets_report_the_same(self) -> None:
        cases = [random_case(seed) for seed in some_of(range(100, 122))]
        self.assertEqual(js_engine.differing(cases, self.folder), [])

    def test_a_puppet_of_many_states_or_exits_chooses_in_other_ways_and_the_same(self) -> None:
        for bound, seeds in (("MOST_STRAIGHT", range(50, 62)), ("MOST_TRIES", range(62, 74))):
            with self.subTest(bound), mock.patch(f"yarn_puppet.core.generate.choosing.{bound}", 0):
                self.assertEqual(js_engine.differing(
                    [random_case(seed) for seed in some_of(seeds)], self.folder), [])

    def test_the_demo_under_restless_input_and_a_crowd_of_actions_report_the_same(self) -> None:
        self.assertEqual(js_engine.differing([restless_case(), crowded_case()], self.folder), [])

    def test_the_takes_of_the_demo_report_the_same(self) -> None:
        self.assertEqual(js_engine.differing(take_cases(some_of), self.folder), [])

    def test_what_a_game_tells_is_fitted_and_what_is_odd_is_as_it_starts(self) -> None:
        made = hand_off(demo_puppet(), ["javascript"])
        (self.folder / "pell.mjs").write_bytes(made.files[f"{made.name}.js"])
        (self.folder / "game.mjs").write_text(
            "import * as pell from './pell.mjs';\nconst p = pell.start();\n"
            "const out = pell.tick(p, {grounded: 'yes', speed: NaN, move_x: 0.6, nobody: 1});\n"
            "console.log(JSON.stringify(pell.SENSE_NAMES.map((name, at) => [name, "
            "out.senses[at]])));\n"
            "console.log(JSON.stringify(pell.copied(p)) === JSON.stringify(p), "
            "pell.STATE_NAMES[out.layers[0].state]);\n"
        )
        said = subprocess.run(["node", "game.mjs"], cwd=self.folder, capture_output=True, text=True,
                              check=True).stdout
        senses = dict(json.loads(said.splitlines()[0]))
        starts = {sense.name: sense.start for sense in demo_puppet().senses}
        self.assertEqual((senses["grounded"], senses["speed"], senses["move_x"]),
                         (float(starts["grounded"]), float(starts["speed"]), 1))
        self.assertEqual(said.splitlines()[1], "true Walk")
        self.assertIn("  grounded?: boolean;", made.files[f"{made.name}.d.ts"].decode())


class InPython(InFolder):
    def test_random_puppets_report_the_same_with_the_standard_library_alone(self) -> None:
        for seed in some_of(range(40, 52)):
            case = random_case(seed)
            space: dict[str, object] = {"__name__": "made"}
            module = sys.modules.setdefault("made", type(sys)("made"))
            module.__dict__.clear()
            module.__dict__.update(space)
            exec(python_module(case.program), module.__dict__)
            state = module.START
            for inputs, wanted in zip(case.inputs, case.reports, strict=True):
                landed = [module.Landed(*each) for each in inputs.landed]
                state, report = module.tick(
                    module.PROGRAM, state,
                    module.Inputs(inputs.down, inputs.senses, tuple(landed), inputs.stopped,
                                  inputs.edges))
                self.assertEqual(report, wanted)

    def test_it_is_imported_without_anything_else_and_says_what_it_does_not_know(self) -> None:
        made = hand_off(demo_puppet(), ["python"])
        (self.folder / "pell.py").write_bytes(made.files[f"{made.name}.py"])
        code = (
            "import sys, pell\nstate, report = pell.step(pell.START, [], {'grounded': True})\n"
            "print(report.layers[0].state, sorted(each for each in sys.modules if each in "
            "('msgspec', 'numpy')))\n"
            "try: pell.step(state, ['fly'])\nexcept KeyError as error: print(error)"
        )
        done = subprocess.run([sys.executable, "-I", "-c",
                               f"import sys; sys.path.insert(0, '.'); {code}"
                               .replace("; import sys, pell", "\nimport sys, pell")],
                               cwd=self.folder,
                              capture_output=True, text=True, check=True)
        self.assertEqual(done.stdout.split("\n")[:2], ["idle_state []", "'fly'"])


class HandedOff(InFolder):
    def test_only_what_is_another_is_written_and_the_same_puppet_gives_the_same(self) -> None:
        file = str(DEMO_FOLDER / "first_steps.puppet.json")
        self.assertEqual(main(["hand-off", file, "--to", "c,javascript,python", "--out",
                               str(self.folder / "deep" / "er")]), 0)
        before = {path.name: (path.stat().st_mtime_ns, path.read_bytes())
                  for path in (self.folder / "deep" / "er").iterdir()}
        self.assertEqual(len(before), 6)
        self.assertEqual(main(["hand-off", file, "--out", str(self.folder / "deep" / "er")]), 0)
        self.assertEqual({path.name: (path.stat().st_mtime_ns, path.read_bytes())
                          for path in (self.folder / "deep" / "er").iterdir()}, before)
        manifest = json.loads(next(content
                                   for name, (_, content) in before.items()
                                   if name.endswith(".hand-off.json")))
        self.assertEqual(set(manifest["files"]),
                         {name for name in before if not name.endswith(".hand-off.json")})
        self.assertEqual(manifest["languages"], ["c", "javascript", "python"])

    def test_a_name_that_a_language_or_its_library_has_is_fixed_and_said(self) -> None:
        """In a folder that a compiler and Python look into first, where nothing of theirs may be
        hidden."""
        for name, made in (("math", "math_"), ("random", "random_"), ("Class", "class_"),
                           ("yield", "yield_"),
                           ("yarn wire", "yarn_wire_"), ("assert", "assert_"), ("Main!", "main_"),
                           ("3d", "n3d")):
            with self.subTest(name), redirect_stdout(StringIO()) as said:
                out = self.folder / made
                self.assertEqual(main(["hand-off", str(FIRST_STEPS), "--name", name, "--wire",
                                       "--out", str(out)]), 0)
                self.assertIn(f"the puppet {name} is called {made}\n", said.getvalue())
                self.assertLessEqual({f"{made}.{end}" for end in ("c", "h", "js", "py")} | {
                    "yarn_wire.h"},
                                     {path.name for path in out.iterdir()})
                subprocess.run(
                    [
                        sys.executable,
                        "-P",
                        "-c",
                        "import sys; sys.path.insert(0, '.')\n"
                        f"import {made}, dataclasses, math, random; math.sqrt, random.random",
                    ],
                    cwd=out,
                    check=True,
                )
                if shutil.which("gcc"):
                    subprocess.run(["gcc", *FLAGS, "-I.", "-fsyntax-only", f"{made}.c"], cwd=out,
                                   check=True)

    def test_a_sound_of_another_puppet_is_not_written_over(self) -> None:
        other = self.folder / "other"
        other.mkdir()
        for each in ("sounds", "lamplighter.png", FIRST_STEPS.name):
            source = FIRST_STEPS.parent / each
            (shutil.copytree if source.is_dir() else shutil.copy)(source, other / each)
        out, theirs, mine = self.folder / "game", str(FIRST_STEPS), str(other / FIRST_STEPS.name)
        self.assertEqual(main(["hand-off", theirs, "--art", "--wire", "--out", str(out)]), 0)
        again = ["hand-off", mine, "--name", "second", "--art", "--wire", "--out", str(out)]
        (out / "yarn_wire.py").write_text("# of an older version")
        sound = next((other / "sounds").iterdir())
        kept = sound.read_bytes()
        sound.write_bytes(kept + b"\0\0")
        with redirect_stderr(StringIO()) as said:
            self.assertEqual(main(again), 2)
        self.assertIn(f"{sound.name}: already exists and belongs to the hand-off of "
                      "first_steps, with other content",
                      said.getvalue())
        self.assertFalse((out / "second.c").exists())
        sound.write_bytes(kept)
        self.assertEqual(main(again), 0)
        self.assertNotIn("of an older version", (out / "yarn_wire.py").read_text())
        # What both have, and one has changed since, goes with it.
        sound.write_bytes(kept + b"\0\0")
        self.assertEqual(main(again), 0)

    def test_what_no_hand_off_wrote_is_not_written_over(self) -> None:
        out = self.folder / "game"
        out.mkdir()
        (out / "first_steps.png").write_bytes(b"drawn by hand")
        (out / "first_steps.js").write_text("// written by hand")
        self.assertEqual(main(["hand-off", str(FIRST_STEPS), "--out", str(out), "--art"]), 2)
        self.assertEqual({path.name for path in out.iterdir()},
                         {"first_steps.png", "first_steps.js"})
        (out / "first_steps.js").unlink()
        with redirect_stderr(StringIO()) as said:
            self.assertEqual(main(["hand-off", str(FIRST_STEPS), "--out", str(out), "--art"]), 2)
        self.assertIn("first_steps.png: already exists and was not written by a hand-off",
                      said.getvalue())
        self.assertEqual((out / "first_steps.png").read_bytes(), b"drawn by hand")
        (out / "first_steps.png").unlink()
        self.assertEqual(main(["hand-off", str(FIRST_STEPS), "--out", str(out), "--art"]), 0)
        (out / "first_steps.js").write_text("// spoilt by hand, and made again")
        self.assertEqual(main(["hand-off", str(FIRST_STEPS), "--out", str(out), "--art"]), 0)
        self.assertIn("export function tick", (out / "first_steps.js").read_text())

    def test_no_take_to_make_golden_traces_of_is_said(self) -> None:
        alone = self.folder / "alone.puppet.json"
        shutil.copy(FIRST_STEPS, alone)
        with redirect_stdout(StringIO()) as said:
            self.assertEqual(main(["hand-off", str(alone), "--tests", "--out",
                                   str(self.folder / "out")]), 0)
        self.assertIn("no golden traces: no take is kept beside", said.getvalue())

    def test_golden_traces_are_run_in_every_language_and_tell_what_differs(self) -> None:
        file = str(DEMO_FOLDER / "gardener.puppet.json")
        self.assertEqual(main(["hand-off", file, "--tests", "--name", "it", "--out",
                               str(self.folder)]), 0)
        commands = [[sys.executable, "it_test.py"]]
        if shutil.which("node"):
            commands.append(["node", "it_test.mjs"])
        if shutil.which("gcc"):
            subprocess.run(["gcc", *FLAGS, "-O1", "-o", "it_test", "it_test.c", "it.c", "-lm"],
                           cwd=self.folder,
                           check=True, capture_output=True)
            commands.append(["./it_test"])
        golden = self.folder / "it.golden.txt"
        whole = golden.read_text()
        for command in commands:
            with self.subTest(command[0]):
                golden.write_text(whole)
                done = subprocess.run(command, cwd=self.folder, capture_output=True, text=True,
                                      check=False)
                self.assertEqual((done.returncode, done.stderr), (0, ""))
                self.assertIn("beds watered: ", done.stdout)
                self.assertIn(" ticks, all equal", done.stdout)
                lines = whole.splitlines()
                # Another digest of the windows, the fifth of eight, in the tick 30.
                words = lines[32].split()
                words[-4] = "00000000"
                lines[32] = " ".join(words)
                golden.write_text("\n".join([*lines, ""]))
                done = subprocess.run(command, cwd=self.folder, capture_output=True, text=True,
                                      check=False)
                self.assertEqual((done.returncode, done.stdout),
                                 (1, "beds watered: tick 30: the windows are others\n"))
                golden.write_text("\n".join([*whole.splitlines()[:40], ""]))
                done = subprocess.run(command, cwd=self.folder, capture_output=True, text=True,
                                      check=False)
                self.assertEqual(done.returncode, 2)

    def test_art_goes_along_packed_and_nothing_is_handed_off_without_it(self) -> None:
        file = DEMO_FOLDER / "lamplighter.puppet.json"
        self.assertEqual(main(["hand-off", str(file), "--to", "c", "--art", "--name", "it",
                               "--skin", "none", "--out", str(self.folder)]), 0)
        described = json.loads((self.folder / "it.sheet.json").read_text())
        puppet = load_puppet(file)
        self.assertEqual([(each["name"], len(each["frames"])) for each in described["clips"]],
                         [(each.name, len(each.frames)) for each in puppet.clips])
        sheet = Image.open(self.folder / described["picture"])
        self.assertEqual(sheet.size, (described["width"], described["height"]))
        sounds = {Path(moment.file).name for clip in puppet.clips
                  for moment in clip.moments if moment.kind == "sound"}
        self.assertEqual({path.name for path in (self.folder / "sounds").iterdir()}, sounds)
        shutil.copy(file, self.folder / "alone.puppet.json")
        self.assertEqual(main(["hand-off", str(self.folder / "alone.puppet.json"), "--art", "--out",
                               str(self.folder / "not")]), 2)
        self.assertFalse((self.folder / "not").exists())

    def test_what_cannot_be_is_said(self) -> None:
        file = str(DEMO_FOLDER / "first_steps.puppet.json")
        self.assertEqual(main(["hand-off", file, "--to", "cobol", "--out", str(self.folder)]), 2)
        (self.folder / "file").write_text("x")
        self.assertEqual(main(["hand-off", file, "--out", str(self.folder / "file")]), 2)

    def test_the_code_grows_with_the_transitions(self) -> None:
        def size(states: int) -> int:
            made = [State(f"s{number}", f"s{number}", clip="c") for number in range(states)]
            return len(hand_off(puppet_of([clip("c", [50])], made), ["c"], "it").files["it.c"])

        small, large, larger = size(10), size(1000), size(2000)
        self.assertLess(larger - large, 1.2 * 1000 * (large - small) / 990)

    def test_identifiers_differ_where_names_do(self) -> None:
        made = Identifiers(frozenset(("if",))).of(
            "state", ["if", "If", "if_", "A B", "a_b", "é", "e", ""])
        self.assertEqual(len(set(made)), len(made))
        self.assertTrue(all(re.fullmatch("[a-z][a-z0-9_]*", each) for each in made))
        self.assertEqual(identifier("Light swing"), "light_swing")
