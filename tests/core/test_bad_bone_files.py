"""Hostile and broken files of bones: a clear message that names the place, never a hang."""

from __future__ import annotations

import json
import os
import struct
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.bone_files import LEG, GltfBuilder, arm
from tests.depth import examples
from tests.helpers import Case
from yarn_puppet.core.formats.bones.reading import load_bones
from yarn_puppet.core.formats.errors import FileProblem

Change = Callable[[GltfBuilder], Any]


def _set(*way: Any) -> Change:
    """Put the last of these at the place that the others lead to."""
    def change(made: GltfBuilder) -> None:
        at: Any = made.json
        for step in way[:-2]:
            at = at[step]
        at[way[-2]] = way[-1]
    return change


def _keys(times: list[float], values: list[Any] | None = None) -> Change:
    """Other keys for the bend of the arm."""
    def change(made: GltfBuilder) -> None:
        sampler = made.json["animations"][0]["samplers"][0]
        sampler["input"] = made.scalars(times)
        sampler["output"] = made.numbers(values or [(0, 0, 0, 1)] * len(times), "VEC4")
    return change


def _many(made: GltfBuilder) -> None:
    made.json["nodes"] += [{} for _ in range(5000)]
    made.json["nodes"][0]["children"] = list(range(4, 5004))


def _says_much(made: GltfBuilder) -> None:
    made.json["accessors"].append({"componentType": 5126, "count": 1 << 30, "type": "VEC4"})
    made.json["animations"][0]["samplers"][0]["output"] = len(made.json["accessors"]) - 1


def _replaced(sparse: list[int]) -> Change:
    def change(made: GltfBuilder) -> None:
        made.json["accessors"][2]["sparse"] = {
            "count": len(sparse),
            "indices": {"bufferView": made.view(struct.pack(f"<{len(sparse)}B", *sparse)),
                        "componentType": 5121},
            "values": {"bufferView": made.view(b"\0" * 12 * len(sparse))}}
    return change


ACCESSOR = ("accessors", 2)
"""The places of the arm's cloth."""
BROKEN: dict[str, tuple[Change, str]] = {
    "no glTF 2": (_set("asset", "version", "1.0"), "asset.version: expected glTF 2.0, found 1.0"),
    "a later one": (_set("asset", "minVersion", "2.1"), "asset.version: expected glTF 2.0"),
    "compressed": (_set("extensionsRequired", ["KHR_draco_mesh_compression"]),
                   "extensionsRequired: needs KHR_draco_mesh_compression"),
    "wrong type": (_set("nodes", 0, "translation", "up"), "nodes[0].translation: expected `array"),
    "two numbers": (_set("nodes", 0, "translation", [1, 2]), "nodes[0].translation: expected"),
    "a negative index": (_set("nodes", 1, "children", [-1]), "nodes[1].children[0]: expected"),
    "a vast one": (_set("nodes", 0, "translation", [0, 1e300, 0]),
                   "nodes[0].translation: holds a number that is not within ±1e+09"),
    "a child that is not there": (_set("nodes", 1, "children", [9]), "there is no node 9"),
    "two parents": (_set("nodes", 2, "children", [1, 0]), "expected one parent"),
    "a circle": (_set("nodes", 0, "children", [2]), "in a circle"),
    "itself": (_set("nodes", 3, "children", [3]), "in a circle"),
    "a turn of zero": (_set("nodes", 0, "rotation", [0, 0, 0, 0]), "nodes[0].rotation: expected a"),
    "shear": (_set("nodes", 0, "matrix", [1, 0, 0, 0, 1, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]),
              "nodes[0].matrix: expected a place, a turn and a size"),
    "no scene": (_set("scene", 4), "scene: there is no scene 4"),
    "a joint that is not there": (_set("skins", 0, "joints", [1, 40, 2]), "there is no node 40"),
    "a joint past the skin's": (_set("skins", 0, "joints", [1]), "there is no joint 1"),
    "too few matrices": (_set("skins", 0, "joints", [1, 0, 2, 3]), "expected 4 matrices, found 3"),
    "no skin of that number": (_set("nodes", 3, "skin", 1), "nodes[3].skin: there is no skin 1"),
    "no mesh of that number": (_set("nodes", 3, "mesh", 7), "nodes[3].mesh: there is no mesh 7"),
    "times that go back": (_keys([0, 1, 0.5]), "key 2 at 0.5 s comes after one at 1 s"),
    "equal times": (_keys([0, 1, 1]), "key 2 at 1 s comes after one at 1 s"),
    "a negative time": (_keys([-1, 1]), "expected times from 0"),
    "a time of no number": (_keys([0, float("nan")]), "holds a number that is not within"),
    "an infinite value": (_keys([0], [(0, 0, 0, float("inf"))]), "that is not within ±1e+09"),
    "a key of no turn": (_keys([0, 1], [(0, 0, 0, 1), (0, 0, 0, 0)]), "key 1 is a quaternion of"),
    "too few values": (_keys([0, 1, 2], [(0, 0, 0, 1)] * 2), "expected 3 values for 3 keys"),
    "two channels for one": (
        lambda made: made.channel(0, 1, "rotation", [0], [(0, 0, 0, 1)]), "a second channel"),
    "no sampler": (_set("animations", 0, "channels", 0, "sampler", 3), "there is no sampler 3"),
    "no node to move": (_set("animations", 0, "channels", 0, "target", "node", 50),
                        "there is no node 50"),
    "a word for a way": (_set("animations", 0, "samplers", 0, "interpolation", "SMOOTH"),
                         "animations[0].samplers[0].interpolation: invalid enum value"),
    "more than there is": (_set(*ACCESSOR, "count", 1 << 20), "needs 12582912 bytes of a buffer"),
    "past the view": (_set(*ACCESSOR, "byteOffset", 4), "accessors[2]: needs 52 bytes"),
    "no such view": (_set(*ACCESSOR, "bufferView", 99), "there is no buffer view 99"),
    "another type": (_set(*ACCESSOR, "type", "VEC2"), "accessors[2].type: expected VEC3"),
    "four billion in a kilobyte": (_says_much, "expected at most 64 million numbers"),
    "past the buffer": (_set("bufferViews", 0, "byteLength", 1 << 20), "ends at byte 1048576 of"),
    "values on each other": (_set("bufferViews", 2, "byteStride", 8), "stand 8 bytes apart"),
    "a vertex that is not there": (_set("meshes", 0, "primitives", 0, "attributes", "POSITION", 0),
                                   "expected VEC3"),
    "replaced past the end": (_replaced([1, 4]), "expected places that grow, below 4"),
    "replaced twice": (_replaced([1, 1]), "expected places that grow"),
    "five thousand bones": (_many, "expected at most 4096 bones, found 5003"),
    "nothing in it": (lambda made: made.json.update(nodes=[], animations=[], skins=[], scenes=[]),
                      "holds no skeleton"),
}


