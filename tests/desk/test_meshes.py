"""Meshes drawn by OpenGL: as filled, as near and as placed as a second, slower model has it; limbs
where there is no OpenGL."""

from __future__ import annotations

from concurrent.futures import Future
from unittest import mock, skipUnless

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as some
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage, QPainter

from tests.depth import examples
from tests.desk.case import DeskCase
from tests.desk.test_bones import HARROW, BonesCase
from tests.helpers import Case
from yarn_puppet.core.formats.bones.puppet_bones import bones_in
from yarn_puppet.core.formats.pictures.pages import Page
from yarn_puppet.core.model.bones import Mesh
from yarn_puppet.core.pose.bones.camera import Camera, from_the_side
from yarn_puppet.core.pose.bones.sampling import ClipSampler
from yarn_puppet.core.pose.bones.world_pose import in_world
from yarn_puppet.demo import DEMO_FOLDER
from yarn_puppet.desk.pictures.mesh.choice import MeshChoice
from yarn_puppet.desk.pictures.mesh.context import Ink
from yarn_puppet.desk.pictures.mesh.drawing import ShapePictures
from yarn_puppet.desk.pictures.mesh.model import MeshModel, Shape
from yarn_puppet.desk.pictures.mesh.renderer import RENDERER, Picture, Renderer

FROM_THE_FRONT = Camera((0.0, 0.0, 0.0), 90.0, 0.0, 0.0, 1.0, 0.0, 0.0)
"""x of the world goes to the left of the view there, and z comes nearer."""
BARE = Ink(outline=False)


def has_opengl() -> bool:
    return RENDERER.begin().result()


def shape(corners: object, color: tuple[float, float, float] = (1.0, 0.0, 0.0),
          page: Page | None = None) -> Shape:
    """One triangle: its corners as they are seen (x, y downwards), and how near they are."""
    seen = np.array(corners, dtype=np.float64)
    places = np.stack([-seen[:, 0], -seen[:, 1], -seen[:, 2]], axis=1)
    over = np.array([(0.0, 0.0), (1.0, 0.0), (0.0, 1.0)])
    mesh = Mesh("", places, np.array([[0, 1, 2]]), (*color, 1.0), over, None, -1, (), None, None,
                None)
    return Shape(MeshModel((mesh,), (page,)), places)


def inside(corners: object, xs: np.ndarray, ys: np.ndarray) -> np.ndarray:
    """How many pixels points are within a triangle; negative outside of it."""
    points = np.array(corners, dtype=np.float64)[:, :2]
    around = points[[1, 2, 0]] - points
    # Which way it goes round.
    way = np.sign(around[0][0] * around[1][1] - around[0][1] * around[1][0])
    least = np.full(np.broadcast(xs, ys).shape, np.inf)
    for (x, y), (over, down) in zip(points, around, strict=True):
        across = over * (ys - y) - down * (xs - x)
        least = np.minimum(least, way * across / max(float(np.hypot(over, down)), 1e-9))
    return least


def nearness(corners: object, xs: np.ndarray, ys: np.ndarray) -> np.ndarray:
    """How near a triangle's plane is at points of the view."""
    points = np.array(corners, dtype=np.float64)
    system = np.concatenate([points[:, :2], np.ones((3, 1))], axis=1)
    a, b, c = np.linalg.solve(system, points[:, 2])
    return a * xs + b * ys + c


def middles(found: Picture) -> tuple[np.ndarray, np.ndarray]:
    """Where the middles of a picture's pixels are on the view: a row, and a column."""
    return (np.arange(found.image.width())[None] + found.left + 0.5,
            np.arange(found.image.height())[:, None] + found.top + 0.5)


def pixels(image: QImage) -> np.ndarray:
    """Red, green, blue, alpha (rows, columns, 4)."""
    image = image.convertToFormat(QImage.Format.Format_RGBA8888_Premultiplied)
    bits = image.constBits()
    assert bits is not None
    bits.setsize(image.sizeInBytes())
    return np.frombuffer(bits, np.uint8).reshape(image.height(), image.width(), 4).copy()


