"""What a game is told of frames, in every language, beside the clip itself: pictures, boxes,
anchors, moments."""

from __future__ import annotations

import json
import re
import shutil
import subprocess
import tempfile
import unittest
from collections.abc import Iterator
from pathlib import Path
from types import ModuleType, SimpleNamespace
from typing import Any

from msgspec.structs import replace

from tests.c_engine import FLAGS
from tests.depth import SANITIZED, SANITIZED_WITH_EVERY_CASE
from tests.helpers import Case as TestCase
from tests.helpers import clip, demo_puppet, puppet_of
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.generate.flat import flat
from yarn_puppet.core.handoff.art import files_beside
from yarn_puppet.core.handoff.files import HandOff, hand_off
from yarn_puppet.core.model.clips import Anchor, AnchorPoint, Box, Clip, Point
from yarn_puppet.core.model.events import Argument, Moment, Rule, Window
from yarn_puppet.core.model.graph import State
from yarn_puppet.core.model.mover import Mover
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.game.puppets import imported

TO_THE_LEFT, TO_THE_RIGHT = (3, 4, 5), (0, 1, 7)
"""Facings by their numbers: right, up right, up, up left, left, down left, down, down right."""


def odd_puppet() -> Puppet:
    """Art that faces left, mirrored cells, boxes with and without names, halves of pixels, and a
    prop."""
    frames = []
    for number, frame in enumerate(clip("c", [50] * 4).frames):
        boxes = [Box("hit", 3, 4.5, 10, 6), Box("hit", 40.5, 4, 7, 6, "pole"),
                 Box("body", 30, 10, 20, 50),
                 Box("body", 30, 30, 20, 30, "low")]
        frames.append(replace(
            frame, mirrored=bool(number % 2), pivot=Point(41 + number, 60.5),
            boxes=tuple(boxes[: 4 - number]),
            anchors=(AnchorPoint("tip", 7.25, 9),) if number else ()))
    moments = [
        Moment("m", 10, "call", "ring", arguments=(Argument("__proto__", 3), Argument("loud", True),
                                                   Argument("how", 'so "‽" \\'),
                                                   Argument("far", 0.1))),
        Moment("e", 20, "effect", "dust", anchor="tip", clip="right", round=True, under=True),
    ]
    windows = [Window("w", 0, 200, "hit", "pole", damage=4, push=-2.5, hit_stop=6),
               Window("v", 0, 200, "hit", "other", rules=(Rule("box", box="low"),))]
    clips = [Clip("left", "left", tuple(frames), faces="left", moments=tuple(moments),
                  windows=tuple(windows)),
             Clip("right", "right", tuple(frames))]
    rules = (Rule("box", box="low"), Rule("box", box="nowhere"),
             Rule("tint", 0.5, colour="#a02030"),
             Rule("prop", anchor="tip", shows="lamp.png", under=True))
    return replace(puppet_of(clips,
                             [State("s", "s", clip="left", rules=rules),
                              State("t", "t", clip="right")]),
                   anchors=(Anchor("tip", "tip"), Anchor("other", "other")),
                   mover=Mover(art_scale=1.5))


def wanted(puppet: Puppet) -> Iterator[str]:
    """What of every frame, in every facing, as the clip itself says it."""
    program = compile_puppet(puppet)
    made = flat(program)
    wishes = [""] + [rule.text for _, rule in made.rules if rule.kind == "box"]
    for compiled in made.clips:
        shown = puppet.clip(compiled.id)
        assert shown is not None
        for number in range(len(shown.frames)):
            for facing in range(8):
                other = TO_THE_RIGHT if shown.faces == "left" else TO_THE_LEFT
                yield from _of_frame(puppet, shown, number, facing in other, wishes, [
                    window.name for window in compiled.windows if window.kind == "hit"])


def _of_frame(
    puppet: Puppet, shown: Clip, number: int, turned: bool, wishes: list[str], windows: list[str]
) -> Iterator[str]:
    frame, pivot = shown.frames[number], shown.pivot_of(number)

    def box(x: float, y: float, width: float, height: float) -> str:
        left = pivot.x - x - width if turned else x - pivot.x
        sides = (left, y - pivot.y, width, height)
        return ",".join(f"{puppet.mover.art_scale * side:.3f}" for side in sides)

    cell = frame.cell
    yield (f"picture {cell.x},{cell.y} {box(0, 0, cell.width, cell.height)} "
           f"{int(turned != frame.mirrored)}")
    for anchor in puppet.anchors:
        point = shown.anchor_at(number, anchor.id)
        if point is None:
            yield "anchor none"
        else:
            across = pivot.x - point.x if turned else point.x - pivot.x
            scale = puppet.mover.art_scale
            yield f"anchor {across * scale:.3f},{(point.y - pivot.y) * scale:.3f}"
    for name in windows:
        yield " ".join(["hit", *(box(each.x, each.y, each.width, each.height)
                                 for each in frame.boxes
                                 if each.kind == "hit" and each.name in ("", name))])
    for wish in wishes:
        bodies = [each for each in frame.boxes if each.kind == "body"]
        those = [body for body in bodies if body.name == wish] or [
            body for body in bodies if not body.name
        ]
        yield " ".join(["body", *(box(each.x, each.y, each.width, each.height) for each in those)])


