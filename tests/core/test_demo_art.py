"""The demo's art is what its scripts draw, and what the puppet says of it is so."""

from __future__ import annotations

import numpy as np
from PIL import Image

from tests.helpers import Case, demo_puppet
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.clips import Clip
from yarn_puppet.core.snags.check import check
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET
from yarn_puppet.demo.make.art.pell import draw_pell
from yarn_puppet.demo.make.art.poses import CLIPS
from yarn_puppet.demo.make.art.strokes import bent
from yarn_puppet.demo.make.art.thatch import draw_thatch
from yarn_puppet.demo.make.art.world_poses import WORLD_CLIPS

PELL = load_puppet(DEMO_PUPPET)
WHOLE: tuple[Clip, ...] = tuple(clip
                                for clip in PELL.clips if clip.id not in (
                                    "umbrella_arm", "lantern"))
"""The clips that show all of Pell."""
SHEETS = {
    sheet.id: np.asarray(Image.open(DEMO_FOLDER / sheet.path).convert("RGBA")).astype(int)
    for sheet in PELL.sheets
}
OFF_THE_GROUND = ("rise", "fall", "hang", "shimmy", "pull_up", "climb", "slide_down", "afloat",
                  "swim", "thrown",
                  "roll")
LOW = ("crawl", "swim", "land", "thrown", "get_up", "roll", "pull_up")


def cell_of(clip: str, index: int) -> np.ndarray:
    """The pixels of a frame, shape (height, width, 4)."""
    found = PELL.clip(clip)
    assert found is not None
    cell = found.frames[index].cell
    return SHEETS[cell.sheet][cell.y: cell.y + cell.height, cell.x: cell.x + cell.width]


class Pell(Case):
    def test_the_sheet_is_what_the_script_draws(self) -> None:
        for clip, index in (("idle", 0), ("walk", 3), ("light_swing", 3), ("guard", 2), ("run", 1),
                            ("umbrella_arm", 2), ("lantern", 3), ("hang", 1), ("swim", 2),
                            ("roll", 3)):
            with self.subTest(clip):
                drawn = np.asarray(draw_pell({**CLIPS, **WORLD_CLIPS}[clip][0]()[index][0])).astype(
                    int)
                visible = (drawn[..., 3] > 8) | (cell_of(clip, index)[..., 3] > 8)
                self.assertLessEqual(np.abs(drawn - cell_of(clip, index))[visible].max(initial=0),
                                     2)

    def test_every_frame_has_a_figure_standing_near_its_pivot(self) -> None:
        for clip in WHOLE:
            for index in range(len(clip.frames)):
                alpha = cell_of(clip.id, index)[..., 3]
                rows = np.flatnonzero((alpha > 128).any(axis=1))
                self.assertTrue((16 if clip.id in LOW else 36) <= rows[-1] - rows[0] <= 64,
                                f"{clip.id} {index}")
                if clip.id not in OFF_THE_GROUND:
                    self.assertLessEqual(abs(rows[-1] + 1 - 60), 4,
                                         f"{clip.id} {index} stands on the ground")

    def test_the_pole_tip_is_where_the_flame_is(self) -> None:
        for clip in PELL.clips:
            for index, frame in enumerate(clip.frames):
                for anchor in [each for each in frame.anchors if each.anchor == "pole_tip"]:
                    x, y = round(anchor.x), round(anchor.y)
                    around = cell_of(clip.id, index)[max(0, y - 2): y + 2, max(0, x - 2): x + 2]
                    bright = (around[..., 0] > 220) & (around[..., 1] > 180) & (
                        around[..., 3] > 200)
                    inside = 0 <= x < 96 and 0 <= y < 62
                    # Behind the umbrella the pole is put away: the lantern hangs at the belt.
                    put_away = clip.id == "guard"
                    self.assertTrue(bright.any() != put_away or not inside, f"{clip.id} {index}")

    def test_the_hit_boxes_of_the_swing_hold_the_pole_tip_when_it_is_forward(self) -> None:
        swing = demo_puppet().clip("light_swing")
        assert swing is not None
        for index in (3, 4):
            box = next(box for box in swing.frames[index].boxes if box.kind == "hit")
            tip = swing.frames[index].anchors[0]
            self.assertTrue(box.x <= tip.x <= box.x + box.width and box.y <= tip.y <= box.y
                            + box.height)

    def test_the_puppet_has_no_snags_and_all_the_clips_asked_of_it(self) -> None:
        self.assertEqual(check(PELL), ())
        self.assertEqual([clip.id for clip in PELL.clips], [*CLIPS, *WORLD_CLIPS])


class Drawing(Case):
    def test_a_joint_keeps_its_bones_lengths_or_stretches_straight(self) -> None:
        x, y = bent((0, 0), (10, 0), 8, 8, 1)
        self.assertAlmostEqual((x * x + y * y) ** 0.5, 8)
        self.assertAlmostEqual(((x - 10) ** 2 + y * y) ** 0.5, 8)
        x, y = bent((0, 0), (40, 0), 8, 8, 1)
        self.assertAlmostEqual(y, 0, delta=0.6)

    def test_old_thatch_is_on_his_picture(self) -> None:
        shipped = np.asarray(Image.open(DEMO_FOLDER / "thatch.png").convert("RGBA")).astype(int)
        drawn = np.asarray(draw_thatch()).astype(int)
        self.assertEqual(shipped.shape, (64, 48, 4))
        self.assertLessEqual(np.abs(shipped - drawn)[shipped[..., 3] > 8].max(), 2)
