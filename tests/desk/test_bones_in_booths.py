"""Puppets of bones in booths: seen from above, while a booth is painted, and with what their
moments bring about."""

from __future__ import annotations

import shutil

import numpy as np
from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage, QPainter

from tests.desk.test_bones import FILES, HARROW, BonesCase
from yarn_puppet.core.formats.booth_file import save_booth
from yarn_puppet.core.formats.puppet_file import load_puppet, save_puppet
from yarn_puppet.core.model.edits.clips import clip_changed
from yarn_puppet.core.model.events import Moment
from yarn_puppet.core.model.wiring import Facing
from yarn_puppet.core.model.world import Dummy, World
from yarn_puppet.core.pose.bones.standing import posed_figure
from yarn_puppet.desk.booth.pose_drawing import Posed

SIDE = 200


class InBooths(BonesCase):
    file = None

    def open_in(self, world: World | None, facing: Facing | None = None) -> None:
        """Harrow in a folder of his own, in a booth there."""
        home = self.folder / "home"
        home.mkdir(exist_ok=True)
        for name in FILES:
            shutil.copy(HARROW.parent / name, home)
        puppet = load_puppet(HARROW)
        if world is not None:
            save_booth(world, home / "yard.booth.json")
            puppet = replace(puppet, booth="yard.booth.json")
        if facing is not None:
            puppet = replace(puppet, facing=facing)
        save_puppet(puppet, home / "mine.puppet.json")
        self.window.files.load(home / "mine.puppet.json")
        self.bones_there()
        self.window.player.restart()
        self.window.player.pause()

    def yard(self, *dummies: Dummy) -> World:
        return World("yard", ("." * 24,) * 16, 190.0, 130.0, dummies=dummies, seen="from above")

    def drawn(self, facing: str) -> np.ndarray:
        """How opaque each pixel is about him, who stands in the middle."""
        image = QImage(SIDE, SIDE, QImage.Format.Format_ARGB32_Premultiplied)
        image.fill(0)
        figure = self.window.booth.bones_figure
        record = self.records[-1]
        pose = figure.pose(self.records, record.report.tick)
        assert pose is not None
        painter = QPainter(image)
        figure.drawing.draw(painter, self.window.art, Posed(
            pose, record.report._replace(facing=facing), SIDE / 2, SIDE * 0.7, above=True))
        painter.end()
        pixels = image.constBits()
        assert pixels is not None
        pixels.setsize(SIDE * SIDE * 4)
        return np.frombuffer(bytes(pixels), np.uint8).reshape(SIDE, SIDE, 4)[:, :, 3]

    def test_from_above_he_is_drawn_where_he_is_hit(self) -> None:
        self.open_in(self.yard(), Facing("four"))
        self.steps(12)
        record = self.records[-1]
        for turned in ("round", "mirrored"):
            self.window.document.edit("turned", lambda now, turned=turned: replace(
                now, mover=replace(now.mover, turned=turned)))
            for facing in ("right", "up", "left", "down"):
                stands = posed_figure(self.puppet, record.report._replace(facing=facing), SIDE / 2,
                                      SIDE * 0.7, above=True)
                assert stands is not None
                across, along, high = stands.at(stands.pose.places[0]).T
                alpha = self.drawn(facing)
                on_him = [alpha[round(y), round(x)] > 0
                          for x, y in zip(across, along - high, strict=True)]
                with self.subTest(facing, turned=turned):
                    self.assertGreater(np.mean(on_him), 0.9)

    def test_he_walks_in_the_yard_and_strikes_who_is_before_him(self) -> None:
        self.open_in(self.yard(Dummy("Thatch", 220, 130), Dummy("Straw", 220, 90)))
        self.go("Weave")
        self.hold(Qt.Key.Key_J, 4)
        self.steps(40)
        hits = [hit.dummy for record in self.records
                for hit in (record.after.booth.hits if record.after.booth else ())]
        self.assertEqual(hits, [0])
        pictures, over = [], self.window.booth.settings.over
        for shown in (["boxes"], []):
            over[:] = shown
            pictures.append(self.hand.picture(self.window.booth).toImage())
        self.assertNotEqual(*pictures)

    def test_who_stands_lower_down_is_drawn_over_him(self) -> None:
        """A dummy whose picture covers him, a little farther away and a little nearer."""
        pictures = []
        for along in (-2, 2):
            self.open_in(self.yard(Dummy("Thatch", 190, 130 + along, width=60, height=80)))
            self.go("Weave")
            self.steps(2)
            image = self.hand.picture(self.window.booth).toImage()
            # His coat is blue; the dummy is of straw.
            pictures.append(sum(
                (color := image.pixelColor(x, y)).blue() > color.red() + 40 and color.blue() > 90
                for x in range(image.width() // 2 - 20, image.width() // 2 + 20)
                for y in range(60, image.height() - 40)))
        self.assertGreater(pictures[0], 100)
        self.assertLess(pictures[1], pictures[0] / 2)

    def test_he_is_seen_while_his_booth_is_painted(self) -> None:
        self.open_in(None)
        page = self.go("Booth")
        self.steps(30)
        idle = self.hand.picture(page.view).toImage()
        self.window.player.restart()
        self.window.player.pause()
        self.window.booth.setFocus()
        self.hold(Qt.Key.Key_K, 30)
        self.assertIn("guard", self.records[-1].report.layers[1].state)
        body = self.records[-1].after.booth.body
        self.assertEqual((body.x, body.y), (self.world_start()))
        self.assertNotEqual(self.hand.picture(page.view).toImage(), idle)

    def world_start(self) -> tuple[float, float]:
        world = self.records[-1].setup.world
        assert world is not None
        return world.start_x, world.start_y

    def test_what_his_moments_bring_about_is_drawn(self) -> None:
        self.open_in(None)
        self.go("Weave")
        pictures = []
        for kind in ("sound", "effect", "launch"):
            clip = self.clip("light strike")
            moment = Moment("m", 100.0, kind, "spark", "shield_arm", speed=60.0)
            self.window.document.edit("moment", lambda now, clip=clip, moment=moment: clip_changed(
                now, clip.id, moments=(moment,)))
            self.window.player.restart()
            self.window.player.pause()
            self.hold(Qt.Key.Key_J, 4)
            self.steps(14)
            self.hand.until(lambda: self.window.player.recording.is_compiled, "the edit")
            pictures.append(self.hand.picture(self.window.booth).toImage())
        self.assertNotEqual(pictures[0], pictures[1])
        self.assertNotEqual(pictures[0], pictures[2])
        self.assertNotEqual(pictures[1], pictures[2])