class BadFiles(Case):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)

    def said(self, content: bytes, name: str = "a.glb") -> str:
        """What is said of a file of these bytes."""
        path = self.folder / name
        path.write_bytes(content)
        with self.assertRaises(FileProblem) as caught:
            load_bones(path)
        return str(caught.exception).removeprefix(f"{path}: ")


class Broken(BadFiles):
    def test_each_says_where_and_what(self) -> None:
        for name, (change, expected) in BROKEN.items():
            with self.subTest(name):
                made = arm()
                change(made)
                self.assertIn(expected, self.said(made.glb()))

    def test_one_that_was_cut_off_says_so_wherever_it_was(self) -> None:
        whole = arm().glb()
        for length in (4, 11, 19, 25, len(whole) // 2, len(whole) - 1):
            self.assertRegex(self.said(whole[:length]), "cut off|ends in the middle")

    def test_a_wrong_ending_is_no_hindrance_and_other_files_are_said(self) -> None:
        (self.folder / "arm.gltf").write_bytes(arm().glb())
        (self.folder / "leg.glb").write_text(LEG)
        self.assertEqual(len(load_bones(self.folder / "arm.gltf").skeleton.names), 3)
        self.assertEqual(load_bones(self.folder / "leg.glb").skeleton.names, ("hip", "knee"))
        self.assertIn("expected JSON", self.said(b"\x89PNG\r\n\x1a\n" + bytes(50)))
        self.assertIn("expected JSON", self.said(b""))
        older = {"asset": {"version": "1.0"}, "nodes": {"hip": {}}, "buffers": {"a": {}}}
        self.assertIn("expected glTF 2.0, found 1.0: save it as glTF 2.0",
                      self.said(json.dumps(older).encode()))
        self.assertIn("expected HIERARCHY, found hello", self.said(b"hello", "a.bvh"))
        os.mkfifo(self.folder / "pipe.glb")
        with self.assertRaisesRegex(FileProblem, "expected a file"):
            load_bones(self.folder / "pipe.glb")

    def test_buffers_outside_of_the_folder_are_not_opened(self) -> None:
        secret = self.folder / "secret.bin"
        secret.write_bytes(bytes(arm().bytes))
        inner = self.folder / "inner"
        inner.mkdir()
        (inner / "link.bin").symlink_to(secret)
        for uri in ("../secret.bin", "%2e%2e/secret.bin", str(secret), f"file://{secret}",
                    "http://example.org/a.bin", "//example.org/a.bin", "link.bin", "", "a\0b"):
            made = arm()
            path = inner / "a.gltf"
            path.write_bytes(made.gltf(uri or " "))
            with self.subTest(uri), self.assertRaises(FileProblem) as caught:
                load_bones(path)
            self.assertRegex(str(caught.exception), r"buffers\[0\].uri: |cannot be read")

    def test_data_in_the_text_is_bounded_and_checked(self) -> None:
        made = json.loads(arm().gltf())
        for uri, expected in (("data:;base64,@@@", "expected data in base64"),
                              ("data:text/plain,abc", "expected data in base64"),
                              ("data:;base64,AAAA", "of which 3 are there")):
            made["buffers"][0]["uri"] = uri
            self.assertIn(expected, self.said(json.dumps(made).encode(), "a.gltf"))

    def test_names_in_any_script(self) -> None:
        for name in ("رأس", "頭", "Κεφάλι", "<b>head</b>", "a" * 5000, "\u202e"):
            made = arm()
            made.json["nodes"][0]["name"] = name
            (self.folder / "a.glb").write_bytes(made.glb())
            found = load_bones(self.folder / "a.glb").skeleton.names[2]
            self.assertEqual(found, name[:192])

    @settings(max_examples=examples(150))
    @given(st.data())
    def test_bytes_changed_anywhere_are_read_or_said(self, data: st.DataObject) -> None:
        content = bytearray(arm().glb() if data.draw(st.booleans()) else LEG.encode())
        for _ in range(data.draw(st.integers(1, 6))):
            content[data.draw(st.integers(0, len(content) - 1))] = data.draw(st.integers(0, 255))
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "a.glb"
            path.write_bytes(content)
            try:
                art = load_bones(path)
            except FileProblem as problem:
                self.assertIn(str(path), str(problem))
            else:
                self.assertGreater(len(art.skeleton.names), 0)

    @settings(max_examples=examples(150))
    @given(st.data())
    def test_values_changed_anywhere_are_read_or_said(self, data: st.DataObject) -> None:
        made = arm()
        _change_somewhere(made.json, data)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "a.gltf"
            path.write_bytes(made.gltf())
            try:
                load_bones(path)
            except FileProblem as problem:
                self.assertIn(str(path), str(problem))


def _change_somewhere(value: Any, data: st.DataObject) -> None:
    """Put something else at a random place of a JSON value."""
    others = st.sampled_from([None, -1, 0, 1, 3, 1 << 31, 1 << 40, 0.5, 1e308, "", "VEC3", [], {},
                              [0], True, 5126, 5121])
    while True:
        place = data.draw(st.sampled_from(
            sorted(value) if isinstance(value, dict) else list(range(len(value)))))
        inner = value[place]
        if isinstance(inner, dict | list) and inner and data.draw(st.booleans()):
            value = inner
            continue
        value[place] = data.draw(others)
        return


BROKEN_LEGS = {
    "no root": (("ROOT", "JOINT"), "line 2: JOINT stands outside of a joint"),
    "no brace": (("ROOT hip\n{", "ROOT hip\n"), "line 4: expected {, found OFFSET"),
    "a word for a number": (("OFFSET 0 -40 0", "OFFSET 0 down 0"), "line 8: expected a number"),
    "no number": (("0 90 0 0 0 0 0 0 0", "0 90 0 nan 0 0 0 0 0"), "line 19: expected 9 finite"),
    "too few in a line": (("10 90 0 90", "10 90 90"), "line 20: expected 9 finite numbers"),
    "no count": (("Frames: 3", "Frames: some"), "line 17: expected Frames: and a number"),
    "half a frame": (("Frames: 3", "Frames: 2.5"), "line 17: expected a number of frames"),
    "no time": (("Time: 0.5", "Time: 0"), "line 18: expected a time above zero for each frame"),
    "another channel": (("3 Zrotation", "3 Wrotation"), "expected a position or rotation"),
    "a channel twice": (("3 Zrotation Xrotation", "3 Zrotation Zrotation"), "stands twice"),
    "no motion": (("MOTION", "MOTIONLESS THEN"), "line 16: expected a joint"),
    "an end outside": (("MOTION", "}\nMOTION"), "line 16: expected a joint, found }"),
}


def _with(old: str, new: str) -> Callable[[bytes], bytes]:
    return lambda text: text.replace(old.encode(), new.encode("latin-1"))


def _shouted(text: bytes) -> bytes:
    for word in (b"position", b"rotation", b"Frames", b"Frame Time", b"End Site"):
        text = text.replace(word, word.upper())
    return text


DIALECTS: dict[str, tuple[Callable[[bytes], bytes], tuple[str, ...]]] = {
    "one frame less than said": (_with("Frames: 3", "Frames: 2"),
                                 ("it says 2 frames, and has 3",)),
    "one frame more than said": (_with("Frames: 3", "Frames: 4"),
                                 ("it says 4 frames, and has 3",)),
    "casing": (_shouted, ()),
    "small letters": (lambda text: text.lower(), ()),
    "a space before the colon": (_with("Frames:", "Frames :"), ()),
    "no colon": (_with("Frame Time:", "Frame Time"), ()),
    "no space after it": (_with("Frames: 3", "Frames:3"), ()),
    "a frame over two lines": (_with("0 90 0 0", "0 90 0\n 0"), ()),
    "CR": (_with("\n", "\r"), ()),
    "CR LF": (_with("\n", "\r\n"), ()),
    "empty lines": (_with("\n", "\n\n"), ()),
    "Latin-1": (_with("hip", "h\xfcfte"), ("its names are not UTF-8, and are read as Latin-1",)),
    "a BOM": (lambda text: b"\xef\xbb\xbf" + text, ()),
    "UTF-16": (lambda text: text.decode().encode("utf-16"), ()),
    "commas": (_with("Time: 0.5", "Time: 0,5"), ()),
    "another count of channels": (_with("CHANNELS 3", "CHANNELS 8"),
                                  ("knee has the 3 channels that are named, not 8",)),
    "an end with a name": (_with("End Site", "End Site toe"), ()),
    "braces in a line": (_with("ROOT hip\n{", "ROOT hip {"), ()),
    "a comment": (_with("Frames:", "# from a studio\nFrames:"), ()),
    "set in": (_with("MOTION", " \tMotion "), ()),
    "zeros after the end": (lambda text: text + bytes(40), ()),
    "a frame that is cut off": (lambda text: text.rstrip() + b"\n1 2", (
        "the frame in line 22 is cut off, and left out",)),
    "tabs": (_with(" ", "\t"), ()),
}
LESS: dict[str, tuple[Callable[[bytes], bytes], list[float], str]] = {
    "no motion": (lambda text: text[:text.index(b"MOTION")], [],
                  "it has no MOTION, only how it rests"),
    "no frames": (lambda text: text[:text.index(b"Frames:")] + b"Frames: 0\nFrame Time: 0\n", [],
                  ""),
    "one frame of no time": (
        lambda text: text[:text.index(b"Frames:")]
        + b"Frames: 1\nFrame Time: 0\n0 90 0 0 0 0 0 0 0\n", [0.0], ""),
    "a joint without channels": (
        lambda text: text[:text.index(b"Frames:")].replace(
            b"CHANNELS 3 Zrotation Xrotation Yrotation\n", b"")
        + b"Frames: 2\nFrame Time: 1\n0 90 0 0 0 0\n1 90 0 0 0 0\n", [1.0], ""),
}


class BrokenLegs(BadFiles):
    def test_each_says_where_and_what(self) -> None:
        for name, ((old, new), expected) in BROKEN_LEGS.items():
            with self.subTest(name):
                self.assertIn(old, LEG)
                self.assertIn(expected, self.said(LEG.replace(old, new, 1).encode(), "leg.bvh"))

    def test_what_is_plain_in_another_dialect_is_read_and_what_was_assumed_is_said(self) -> None:
        path = self.folder / "leg.bvh"
        path.write_text(LEG)
        plain = load_bones(path)
        for name, (change, assumed) in DIALECTS.items():
            with self.subTest(name):
                path.write_bytes(change(LEG.encode()))
                found = load_bones(path)
                self.assertEqual(found.assumed, assumed)
                self.assertEqual(found.skeleton.places.tolist(), plain.skeleton.places.tolist())
                self.assertEqual(found.skeleton.tips.keys(), plain.skeleton.tips.keys())
                for own, other in zip(found.clips, plain.clips, strict=True):
                    self.assertEqual([each.values.tolist() for each in own.channels],
                                     [each.values.tolist() for each in other.channels])

    def test_what_is_less_than_a_leg_is_read_as_that(self) -> None:
        for name, (change, clips, assumed) in LESS.items():
            with self.subTest(name):
                (self.folder / "leg.bvh").write_bytes(change(LEG.encode()))
                found = load_bones(self.folder / "leg.bvh")
                self.assertEqual([clip.seconds for clip in found.clips], clips)
                self.assertIn(assumed, found.assumed or ("",))

    def test_deep_ones_are_read(self) -> None:
        deep = 3000
        text = ("HIERARCHY\n" + "".join(
            f"{'JOINT' if number else 'ROOT'} j{number}\n{{\nOFFSET 0 0.001 0\nCHANNELS 0\n"
            for number in range(deep)) + "}\n" * deep + "MOTION\nFrames: 1\nFrame Time: 1\n\n")
        text = text.replace("CHANNELS 0", "CHANNELS 1 Xrotation", 1) + "90\n"
        (self.folder / "deep.bvh").write_text(text)
        self.assertEqual(len(load_bones(self.folder / "deep.bvh").skeleton.names), deep)
