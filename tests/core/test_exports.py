"""Traces as waves, pictures that move: what is written can be read back, and says what was run."""

from __future__ import annotations

import io
import re
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
from yarn_puppet.core.model.kinds.while_rules import REPORTED
from yarn_puppet.core.takes.trace import trace_lines
from yarn_puppet.demo import DEMO_TAKE, FIRST_STEPS

ODD_NAMES = ("光", "影", "火", "wire", "end", "a b", "a_b", "a-b", "$end", "", "1", "senses", "body",  # noqa: E501
             "body clip")
NAME = re.compile(r"[A-Za-z_][A-Za-z0-9_$]*|\\[!-~]+")
"""An identifier of IEEE 1364: simple, or escaped."""
VALUE = re.compile(
    r"(?P<bit>[01])(?P<of>[!-~]+)|r(?P<real>-?(\d+(\.\d*)?|\.\d+)(e[+-]?\d+)?) (?P<its>[!-~]+)"
)


def read_waves(text: str) -> tuple[dict[str, str], list[tuple[int, dict[str, Any]]]]:
    """A strict reader of value change dumps of its own: variables as "scope.name" and their kinds;
    and at each time everything that has a value, events only where they happen. Whatever the
    grammar does not have is refused."""
    head, body = text.split("$enddefinitions $end\n")
    kinds: dict[str, str] = {}
    names: dict[str, str] = {}
    scopes: list[str] = []
    within = ""
    for line in head.splitlines():
        word, *rest, end = line.split()
        assert end == "$end", line
        if word == "$scope":
            kind, within = rest
            assert kind == "module" and NAME.fullmatch(within) and within not in scopes, line
            scopes.append(within)
        elif word == "$upscope":
            within = ""
        elif word == "$var":
            kind, size, sign, name = rest
            assert within and NAME.fullmatch(name) and sign not in names, line
            assert (kind, size) in (("wire", "1"), ("event", "1"), ("real", "64")), line
            assert f"{within}.{name}" not in kinds, line
            names[sign], kinds[f"{within}.{name}"] = f"{within}.{name}", kind
        else:
            assert word in ("$comment", "$timescale"), line
    first, *lines = body.splitlines()
    assert first == "#0" and lines[0] == "$dumpvars", body[:40]
    now: dict[str, Any] = {}
    found: list[tuple[int, dict[str, Any]]] = [(0, {})]
    dumped = None
    for line in lines[1:]:
        if line.startswith("#"):
            assert int(line[1:]) > found[-1][0], line
            found.append((int(line[1:]), dict(now)))
        elif line == "$end":
            assert dumped is None
            # What is dumped at first is everything that has a value.
            dumped = {key for key in now if kinds[key] != "event"}
        else:
            values = VALUE.fullmatch(line)
            assert values is not None, line
            name = names[values["of"] or values["its"]]
            assert (kinds[name] == "real") == (values["real"] is not None), line
            value = float(values["real"]) if values["real"] is not None else values["bit"] == "1"
            found[-1][1][name] = value
            if kinds[name] != "event":
                now[name] = value
    assert dumped == {key for key, kind in kinds.items() if kind != "event"}
    return kinds, found


class Waves(Case):
    def test_what_is_read_back_is_what_was_run(self) -> None:
        records = run(demo_setup(), [(20, 128, "right"), (132, 137, "attack"), (150, 160, "jump")],
                      240)
        lines = list(trace_lines(records))
        out = io.StringIO()
        write_vcd(lambda: iter(lines), 60, out)
        kinds, found = read_waves(out.getvalue())
        self.assertEqual(set(kinds.values()), {"wire", "real", "event"})
        times = [at for at, _ in found]
        self.assertEqual((times, times[-1]), (sorted(set(times)), 4_000_000))
        by_time = dict(found)
        values: dict[str, Any] = {}
        for number, line in enumerate(lines):
            values = by_time.get(number * 1_000_000 // 60,
                                 {key: each for key, each in values.items()
                                                          if kinds[key] != "event"})
            active = [key for key, on in values.items() if key.startswith("body.") and on is True]
            self.assertEqual(active, [f"body.{line['layers']['body']['state'].replace(' ', '_')}"])
            self.assertAlmostEqual(values["booth.x"], line["booth"]["x"], places=9)
            self.assertAlmostEqual(values["senses.speed"], line["senses"]["speed"], places=9)
            self.assertEqual(values["senses.grounded"], line["senses"]["grounded"])
            moments = {f"moments.{each['name'].replace(' ', '_')}" for each in line["moments"]}
            self.assertEqual({key for key in values if key.startswith("moments.")}, moments)

    def test_hundreds_of_names_of_any_script_each_have_a_sign(self) -> None:
        base = {"layers": {}, "facing": "right", "memos": {}, "armed": [], "used": [],
                "moments": [], "windows": [],
                "rules": {}, "taken": []}
        out = io.StringIO()
        write_vcd(lambda: [{**base,
                            "senses": {f"sense {number} é$": number for number in range(400)}}], 60,
                            out)
        kinds, found = read_waves(out.getvalue())
        self.assertEqual((len(kinds), found[0][1]["senses.sense_7_u00E9$"]),
                         (400 + 1 + len(REPORTED), 7.0))

    @given(some.lists(some.one_of(some.sampled_from(ODD_NAMES), some.text(max_size=6)), unique=True,
                      max_size=12))
    def test_whatever_is_in_a_name_it_is_a_name_and_no_other_has_it(self, names: list[str]) -> None:
        out = io.StringIO()
        layers = {name: {"state": name, "clip_time": 0.0, "frame": 0} for name in names}
        write_vcd(lambda: [{"layers": layers, "facing": "right", "memos": dict.fromkeys(names, 1),
                            "armed": names,
                    "senses": {name: name for name in names}, "used": names, "windows": names,
                    "rules": {}, "taken": [],
                    "moments": [{"name": name} for name in names]}], 60, out)
        kinds, found = read_waves(out.getvalue())
        self.assertEqual(len(kinds), len(REPORTED) + 1 + 9 * len(names))
        self.assertEqual(sum(value is True for value in found[0][1].values()), 1 + 6 * len(names))

    def test_what_while_rules_come_to_is_real_where_none_is_in_force(self) -> None:
        records = run(demo_setup(), [(10, 30, "guard")], 60)
        lines = list(trace_lines(records))
        out = io.StringIO()
        write_vcd(lambda: iter(lines), 60, out)
        _, found = read_waves(out.getvalue())
        values = dict(found)
        now: dict[str, Any] = {}
        for number, record in enumerate(records):
            now = values.get(number * 1_000_000 // 60, now)
            for rule in ("move_speed", "gravity", "jump_height"):
                self.assertEqual(now[f"rules.{rule}"], getattr(record.report, rule), (number, rule))

    def test_by_the_command(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            out = Path(folder) / "out.vcd"
            self.assertEqual(typed("play", str(FIRST_STEPS), "--take", str(DEMO_TAKE), "--trace",
                                   str(out))[0], 0)
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
