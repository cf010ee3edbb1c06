"""What a game gets of bones: its samplers make the poses that the desk makes, from the files
alone."""

from __future__ import annotations

import importlib.util
import json
import shutil
import subprocess
import sys
import tempfile
import unittest
from collections.abc import Iterator
from pathlib import Path
from types import ModuleType
from typing import Any

import numpy as np
from msgspec.structs import replace

from tests import khronos
from tests.browser import browser
from tests.browser_page import opened, served
from tests.core.test_bone_puppets import ARTS, HARROW, named
from tests.helpers import Case, demo_world, run
from yarn_puppet.core.formats.bones.gltf_writing import save_gltf
from yarn_puppet.core.formats.bones.puppet_bones import bones_of
from yarn_puppet.core.formats.bones.reading import load_bones
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.formats.take_file import load_take, takes_of
from yarn_puppet.core.handoff.files import hand_off, write_changed
from yarn_puppet.core.model.bones import Channel
from yarn_puppet.core.model.edits import motions as edits
from yarn_puppet.core.model.motions import BoneWeight, ReferencePose
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.pose.bones.clip_poses import ClipPoses
from yarn_puppet.core.pose.bones.figure_poses import FigurePoses
from yarn_puppet.core.pose.bones.in_hand import anchor_matrix
from yarn_puppet.core.pose.bones.world_pose import in_world
from yarn_puppet.core.takes.run import Record, replay, set_up
from yarn_puppet.demo import DEMO_FOLDER

ROOT = Path(__file__).parents[2]
CLOSE = 1e-5
"""Metres."""
WITH_NODE = """
import {readFileSync} from "node:fs";
const [folder, name] = process.argv.slice(2);
const puppet = await import(`${folder}/${name}.js`);
const {Bones, Poser} = await import(`${folder}/yarn_bones.js`);
const glb = readFileSync(`${folder}/${name}.bones.glb`);
const bones = new Bones(JSON.parse(readFileSync(`${folder}/${name}.bones.json`)),
  glb.buffer.slice(glb.byteOffset, glb.byteOffset + glb.byteLength));
const runs = JSON.parse(readFileSync(`${folder}/runs.json`)), found = [];
for (const run of runs) {
  const character = puppet.start(), poser = new Poser(bones), ticks = [];
  for (const inputs of run) {
    const report = puppet.tick(character, inputs), earlier = poser.copied();
    const pose = poser.pose(report);
    // Told again after a roll back, it is the same.
    const again = earlier.pose(report);
    if (JSON.stringify(again) !== JSON.stringify(pose)) throw new Error("not the same again");
    const world = bones.world(pose), anchors = poser.anchors(pose);
    ticks.push([...world, ...anchors].map(matrix => [matrix[3], matrix[7], matrix[11]]));
  }
  found.push(ticks);
}
console.log(JSON.stringify(found));
"""

PRINTED = """
#include <stdio.h>
#include "warden_bones.h"
static void row(const double *values, int count) {
    for (int at = 0; at < count; at++) printf(" %.17g", values[at]);
    printf("%c\\n", 0);
}
int main(void) {
    for (int at = 0; at < WARDEN_BONES; at++)
        printf("%s %d %d%c\\n", warden_bones[at].name, warden_bones[at].parent,
               warden_bones[at].node, 0);
    for (int clip = 0; clip < (int)(sizeof warden_motions / sizeof *warden_motions); clip++) {
        const warden_motion *is = &warden_motions[clip];
        double times[3] = {is->start, is->end, is->speed};
        printf("%s", is->animation);
        row(times, 3);
        for (int key = is->first_key; key < is->first_key + is->keys; key++) {
            printf("%d %.17g", warden_bone_keys[key].bone, warden_bone_keys[key].at);
            row(warden_bone_keys[key].turn, 4);
        }
    }
    for (int layer = 0; layer < WARDEN_LAYERS; layer++) {
        printf("%d %d", warden_bone_layers[layer].adds, warden_bone_layers[layer].reference);
        row(warden_bone_layers[layer].mask, WARDEN_BONES);
    }
    row(warden_momentum, (int)(sizeof warden_momentum / sizeof *warden_momentum));
    for (int at = 0; at < (int)(sizeof warden_bone_anchors / sizeof *warden_bone_anchors); at++) {
        printf("%d %.17g", warden_bone_anchors[at].bone, warden_bone_anchors[at].size);
        row(warden_bone_anchors[at].place, 3);
        row(warden_bone_anchors[at].turn, 4);
    }
    for (int at = 0; at < WARDEN_BONE_BOXES; at++) {
        printf("%d %s %d %d", warden_bone_boxes[at].hits, warden_bone_boxes[at].name,
               (int)warden_bone_boxes[at].shape, warden_bone_boxes[at].bone);
        row(warden_bone_boxes[at].place, 3);
        row(warden_bone_boxes[at].turn, 4);
        row(warden_bone_boxes[at].size, 3);
    }
    return 0;
}
"""


