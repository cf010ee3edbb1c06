"""Files: what is saved is what is loaded, and what is malformed is said plainly."""

from __future__ import annotations

import json
import random
import tempfile
from pathlib import Path
from typing import Any

import msgspec
from hypothesis import given
from hypothesis import strategies as some
from PIL import Image

from tests import strategies
from tests.depth import EVERY_CASE, some_of
from tests.helpers import Case, demo_puppet
from yarn_puppet.core.formats.booth_file import find_booth, load_booth, save_booth
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.puppet_file import (
    load_puppet,
    puppet_bytes,
    puppet_from,
    puppet_schema,
    save_puppet,
)
from yarn_puppet.core.formats.take_file import load_take, save_take
from yarn_puppet.core.formats.writing import plain
from yarn_puppet.core.model.edits.frames.frames import frame_changed
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.take import Take
from yarn_puppet.core.takes.controls import Controls, controls_of
from yarn_puppet.core.takes.recording import take_of
from yarn_puppet.demo import DEMO_BOOTH, DEMO_FOLDER, DEMO_PUPPET, DEMO_TAKE, FIRST_STEPS
from yarn_puppet.demo.make.__main__ import draw_sheet
from yarn_puppet.demo.make.booths import CANAL, GARDENS, canal_steps, roof_gardens
from yarn_puppet.demo.make.lamplighter import first_steps, with_marks
from yarn_puppet.demo.make.lamplighter_in_the_world import SHEET as WORLD_SHEET
from yarn_puppet.demo.make.lamplighter_in_the_world import in_the_world
from yarn_puppet.demo.make.rooftop import rooftop
from yarn_puppet.demo.make.takes import takes


def pells_sheets() -> tuple[Image.Image, Image.Image]:
    """All of Pell as his script draws him; where few cases are run, as he ships: `test_demo_art`
    draws some of him in either."""
    if EVERY_CASE:
        return draw_sheet(), draw_sheet(of_the_world=True)
    return (Image.open(DEMO_FOLDER / "lamplighter.png"),
            Image.open(DEMO_FOLDER / f"{WORLD_SHEET}.png"))


class RoundTrips(Case):
    @given(strategies.puppets())
    def test_a_loaded_puppet_is_the_saved_one(self, puppet: Puppet) -> None:
        raw = puppet_bytes(puppet)
        self.assertEqual(puppet_from(raw), puppet)
        self.assertEqual(puppet_bytes(puppet_from(raw)), raw)

    @given(
        some.lists(
            some.tuples(
                some.sets(some.sampled_from(["left", "attack", "jump"])),
                some.sampled_from([(), (("speed", 2.0),), (("grounded", False), ("speed", 1.0))]),
            ),
            max_size=40,
        )
    )
    def test_a_take_gives_back_the_controls_of_every_tick(
        self, ticks: list[tuple[set[str], Any]]
    ) -> None:
        controls = [Controls(frozenset(down), forced) for down, forced in ticks]
        take = take_of(controls, None, 60)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "it.take.json"
            save_take(take, path)
            again = load_take(path)
        self.assertEqual(again, take)
        self.assertEqual([(each.down, dict(each.forced)) for each in controls_of(again)],
                         [(control.down, dict(control.forced)) for control in controls])

    def test_the_demo_as_it_ships_is_what_its_script_makes(self) -> None:
        sheet, of_the_world = pells_sheets()
        self.assertEqual(FIRST_STEPS.read_bytes(), puppet_bytes(with_marks(first_steps(), sheet)))
        self.assertEqual(DEMO_PUPPET.read_bytes(), puppet_bytes(
            with_marks(with_marks(in_the_world(), sheet), of_the_world, WORLD_SHEET)))
        for name, world in ((DEMO_BOOTH, rooftop()), (CANAL, canal_steps()),
                            (GARDENS, roof_gardens())):
            self.assertEqual(load_booth(DEMO_FOLDER / name), world)
        for name, take in takes().items():
            self.assertEqual(load_take(DEMO_FOLDER / name), take)

    def test_a_booth_is_the_saved_one(self) -> None:
        world = load_booth(DEMO_FOLDER / DEMO_BOOTH)
        with tempfile.TemporaryDirectory() as folder:
            save_booth(world, Path(folder) / "it.booth.json")
            self.assertEqual(load_booth(Path(folder) / "it.booth.json"), world)


