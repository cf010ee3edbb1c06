"""The command line, as it is typed."""

from __future__ import annotations

import contextlib
import io
import json
import os
import shlex
import signal
import subprocess
import sys
import tempfile
import tomllib
from pathlib import Path
from unittest import mock

from tests.depth import some_of
from tests.helpers import Case, demo_puppet
from yarn_puppet.cli import main
from yarn_puppet.core.formats.puppet_file import save_puppet
from yarn_puppet.core.formats.take_file import save_take
from yarn_puppet.core.model.edits.graph import transition_added
from yarn_puppet.core.model.take import Take
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET, DEMO_TAKE, FIRST_STEPS

ROOT = Path(__file__).parents[2]
PELL, TAKE = shlex.quote(str(FIRST_STEPS)), shlex.quote(str(DEMO_TAKE))
"""For a shell: the tree may lie in a folder of any name."""


def typed(*words: str) -> tuple[int, str, str]:
    """The exit code, output and errors of a command."""
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        code = main(words)
    return code, out.getvalue(), err.getvalue()


DRESSED = DEMO_FOLDER / "tamsin.skin.json"


class Commands(Case):
    def test_check_of_the_demo_finds_nothing(self) -> None:
        self.assertEqual(typed("check", str(FIRST_STEPS)), (0, "0 errors, 0 warnings\n", ""))

    def test_check_exits_with_one_when_there_are_errors(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "it.puppet.json"
            save_puppet(transition_added(demo_puppet(), "idle_state", "walk_state", "move_x != 0")[
                0], path)
            code, out, _ = typed("check", str(path))
        self.assertEqual(code, 1)
        self.assertIn("error: transition Idle → Walk: can never be taken", out)
        self.assertIn("1 error, 0 warnings", out)

    def test_a_damaged_skin_is_an_error_and_never_passed_over(self) -> None:
        for damaged in (b"", b"<<<<<<< ours\n", DRESSED.read_bytes()[:900],
                        b'{"format": 1, "puppet": NaN}'):
            with self.subTest(damaged[:20]), tempfile.TemporaryDirectory() as folder:
                path = Path(folder) / "it.puppet.json"
                save_puppet(demo_puppet(), path)
                (Path(folder) / "worn.skin.json").write_bytes(damaged)
                for words in (("check", "--skin", "all"), ("hand-off", "--out", folder)):
                    code, out, err = typed(words[0], str(path), *words[1:])
                    self.assertNotEqual(code, 0, out)
                    self.assertIn("worn.skin.json", err)

    def test_the_schema_is_json(self) -> None:
        code, out, _ = typed("schema")
        self.assertEqual((code, json.loads(out)["$ref"]), (0, "#/$defs/Puppet"))

    def test_bad_input_is_one_clear_line_and_no_traceback(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            broken = Path(folder) / "broken.puppet.json"
            broken.write_text('{"format": 1, "rate": "fast"}')
            take = Path(folder) / "it.take.json"
            take.write_text('{"booth": "no.booth.json", "rate": 60, "ticks": 3}')
            for words, expected in (
                (("check", str(broken)), "rate: expected `int`, got `str`"),
                (("check", str(Path(folder) / "none.puppet.json")), "cannot be read"),
                (("play", str(FIRST_STEPS), "--take", str(take)),
                 "no.booth.json: booth: expected it in"),
                (("play", str(FIRST_STEPS), "--take", str(DEMO_TAKE), "--trace", "out.txt"),
                 ".jsonl, .csv, .vcd"),
                (("play", str(FIRST_STEPS), "--take", str(DEMO_TAKE), "--trace",
                  f"{folder}/no/t.csv"), "written"),
            ):
                with self.subTest(words[0]):
                    code, out, err = typed(*words)
                    self.assertEqual((code, out, err.count("\n")), (2, "", 1))
                    self.assertIn(expected, err)

    def test_without_a_display_it_says_so_in_one_line_and_names_the_tour(self) -> None:
        with mock.patch.dict(os.environ):
            for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"):
                os.environ.pop(name, None)
            code, _, err = typed("open", str(FIRST_STEPS))
        self.assertEqual((code, err.count("\n")), (2, 1))
        self.assertIn("tour", err)

    def test_no_command_writes_over_what_it_reads_or_over_another_kind_of_file(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            file, take, note = folder / "it.puppet.json", folder / "it.take.json", folder / "note"
            for path, content in ((file, FIRST_STEPS.read_bytes()), (take, DEMO_TAKE.read_bytes()),
                                  (note, b"mine")):
                path.write_bytes(content)
            (folder / "it.svg").symlink_to(file)
            os.link(file, folder / "it.csv")
            (folder / "pipe.vcd").unlink(missing_ok=True)
            os.mkfifo(folder / "pipe.vcd")
            before = {path: path.read_bytes() for path in (file, take, note)}
            for out, words in (
                ("it.puppet.json", ("check", str(file), "--junit")),
                ("it.take.json", ("check", str(file), "--junit")),
                ("note", ("check", str(file), "--junit")),
                ("it.svg", ("picture", str(file), "--out")),
                ("it.csv", ("play", str(file), "--take", str(take), "--trace")),
                ("pipe.vcd", ("play", str(file), "--take", str(take), "--trace")),
            ):
                code, said, wrong = typed(*words, str(folder / out))
                self.assertEqual((code, said, wrong.count("\n")), (2, "", 1), (words, wrong))
                self.assertIn(out, wrong)
            self.assertEqual({path: path.read_bytes() for path in before}, before)
            for out, words in (("it.xml", ("check", str(file), "--junit")),
                               ("it.vcd", ("play", str(file), "--take", str(take), "--trace")),
                               ("other.csv", ("play", str(file), "--take", str(take), "--trace")),
                               ("it.jsonl", ("play", str(file), "--take", str(take), "--trace")),
                               ("it.png", ("picture", str(file), "--out")),
                               ("other.svg", ("picture", str(file), "--out"))):
                # What it wrote itself it writes again.
                for _ in range(2):
                    self.assertEqual(typed(*words, str(folder / out))[0], 0, out)

    def run_as_typed(self, command: str, **named: object) -> subprocess.CompletedProcess[str]:
        """A command line in a shell, `it` standing for the program."""
        program = shlex.join([sys.executable, "-m", "yarn_puppet"])
        return subprocess.run(
            f'it() {{ {program} "$@"; }}; {command}',
            shell=True,
            cwd=ROOT,
            capture_output=True,
            text=True,
            check=False,
            **named,
        )  # type: ignore[call-overload, no-any-return]

    def test_an_output_that_cannot_be_written_is_one_line_and_two(self) -> None:
        for command in (f"it check {PELL} > /dev/full",
                        f"it play {PELL} --take {TAKE} > /dev/full", "it schema > /dev/full"):
            done = self.run_as_typed(command)
            self.assertEqual((done.returncode, done.stderr.count("\n")), (2, 1), done.stderr)
            self.assertIn("the output cannot be written (No space left on device)", done.stderr)
        self.assertEqual(self.run_as_typed(f"it check {PELL} >&-").returncode, 0)
        self.assertEqual(self.run_as_typed("it check nothing 2>&-").returncode, 2)

    def test_a_long_trace_needs_no_more_memory_than_a_short_one(self) -> None:
        run = ("import resource, sys; from yarn_puppet.cli import main; main(sys.argv[1:]); "
               "print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss)")
        with tempfile.TemporaryDirectory() as folder:
            for ending in some_of(("jsonl", "csv", "vcd")):
                used = []
                for ticks in (100, 5000):
                    take = Path(folder) / f"{ticks}.take.json"
                    save_take(Take(None, 60, ticks), take)
                    command = [sys.executable, "-c", run, "play", FIRST_STEPS, "--take", take,
                               "--trace",
                               Path(folder) / f"{ticks}.{ending}"]
                    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True,
                                          check=True)
                    used.append(int(done.stdout))
                # In kilobytes; the longer one is megabytes.
                self.assertLess(used[1] - used[0], 1500, ending)

    def test_a_display_that_is_named_and_not_there_is_said(self) -> None:
        for variables in ({"DISPLAY": ":4321"}, {"DISPLAY": "127.0.0.1:4321"},
                          {"DISPLAY": "nonsense"},
                          {"WAYLAND_DISPLAY": "wayland-77", "XDG_RUNTIME_DIR": "/nowhere"}):
            env = {name: each for name, each in os.environ.items()
                   if name not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")} | variables
            done = self.run_as_typed(f"it open {PELL}", env=env)
            self.assertEqual((done.returncode, done.stdout, done.stderr.count("\n")), (2, "", 1),
                             done.stderr)
            self.assertIn("there is no display", done.stderr)

    def test_a_terminal_of_few_letters(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "光.puppet.json"
            file.write_text("{")
            done = self.run_as_typed(f"it check {shlex.quote(str(file))}", env={
                **os.environ, "PYTHONIOENCODING": "ascii", "LC_ALL": "C", "PYTHONUTF8": "0"})
        self.assertEqual((done.returncode, done.stderr.count("\n")), (2, 1), done.stderr)

    def test_ctrl_c_is_130_and_no_traceback(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            long = Path(folder) / "long.take.json"
            save_take(Take(None, 60, 1_000_000), long)
            command = [sys.executable, "-m", "yarn_puppet", "play", FIRST_STEPS, "--take", long]
            # Who runs the tests may have it ignored, as a shell does for what it runs beside.
            process = subprocess.Popen(command, cwd=ROOT, stdout=subprocess.PIPE,
                                       stderr=subprocess.PIPE, text=True,
                                       preexec_fn=lambda: signal.signal(
                                           signal.SIGINT, signal.SIG_DFL))
            assert process.stdout is not None
            # It is at work.
            self.assertTrue(process.stdout.readline().startswith('{"tick": 0'))
            process.send_signal(signal.SIGINT)
            _, err = process.communicate()
        self.assertEqual((process.returncode, err), (130, ""))

    def test_the_version_a_quiet_check_and_one_for_programs(self) -> None:
        done = self.run_as_typed("it --version")
        project = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
        self.assertEqual(done.stdout, f"yarn-puppet {project['version']}\n")
        self.assertEqual(typed("check", str(FIRST_STEPS), "--quiet"), (0, "", ""))
        code, out, _ = typed("check", str(DEMO_PUPPET), "--json")
        found = json.loads(out)
        self.assertEqual((code, found["snags"], len(found["promises"])), (0, [], 20))
        self.assertEqual({each["kept"] for each in found["promises"]}, {True})

    def test_a_reader_that_stops_early_is_no_error(self) -> None:
        run = shlex.join([sys.executable, "-m", "yarn_puppet", "play", str(FIRST_STEPS), "--take",
                          str(DEMO_TAKE)])
        command = f"{run} | head -n 1"
        done = subprocess.run(command, shell=True, cwd=ROOT, capture_output=True, text=True,
                              check=False)
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertEqual(json.loads(done.stdout)["tick"], 0)
