"""Boxes and anchors on bones in the booth: where they are, what they hit, by whose content."""

from __future__ import annotations

import tempfile
from pathlib import Path

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from scipy.spatial.transform import Rotation

from tests.core.test_bone_puppets import ARTS, HARROW, named
from tests.core.test_commands import typed
from tests.helpers import Case, demo_world, run
from yarn_puppet.commands.bones import bones_known, read_puppet
from yarn_puppet.core.booth.hitting.areas import body_areas, hit_areas
from yarn_puppet.core.formats.bones.gltf_writing import save_gltf
from yarn_puppet.core.formats.bones.puppet_bones import digest_of
from yarn_puppet.core.formats.puppet_file import load_puppet, save_puppet
from yarn_puppet.core.model.edits import bone_boxes as edits
from yarn_puppet.core.model.edits.clips import clip_changed
from yarn_puppet.core.model.events import Moment
from yarn_puppet.core.model.motions import BoneBox, Vector
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.pose.bones.boxes import reaches_of
from yarn_puppet.core.pose.bones.clip_poses import ClipPoses
from yarn_puppet.core.pose.bones.figure_poses import FigurePoses
from yarn_puppet.core.pose.bones.in_hand import anchor_matrix
from yarn_puppet.core.pose.bones.known import known_poses
from yarn_puppet.core.pose.bones.standing import PosedFigure, posed_figure
from yarn_puppet.core.pose.bones.world_pose import in_world
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.again.touched import first_touched
from yarn_puppet.core.takes.first_seen import FirstSeen
from yarn_puppet.core.takes.run import Record, set_up

STRIKE = [(5, 157, "right"), (165, 169, "attack")]
vectors = st.tuples(*[st.floats(-0.5, 0.5)] * 3)
sizes = st.tuples(*[st.floats(0.05, 1.0)] * 3)


def strike(puppet: Puppet, ticks: int = 215) -> list[Record]:
    """He walks up to the dummy and strikes."""
    return run(set_up(puppet, demo_world()), STRIKE, ticks)


def figure_of(puppet: Puppet, record: Record) -> PosedFigure:
    booth = record.after.booth
    assert booth is not None
    found = posed_figure(puppet, record.report, booth.body.x, booth.body.y)
    assert found is not None
    return found


class Places(Case):
    @given(vectors, vectors, sizes, st.sampled_from(("box", "ball", "capsule")),
           st.sampled_from(("head", "hand R", "thigh L")), st.booleans())
    def test_the_area_is_what_points_of_the_shape_cover(
        self, place: Vector, turn: Vector, size: Vector, shape: str, bone: str, left: bool
    ) -> None:
        """Beside some thousand points strewn over the shape."""
        puppet = read_puppet(HARROW)
        degrees = (turn[0] * 300, turn[1] * 300, turn[2] * 300)
        puppet, id = edits.bone_box_added(puppet, "body", bone, shape,  # type: ignore[arg-type]
                                          place, degrees, size)
        box = next(each for each in puppet.bone_boxes if each.id == id)
        record = run(set_up(puppet, demo_world()), [(2, 30, "left" if left else "right")], 25)[-1]
        figure = figure_of(puppet, record)
        area, (across, along, high) = figure.area(box), figure.at(
            self.strewn(puppet, figure, box)).T
        assert area is not None
        strewn = np.stack([across, along - high], axis=1)
        low, high = strewn.min(axis=0), strewn.max(axis=0)
        found = np.array([area.x, area.y, area.x + area.width, area.y + area.height])
        wanted = np.array([*low, *high])
        # All of them lie in it, and it is no larger than they show, but for what was not strewn.
        self.assertTrue((found[:2] <= wanted[:2] + 1e-6).all())
        self.assertTrue((found[2:] >= wanted[2:] - 1e-6).all())
        self.assertLess(np.abs(found - wanted).max(), 0.15 * 30 * max(size))

    def strewn(self, puppet: Puppet, figure: PosedFigure, box: BoneBox) -> np.ndarray:
        numbers = np.random.default_rng(1)
        wide, high, _ = box.size
        if box.shape == "box":
            own = (np.round(numbers.random((500, 3))) - 0.5) * np.array(box.size)
        else:
            ways = numbers.normal(size=(4000, 3))
            own = ways / np.linalg.norm(ways, axis=1, keepdims=True) * wide / 2
            if box.shape == "capsule":
                half = max(0.0, high - wide) / 2
                own[:, 1] += np.where(numbers.random(4000) < 0.5, half, -half)
        poses = figure.poses
        bone = poses.bone(box.bone)
        assert bone is not None
        turned = Rotation.from_rotvec(box.turn, degrees=True).apply(own) + np.array(box.place)
        matrix = figure.pose.matrices[0, bone]
        return turned @ matrix[:3, :3].T + matrix[:3, 3]

    def test_who_looks_left_has_them_on_the_other_side(self) -> None:
        puppet = read_puppet(HARROW)
        record = strike(puppet, 190)[-1]
        right = figure_of(puppet, record)
        other = PosedFigure(puppet, right.poses, record.report._replace(facing="left"), right.x,
                            right.y)
        for box in puppet.bone_boxes:
            one, two = right.area(box), other.area(box)
            assert one is not None and two is not None
            self.assertAlmostEqual(right.x - two.x - two.width, one.x - right.x, 6)
            self.assertAlmostEqual(one.y, two.y, 6)

    def test_a_bone_that_is_gone_has_no_box(self) -> None:
        puppet = read_puppet(HARROW)
        poses = ClipPoses(puppet, ARTS)
        world = in_world(poses.skeleton, poses.at(named(puppet, "idle"), np.zeros(1)))
        self.assertIsNone(reaches_of(poses, world, BoneBox("x", "hit", "tail")))