def frames_in_python(module: ModuleType) -> Iterator[str]:
    """The same as the Python that a game gets says it."""
    program = module.PROGRAM
    rules = [None] + [rule for made in (flat(program),)
                      for _, rule in made.rules if rule.kind == "box"]

    def boxes(kind: str, found: list[tuple[float, ...]]) -> str:
        return " ".join([kind, *(",".join(f"{each:.3f}" for each in box) for box in found)])

    for id, compiled in program.clips.items():
        for number in range(len(module.FRAMES[id])):
            for facing in ("right", "up right", "up", "up left", "left", "down left", "down",
                           "down right"):
                _, _, (x, y, wide, high), corner, flipped, scale = module.picture_of(
                    id, number, facing)
                yield (
                    f"picture {x},{y} {corner[0]:.3f},{corner[1]:.3f},{wide * scale:.3f},"
                    f"{high * scale:.3f} "
                    f"{int(flipped)}"
                )
                for anchor in module.ANCHORS.values():
                    at = module.anchor_of(id, number, facing, anchor)
                    yield "anchor none" if at is None else f"anchor {at[0]:.3f},{at[1]:.3f}"
                for window in compiled.windows:
                    if window.kind == "hit":
                        seen = SimpleNamespace(layers=[], facing=facing)
                        yield boxes("hit", module.hit_boxes(
                            seen, module.Open("body", id, number, False, window)))
                for rule in rules:
                    layer = SimpleNamespace(layer="body", clip=id, frame=number)
                    force = [module.InForce("s", rule, 0)] if rule is not None else []
                    report = SimpleNamespace(layers=[layer], facing=facing, windows=[], rules=force)
                    yield boxes("body", module.body_boxes(report, "body"))


