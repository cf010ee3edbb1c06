"""Puppets of bones in a booth seen from above: how they stand on its ground, and hits in space."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from scipy.spatial.transform import Rotation

from tests.core.test_bone_puppets import HARROW
from tests.helpers import Case, demo_puppet, run
from yarn_puppet.commands.bones import read_puppet
from yarn_puppet.core.booth.hitting.areas import body_areas, hit_areas
from yarn_puppet.core.booth.hitting.effects import Shot
from yarn_puppet.core.engine.state import Report
from yarn_puppet.core.model.edits import bone_boxes as edits
from yarn_puppet.core.model.edits.clips import clip_changed
from yarn_puppet.core.model.events import Moment
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import FACING_DEGREES, Facing
from yarn_puppet.core.model.world import Dummy, World
from yarn_puppet.core.pose.bones.camera import in_booth
from yarn_puppet.core.pose.bones.standing import PosedFigure, posed_figure
from yarn_puppet.core.pose.cuboid import Cuboid, meet, upright
from yarn_puppet.core.pose.rectangle import Rectangle
from yarn_puppet.core.takes.run import Record, set_up

WIDE, START = 30, (160.0, 320.0)
STRIKE = [(5, 9, "attack")]
facings = st.sampled_from(tuple(FACING_DEGREES))
whole = st.integers(0, 6)


def yard(*dummies: Dummy) -> World:
    """Open ground seen from above, the start in its middle."""
    return World("yard", ("." * WIDE,) * WIDE, *START, dummies=dummies, seen="from above")


def thatch(across: float, along: float, **values: object) -> Dummy:
    """A dummy so far from the start: to the right, and down the ground."""
    return Dummy("Thatch", START[0] + across, START[1] + along, **values)  # type: ignore[arg-type]


def struck(puppet: Puppet, world: World, ticks: int = 60) -> list[Record]:
    """He strikes where he stands."""
    return run(set_up(puppet, world), STRIKE, ticks)


def hits(records: list[Record]) -> list[tuple[int, str]]:
    return [(record.report.tick, hit.window) for record in records
            for hit in (record.after.booth.hits if record.after.booth else ())]


def figure(puppet: Puppet, report: Report, facing: str) -> PosedFigure:
    found = posed_figure(puppet, report._replace(facing=facing), *START, above=True)
    assert found is not None
    return found


@st.composite
def cuboids(draw: st.DrawFn) -> Cuboid:
    """Of whole numbers, so that what two share has a middle of halves."""
    x, far, low = draw(whole), draw(whole), draw(whole)
    wide, deep, high = (draw(st.integers(1, 4)) for _ in range(3))
    made = Cuboid(x, wide, far, far + deep, low, low + high)
    if draw(st.booleans()):
        return made
    return upright(Rectangle(x, made.near - made.high, wide, high), made.near, deep)


class Standing(Case):
    def report(self, puppet: Puppet) -> Report:
        return run(set_up(puppet, yard()), STRIKE, 12)[-1].report

    @given(facings, st.sampled_from(("round", "mirrored")))
    def test_it_is_turned_about_its_own_axis_to_where_it_faces(
        self, facing: str, turned: str
    ) -> None:
        """Beside a turn of the whole by an independent package."""
        puppet = read_puppet(HARROW)
        puppet = replace(puppet, mover=replace(puppet.mover, turned=turned))
        points = np.random.default_rng(3).normal(size=(20, 3))
        found = figure(puppet, self.report(puppet), facing).at(points)
        if turned == "mirrored" and facing.endswith("left"):
            points = points * np.array([-1, 1, 1])
        # East, up and south are a world of the pose whose front looks south.
        own = Rotation.from_euler("y", 90 + FACING_DEGREES[facing], degrees=True).apply(points)
        scale = puppet.mover.pixels_a_metre
        wanted = np.stack([START[0] + own[:, 0] * scale, START[1] + own[:, 2] * scale,
                           own[:, 1] * scale], axis=1)
        np.testing.assert_allclose(found, wanted, atol=1e-9)

    @given(facings, st.sampled_from(("round", "mirrored")), st.booleans())
    def test_the_camera_sees_points_where_the_rule_puts_them(
        self, facing: str, turned: str, above: bool
    ) -> None:
        puppet = read_puppet(HARROW)
        puppet = replace(puppet, mover=replace(puppet.mover, turned=turned))
        if not above:
            facing = "left" if facing.endswith("left") else "right"
        points = np.random.default_rng(4).normal(size=(20, 3))
        stands = posed_figure(puppet, self.report(puppet)._replace(facing=facing), *START, above)
        assert stands is not None
        across, along, high = stands.at(points).T
        camera, about = in_booth(puppet.mover, facing, *START, above)
        seen = camera.seen(points).places
        if about is not None:
            seen[:, 0] = 2 * about - seen[:, 0]
        np.testing.assert_allclose(seen, np.stack([across, along - high], axis=1), atol=1e-9)

    def test_who_comes_to_the_front_is_nearer_to_whoever_looks(self) -> None:
        puppet = read_puppet(HARROW)
        camera, _ = in_booth(puppet.mover, "down", *START, above=True)
        front, back = camera.seen(np.array([[0.0, 0.0, 1.0], [0.0, 0.0, -1.0]])).depths
        self.assertLess(front, back)

    @given(facings)
    def test_a_block_covers_all_of_its_box(self, facing: str) -> None:
        puppet = read_puppet(HARROW)
        puppet, id = edits.bone_box_added(puppet, "body", "hand R", "box", (0.1, 0.2, 0.0),
                                          (30.0, 10.0, 70.0), (0.3, 0.5, 0.2))
        box = next(each for each in puppet.bone_boxes if each.id == id)
        stands = figure(puppet, self.report(puppet), facing)
        bone = stands.poses.bone("hand R")
        assert bone is not None
        numbers = np.random.default_rng(5).integers(0, 2, size=(200, 3)) - 0.5
        own = Rotation.from_rotvec(box.turn, degrees=True).apply(
            numbers * np.array(box.size)) + np.array(box.place)
        matrix = stands.pose.matrices[0, bone]
        corners = stands.at(own @ matrix[:3, :3].T + matrix[:3, 3])
        cuboid = stands.area(box)
        assert isinstance(cuboid, Cuboid)
        np.testing.assert_allclose(
            [cuboid.x, cuboid.far, cuboid.low, cuboid.x + cuboid.width, cuboid.near, cuboid.high],
            [*corners.min(axis=0), *corners.max(axis=0)], atol=1e-6)
        # All of it is in its picture.
        drawn = corners[:, 1] - corners[:, 2]
        self.assertLessEqual(cuboid.y, drawn.min() + 1e-6)
        self.assertGreaterEqual(cuboid.y + cuboid.height, drawn.max() - 1e-6)


class Cuboids(Case):
    @given(cuboids(), cuboids())
    def test_two_meet_that_share_a_place(self, one: Cuboid, other: Cuboid) -> None:
        """Beside every cell of a grid that both might fill."""
        def cells(cuboid: Cuboid) -> set[tuple[int, ...]]:
            if not (one.of_bones or other.of_bones):
                area = cuboid.picture
                return {(x, y) for x in range(int(area.x), int(area.x + area.width))
                        for y in range(int(area.y), int(area.y + area.height))}
            return {(x, y, z) for x in range(int(cuboid.x), int(cuboid.x + cuboid.width))
                    for y in range(int(cuboid.far), int(cuboid.near))
                    for z in range(int(cuboid.low), int(cuboid.high))}

        self.assertEqual(meet(one, other), bool(cells(one) & cells(other)))
        self.assertEqual(meet(one, other), meet(other, one))

    @given(st.tuples(*[st.floats(-500, 500)] * 2), st.tuples(*[st.floats(0.1, 90)] * 2),
           st.floats(-500, 500), st.floats(1, 40))
    def test_what_stands_upright_is_drawn_as_it_was_to_the_last_bit(
        self, at: tuple[float, float], size: tuple[float, float], ground: float, deep: float
    ) -> None:
        area = Rectangle(*at, *size)
        cuboid = upright(area, ground, deep)
        self.assertEqual(cuboid.picture, area)
        self.assertAlmostEqual(cuboid.near - cuboid.far, deep)
        self.assertAlmostEqual(cuboid.high - cuboid.low, area.height)
        self.assertAlmostEqual(cuboid.near - cuboid.high, area.y)

    @given(st.tuples(*[st.integers(-12, 12)] * 4), st.integers(-5, 12), cuboids(), st.booleans())
    def test_a_projectile_meets_what_it_flies_through(
        self, way: tuple[int, int, int, int], raised: int, cuboid: Cuboid, of_bones: bool
    ) -> None:
        """Beside many small steps of its way."""
        shot = Shot("spark", "", way[2], way[3], 0, 0, 0, way[0], way[1],
                    hits=Rectangle(-1.0, -2.0, 2.0, 4.0), raised=raised, of_bones=of_bones)
        found = shot.reaches(cuboid)
        in_space = of_bones or cuboid.of_bones
        steps = 480
        for number in range(steps + 1):
            share = number / steps
            x = way[0] + (way[2] - way[0]) * share
            y = way[1] + (way[3] - way[1]) * share
            if in_space:
                own = Cuboid(x - 1, 2, y + raised - 1, y + raised + 1, raised - 2, raised + 2)
                meets = own.meets(cuboid)
            else:
                meets = Rectangle(x - 1, y - 2, 2, 4).meets(cuboid.picture)
            if meets:
                assert found is not None, share
                self.assertLessEqual(found, share + 1e-9)
                self.assertGreaterEqual(found, share - 2 / steps)
                return
        # Only what a step of it can miss may be found besides.
        if found is not None and way[:2] == way[2:]:
            self.fail("it stood beside it")


class InTheYard(Case):
    def setUp(self) -> None:
        self.puppet = read_puppet(HARROW)

    def test_a_strike_meets_who_stands_before_him_and_not_who_stands_behind_in_the_picture(
        self
    ) -> None:
        self.assertEqual([window for _, window in hits(struck(
            self.puppet, yard(thatch(30, 0))))], ["halberd"])
        # The halberd is drawn over one that stands farther away, as its rectangles would say.
        away = thatch(30, -40)
        records = struck(self.puppet, yard(away))
        self.assertEqual(hits(records), [])
        box = Rectangle(away.x - away.width / 2, away.y - away.height, away.width, away.height)
        self.assertTrue(any(
            area.picture.meets(box) for record in records
            for area in self.strikes(record) if isinstance(area, Cuboid)))

    def strikes(self, record: Record) -> list[object]:
        assert record.after.booth is not None
        return [area for _, area in hit_areas(self.puppet, record.report,
                                              record.after.booth.body, above=True)]

    def test_he_strikes_over_what_is_too_low(self) -> None:
        lowest = min(area.low for record in struck(self.puppet, yard())
                     for area in self.strikes(record) if isinstance(area, Cuboid))
        self.assertGreater(lowest, 2)
        self.assertEqual(hits(struck(self.puppet, yard(thatch(30, 0, height=lowest - 1)))), [])
        self.assertEqual(len(hits(struck(self.puppet, yard(thatch(30, 0, height=lowest + 1))))), 1)

    def test_facing_down_he_strikes_down_the_ground(self) -> None:
        """What is hit when he looks right is hit when he looks down, a quarter of a turn round."""
        for facing, (across, along) in (("right", (30, 9)), ("down", (0, 30 + 9)),
                                        ("left", (-30, 9)), ("up", (0, -30 + 9))):
            puppet = replace(self.puppet, facing=Facing("four", start=facing))
            with self.subTest(facing):
                # As deep as wide, a dummy's middle is half its width above the line it stands on.
                near = thatch(across, along, width=18.0)
                self.assertEqual(len(hits(struck(puppet, yard(near)))), 1)
                others = [thatch(-across, 18 - along), thatch(2 * along, 2 * across)]
                self.assertEqual(hits(struck(puppet, yard(*others))), [])

    def test_a_blow_meets_him_on_his_own_line_only(self) -> None:
        for along, met in ((0, True), (-60, False), (60, False)):
            striker = thatch(-30, along, does="strikes", every=0.5, reach=24.0)
            records = run(set_up(self.puppet, yard(striker)), [], 60)
            blows = [blow for record in records
                     for blow in (record.after.booth.blows if record.after.booth else ())]
            self.assertEqual(bool(blows), met, along)

    def test_he_is_as_deep_as_his_bones(self) -> None:
        record = run(set_up(self.puppet, yard()), [], 5)[-1]
        assert record.after.booth is not None
        for area in body_areas(self.puppet, record.report, record.after.booth.body, above=True):
            assert isinstance(area, Cuboid)
            self.assertTrue(area.of_bones)
            self.assertLess(area.near - area.far, 40)
            self.assertLessEqual(-1, area.low)

    def test_a_projectile_flies_as_high_as_its_anchor(self) -> None:
        clip = next(each for each in self.puppet.clips if each.name == "light strike")
        launch = Moment("shot", 100.0, "launch", "spark", "shield_arm", speed=300.0)
        puppet = clip_changed(self.puppet, clip.id, moments=(*clip.moments, launch), windows=())
        records = struck(puppet, yard())
        shots = [shot for record in records
                 for shot in (record.after.booth.shots if record.after.booth else ())]
        raised = shots[0].raised
        assert raised is not None
        self.assertGreater(raised, 10)
        for height, met in ((raised - 6, False), (raised + 6, True)):
            low = struck(puppet, yard(thatch(90, 0, width=60.0, height=height)))
            self.assertEqual([window for _, window in hits(low)], ["spark"] * met)

    def test_sprites_are_judged_by_their_pictures_as_ever(self) -> None:
        """Pell strikes who stands behind in the picture, as his rectangles say."""
        pell = demo_puppet()
        records = struck(pell, yard(thatch(24, -14)))
        areas = [area for record in records if record.after.booth is not None
                 for _, area in hit_areas(pell, record.report, record.after.booth.body)]
        box = Rectangle(START[0] + 24 - 9, START[1] - 14 - 40, 18, 40)
        self.assertEqual(bool(hits(records)), any(
            isinstance(area, Rectangle) and area.meets(box) for area in areas))
        self.assertTrue(hits(records))