def lines_of(table: dict[str, Any]) -> Iterator[str]:
    """The table as that prints it."""
    def row(values: list[float], before: str = "") -> str:
        return before + "".join(f" {value:.17g}" for value in values)

    for bone in table["bones"]:
        yield f"{bone['name']} {bone['parent']} {bone['node']}"
    for clip in table["clips"]:
        yield row([clip["start"], clip["end"], clip["speed"]], clip["animation"])
        for bone in clip["keys"]:
            for at, turn in zip(bone["times"], bone["turns"], strict=True):
                yield row([at, *turn], str(bone["bone"]))
    for layer in table["layers"]:
        reference = layer["reference"]
        yield row(layer["mask"], f"{layer['adds']:d} {reference['clip'] if reference else -1}")
    yield row([-1 if each is None else each for each in table["momentum"]])
    for anchor in table["anchors"]:
        yield row([anchor["size"], *anchor["place"]], str(anchor["bone"]))
        yield row(anchor["turn"])
    for box in table["boxes"]:
        shape = ("box", "ball", "capsule").index(box["shape"])
        yield row(box["place"],
                  f"{box['kind'] == 'hit':d} {box['name']} {shape} {box['bone']}")
        yield row(box["turn"])
        yield row(box["size"])


def inputs_of(records: list[Record]) -> list[dict[str, Any]]:
    """What a game would tell, by names."""
    program = records[0].setup.program
    names = [sense.name for sense in program.senses]
    return [
        {**dict(zip(program.actions, record.inputs.down, strict=True)),
         **dict(zip(names, record.inputs.senses, strict=True)),
         "landed": [{"layer": each.layer, "visit": each.visit, "pass": each.cycle}
                    for each in record.inputs.landed],
         "stopped": record.inputs.stopped} for record in records]


def desk_places(poses: ClipPoses, records: list[Record]) -> np.ndarray:
    """Where the desk has every bone, then every anchor, in every tick."""
    pose = FigurePoses(poses).of([record.report for record in records])
    world = in_world(poses.skeleton, pose)
    anchors = [np.stack([matrix[:3, 3] for tick in range(len(records))
                         if (matrix := anchor_matrix(poses, world, place, tick)) is not None])
               for anchor in poses.puppet.anchors if (place := anchor.on_bone) is not None]
    return np.concatenate([world.places, *[each[:, None] for each in anchors]], axis=1)


