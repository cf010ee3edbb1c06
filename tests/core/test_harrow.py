"""Harrow's files: what they hold, and that the scripts make them."""

from __future__ import annotations

import tempfile
from pathlib import Path

import numpy as np

from tests.helpers import Case
from yarn_puppet.core.formats.bones.reading import load_bones
from yarn_puppet.core.pose.bones.sampling import ClipSampler
from yarn_puppet.core.pose.bones.world_pose import in_world, skinned
from yarn_puppet.demo import DEMO_FOLDER
from yarn_puppet.demo.make.harrow.files import write_harrow

LOOPS = ("idle", "walk", "crouch", "hanging")


class Harrow(Case):
    def setUp(self) -> None:
        self.body, self.more = (load_bones(DEMO_FOLDER / f"{name}.glb")
                                for name in ("harrow", "harrow_more"))

    def test_the_scripts_make_what_is_shipped(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            write_harrow(Path(folder))
            for name, shipped in (("harrow", self.body), ("harrow_more", self.more)):
                made = load_bones(Path(folder) / f"{name}.glb")
                self.assertEqual(made.skeleton.names, shipped.skeleton.names)
                self.assertEqual(len(made.clips), len(shipped.clips))
                for one, other in zip(made.clips, shipped.clips, strict=True):
                    self.assertEqual(one.name, other.name)
                    for channel, same in zip(one.channels, other.channels, strict=True):
                        # Another processor may round the last digit otherwise.
                        self.assertLess(np.abs(channel.values - same.values).max(), 1e-5)
                for mesh, same_mesh in zip(made.meshes, shipped.meshes, strict=True):
                    self.assertLess(np.abs(mesh.places - same_mesh.places).max(), 1e-4)

    def test_he_has_34_bones_a_body_and_what_he_does(self) -> None:
        self.assertEqual(len(self.body.skeleton.names), 34)
        self.assertEqual([clip.name for clip in (*self.body.clips, *self.more.clips)],
                         ["idle", "walk", "light strike", "heavy strike", "crouch", "hurt",
                          "hanging"])
        self.assertEqual((self.body.left_out, self.more.left_out), ((), ()))
        self.assertEqual(self.more.meshes, ())

    def test_what_goes_round_ends_as_it_begins_and_nothing_jumps(self) -> None:
        for art in (self.body, self.more):
            for clip in art.clips:
                times = np.arange(round(clip.seconds * 60) + 1) / 60
                places = in_world(art.skeleton, ClipSampler(art.skeleton, clip).at(times)).places
                if clip.name in LOOPS:
                    self.assertLess(np.abs(places[0] - places[-1]).max(), 0.004, clip.name)
                # In a sixtieth of a second no hand goes 30 cm.
                self.assertLess(np.linalg.norm(np.diff(places, axis=0), axis=2).max(), 0.3,
                                clip.name)

    def test_his_feet_stand_on_the_ground_and_not_under_it(self) -> None:
        for clip in self.body.clips:
            pose = in_world(self.body.skeleton, ClipSampler(self.body.skeleton, clip).at(
                np.linspace(0, clip.seconds, 12)))
            for time in range(12):
                lowest = min(float(skinned(mesh, pose, time)[:, 1].min())
                             for mesh in self.body.meshes)
                self.assertLess(abs(lowest), 0.06, (clip.name, time))