class Layout(Case):
    def test_one_frame_transition_or_event_a_line(self) -> None:
        puppet = demo_puppet()
        lines = puppet_bytes(puppet).decode().splitlines()
        for clip in puppet.clips:
            for entry in (*clip.frames, *clip.events):
                whole = msgspec.json.encode(plain(entry)).decode()
                self.assertTrue(any(line.strip().rstrip(",") == whole for line in lines), whole)
        for transition in puppet.transitions:
            self.assertEqual(sum(f'{{"id":"{transition.id}"' in line for line in lines), 1)
        self.assertEqual(lines[1].strip(), '"format": 1,')
        self.assertEqual(json.loads(FIRST_STEPS.read_text())["name"], "first steps")

    def test_one_changed_duration_is_one_changed_line(self) -> None:
        before = puppet_bytes(demo_puppet()).decode().splitlines()
        after = puppet_bytes(frame_changed(demo_puppet(), "idle", 2,
                                           duration=33.0)).decode().splitlines()
        self.assertEqual(sum(a != b for a, b in zip(before, after, strict=True)), 1)

    def test_the_schema_describes_every_collection(self) -> None:
        schema = json.loads(puppet_schema())
        described = schema["$defs"]["Puppet"]["properties"]
        self.assertEqual(set(described), set(Puppet.__struct_fields__))