class Handed(Case):
    def setUp(self) -> None:
        made = tempfile.TemporaryDirectory()
        self.addCleanup(made.cleanup)
        self.folder = Path(made.name)

    def handed(self, puppet: Puppet, art: Path = DEMO_FOLDER) -> dict[str, bytes]:
        made = hand_off(puppet, ("javascript", "python"), "warden", art=art)
        write_changed(self.folder, made.files)
        return made.files

    def takes(self, puppet: Puppet) -> list[list[Record]]:
        setup = set_up(puppet, demo_world())
        return [list(replay(setup, load_take(path))) for path in takes_of(HARROW)]

    def with_python(self, puppet: Puppet, records: list[Record]) -> np.ndarray:
        sys.path.insert(0, str(self.folder))
        self.addCleanup(sys.path.remove, str(self.folder))
        modules = {}
        for name in ("warden", "yarn_bones"):
            spec = importlib.util.spec_from_file_location(name, self.folder / f"{name}.py")
            assert spec is not None and spec.loader is not None
            module = importlib.util.module_from_spec(spec)
            sys.modules[name] = module
            self.addCleanup(sys.modules.pop, name)
            spec.loader.exec_module(module)
            modules[name] = module
        code, bones_code = modules["warden"], modules["yarn_bones"]
        bones = bones_code.Bones(
            json.loads((self.folder / "warden.bones.json").read_text()),
            (self.folder / "warden.bones.glb").read_bytes())
        poser, state, found = bones_code.Poser(bones), code.START, []
        for record in records:
            # The reports are those of the desk to the last bit: golden takes say so.
            pose = poser.pose(record.report)
            world = bones.world(pose)
            found.append([[matrix[row][3] for row in range(3)]
                          for matrix in (*world, *poser.anchors(pose))])
        # Mirrored, sized unequally or of size 0: a bone's size turns nothing that hangs on it.
        odd = bones_code.Pose(pose.places, pose.turns, [(-1.0, 2.0, 0.0)] * len(pose.sizes))
        for one, other in zip(poser.anchors(odd), poser.anchors(pose), strict=True):
            self.assertEqual([row[:3] for row in one[:3]], [row[:3] for row in other[:3]])
        self.assertIsNotNone(state)
        return np.array(found)

    def with_node(self, runs: list[list[Record]]) -> list[np.ndarray]:
        node = shutil.which("node") or shutil.which("nodejs")
        if node is None:
            raise unittest.SkipTest("Node is not on this machine")
        (self.folder / "runs.json").write_text(json.dumps([inputs_of(each) for each in runs]))
        (self.folder / "poses.mjs").write_text(WITH_NODE)
        (self.folder / "package.json").write_text('{"type": "module"}')
        done = subprocess.run([node, "poses.mjs", str(self.folder), "warden"], cwd=self.folder,
                              capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stderr[-2000:])
        return [np.array(each) for each in json.loads(done.stdout)]

    def assert_same(self, found: np.ndarray, wanted: np.ndarray) -> None:
        self.assertEqual(found.shape, wanted.shape)
        self.assertLess(float(np.abs(found - wanted).max()), CLOSE)

    def test_in_javascript_every_bone_is_where_the_desk_has_it_in_every_tick(self) -> None:
        puppet = load_puppet(HARROW)
        self.handed(puppet)
        runs = self.takes(puppet)
        for found, records in zip(self.with_node(runs), runs, strict=True):
            self.assert_same(found, desk_places(ClipPoses(puppet, ARTS), records))

    def test_in_python_too(self) -> None:
        puppet = load_puppet(HARROW)
        self.handed(puppet)
        records = self.takes(puppet)[0][:150]
        self.assert_same(self.with_python(puppet, records),
                         desk_places(ClipPoses(puppet, ARTS), records))

    def test_a_layer_that_adds_keys_in_between_and_trimmed_clips(self) -> None:
        puppet = load_puppet(HARROW)
        idle, walk = named(puppet, "idle").id, named(puppet, "walk").id
        puppet = edits.sped(edits.trimmed(puppet, walk, 120.0, 900.0), walk, 1.3)
        for at, turn in ((0.0, (10.0, 0.0, 0.0)), (300.0, (0.0, -40.0, 5.0))):
            puppet = edits.bone_turned(puppet, walk, "head", at, turn)
        arms = replace(puppet.layers[1], adds=True, reference=ReferencePose(idle, 200.0),
                       weight=0.7, weights=(BoneWeight("neck", 0.4),))
        puppet = replace(puppet, layers=(puppet.layers[0], arms))
        self.handed(puppet)
        records = run(set_up(puppet, demo_world()), [(5, 80, "right"), (20, 60, "guard")], 100)
        wanted = desk_places(ClipPoses(puppet, ARTS), records)
        self.assert_same(self.with_python(puppet, records[:90]), wanted[:90])
        self.assert_same(self.with_node([records])[0], wanted)

    def test_clips_of_another_skeleton_come_on_ours(self) -> None:
        """One that rests otherwise, and stands lower: keys a 120th of a second are near enough."""
        puppet = load_puppet(HARROW)
        for name in ("harrow.glb", "harrow_shield.glb", "sounds"):
            (self.folder / name).symlink_to(DEMO_FOLDER / name)
        art = ARTS[puppet.bone_files[1].id]
        rest = art.skeleton.places.copy()
        rest[0, 1] *= 0.8
        arm = art.skeleton.names.index("warden:upper arm L")
        turns = art.skeleton.turns.copy()
        turns[arm] = (0.0, 0.0, np.sin(0.3), np.cos(0.3))
        other = art._replace(skeleton=art.skeleton._replace(places=rest, turns=turns))
        save_gltf(other, self.folder / "harrow_more.glb")
        poses = ClipPoses(puppet, bones_of(puppet, self.folder))
        self.handed(puppet, self.folder)
        records = run(set_up(puppet, demo_world()), [(5, 70, "down")], 90)
        self.assert_same(self.with_node([records])[0], desk_places(poses, records))

    @unittest.skipUnless(shutil.which("gcc"), "no compiler is installed")
    def test_the_header_for_c_says_what_the_table_says(self) -> None:
        """Compiled by compilers that mind everything, and printed back."""
        puppet = load_puppet(HARROW)
        walk = named(puppet, "walk").id
        puppet = edits.bone_turned(puppet, walk, "head", 0.0, (10.0, 0.0, 0.0))
        puppet = edits.bone_turned(puppet, walk, "head", 300.0, (0.0, -40.0, 5.0))
        for name in ("harrow_more.glb", "harrow_shield.glb", "sounds"):
            (self.folder / name).symlink_to(DEMO_FOLDER / name)
        # Names with all that a string of C can trip over.
        art = ARTS[puppet.bone_files[0].id]
        odd = 'a "tail" @ ??/ \\ größer\n%s'
        save_gltf(art._replace(skeleton=art.skeleton._replace(names=tuple(
            [odd if name == "scarf" else name for name in art.skeleton.names]))),
            self.folder / "harrow.glb")
        files = hand_off(puppet, ("c",), "warden", art=self.folder).files
        made = self.folder / "made"
        write_changed(made, files)
        table = json.loads(files["warden.bones.json"])
        self.assertIn(odd, [bone["name"] for bone in table["bones"]])
        (made / "print.c").write_text(PRINTED)
        for compiler, *flags in (("gcc", "-std=c99"), ("clang", "-std=c99"),
                                 ("g++", "-x", "c++", "-std=c++17")):
            if shutil.which(compiler) is None:
                continue
            done = subprocess.run(
                [compiler, *flags, "-Wall", "-Wextra", "-Werror", "-o", "print", "print.c"],
                cwd=made, capture_output=True, text=True, check=False)
            self.assertEqual((done.returncode, done.stderr), (0, ""))
            said = subprocess.run(["./print"], cwd=made, capture_output=True, check=True).stdout
            self.assertEqual(said.decode().split("\0\n")[:-1], list(lines_of(table)))

    @unittest.skipUnless(browser(), "no browser is installed")
    def test_what_moves_below_the_root_in_a_file_of_the_same_rig_is_handed_on(self) -> None:
        body = load_bones(DEMO_FOLDER / "harrow.glb")
        clip, bone = body.clips[0], len(body.skeleton.names) // 2
        times = np.array((0.0, clip.seconds))
        moved = body.skeleton.places[bone] + np.array(((0.0, 0.0, 0.0), (0.1, -0.4, 0.2)))
        sizes = np.array(((1.0, 1.0, 1.0), (1.0, 1.5, 1.0)))
        more = [Channel(bone, "place", "LINEAR", times, moved),
                Channel(bone, "size", "LINEAR", times, sizes)]
        kept = [each for each in clip.channels if each.bone != bone or each.part == "turn"]
        squat = clip._replace(name="squat", channels=(*kept, *more))
        for name in ("harrow.glb", "harrow_more.glb", "harrow_shield.glb"):
            shutil.copy(DEMO_FOLDER / name, self.folder)
        shutil.copytree(DEMO_FOLDER / "sounds", self.folder / "sounds")
        save_gltf(body._replace(clips=(squat,), meshes=()), self.folder / "again.glb")
        puppet, _ = edits.bone_file_added(load_puppet(HARROW), "again.glb", "again.glb",
                                    [edits.FileClip("squat", clip.seconds * 1000, "once")])
        poses = ClipPoses(puppet, bones_of(puppet, self.folder))
        wanted = in_world(poses.skeleton, poses.at(puppet.clips[-1], times)).places[1]
        files = hand_off(puppet, ("python",), "squatter", art=self.folder).files
        scope: dict[str, Any] = {"__name__": "squatter_bones"}
        sys.modules["squatter_bones"] = ModuleType("squatter_bones")
        self.addCleanup(sys.modules.pop, "squatter_bones")
        exec(compile(files["yarn_bones.py"], "yarn_bones.py", "exec"), scope)
        bones = scope["Bones"](json.loads(files["squatter.bones.json"]),
                               files["squatter.bones.glb"])
        number = bones.table["clip_ids"].index(puppet.clips[-1].id)
        found = [[row[3] for row in matrix[:3]]
                 for matrix in bones.world(bones.clip_pose(number, clip.seconds))]
        self.assertLess(np.abs(np.array(found) - wanted).max(), 1e-5)

    def test_the_page_of_the_examples_shows_him_guard_while_he_walks(self) -> None:
        page = self.folder / "page"
        shutil.copytree(ROOT / "examples" / "bones", page, ignore=shutil.ignore_patterns("made"))
        files = hand_off(load_puppet(HARROW), ("javascript",), "harrow", art=DEMO_FOLDER).files
        write_changed(page / "made", files)
        with served(page) as address, opened(f"{address}/index.html?mode=still") as shown:
            shown.until("globalThis.game !== undefined")
            seen = shown.ask("""(() => {
              Object.assign(game.inputs, {right: true, guard: true});
              for (let at = 0; at < 50; at += 1) game.tick();
              game.draw();
              const on = document.getElementById("picture").getContext("2d");
              const {data} = on.getImageData(0, 0, 640, 360);
              const count = {coat: 0, shield: 0, brass: 0};
              for (let at = 0; at < data.length; at += 4) {
                const [red, green, blue] = data.slice(at, at + 3);
                if (blue > 90 && red < 60) count.coat += 1;
                if (red > 110 && green < 70 && blue < 75) count.shield += 1;
                if (red > 130 && green > 90 && blue < 100) count.brass += 1;
              }
              return {...count, x: game.x, states: document.getElementById("state").textContent};
            })()""")
        self.assertEqual(seen["states"], "Walk · Guard")
        self.assertGreater(seen["coat"], 1200)
        self.assertGreater(seen["shield"], 800)
        self.assertGreater(seen["brass"], 100)

    @unittest.skipUnless(khronos.is_there(), "Khronos' validator is not installed")
    def test_the_file_has_nothing_that_the_validator_minds(self) -> None:
        self.handed(load_puppet(HARROW))
        self.assertEqual(khronos.complaints(self.folder / "warden.bones.glb"), [[]])

    def test_a_puppet_of_sprites_gets_none_and_one_without_its_file_is_refused(self) -> None:
        sprites = load_puppet(DEMO_FOLDER / "first_steps.puppet.json")
        files = hand_off(sprites, ("javascript",), art=DEMO_FOLDER).files
        self.assertFalse([name for name in files if "bones" in name])
        with self.assertRaisesRegex(Exception, "harrow.glb"):
            self.handed(load_puppet(HARROW), self.folder)
