"""A rig that somebody else made, at the desk: its unit and axes, and which bone is which."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from tests.desk.test_bones import BonesCase
from yarn_puppet.core.model.motions import BoneSetting
from yarn_puppet.demo import DEMO_FOLDER
from yarn_puppet.desk.clips.pose.pairs import PairsDialog

LIMBS = (("Left", 1), ("Right", -1))


def stranger(path: Path) -> Path:
    """A BVH in centimetres with z up, arms out, a root at 0 0 0, joints named by another
    school, and one that no name tells of."""
    lines = ["HIERARCHY", "ROOT Hips", "{", "OFFSET 0 0 0",
             "CHANNELS 6 xposition yposition zposition zrotation xrotation yrotation"]
    count = 6

    def joint(name: str, offset: str, *under: str) -> list[str]:
        return [f"JOINT {name}", "{", f"OFFSET {offset}",
                "CHANNELS 3 zrotation xrotation yrotation", *under, "}"]

    end = ("End Site", "{", "OFFSET 0 -8 0", "}")
    made = []
    for side, way in LIMBS:
        knee = joint(f"{side}Knee", "0 0 -45", *joint(f"{side}Ankle", "0 0 -42", *end))
        made += joint(f"{side}Hip", f"{9 * way} 0 -4", *knee)
        count += 9
    arms = []
    for side, way in LIMBS:
        wrist = joint(f"{side}Wrist", f"{25 * way} 0 0", *end)
        elbow = joint(f"{side}Elbow", f"{27 * way} 0 0", *wrist)
        arms += joint(f"{side}Shoulder", f"{18 * way} 0 8", *elbow)
        count += 9
    top = joint("Neck", "0 0 25", *joint("Thinker", "0 0 10", *end))
    made += joint("Chest", "0 0 12", *joint("Chest2", "0 0 14", *top, *arms))
    count += 12
    row = "0 0 91 " + " ".join(["0"] * (count - 3))
    path.write_text("\n".join([*lines, *made, "}", "MOTION", "Frames: 3", "Frame Time: .1",
                               row, row]))
    return path


class Strangers(BonesCase):
    file = None

    def sentence(self) -> str:
        self.hand.wait()
        return " ".join(part.text for part in self.page.news_sentence.parts)

    def at(self, figure: object, bone: str) -> QPoint:
        return figure.places()[figure.skeleton.names.index(bone)].toPoint()

    def test_three_gestures_from_a_strangers_rig_to_ours(self) -> None:
        path = stranger(self.folder / "walk.bvh")
        self.drop(DEMO_FOLDER / "harrow.glb", path)
        self.hand.until(lambda: "walk.bvh" in self.sentence(), "what came in")
        words = self.sentence()
        for each in ("in centimetres (a guess)", "it says 3 frames, and has 2",
                     "it rests otherwise than ours:"):
            self.assertIn(each, words)
        # One: as a whole. Two: its arms. Three: the bone that no name tells of.
        self.hand.token(self.page.news_sentence, "set bones right")
        self.assertEqual(self.puppet.bone_files[1].setting.up, "z")
        self.assertIn("limbs rest otherwise", self.sentence())
        self.hand.token(self.page.news_sentence, "bone limbs")
        self.assertTrue(self.puppet.bone_files[1].setting.limbs)
        self.hand.token(self.page.news_sentence, "bone pairs")
        dialog = next(each for each in self.window.findChildren(PairsDialog))
        QTest.mouseClick(dialog.theirs, Qt.MouseButton.LeftButton,
                         pos=self.at(dialog.theirs, "Thinker"))
        QTest.mouseClick(dialog.ours, Qt.MouseButton.LeftButton, pos=self.at(dialog.ours, "head"))
        pairs = self.puppet.bone_files[1].pairs
        self.assertEqual([(pair.theirs, pair.ours) for pair in pairs], [("Thinker", "head")])
        self.assertIn("LeftKnee", " ".join(part.text for row in dialog.rows for part in row.parts))
        self.assertEqual(set(dialog.theirs.paired),
                         set(range(len(dialog.theirs.skeleton.names))))
        # Taken back, and set in the list.
        number = dialog.theirs.skeleton.names.index("Thinker")
        self.hand.token(dialog.rows[number], "unpair Thinker")
        self.assertEqual(self.puppet.bone_files[1].pairs, ())
        self.hand.token(dialog.rows[number], "pair Thinker")
        self.hand.pick("head")
        # It stands on the ground, though its root rests at zero.
        clip = self.puppet.clips[-1]
        world = self.bones.world(clip, 0.0)
        rest = self.bones.world(self.clip("idle"), 0.0)
        self.assertAlmostEqual(world.places[0, :, 1].min(), rest.places[0, :, 1].min(), 1)
        # The next file of the same kind is paired as this one.
        self.drop(stranger(self.folder / "run.bvh"))
        self.hand.token(self.page.news_sentence, "pair as before")
        self.assertEqual(self.puppet.bone_files[2].pairs, self.puppet.bone_files[1].pairs)

    def test_the_unit_and_the_height_of_a_body_are_set_in_its_sentence(self) -> None:
        self.drop(stranger(self.folder / "body.bvh"))
        self.hand.until(lambda: "body.bvh" in self.sentence(), "what came in")
        self.assertEqual(self.puppet.bone_files[0].setting, BoneSetting(up="z"))
        tall = self.bones.height
        self.assertLess(abs(tall - 1.55), 0.1)
        self.hand.token(self.page.news_sentence, "bone unit")
        self.hand.pick("millimetres")
        self.hand.until(lambda: self.bones.height < 0.2, "a tenth")
        self.hand.token(self.page.news_sentence, "bone unit")
        self.hand.type("1.8 m")
        self.hand.until(lambda: abs(self.bones.height - 1.8) < 0.05, "its height")
        self.hand.token(self.page.news_sentence, "bone file done")
        self.assertNotIn("tall", self.sentence())
        self.hand.token(self.page.clip_sentence, "bone file")
        self.assertIn(f"{self.bones.height:.2f} m tall", self.sentence())