class Hits(Case):
    def test_the_strike_lands_on_the_tick_its_box_meets_the_dummy(self) -> None:
        puppet = read_puppet(HARROW)
        records = strike(puppet)
        hits = [(record.report.tick, hit.window, hit.dummy) for record in records
                for hit in (record.after.booth.hits if record.after.booth else ())]
        self.assertEqual([(window, dummy) for _, window, dummy in hits], [("halberd", 0)])
        tick = hits[0][0]
        dummy = demo_world().dummies[0]
        before = [self.reach(puppet, record) for record in records[tick - 3:tick]]
        self.assertTrue(all(reach < dummy.x - dummy.width / 2 for reach in before))
        self.assertGreater(self.reach(puppet, records[tick]), dummy.x - dummy.width / 2)

    def reach(self, puppet: Puppet, record: Record) -> float:
        assert record.after.booth is not None
        return max((area.x + area.width for _, area in hit_areas(
            puppet, record.report, record.after.booth.body)), default=0.0)

    def test_boxes_are_those_of_what_the_graph_plays_without_momentum(self) -> None:
        puppet = read_puppet(HARROW)
        poses = ClipPoses(puppet, ARTS)
        for record in strike(puppet)[160:200:5]:
            plain = in_world(poses.skeleton,
                             FigurePoses(poses, carries=False).of([record.report]))
            self.assertTrue((figure_of(puppet, record).pose.places == plain.places).all())

    def test_where_he_can_be_hit_goes_down_with_him(self) -> None:
        puppet = read_puppet(HARROW)
        records = run(set_up(puppet, demo_world()), [(20, 120, "down")], 110)

        def top(record: Record) -> float:
            assert record.after.booth is not None
            areas = body_areas(puppet, record.report, record.after.booth.body)
            self.assertEqual(len(areas), 4)
            return record.after.booth.body.y - min(area.y for area in areas)

        self.assertGreater(top(records[10]) - top(records[100]), 10)

    def test_an_effect_begins_at_its_anchor(self) -> None:
        puppet = read_puppet(HARROW)
        clip = named(puppet, "light strike")
        spark = Moment("spark", 150.0, "effect", "spark", "shield_arm", True)
        puppet = clip_changed(puppet, clip.id, moments=(*clip.moments, spark))
        record = next(record for record in strike(puppet)
                      if any(fired.moment.id == "spark" for fired in record.report.moments))
        assert record.after.booth is not None
        effect = record.after.booth.effects[-1]
        figure = figure_of(puppet, record)
        place = puppet.anchors[1].on_bone
        assert place is not None
        matrix = anchor_matrix(figure.poses, figure.pose, place)
        assert matrix is not None
        self.assertAlmostEqual(effect.x, figure.x + matrix[2, 3] * 30, 6)
        self.assertAlmostEqual(effect.y, figure.y - matrix[1, 3] * 30, 6)

    def test_a_box_that_is_moved_is_run_again_from_the_start(self) -> None:
        puppet = read_puppet(HARROW)
        setup = set_up(puppet, demo_world())
        records = run(setup, STRIKE, 215)
        seen = FirstSeen()
        moved = edits.bone_box_changed(puppet, puppet.bone_boxes[-1].id, place=(0.0, -1.0, 0.0))
        self.assertEqual(first_touched(setup, set_up(moved, demo_world()), seen, len(records)), 0)
        self.assertEqual(first_touched(setup, set_up(puppet, demo_world()), seen, 215), 215)

    def test_a_hit_window_without_a_box_is_a_snag(self) -> None:
        puppet = read_puppet(HARROW)
        bare = edits.bone_box_removed(puppet, puppet.bone_boxes[-1].id)
        found = [snag.why for snag in check(bare)
                 if snag.severity == "warning"]
        self.assertEqual(found, ["the hit window opens, and no bone has a hit box of its name"] * 2)


