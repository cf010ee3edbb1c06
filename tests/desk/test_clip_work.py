"""Working on clips by hand: several frames, clips and events at once, boxes, pivots, looking and
playing."""

from __future__ import annotations

import wave
from io import BytesIO
from itertools import count, pairwise
from pathlib import Path
from unittest.mock import patch

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from tests.desk.test_clips import ClipsPage
from yarn_puppet.core.model.clips import Point
from yarn_puppet.core.model.events import Moment, Window
from yarn_puppet.desk.booth.sounds import varied

SHIFT, CONTROL = Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.ControlModifier


class Working(ClipsPage):
    def place(self, clip: str) -> int:
        return [each.id for each in self.puppet.clips].index(clip)

    def press_thumb(self, clip: str, index: int, modifier: Qt.KeyboardModifier) -> None:
        rect = self.page.ribbons.thumb(self.place(clip), index)
        QTest.mouseClick(self.page.ribbons, Qt.MouseButton.LeftButton, modifier,
                         rect.center().toPoint())
        self.hand.wait()

    def press_name(self, clip: str, modifier: Qt.KeyboardModifier) -> None:
        at = QPoint(60, int(self.page.ribbons.row(self.place(clip)).center().y()))
        QTest.mouseClick(self.page.ribbons, Qt.MouseButton.LeftButton, modifier, at)
        self.hand.wait()

    def cells(self, clip: str) -> list[int]:
        return [frame.cell.x // 96 for frame in self.puppet.clip(clip).frames]


class Frames(Working):
    def test_several_are_chosen_and_dragged_to_another_place(self) -> None:
        self.show_frame("walk", 1)
        self.press_thumb("walk", 3, SHIFT)
        self.assertEqual(self.desk.chosen_frames, (1, 2, 3))
        ribbons, row = self.page.ribbons, self.place("walk")
        target = ribbons.thumb(row, 7)
        self.hand.drag(ribbons, ribbons.thumb(row, 2),
                       QPointF(target.right() - 2, target.center().y()))
        self.assertEqual(self.cells("walk"), [0, 4, 5, 6, 7, 1, 2, 3])
        self.assertEqual(self.desk.chosen_frames, (5, 6, 7))
        step = next(moment for moment in self.clip.moments if moment.id == "other_step")
        self.assertEqual(step.at, 80.0, "it went on with the frame it is on")

    def test_one_more_and_one_less_with_ctrl(self) -> None:
        self.show_frame("walk", 0)
        for index in (2, 5, 2):
            self.press_thumb("walk", index, CONTROL)
        self.assertEqual(self.desk.chosen_frames, (0, 5))

    def test_into_another_clip_they_are_copied(self) -> None:
        self.show_frame("idle", 0)
        self.press_thumb("idle", 1, SHIFT)
        ribbons = self.page.ribbons
        target = ribbons.thumb(self.place("fall"), 0)
        self.hand.drag(ribbons, ribbons.thumb(self.place("idle"), 0),
                       QPointF(target.x() + 2, target.center().y()))
        self.assertEqual(len(self.puppet.clip("idle").frames), 6)
        self.assertEqual([frame.cell.y // 64 for frame in self.puppet.clip("fall").frames],
                         [0, 0, 3, 3, 3])

    def test_the_sentence_is_about_all_that_are_chosen(self) -> None:
        self.show_frame("walk", 1)
        self.press_thumb("walk", 2, SHIFT)
        self.assertTrue(" ".join(part.text for part in self.page.clip_sentence.parts).startswith(
            "2 frames of walk"))
        self.hand.token(self.page.clip_sentence, "duration")
        self.hand.type("120")
        self.assertEqual([frame.duration for frame in self.clip.frames],
                         [80, 120, 120, 80, 80, 80, 80, 80])
        self.hand.token(self.page.clip_sentence, "copy frames")
        self.assertEqual(self.cells("walk"), [0, 1, 2, 1, 2, 3, 4, 5, 6, 7])

    def test_by_key_they_are_chosen_moved_and_removed(self) -> None:
        self.show_frame("walk", 0)
        self.page.ribbons.setFocus()
        self.hand.key(self.page.ribbons, Qt.Key.Key_Right, SHIFT)
        self.hand.key(self.page.ribbons, Qt.Key.Key_Right, Qt.KeyboardModifier.AltModifier)
        self.assertEqual(self.cells("walk"), [2, 0, 1, 3, 4, 5, 6, 7])
        self.hand.key(self.page.ribbons, Qt.Key.Key_Delete)
        self.assertEqual(self.cells("walk"), [2, 3, 4, 5, 6, 7])

    def test_the_whole_is_set_and_each_frame_keeps_its_share(self) -> None:
        self.hand.token(self.page.clip_sentence, "length")
        self.hand.type("840")
        self.assertEqual([frame.duration for frame in self.clip.frames],
                         [160, 120, 80, 80, 120, 140, 140])
        self.assertEqual((self.event("swing_hit").start, self.event("swing_hit").end),
                         (280.0, 440.0))


class WholeClips(Working):
    def more(self, words: str) -> None:
        self.hand.token(self.page.clip_sentence, "more")
        self.hand.pick(words)

    def test_several_are_chosen_and_merged(self) -> None:
        self.press_name("rise", Qt.KeyboardModifier.NoModifier)
        self.press_name("fall", CONTROL)
        self.assertEqual(self.desk.chosen_clips, ("rise", "fall"))
        self.hand.token(self.page.clip_sentence, "merge")
        self.assertEqual((len(self.clip.frames), self.puppet.clip("fall")), (6, None))

    def test_split_reversed_copied_and_a_clip_of_one_frame(self) -> None:
        self.more("split before frame 4")
        self.assertEqual((self.clip.name, len(self.clip.frames)), ("light_swing 2", 4))
        self.more("run it backwards")
        self.assertEqual([frame.cell.x // 96 for frame in self.clip.frames], [6, 5, 4, 3])
        self.more("a copy")
        self.assertEqual(self.clip.name, "light_swing 2 2")
        self.more("a clip of this frame alone")
        self.assertEqual((self.clip.name, len(self.clip.frames)), ("light_swing 2 2 part", 1))

    def test_a_clip_is_dragged_by_its_name(self) -> None:
        ribbons = self.page.ribbons
        self.hand.drag(ribbons, QPointF(60, ribbons.row(4).center().y()), QPointF(60, 3.0))
        self.assertEqual(self.puppet.clips[0].id, "light_swing")

    def test_by_key_a_clip_is_moved_among_the_others(self) -> None:
        self.page.ribbons.setFocus()
        self.hand.key(self.page.ribbons, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
        self.assertEqual([clip.id for clip in self.puppet.clips][3:5], ["light_swing", "fall"])
        for _ in range(2):
            self.hand.key(self.page.ribbons, Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
        self.assertEqual([clip.id for clip in self.puppet.clips][3:6],
                         ["fall", "heavy_slam", "light_swing"])

    def test_search_lists_what_is_named_like_it(self) -> None:
        QTest.keyClick(self.page, Qt.Key.Key_F, CONTROL)
        QTest.keyClicks(self.page.heading.search, "SW")
        self.hand.wait()
        self.assertEqual([clip.name for clip in self.page.ribbons.clips], ["light_swing"])
        self.hand.click(self.page.ribbons, self.page.ribbons.thumb(0, 2))
        self.assertEqual((self.desk.clip_id, self.desk.index), ("light_swing", 2))

    def test_renamed_by_pattern_with_the_places_listed_first(self) -> None:
        self.hand.token(self.page.heading.more, "page more")
        self.hand.pick("rename by pattern…")
        dialog = next(toplevelwidget
                      for toplevelwidget in QApplication.topLevelWidgets()
                      if toplevelwidget.objectName() == "rename")
        self.hand.token(dialog.sentence, "pattern")
        self.hand.type("*_s*")
        self.hand.token(dialog.sentence, "becomes")
        self.hand.type("s*_*")
        rows = [dialog.list.item(row).text() for row in range(dialog.list.count())]
        self.assertEqual(rows, ["light_swing  →  slight_wing     state Light swing",
                                "heavy_slam  →  sheavy_lam     state Heavy slam"])
        self.hand.click(dialog.go)
        self.assertEqual([clip.name for clip in self.puppet.clips][4:6],
                         ["slight_wing", "sheavy_lam"])
        self.assertEqual(self.window.document.history.undo_name, "rename clips")

    def test_it_goes_out_as_a_moving_picture_and_all_as_a_packed_sheet(self) -> None:
        self.more("save as GIF or APNG…")
        self.answer_file(self.folder / "swing.gif")
        self.hand.until(lambda: not self.page.saving.busy, "the file written")
        self.assertTrue((self.folder / "swing.gif").is_file())
        self.hand.token(self.page.heading.more, "page more")
        self.hand.pick("save all as a packed sheet…")
        self.answer_file(self.folder / "pell.png")
        self.hand.until(lambda: not self.page.saving.busy, "the files written")
        self.assertTrue((self.folder / "pell.png").is_file()
                        and (self.folder / "pell.sheet.json").is_file())


class OnTheFrame(Working):
    def test_a_second_hit_box_is_drawn_beside_the_first_and_edited_in_numbers(self) -> None:
        self.hand.drag(self.view, self.view.to_view(10, 6), self.view.to_view(24, 20))
        self.assertEqual([(box.kind, box.name) for box in self.frame.boxes],
                         [("body", ""), ("hit", "pole"), ("hit", "pole")])
        self.hand.token(self.page.tool_sentence, "box width")
        self.hand.type("20")
        self.assertEqual((self.frame.boxes[2].x, self.frame.boxes[2].width), (10.0, 20.0))
        self.hand.token(self.page.tool_sentence, "which box")
        self.hand.token(self.page.tool_sentence, "remove box")
        self.assertEqual([box.x for box in self.frame.boxes], [34.0, 10.0])

    def test_a_box_is_added_without_the_mouse_and_nudged(self) -> None:
        self.show_frame("light_swing", 5)
        self.hand.token(self.page.tool_sentence, "add box")
        made = self.frame.boxes[-1]
        self.assertEqual((made.kind, made.name), ("hit", "pole"))
        self.hand.key(self.view, Qt.Key.Key_Left, Qt.KeyboardModifier.AltModifier | SHIFT)
        self.assertEqual(self.frame.boxes[-1].x, made.x - 8)

    def test_boxes_are_copied_on_and_fitted(self) -> None:
        self.hand.token(self.page.tool_sentence, "copy on")
        self.assertEqual([sum(box.kind == "hit" for box in frame.boxes)
                          for frame in self.clip.frames],
                         [0, 0, 1, 1, 1, 1, 1])
        self.hand.click(self.page.tools["body box"])
        self.hand.token(self.page.tool_sentence, "fit")
        self.hand.pick("every frame")
        for frame in self.clip.frames:
            body = next(box for box in frame.boxes if box.kind == "body")
            drawn = self.window.art.frame_pixels(frame)[:, :, 3] > 24
            self.assertEqual((body.y, body.height), (float(drawn.any(axis=1).argmax()),
                                                     float(64 - drawn.any(axis=1)[
                                                         ::-1].argmax()) - body.y))

    def test_feet_that_drift_are_put_right_frame_by_frame(self) -> None:
        self.show_frame("walk", 0)
        self.hand.click(self.page.tools["pivot"])
        self.assertIn("feet drift 1.5 px across, 0 down",
                      " ".join(p.text for p in self.page.tool_sentence.parts))
        self.hand.token(self.page.tool_sentence, "whose pivot")
        self.hand.pick("this frame's")
        self.page.ribbons.setFocus()
        self.hand.key(self.page.ribbons, Qt.Key.Key_A, CONTROL)
        self.hand.token(self.page.tool_sentence, "put pivot")
        self.hand.pick("by the feet")
        self.assertIn("feet drift 0 px across, 0 down",
                      " ".join(p.text for p in self.page.tool_sentence.parts))
        self.assertTrue(all(frame.pivot for frame in self.clip.frames))
        self.hand.token(self.page.tool_sentence, "put pivot")
        self.hand.pick("bottom centre")
        self.assertEqual({self.clip.pivot_of(index) for index in range(8)}, {Point(48, 64)})

    def test_a_frame_has_a_pivot_of_its_own(self) -> None:
        self.hand.click(self.page.tools["pivot"])
        self.hand.token(self.page.tool_sentence, "whose pivot")
        self.hand.pick("this frame's")
        self.hand.token(self.page.tool_sentence, "pivot x")
        self.hand.type("40")
        self.hand.key(self.view, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
        self.assertEqual((self.frame.pivot, self.clip.pivot), (Point(40, 59), Point(44, 60)))
        self.hand.key(self.view, Qt.Key.Key_Delete)
        self.assertIsNone(self.frame.pivot)

    def test_an_anchor_lies_between_its_neighbours_until_it_is_kept(self) -> None:
        self.hand.click(self.page.tools["anchor"])
        self.hand.token(self.page.tool_sentence, "clear anchor")
        between = self.clip.anchor_at(3, "pole_tip")
        self.assertFalse(self.frame.anchors)
        assert between is not None
        self.hand.token(self.page.tool_sentence, "keep anchor")
        self.assertEqual((self.frame.anchors[0].x, self.frame.anchors[0].y), (between.x, between.y))

    def test_zoomed_and_panned_a_press_still_means_the_pixel_under_it(self) -> None:
        self.hand.token(self.page.view_sentence, "zoom")
        self.hand.pick("8×")
        start = self.view.to_view(50, 30)
        QTest.mousePress(self.view, Qt.MouseButton.MiddleButton, pos=self.view.rect().center())
        QTest.mouseMove(self.view, self.view.rect().center() + QPoint(40, -16))
        QTest.mouseRelease(self.view, Qt.MouseButton.MiddleButton,
                           pos=self.view.rect().center() + QPoint(40, -16))
        self.hand.wait()
        self.assertEqual(self.view.to_view(50, 30) - start, QPointF(40, -16))
        self.hand.click(self.page.tools["anchor"])
        self.hand.click(self.view, self.view.to_view(52, 33))
        point = next(anchor for anchor in self.frame.anchors if anchor.anchor == "pole_tip")
        self.assertEqual((point.x, point.y), (52.0, 33.0))
        self.hand.key(self.view, Qt.Key.Key_0)
        self.assertIsNone(self.view.zoom)


class Looking(Working):
    def picture(self):  # type: ignore[no-untyped-def]
        return self.view.grab().toImage()

    def test_ghosts_ground_and_mirror_are_seen(self) -> None:
        seen = [self.picture()]
        self.hand.token(self.page.view_sentence, "ghosts")
        self.hand.pick("3")
        seen.append(self.picture())
        self.hand.token(self.page.view_sentence, "ground")
        seen.append(self.picture())
        self.hand.token(self.page.view_sentence, "mirror")
        seen.append(self.picture())
        for number, one in enumerate(seen):
            for other in seen[number + 1:]:
                self.assertNotEqual(one, other)

    def test_the_seam_is_judged_and_its_two_frames_flicker(self) -> None:
        self.show_frame("walk", 3)
        token = self.page.view_sentence.token("seam")
        self.assertTrue(token.text().startswith("smooth: "))
        self.hand.click(token)
        shown: set[int] = set()

        def both() -> bool:
            shown.add(self.desk.index)
            return {0, 7} <= shown

        self.hand.until(both, "both frames of the seam")
        self.assertLessEqual(shown, {0, 7, 3})
        self.hand.click(self.page.view_sentence.token("seam"))
        self.assertFalse(self.desk.flicker)

    def test_it_plays_to_and_fro_and_at_other_speeds(self) -> None:
        self.hand.token(self.page.play_sentence, "way")
        self.hand.token(self.page.play_sentence, "speed")
        self.hand.pick("2×")
        self.desk.show_time(0)
        indices = [0]

        def moved() -> None:
            if self.desk.index != indices[-1]:
                indices.append(self.desk.index)

        self.desk.moved.connect(moved)
        clock = count(0.0, 0.01)
        # On a clock of its own, of a hundredth of a second a step: a busy machine must not leave
        # frames out.
        with patch("yarn_puppet.desk.clips.clip_desk.perf_counter", lambda: next(clock)):
            self.hand.token(self.page.play_sentence, "play")
            self.hand.until(lambda: len(indices) > 1 and indices[-1] == 0, "the way there and back")
            self.hand.token(self.page.play_sentence, "play")
        last = len(self.clip.frames) - 1
        there = list(range(last + 1))
        self.assertEqual(indices[:2 * last + 1], there + there[-2::-1])


class OnTheLanes(Working):
    def click_event(self, lane: int, time: float, modifier: Qt.KeyboardModifier) -> None:
        QTest.mouseClick(self.lanes, Qt.MouseButton.LeftButton, modifier,
                         self.lane_point(lane, time).toPoint())
        self.hand.wait()

    def test_several_events_are_dragged_together(self) -> None:
        self.click_event(0, 180, Qt.KeyboardModifier.NoModifier)
        self.click_event(3, 141, SHIFT)
        self.assertEqual(self.desk.events, {"swing_hit", "spark"})
        self.hand.drag(self.lanes, self.lane_point(0, 160), self.lane_point(0, 98))
        self.assertEqual((self.event("swing_hit").start, self.event("spark").at), (80.0, 80.0))
        self.assertEqual(self.event("whip").at, 80.0)
        self.window.document.undo()
        self.assertEqual((self.event("swing_hit").start, self.event("spark").at), (140.0, 140.0))

    def test_they_are_moved_by_number_and_copied_to_another_clip(self) -> None:
        self.lanes.setFocus()
        self.hand.key(self.lanes, Qt.Key.Key_A, CONTROL)
        self.hand.token(self.page.timing, "move by")
        self.hand.type("-20")
        self.assertEqual((self.event("whip").at, self.event("spark").at), (60.0, 120.0))
        self.hand.token(self.page.timing, "copy event")
        self.hand.pick("crouch")
        crouch = self.puppet.clip("crouch")
        self.assertEqual((len(crouch.moments), len(crouch.windows)), (3, 2))

    def make(self, lane: int, kind: str) -> Moment:
        self.hand.click(self.lanes, self.lane_point(lane, 250))
        if self.clip.moments[-1].kind != kind:
            self.hand.token(self.page.timing, "moment kind")
            self.hand.pick(kind)
        return self.clip.moments[-1]

    def edit_number(self, token: str, value: str) -> None:
        self.hand.token(self.page.timing, token)
        self.hand.type(value)

    def test_every_kind_of_moment_is_edited_as_a_sentence(self) -> None:
        self.make(5, "launch")
        self.edit_number("speed", "300")
        self.edit_number("angle", "20")
        made = self.clip.moments[-1]
        self.assertEqual((made.kind, made.anchor, made.speed, made.angle),
                         ("launch", "pole_tip", 300.0, 20.0))
        self.make(6, "shake")
        self.edit_number("strength", "6")
        self.edit_number("seconds", "0.5")
        self.assertEqual((self.clip.moments[-1].strength, self.clip.moments[-1].seconds),
                         (6.0, 0.5))
        self.make(3, "effect")
        self.hand.token(self.page.timing, "mirrors")
        self.hand.token(self.page.timing, "only on hit")
        self.assertEqual((self.clip.moments[-1].mirrors, self.clip.moments[-1].only_on_hit),
                         (False, True))
        self.hand.token(self.page.timing, "clip shown")
        self.hand.pick("walk")
        for token in ("round", "under"):
            self.hand.token(self.page.timing, token)
        made = self.clip.moments[-1]
        self.assertEqual((made.clip, made.round, made.under), ("walk", True, True))
        self.hand.token(self.page.timing, "no clip")
        self.assertIsNone(self.clip.moments[-1].clip)
        self.make(5, "attach")
        self.hand.token(self.page.timing, "file")
        self.answer_file(self.sheet_file())
        self.assertTrue(self.clip.moments[-1].file.endswith("thatch.png"))
        self.hand.token(self.page.timing, "no file")
        self.assertEqual(self.clip.moments[-1].file, "")

    def sheet_file(self):  # type: ignore[no-untyped-def]
        return self.window.document.folder / "thatch.png"

    def test_a_call_has_typed_arguments(self) -> None:
        self.make(6, "call")
        for text in ("loud = 3", 'tone = "low"', "far = true"):
            self.hand.token(self.page.timing, "add argument")
            self.hand.type(text)
        self.assertEqual([(argument.name, argument.value)
                          for argument in self.clip.moments[-1].arguments],
                         [("loud", 3), ("tone", "low"), ("far", True)])
        self.hand.token(self.page.timing, "argument loud")
        self.hand.type("loud = 4.5")
        self.assertEqual(self.clip.moments[-1].arguments[0].value, 4.5)
        self.hand.token(self.page.timing, "add argument")
        self.hand.type("loud is __import__('os')")
        self.assertIn("expected name = value", self.hand.popup().note.text())
        self.hand.popup().close()

    def test_a_sound_is_heard_at_the_desk_and_in_the_booth(self) -> None:
        self.click_event(4, 81, Qt.KeyboardModifier.NoModifier)
        self.hand.token(self.page.timing, "hear")
        self.assertEqual(self.window.sounds.heard[-1].name, "cloth_whip.wav")
        self.window.show_page("Weave")
        self.window.sounds.heard.clear()
        self.hold(Qt.Key.Key_J, 3)
        self.steps(12)
        self.assertEqual([path.name for path in self.window.sounds.heard], ["cloth_whip.wav"])

    def test_one_of_several_sounds_louder_or_higher_by_chance(self) -> None:
        self.click_event(4, 81, Qt.KeyboardModifier.NoModifier)
        sounds = self.window.document.folder / "sounds"
        for file in ("pole_hit.wav", "canopy.wav"):
            self.hand.token(self.page.timing, "another sound")
            self.answer_file(sounds / file)
        for token, value in (("weight of sound 3", "2"), ("volume", "0.5"),
                             ("volume spread", "0.25"), ("pitch spread", "0.1")):
            self.edit_number(token, value)
        heard = next(moment for moment in self.clip.moments if moment.heard.others).heard
        self.assertEqual([(Path(each.file).name, each.weight) for each in heard.others],
                         [("pole_hit.wav", 1.0), ("canopy.wav", 2.0)])
        self.assertEqual((heard.volume, heard.volume_spread, heard.pitch_spread), (0.5, 0.25, 0.1))
        self.assertIn("never the same twice running",
                      [part.text for part in self.page.timing.parts])
        self.window.show_page("Weave")
        self.window.sounds.heard.clear()
        for _ in range(8):
            self.hold(Qt.Key.Key_J, 3)
            self.steps(40)
        names = [path.name for path in self.window.sounds.heard]
        self.assertEqual(set(names), {"cloth_whip.wav", "pole_hit.wav", "canopy.wav"})
        self.assertTrue(all(one != other for one, other in pairwise(names)), names)
        volume, pitch = self.window.sounds.how
        self.assertTrue(0.25 <= volume <= 0.75 and 0.9 <= pitch <= 1.1)
        self.window.show_page("Clips")
        self.hand.token(self.page.timing, "remove sound 2")
        self.assertEqual(len(next(moment for moment in self.clip.moments
                                  if moment.heard.others).heard.others), 1)
        self.hand.token(self.page.timing, "no file")
        left = next(moment for moment in self.clip.moments if moment.heard.volume == 0.5)
        self.assertEqual((Path(left.file).name, left.heard.weight, left.heard.others),
                         ("canopy.wav", 2.0, ()))

    def test_a_wave_is_made_louder_and_higher(self) -> None:
        raw = (self.window.document.folder / "sounds" / "cloth_whip.wav").read_bytes()
        with wave.open(BytesIO(raw)) as before, wave.open(
                BytesIO(varied(raw, 0.5, 1.5))) as after:
            self.assertEqual(after.getframerate(), round(before.getframerate() * 1.5))
            self.assertEqual(after.getnframes(), before.getnframes())
            one, other = (np.frombuffer(each.readframes(1 << 20), dtype="<i2").astype(float)
                          for each in (before, after))
        self.assertLessEqual(np.abs(one * 0.5 - other).max(), 0.5)
        with self.assertRaises((wave.Error, EOFError)):
            varied(b"RIFF", 1.0, 2.0)

    def test_a_hit_window_has_push_and_hit_stop(self) -> None:
        self.click_event(0, 180, Qt.KeyboardModifier.NoModifier)
        self.edit_number("push", "20")
        self.edit_number("hit stop", "8")
        window = self.event("swing_hit")
        assert isinstance(window, Window)
        self.assertEqual((window.push, window.hit_stop), (20.0, 8))

    def test_frames_are_chosen_on_the_lanes_too(self) -> None:
        top = QRectF(0, 30, 10, 10).center().y()
        self.hand.click(self.lanes, QPointF(self.lanes.x_of(10), top))
        QTest.mouseClick(self.lanes, Qt.MouseButton.LeftButton, SHIFT,
                         QPointF(self.lanes.x_of(160), top).toPoint())
        self.assertEqual(self.desk.chosen_frames, (0, 1, 2))


class AnchorEverywhere(Working):
    def test_one_is_put_into_all_clips_and_a_guess_is_one_until_it_is_touched(self) -> None:
        page = self.go("Clips")
        page.desk.show_clip("idle", 0)
        self.hand.click(page.tools["anchor"])
        self.hand.token(page.tool_sentence, "which anchor")
        self.hand.type("belt")
        view = page.frame_view
        self.hand.click(view, view.to_view(44, 40))
        self.hand.token(page.tool_sentence, "anchor everywhere")
        self.hand.pick("kept in its place beside the body box")
        self.assertTrue(all(frame.anchor("belt") for clip in self.puppet.clips
                            for frame in clip.frames))
        page.desk.show_clip("walk", 2)
        page.refresh()
        self.hand.token(page.tool_sentence, "guessed anchor")
        guesses = [point.guess for frame in self.puppet.clip("walk").frames
                   for point in frame.anchors if point.anchor == "belt"]
        self.assertEqual([number for number, guess in enumerate(guesses) if not guess], [2])