def places(value: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """The path of every value inside a JSON value."""
    inner = (
        value.items()
        if isinstance(value, dict)
        else enumerate(value)
        if isinstance(value, list)
        else ()
    )
    return [path, *(found for key, each in inner for found in places(each, (*path, key)))]


def put(value: Any, path: tuple[Any, ...], new: Any) -> Any:
    """A JSON value with another one at a path."""
    if not path:
        return new
    copy = dict(value) if isinstance(value, dict) else list(value)
    copy[path[0]] = put(value[path[0]], path[1:], new)
    return copy


class Malformed(Case):
    """Many files, each made malformed in one way by a dice whose seed is fixed."""

    def malformed(self, dice: random.Random, good: bytes) -> tuple[str, bytes]:
        tree = json.loads(good)
        path = dice.choice([place for place in places(tree) if place])
        kind = dice.choice(["cut", "type", "key", "gone", "twice", "bytes", "number", "circle"])
        if kind == "cut":
            return kind, good[: dice.randrange(len(good) - 2)]
        if kind == "type":
            old = tree
            for step in path:
                old = old[step]
            wrong = [7] if not isinstance(old, list | str) else {"odd": True}
            return kind, json.dumps(put(tree, path, wrong)).encode()
        if kind == "key":
            objects = [place for place in places(tree) if isinstance(self.at(tree, place), dict)]
            where = dice.choice(objects)
            return kind, json.dumps(put(tree, where,
                                        {**self.at(tree, where), "durration": 1})).encode()
        if kind == "gone":
            named = [place for place in places(tree) if place and place[-1] == "id"]
            where = dice.choice(named)[:-1]
            nameless = {key: value for key, value in self.at(tree, where).items() if key != "id"}
            return kind, json.dumps(put(tree, where, nameless)).encode()
        if kind == "twice":
            field = dice.choice(["clips", "states", "transitions", "actions", "senses"])
            return kind, json.dumps({**tree,
                                     field: [*tree[field], dice.choice(tree[field])]}).encode()
        if kind == "bytes":
            spot = dice.randrange(len(good))
            return kind, good[:spot] + b"\xff\xfe" + good[spot:]
        if kind == "number":
            frames = [place for place in places(tree) if place and place[-1] == "duration"]
            wrong = dice.choice([-1, 0, 1e300, "40", None])
            return kind, json.dumps(put(tree, dice.choice(frames), wrong)).encode()
        groups = [{**group, "group": tree["groups"][(n + 1) % len(tree["groups"])]["id"]}
                  for n, group in enumerate(tree["groups"])]
        return kind, json.dumps({**tree, "groups": groups}).encode()

    def at(self, value: Any, path: tuple[Any, ...]) -> Any:
        for step in path:
            value = value[step]
        return value

    def test_every_one_of_many_gives_a_clear_error(self) -> None:
        dice, good = random.Random(20), puppet_bytes(demo_puppet())
        kinds: dict[str, int] = {}
        for number in some_of(range(500)):
            kind, raw = self.malformed(dice, good)
            with self.subTest(number=number, kind=kind), self.assertRaises(FileProblem) as caught:
                puppet_from(raw, "it.puppet.json")
            error = caught.exception
            kinds[kind] = kinds.get(kind, 0) + 1
            self.assertTrue(str(error).startswith("it.puppet.json: "))
            self.assertRegex(error.expected, "expected|missing|unknown")
            self.assertTrue(error.place or kind == "bytes", f"{kind} says where: {error}")
        self.assertEqual(len(kinds), 8)

    def test_the_place_is_named(self) -> None:
        tree = json.loads(puppet_bytes(demo_puppet()))
        tree["clips"][4]["frames"][1]["duration"] = "long"
        with self.assertRaises(FileProblem) as caught:
            puppet_from(json.dumps(tree).encode(), "it")
        self.assertEqual(caught.exception.place, "clips[4].frames[1].duration")
        with self.assertRaises(FileProblem) as caught:
            puppet_from(b'{\n "format": 1,\n "name" "x"}', "it")
        self.assertEqual(caught.exception.place, "line 3, column 9")

    def test_no_path_of_a_puppet_holds_what_no_system_can_open(self) -> None:
        for file, key in ((DEMO_PUPPET, "sheets"),
                          (DEMO_FOLDER / "harrow.puppet.json", "bone_files")):
            text = json.loads(file.read_bytes())
            text[key][0]["path"] = "a\0b.png"
            with self.assertRaises(FileProblem) as caught:
                puppet_from(json.dumps(text).encode(), file)
            self.assertEqual((caught.exception.place, caught.exception.expected),
                             (f"{key}[0].path", "expected a path without NUL in it"))

    def test_files_that_cannot_be_read_at_all(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            (folder / "empty.puppet.json").write_bytes(b"")
            (folder / "deep.puppet.json").write_bytes(b"[" * 100_000)
            (folder / "two.puppet.json").write_bytes(b'{"format": 2}')
            for path in (folder, folder / "none.puppet.json", folder / "empty.puppet.json",
                         folder / "deep.puppet.json", folder / "two.puppet.json"):
                with self.subTest(path.name), self.assertRaises(FileProblem):
                    load_puppet(path)

    def test_takes_and_booths_too(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            path = Path(name) / "it.take.json"
            for text in (
                b'{"booth": null, "rate": 60}',
                b'{"booth": null, "rate": 60, "ticks": 5, "controls": [[9, "a", 1]]}',
                b'{"booth": null, "rate": 60, "ticks": 5, "controls": [[1, "a", 2]]}',
            ):
                path.write_bytes(text)
                with self.subTest(text), self.assertRaises(FileProblem):
                    load_take(path)
            path.write_bytes(b'{"name": "x", "rows": ["#@"], "start_x": 0, "start_y": 0}')
            with self.assertRaises(FileProblem):
                load_booth(path)

    def test_a_take_may_not_name_a_booth_outside_its_folders(self) -> None:
        for name in ("../rooftop.booth.json", "/etc/passwd", "rooftop.booth", "a/b.booth.json", ""):
            with self.subTest(name), self.assertRaises(FileProblem):
                find_booth(name, (DEMO_FOLDER,))
        self.assertEqual(find_booth(DEMO_BOOTH, (Path("/nowhere"), DEMO_FOLDER)).name, "Rooftop")


class Writing(Case):
    def test_a_failed_write_leaves_the_old_file_and_no_other(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            target = folder / "it.puppet.json"
            target.mkdir()
            with self.assertRaises(FileProblem):
                save_puppet(demo_puppet(), target)
            self.assertEqual([each.name for each in folder.iterdir()], ["it.puppet.json"])
            with self.assertRaises(FileProblem):
                save_puppet(demo_puppet(), folder / "no" / "folder.puppet.json")

    def test_saving_over_a_file_keeps_its_permissions(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            path = Path(name) / "it.puppet.json"
            path.write_text("old")
            path.chmod(0o640)
            save_puppet(demo_puppet(), path)
            self.assertEqual(path.stat().st_mode & 0o777, 0o640)
            self.assertEqual(load_puppet(path), demo_puppet())

    def test_the_keys_of_a_take_stand_in_their_order(self) -> None:
        tree = json.loads(DEMO_TAKE.read_text())
        self.assertEqual(list(tree),
                         ["format", "booth", "rate", "ticks", "controls", "senses", "promises",
                          "puppet"])
        self.assertEqual(load_take(DEMO_TAKE), msgspec.convert(tree, Take))