class Content(Case):
    def test_two_folders_with_files_of_one_name_are_two_puppets(self) -> None:
        """By its content, and not its name, a puppet's bones are known."""
        tops = []
        with tempfile.TemporaryDirectory() as made:
            for folder, times in ((Path(made) / "one", 1.0), (Path(made) / "two", 1.5)):
                folder.mkdir()
                for file, art in zip(("harrow.glb", "harrow_more.glb"), ARTS.values(),
                                     strict=True):
                    skeleton = art.skeleton._replace(places=art.skeleton.places * times)
                    save_gltf(art._replace(skeleton=skeleton), folder / file)
                save_puppet(load_puppet(HARROW), folder / "harrow.puppet.json")
            puppets = [read_puppet(Path(made) / name / "harrow.puppet.json")
                       for name in ("one", "two")]
        self.assertNotEqual(puppets[0].bone_files[0].digest, puppets[1].bone_files[0].digest)
        for puppet in (*puppets, puppets[0]):
            record = run(set_up(puppet, demo_world()), [], 5)[-1]
            area = figure_of(puppet, record).area(puppet.bone_boxes[1])
            assert area is not None
            tops.append(-area.y)
        self.assertGreater(tops[1] - tops[0], 5)
        self.assertEqual(tops[0], tops[2])

    def test_what_ships_says_the_content_of_what_ships(self) -> None:
        puppet = load_puppet(HARROW)
        self.assertEqual([file.digest for file in puppet.bone_files],
                         [digest_of(art) for art in ARTS.values()])
        self.assertIs(bones_known(puppet, HARROW.parent), puppet)

    def test_bones_that_nobody_has_read_hit_nothing_and_are_not_made_up(self) -> None:
        puppet = load_puppet(HARROW)
        unknown = replace(puppet, bone_files=tuple(
            [replace(file, digest="00ff") for file in puppet.bone_files]))
        self.assertIsNone(known_poses(unknown))
        records = strike(unknown)
        self.assertFalse([hit for record in records if record.after.booth
                          for hit in record.after.booth.hits])
        # He is as large as his mover says, then.
        assert records[0].after.booth is not None
        area, = body_areas(unknown, records[0].report, records[0].after.booth.body)
        self.assertEqual((area.width, area.height), (unknown.mover.width, unknown.mover.height))

    def test_check_lists_what_is_gone_from_the_files(self) -> None:
        with tempfile.TemporaryDirectory() as made:
            folder = Path(made)
            puppet = load_puppet(HARROW)
            save_puppet(puppet, folder / "harrow.puppet.json")
            art, more = ARTS.values()
            bones = tuple([name.replace("hand R", "paw R") for name in art.skeleton.names])
            save_gltf(art._replace(skeleton=art.skeleton._replace(names=bones),
                                   clips=art.clips[1:]), folder / "harrow.glb")
            code, out, _ = typed("check", str(folder / "harrow.puppet.json"))
            self.assertEqual(code, 1)
            for words in ("harrow_more.glb", "idle: harrow.glb has no clip “idle”",
                          "hit box: there is no bone “hand R”"):
                self.assertIn(words, out)
            save_gltf(more, folder / "harrow_more.glb")
            save_gltf(art, folder / "harrow.glb")
            code, out, _ = typed("check", str(folder / "harrow.puppet.json"))
            self.assertEqual((code, out.splitlines()[-1]), (0, "0 errors, 0 warnings"))
