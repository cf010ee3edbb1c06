"""Traces as waves, pictures that move: what is written can be read back, and says what was run."""

from __future__ import annotations

import io
import tempfile
from pathlib import Path
from typing import Any

from hypothesis import given
from hypothesis import strategies as some
from PIL import Image

from tests.core.test_commands import typed
from tests.helpers import Case, demo_setup, run
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.pictures.moving_picture import save_moving, ticks_shown
from yarn_puppet.core.formats.vcd_file import write_vcd
from yarn_puppet.core.takes.trace import trace_lines
from yarn_puppet.demo import DEMO_TAKE, FIRST_STEPS


def read_waves(text: str) -> tuple[dict[str, str], list[tuple[int, dict[str, Any]]]]:
    """A reader of value change dumps of its own: variables as "scope.name" and their kinds; and at each time everything
    that has a value, events only where they happen."""
    words = iter(text.split())
    kinds: dict[str, str] = {}
    names: dict[str, str] = {}
    scope = ""
    for word in words:
        if word == "$scope":
            next(words)
            scope = next(words)
        elif word == "$var":
            kind, _, sign, name = (next(words) for _ in range(4))
            assert sign not in names
            names[sign], kinds[f"{scope}.{name}"] = f"{scope}.{name}", kind
        elif word == "$enddefinitions":
            break
    next(words)
    now: dict[str, Any] = {}
    found: list[tuple[int, dict[str, Any]]] = []
    for word in words:
        if word.startswith("#"):
            found.append((int(word[1:]), {}))
        elif word.startswith("$"):
            continue
        elif word.startswith("r"):
            now[names[next(words)]] = float(word[1:])
        elif kinds[names[word[1:]]] == "event":
            found[-1][1][names[word[1:]]] = True
            continue
        else:
            now[names[word[1:]]] = word[0] == "1"
        found[-1] = (found[-1][0], {**now, **{key: True for key, _ in found[-1][1].items() if kinds[key] == "event"}})
    return kinds, found


class Waves(Case):
    def test_what_is_read_back_is_what_was_run(self) -> None:
        records = run(demo_setup(), [(20, 128, "right"), (132, 137, "attack"), (150, 160, "jump")], 240)
        lines = list(trace_lines(records))
        out = io.StringIO()
        write_vcd(iter(lines), 60, out)
        kinds, found = read_waves(out.getvalue())
        self.assertEqual(set(kinds.values()), {"wire", "real", "event"})
        times = [at for at, _ in found]
        self.assertEqual((times, times[-1]), (sorted(set(times)), 4_000_000))
        by_time = dict(found)
        told: dict[str, Any] = {}
        for number, line in enumerate(lines):
            told = by_time.get(number * 1_000_000 // 60, {key: each for key, each in told.items()
                                                          if kinds[key] != "event"})
            active = [key for key, on in told.items() if key.startswith("body.") and on is True]
            self.assertEqual(active, [f"body.{line['layers']['body']['state'].replace(' ', '_')}"])
            self.assertAlmostEqual(told["booth.x"], line["booth"]["x"], places=9)
            self.assertAlmostEqual(told["senses.speed"], line["senses"]["speed"], places=9)
            self.assertEqual(told["senses.grounded"], line["senses"]["grounded"])
            moments = {f"moments.{each['name'].replace(' ', '_')}" for each in line["moments"]}
            self.assertEqual({key for key in told if key.startswith("moments.")}, moments)

    def test_hundreds_of_names_of_any_script_each_have_a_sign(self) -> None:
        base = {"layers": {}, "facing": "right", "memos": {}, "armed": [], "used": [], "moments": [], "windows": [],
                "rules": {}, "taken": []}
        out = io.StringIO()
        write_vcd([{**base, "senses": {f"sense {number} é$": number for number in range(400)}}], 60, out)
        kinds, found = read_waves(out.getvalue())
        self.assertEqual((len(kinds), found[0][1]["senses.sense_7__"]), (401, 7.0))

    def test_by_the_command(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            out = Path(folder) / "out.vcd"
            self.assertEqual(typed("play", str(FIRST_STEPS), "--take", str(DEMO_TAKE), "--trace", str(out))[0], 0)
            self.assertTrue(out.read_text().startswith("$comment"))


class Moving(Case):
    @given(some.integers(1, 400), some.sampled_from([10, 30, 60, 120, 240, 1000]),
           some.sampled_from([".gif", ".png"]))
    def test_the_time_shown_is_the_time_played(self, ticks: int, rate: int, suffix: str) -> None:
        shown = ticks_shown(ticks, rate, suffix)
        step = 10.0 if suffix == ".gif" else 1.0
        self.assertEqual(shown[0][0], 0)
        self.assertTrue(all(lasts >= step for _, lasts in shown))
        self.assertLessEqual(abs(sum(lasts for _, lasts in shown) - ticks * 1000 / rate), step)
        self.assertEqual([tick for tick, _ in shown], sorted({tick for tick, _ in shown}))

    def test_written_and_read(self) -> None:
        pictures = [Image.new("RGB", (8, 6), (number * 20, 90, 10)) for number in range(5)]
        with tempfile.TemporaryDirectory() as folder:
            for name in ("a.gif", "a.png"):
                save_moving(pictures, [50.0] * 5, Path(folder) / name)
                with Image.open(Path(folder) / name) as found:
                    self.assertEqual((found.n_frames, found.size), (5, (8, 6)))
            with self.assertRaises(FileProblem):
                save_moving(pictures, [50.0] * 5, Path(folder) / "a.bmp")
            with self.assertRaises(FileProblem):
                save_moving([], [], Path(folder) / "a.gif")