class HandedFrames(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def said(self, made: HandOff, *command: str) -> list[str]:
        for name, content in made.files.items():
            (self.folder / name).write_bytes(content)
        done = subprocess.run(command, cwd=self.folder, capture_output=True, text=True, check=False)
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        # Zero of either sign is the same place.
        return re.sub(r"-(0\.000)\b", r"\1", done.stdout).splitlines()

    @staticmethod
    def wanted(puppet: Puppet) -> list[str]:
        return [re.sub(r"-(0\.000)\b", r"\1", each) for each in wanted(puppet)]

    def places(self, puppet: Puppet) -> dict[str, Any]:
        made = flat(compile_puppet(puppet))
        windows, first = [], 0
        for each in made.clips:
            windows.append([first + index
                            for index, window in enumerate(each.windows) if window.kind == "hit"])
            first += len(each.windows)
        counts = [len(shown.frames) for each in made.clips if (shown := puppet.clip(each.id))]
        return {"frames": counts, "windows": windows, "anchors": [len(puppet.anchors)],
                "rules": [-1] + [index for index, (_, rule) in enumerate(made.rules)
                                 if rule.kind == "box"]}

    def test_python_says_of_frames_what_the_clips_say(self) -> None:
        for puppet in (odd_puppet(), demo_puppet()):
            module = imported(hand_off(puppet, ["python"], "it").files["it.py"])
            self.assertEqual([re.sub(r"-(0\.000)\b", r"\1", each)
                              for each in frames_in_python(module)],
                             self.wanted(puppet))

    @unittest.skipUnless(shutil.which("node"), "no JavaScript is installed")
    def test_javascript_says_of_frames_what_the_clips_say(self) -> None:
        for puppet in (odd_puppet(), demo_puppet()):
            (self.folder / "game.mjs").write_text(
                GAME_JS.replace("@PLACES@", json.dumps(self.places(puppet))))
            (self.folder / "package.json").write_text('{"type": "module"}')
            self.assertEqual(self.said(hand_off(puppet, ["javascript"], "it"), "node", "game.mjs"),
                             self.wanted(puppet))

    @unittest.skipUnless(shutil.which("gcc"), "no compiler is installed")
    def test_c_says_of_frames_what_the_clips_say(self) -> None:
        for puppet, sanitized in ((odd_puppet(), SANITIZED),
                                  (demo_puppet(), SANITIZED_WITH_EVERY_CASE)):
            places = self.places(puppet)
            windows = "\n".join(
                f"if (clip == {clip}) {{ hits(clip, frame, facing, {window}); }}"
                for clip, each in enumerate(places["windows"]) for window in each)
            (self.folder / "game.c").write_text(
                GAME_C.replace("@COUNTS@", ", ".join(map(str, places["frames"])))
                .replace("@RULES@", ", ".join(map(str, places["rules"])))
                .replace("@ANCHORS@", str(places["anchors"][0])).replace("@WINDOWS@", windows))
            made = hand_off(puppet, ["c"], "it")
            for name, content in made.files.items():
                (self.folder / name).write_bytes(content)
            done = subprocess.run(["gcc", *FLAGS, "-O0", *sanitized, "-o", "game", "game.c",
                                   "it.c", "-lm"],
                                  cwd=self.folder, capture_output=True, text=True, check=False)
            self.assertEqual((done.returncode, done.stderr), (0, ""))
            self.assertEqual(self.said(made, "./game"), self.wanted(puppet))

    @unittest.skipUnless(shutil.which("node"), "no JavaScript is installed")
    def test_moments_windows_and_rules_are_said_with_what_they_say(self) -> None:
        (self.folder / "package.json").write_text('{"type": "module"}')
        (self.folder / "game.mjs").write_text(
            "import * as it from './it.js';\n"
            "const {Moment, Anchor, Clip} = it;\n"
            "console.log(JSON.stringify([it.MOMENT_INFOS, it.WINDOW_INFOS, it.RULE_INFOS, Moment, "
            "Anchor, Clip]));\n"
            "try { it.State.S = 3; console.log('changed'); } catch { console.log('frozen'); }\n"
        )
        made = hand_off(odd_puppet(), ["javascript"], "it")
        lines = self.said(made, "node", "game.mjs")
        moments, windows, rules, words, anchors, clips = json.loads(lines[0])
        self.assertEqual(lines[1], "frozen")
        self.assertEqual(moments[words["LEFT_RING"]]["arguments"], [
            {"name": "__proto__", "value": 3}, {"name": "loud", "value": True},
            {"name": "how", "value": 'so "‽" \\'},
            {"name": "far", "value": 0.1}])
        dust = moments[words["LEFT_DUST"]]
        self.assertEqual((dust["anchor"], dust["clip"], dust["round"], dust["under"]),
                         (anchors["TIP"], clips["RIGHT"], True, True))
        self.assertEqual(windows[0],
                         {"kind": "hit", "name": "pole", "damage": 4, "push": -2.5, "hitStop": 6})
        self.assertIn({"kind": "tint", "value": 0.5, "text": "#A02030", "anchor": -1, "picture": "",
                       "clip": -1,
                       "round": False, "under": False},
                       [rule | {"text": rule["text"].upper()} for rule in rules])
        self.assertIn(("prop", anchors["TIP"], "lamp.png", True),
                      [(rule["kind"], rule["anchor"], rule["picture"], rule["under"])
                       for rule in rules])
        types = made.files["it.d.ts"].decode()
        for word in ("export function hitBoxes(report: Report, open: Open): Box[];",
                     '  readonly "LEFT_RING": 0;'):
            self.assertIn(word, types)

    def test_every_word_of_the_module_is_in_its_types(self) -> None:
        made = hand_off(odd_puppet(), ["javascript"], "it")
        module, types = made.files["it.js"].decode(), made.files["it.d.ts"].decode()
        pattern = r"^export (?:function|const) (\w+)"
        found = set(re.findall(pattern, module, re.MULTILINE)) | {"RATE", "SHAPE"}
        self.assertEqual(found, set(re.findall(pattern, types, re.MULTILINE)))

    def test_files_that_moments_and_props_name_go_along_and_never_over_code(self) -> None:
        puppet = odd_puppet()
        named = [replace(each, moments=(Moment("a", 0, "sound", "a", file="it.c"),
                                        Moment("b", 0, "effect", "b", file="puff/b.png"))
                                        if each.id == "left" else ())
                 for each in puppet.clips]
        puppet = replace(puppet, clips=tuple(named), sheets=())
        for name in ("it.c", "lamp.png"):
            (self.folder / name).write_bytes(name.encode())
        (self.folder / "puff").mkdir()
        (self.folder / "puff" / "b.png").write_bytes(b"b")
        made = hand_off(puppet, ["c"], "it", art=self.folder)
        self.assertIn(b"Made by Yarn Puppet", made.files["it.c"])
        self.assertEqual({name: made.files[name]
                          for name in ("files/it.c", "puff/b.png", "lamp.png")},
                         {"files/it.c": b"it.c", "puff/b.png": b"b", "lamp.png": b"lamp.png"})
        for file in ("/dev/zero", "nowhere.wav"):
            spoilt = replace(puppet,
                             clips=(replace(named[0],
                                            moments=(Moment("a", 0, "sound", "a", file=file),)),))
            with self.assertRaisesRegex(FileProblem, "expected a file|cannot be read"):
                files_beside(spoilt, self.folder)
        self.assertIn("it.c", files_beside(puppet, self.folder))


GAME_JS = """import * as it from "./it.js";
const places = @PLACES@;
const many = (word, boxes) => [word, ...boxes.map(
  b => [b.x, b.y, b.width, b.height].map(each => each.toFixed(3)).join(","))].join(" ");
places.frames.forEach((count, clip) => {
  for (let frame = 0; frame < count; frame++) {
    for (let facing = 0; facing < 8; facing++) {
      const p = it.pictureOf(clip, frame, facing);
      console.log(many(`picture ${p.x},${p.y}`, [{x: p.left, y: p.top, width: p.width * p.scale,
        height: p.height * p.scale}])
        + ` ${Number(p.flipped)}`);
      for (let anchor = 0; anchor < places.anchors[0]; anchor++) {
        const point = it.anchorOf(clip, frame, facing, anchor);
        console.log(point ? `anchor ${point.x.toFixed(3)},${point.y.toFixed(3)}` : "anchor none");
      }
      for (const window of places.windows[clip]) {
        console.log(many("hit", it.hitBoxes({layers: [], facing}, {layer: 0, clip, frame, window})));
      }
      for (const rule of places.rules) {
        const rules = rule < 0 ? [] : [{layer: 0, rule, share: 1}];
        console.log(many("body", it.bodyBoxes({layers: [{state: 0, clip, frame}], rules, facing}, 0)));
      }
    }
  }
});
"""  # noqa: E501
GAME_C = """#include "it.h"
#include <stdio.h>

static it_report report;

static void put(const char *word, const it_box *boxes, int32_t count) {
    int32_t at;
    printf("%s", word);
    for (at = 0; at < count; at++) {
        printf(" %.3f,%.3f,%.3f,%.3f", boxes[at].x, boxes[at].y, boxes[at].width, boxes[at].height);
    }
}

static void hits(int32_t clip, int32_t frame, int32_t facing, int32_t window) {
    it_box boxes[8];
    it_open open = {0};
    open.clip = clip;
    open.frame = frame;
    open.window = window;
    report.facing = facing;
    put("hit", boxes, it_hit_boxes(&report, &open, boxes, 8));
    printf("\\n");
}

int main(void) {
    static const int32_t counts[] = {@COUNTS@}, rules[] = {@RULES@};
    int32_t clip, frame, facing, at;
    for (clip = 0; clip < (int32_t)(sizeof counts / sizeof *counts); clip++) {
        for (frame = 0; frame < counts[clip]; frame++) {
            for (facing = 0; facing < 8; facing++) {
                const it_picture picture = it_picture_of(clip, frame, facing);
                it_box boxes[8];
                printf("picture %d,%d", picture.x, picture.y);
                boxes[0].x = picture.left;
                boxes[0].y = picture.top;
                boxes[0].width = picture.width * picture.scale;
                boxes[0].height = picture.height * picture.scale;
                put("", boxes, 1);
                printf(" %d\\n", picture.flipped);
                for (at = 0; at < @ANCHORS@; at++) {
                    double x, y;
                    if (it_anchor_of(clip, frame, facing, at, &x, &y)) printf("anchor %.3f,%.3f\\n", x, y);
                    else printf("anchor none\\n");
                }
                @WINDOWS@
                for (at = 0; at < (int32_t)(sizeof rules / sizeof *rules); at++) {
                    report.layers[0].state = 0;
                    report.layers[0].clip = clip;
                    report.layers[0].frame = frame;
                    report.facing = facing;
                    report.rule_count = rules[at] >= 0;
                    report.rules[0].layer = 0;
                    report.rules[0].rule = rules[at];
                    report.rules[0].share = 1.0;
                    put("body", boxes, it_body_boxes(&report, 0, boxes, 8));
                    printf("\\n");
                }
            }
        }
    }
    return 0;
}
"""  # noqa: E501