corner = some.tuples(some.integers(0, 60), some.integers(0, 60), some.integers(-20, 20))
triangle = some.tuples(corner, corner, corner).filter(lambda each: abs(np.linalg.det(
    np.array([(x, y, 1) for x, y, _ in each]))) > 200)


@skipUnless(has_opengl(), "there is no OpenGL on this machine: limbs are drawn")
class Drawing(Case):
    @settings(max_examples=examples(40))
    @given(triangle, some.booleans())
    def test_it_fills_the_pixels_within_and_no_others(
        self, corners: object, at_rest: bool
    ) -> None:
        found = RENDERER.draw([shape(corners)], FROM_THE_FRONT, 1.0, BARE, at_rest=at_rest)
        alpha, deep = pixels(found.image)[:, :, 3], inside(corners, *middles(found))
        self.assertTrue((alpha[deep > 1.0] == 255).all())
        self.assertTrue((alpha[deep < -1.0] == 0).all())

    @settings(max_examples=examples(25))
    @given(triangle, triangle)
    def test_the_nearer_one_is_seen(self, one: object, other: object) -> None:
        colors = ((1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
        found = RENDERER.draw([shape(one, colors[0]), shape(other, colors[1])], FROM_THE_FRONT, 1.0,
                              BARE)
        drawn, at = pixels(found.image), middles(found)
        deep = [inside(each, *at) for each in (one, other)]
        planes = [nearness(corners, *at) for corners in (one, other)]
        near = [np.where(within > 0, plane, -1e9)
                for within, plane in zip(deep, planes, strict=True)]
        # A pixel is a mean: beside where they cut each other it is of both.
        a_pixel = np.hypot(*np.gradient(planes[0] - planes[1]))
        told = (np.abs(deep) > 1.0).all(axis=0) & (
            np.abs(near[0] - near[1]) > 0.5 + 1.5 * a_pixel)
        for number, channel in enumerate((0, 2)):
            front = told & (near[number] > near[1 - number])
            self.assertTrue((drawn[front][:, channel] > 0).all())
            self.assertTrue((drawn[front][:, 2 - channel] == 0).all())

    def test_mirrored_it_is_the_mirrored_picture(self) -> None:
        corners = ((3, 5, 0), (40, 12, 3), (11, 50, -2))
        plain = RENDERER.draw([shape(corners)], FROM_THE_FRONT, 1.0, BARE)
        turned = RENDERER.draw([shape(corners)], FROM_THE_FRONT, 1.0, BARE, 100.0)
        one, other = (self.on_paper(each, 200, 64) for each in (plain, turned))
        difference = np.abs(one.astype(int) - other[:, ::-1].astype(int)).max(axis=2)
        # Edges that go through a corner of a pixel may fall to either side.
        self.assertLess((difference > 130).sum(), 3)
        self.assertGreater((one[:, :, 3] > 0).sum(), 500)

    @settings(max_examples=examples(12))
    @given(some.integers(0, 359), some.integers(-60, 60), some.floats(0, 0.6),
           some.sampled_from((None, 90.0)), some.sampled_from((1.0, -1.0)))
    def test_what_a_closed_surface_hides_of_itself_is_not_missed(
        self, yaw: int, pitch: int, seconds: float, mirrored: float | None, across: float
    ) -> None:
        """Harrow from anywhere, also in a mirror and turned inside out: as with all triangles."""
        art = bones_in(DEMO_FOLDER / "harrow.glb")
        model = MeshModel(art.meshes, [None] * len(art.meshes))
        self.assertGreater(sum(run.last - run.first for run in model.runs if run.is_closed), 9000)
        pose = in_world(art.skeleton, ClipSampler(art.skeleton, art.clips[2]).at(
            np.array([seconds])))
        whole = model.placed(pose).moved(np.diag([across, 1.0, 1.0, 1.0]))
        camera = Camera((0.0, 0.9, 0.0), float(yaw), float(pitch), 0.0, 60.0, 60.0, 70.0)
        found = RENDERER.draw([whole], camera, 1.0, Ink(), mirrored)
        every = MeshModel(art.meshes, [None] * len(art.meshes))
        every.runs = tuple(run._replace(is_closed=False) for run in every.runs)
        wanted = RENDERER.draw([whole._replace(model=every)], camera, 1.0, Ink(), mirrored)
        apart = np.abs(pixels(found.image).astype(int) - pixels(wanted.image).astype(int))
        # Where a surface goes through another, or itself, some pixels are of the other one.
        self.assertLess((apart.max(axis=2) > 40).mean(), 0.004)

    def test_twice_as_many_pixels_are_as_large_a_picture(self) -> None:
        corners = ((3, 5, 0), (40, 12, 3), (11, 50, -2))
        for ratio in (1.0, 1.5, 2.0):
            found = RENDERER.draw([shape(corners)], FROM_THE_FRONT, ratio, BARE)
            area = (pixels(found.image)[:, :, 3] / 255).sum() / ratio ** 2
            self.assertAlmostEqual(area, abs(np.linalg.det(
                np.array([(x, y, 1) for x, y, _ in corners]))) / 2, delta=12)

    def test_nothing_and_what_is_beyond_the_view_are_no_pictures(self) -> None:
        away = shape(((300, 5, 0), (340, 12, 3), (311, 50, -2)))
        self.assertIsNone(RENDERER.draw([], FROM_THE_FRONT, 1.0, BARE))
        self.assertIsNone(RENDERER.draw([away], FROM_THE_FRONT, 1.0, BARE,
                                        bounds=(0.0, 0.0, 200.0, 100.0)))
        self.assertIsNone(RENDERER.draw([away._replace(places=away.places * np.nan)],
                                        FROM_THE_FRONT, 1.0, BARE))
        vast = shape(((-9e8, -9e8, 0), (9e8, 0, 3), (0, 9e8, -2)))
        found = RENDERER.draw([vast], FROM_THE_FRONT, 1.0, BARE,
                              bounds=(0.0, 0.0, 200.0, 100.0))
        self.assertEqual((found.image.width(), found.image.height()), (256, 128))

    def test_cloth_is_worn_and_holes_are_seen_through(self) -> None:
        green_and_hole = bytes([0, 255, 0, 255, 0, 0, 0, 0])
        found = RENDERER.draw([shape(((0, 0, 0), (60, 0, 0), (0, 60, 0)), (1.0, 1.0, 1.0),
                                     Page(2, 1, None, green_and_hole))], FROM_THE_FRONT, 1.0, BARE)
        drawn = self.on_paper(found, 64, 64)
        self.assertEqual((drawn[20, 8, 0], drawn[20, 8, 2], drawn[20, 8, 3]), (0, 0, 255))
        self.assertGreater(drawn[20, 8, 1], 120)
        self.assertEqual(drawn[3, 50, 3], 0)

    def test_a_painter_that_is_moved_and_scaled_has_it_where_it_would_draw(self) -> None:
        camera = from_the_side(1.0, 30.0, 20.0)
        corners = np.array([(0.0, 0.0, 0.0), (0.0, 20.0, 0.0), (0.0, 0.0, 20.0)])
        triangle = shape(((0, 0, 0), (1, 0, 0), (0, 1, 0)))._replace(places=corners)
        paper = QImage(200, 100, QImage.Format.Format_ARGB32_Premultiplied)
        paper.fill(0)
        painter = QPainter(paper)
        painter.translate(10, 30)
        painter.scale(3, 3)
        ShapePictures(RENDERER).draw(painter, "it", lambda: [triangle], camera, BARE)
        painter.end()
        ys, xs = np.nonzero(pixels(paper)[:, :, 3] > 128)
        # From 30, 20 it goes 20 to the right and 20 upwards: three times that, moved.
        self.assertEqual((xs.min(), ys.max()), (100, 89))
        self.assertAlmostEqual(int(xs.max()), 159, delta=2)
        self.assertAlmostEqual(int(ys.min()), 30, delta=2)

    def on_paper(self, found: object, width: int, height: int) -> np.ndarray:
        paper = QImage(width, height, QImage.Format.Format_ARGB32_Premultiplied)
        paper.fill(0)
        painter = QPainter(paper)
        painter.drawImage(round(found.left), round(found.top), found.image)
        painter.end()
        return pixels(paper)


class NoOpenGL(Renderer):
    """A machine without."""

    def _begin(self) -> bool:
        return False


class GivesUp(Renderer):
    """A machine whose OpenGL fails in the middle."""

    def _begin(self) -> bool:
        self._context = mock.Mock()
        self._context.draw.side_effect = RuntimeError("the card went to sleep")
        return True


class Choosing(BonesCase):
    def test_where_opengl_gives_up_limbs_are_drawn_in_that_very_picture(self) -> None:
        self.show_clip("idle")
        view, meshes = self.page.pose_view, self.bones.meshes
        renderer = meshes.renderer = view._figure._shapes._renderer = GivesUp()
        renderer.begin().result()
        meshes.want(True)
        self.assertTrue(meshes.draws)
        with mock.patch("yarn_puppet.desk.clips.pose.figure.draw_limbs") as drawn:
            view.grab()
        self.assertTrue(drawn.called)
        self.assertTrue(meshes.impossible)
        self.hand.wait()
        self.page.refresh()
        self.assertIn("no OpenGL", self.said())

    def said(self) -> list[str]:
        """The words of what plays and shows it."""
        return [part.text for part in self.page.play_sentence.parts]

    @skipUnless(has_opengl(), "there is no OpenGL on this machine")
    def test_a_key_draws_the_mesh_here_and_in_the_booth_and_it_is_remembered(self) -> None:
        self.show_clip("idle")
        view, booth = self.page.pose_view, self.window.booth
        self.window.player.pause()
        limbs, limbs_in_booth = view.grab().toImage(), booth.grab().toImage()
        self.hand.key(view, Qt.Key.Key_M)
        self.hand.until(lambda: self.bones.meshes.draws, "OpenGL")
        self.assertNotEqual(view.grab().toImage(), limbs)
        self.assertTrue(self.window.settings.meshes)
        self.window.player.run_tick()
        self.hand.wait()
        self.assertNotEqual(booth.grab().toImage(), limbs_in_booth)
        self.hand.token(self.page.play_sentence, "mesh")
        self.assertFalse(self.bones.meshes.wanted)
        self.assertEqual(view.grab().toImage(), limbs)

    def test_without_opengl_limbs_are_drawn_and_it_is_said(self) -> None:
        self.show_clip("idle")
        view = self.page.pose_view
        limbs = view.grab().toImage()
        self.bones.meshes.renderer = NoOpenGL()
        self.hand.key(view, Qt.Key.Key_M)
        self.hand.until(lambda: self.bones.meshes.impossible, "no OpenGL")
        self.hand.wait()
        self.assertIn("no OpenGL", self.said())
        self.assertFalse(self.bones.meshes.draws)
        self.hand.token(self.page.play_sentence, "mesh")
        self.assertIn("mesh", self.said())
        self.assertEqual(view.grab().toImage(), limbs)

    def test_the_switch_is_there_for_bones_and_not_for_sprites(self) -> None:
        switches = self.window.booth.switches.switches
        self.assertEqual((switches["mesh"].isHidden(), switches["slides"].isHidden()),
                         (False, True))
        self.window.files.load(HARROW.with_name("first_steps.puppet.json"))
        self.hand.wait()
        self.assertEqual((switches["mesh"].isHidden(), switches["slides"].isHidden()),
                         (True, False))


class Wanting(DeskCase):
    def test_what_is_wanted_before_it_is_known_comes_when_it_is(self) -> None:
        known: Future[bool] = Future()

        class Slow(Renderer):
            def begin(self) -> Future[bool]:
                self._begun = known
                return known

        choice, heard = MeshChoice(None, Slow()), []
        choice.changed.connect(lambda: heard.append(choice.draws))
        choice.want(True)
        self.assertEqual((heard, choice.impossible), ([False], False))
        known.set_result(True)
        self.hand.until(lambda: len(heard) == 2, "what is known")
        self.assertEqual(heard, [False, True])
