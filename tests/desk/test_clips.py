"""The Clips page: cutting, timing, boxes, anchors and events, by hand."""

from __future__ import annotations

import shutil

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtTest import QTest

from tests.desk.case import DeskCase
from yarn_puppet.core.model.clips import Box, Clip, Frame
from yarn_puppet.core.model.events import Moment, Window
from yarn_puppet.demo import DEMO_FOLDER


class ClipsPage(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.page = self.go("Clips")
        self.desk, self.lanes, self.view = self.page.desk, self.page.lanes, self.page.frame_view
        self.show_frame("light_swing", 3)

    def show_frame(self, clip: str, index: int) -> None:
        number = [each.id for each in self.puppet.clips].index(clip)
        self.hand.click(self.page.ribbons, self.page.ribbons.thumb(number, index))

    @property
    def clip(self) -> Clip:
        clip = self.desk.clip
        assert clip is not None
        return clip

    @property
    def frame(self) -> Frame:
        frame = self.desk.frame
        assert frame is not None
        return frame

    def lane_point(self, number: int, time: float) -> QPointF:
        return QPointF(self.lanes.x_of(time), self.lanes.lane_rect(number).center().y())

    def event(self, id: str) -> Moment | Window:
        return next(event for event in self.clip.events if event.id == id)


class OnTheFrame(ClipsPage):
    def test_a_click_in_a_ribbon_shows_that_frame(self) -> None:
        self.assertEqual((self.desk.clip_id, self.desk.index), ("light_swing", 3))
        words = " ".join(part.text for part in self.page.clip_sentence.parts)
        self.assertTrue(words.startswith("light_swing frame 4 of 7, 96×64 px, lasts 40 ms"), words)

    def test_the_pivot_is_dragged_in_one_step(self) -> None:
        self.hand.click(self.page.tools["pivot"])
        self.hand.drag(self.view, self.view.to_view(44, 60), self.view.to_view(40, 58))
        self.assertEqual((self.clip.pivot.x, self.clip.pivot.y), (40.0, 58.0))
        self.hand.key(self.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual((self.clip.pivot.x, self.clip.pivot.y), (44.0, 60.0))

    def test_a_hit_box_is_moved_and_stretched_by_its_corner(self) -> None:
        box = self.frame.boxes[-1]
        self.hand.drag(self.view, self.view.to_view(box.x + 10, box.y + 10),
                       self.view.to_view(box.x + 14, box.y + 8))
        moved = self.frame.boxes[-1]
        self.assertEqual((moved.x, moved.y, moved.width, moved.height),
                         (box.x + 4, box.y - 2, box.width, box.height))
        corner = self.view.to_view(moved.x + moved.width, moved.y + moved.height)
        self.hand.drag(self.view, corner, self.view.to_view(moved.x + 20, moved.y + 12))
        self.assertEqual((self.frame.boxes[-1].width, self.frame.boxes[-1].height), (20.0, 12.0))

    def test_a_body_box_is_drawn_again_and_removed_by_key(self) -> None:
        self.hand.click(self.page.tools["body box"])
        self.view.setFocus()
        self.hand.key(self.view, Qt.Key.Key_Delete)
        self.assertFalse([box for box in self.frame.boxes if box.kind == "body"])
        self.hand.drag(self.view, self.view.to_view(30, 20), self.view.to_view(50, 58))
        self.assertIn(Box("body", 30, 20, 20, 38), self.frame.boxes)

    def test_an_anchor_is_dragged_and_nudged_by_key(self) -> None:
        self.hand.click(self.page.tools["anchor"])
        self.hand.drag(self.view, self.view.to_view(90, 34), self.view.to_view(80, 30))
        self.hand.key(self.view, Qt.Key.Key_Right, Qt.KeyboardModifier.AltModifier)
        point = next(anchor for anchor in self.frame.anchors if anchor.anchor == "pole_tip")
        self.assertEqual((point.x, point.y), (81.0, 30.0))

    def test_seen_mirrored_a_drag_still_means_the_art(self) -> None:
        self.hand.token(self.page.view_sentence, "mirror")
        self.assertGreater(self.view.to_view(10, 0).x(), self.view.to_view(80, 0).x())
        self.hand.click(self.page.tools["anchor"])
        self.hand.click(self.view, self.view.to_view(70, 20))
        point = next(anchor for anchor in self.frame.anchors if anchor.anchor == "pole_tip")
        self.assertEqual((point.x, point.y), (70.0, 20.0))

    def test_dragged_while_the_clip_plays_the_frame_that_was_pressed_is_edited(self) -> None:
        before = self.clip.frames
        for tool, at, to in (("hit box", (70, 30), (74, 28)), ("anchor", (60, 20), (64, 24)),
                             ("body box", (40, 30), (42, 31))):
            with self.subTest(tool):
                self.hand.click(self.page.tools[tool])
                self.desk.show_clip("light_swing", 3)
                self.desk.toggle_playing()
                pressed = self.view.painted[1]
                QTest.mousePress(self.view, Qt.MouseButton.LeftButton,
                                 pos=self.view.to_view(*at).toPoint())
                # Whatever would be on show by now, the hand is on the frame that was pressed.
                self.desk.show_time(self.clip.start_of((pressed + 2) % 7))
                QTest.mouseMove(self.view, self.view.to_view(*to).toPoint())
                QTest.mouseRelease(self.view, Qt.MouseButton.LeftButton,
                                   pos=self.view.to_view(*to).toPoint())
                self.assertFalse(self.desk.playing)
                changed = [index for index, (one, other) in enumerate(
                    zip(before, self.clip.frames, strict=True))
                           if one != other]
                self.assertEqual(changed, [pressed])
                self.window.document.undo()
                self.assertEqual(self.clip.frames, before)

    def test_one_action_makes_a_mirrored_copy(self) -> None:
        self.hand.token(self.page.clip_sentence, "mirrored copy")
        self.assertEqual((self.clip.name, self.clip.faces, self.desk.index),
                         ("light_swing left", "left", 3))

    def test_duration_mode_and_name_are_edited_in_the_sentence(self) -> None:
        for token, answer, typed in (("duration", "55", True), ("mode", "loop", False),
                                     ("clip name", "swipe", True)):
            self.hand.token(self.page.clip_sentence, token)
            self.hand.type(answer) if typed else self.hand.pick(answer)
        self.assertEqual((self.clip.frames[3].duration, self.clip.mode, self.clip.name),
                         (55.0, "loop", "swipe"))
        self.assertEqual(self.desk.index, 3, "the head stays on its frame")


class OnTheLanes(ClipsPage):
    def test_a_window_is_drawn_moved_and_stretched_snapping_to_frames(self) -> None:
        self.hand.drag(self.lanes, self.lane_point(2, 85), self.lane_point(2, 175))
        made = self.clip.windows[-1]
        self.assertEqual((made.kind, made.start, made.end), ("guard", 80.0, 180.0))
        self.hand.drag(self.lanes, self.lane_point(2, 130), self.lane_point(2, 188))
        self.assertEqual((self.event(made.id).start, self.event(made.id).end), (140.0, 240.0))
        self.hand.drag(self.lanes, self.lane_point(2, 240), self.lane_point(2, 300),
                       modifier=Qt.KeyboardModifier.AltModifier)
        self.assertAlmostEqual(self.event(made.id).end, 300.0, delta=1.0)

    def test_a_click_on_a_lane_makes_a_moment_and_the_sentence_edits_it(self) -> None:
        self.hand.click(self.lanes, self.lane_point(6, 222))
        made = self.clip.moments[-1]
        self.assertEqual((made.kind, made.name, made.at), ("call", "jump", 220.0))
        self.hand.token(self.page.timing, "moment at")
        self.hand.type("250")
        self.hand.token(self.page.timing, "moment name")
        self.hand.type("whistle")
        again = self.event(made.id)
        self.assertEqual((again.name, again.at), ("whistle", 250.0))  # type: ignore[union-attr]
        self.hand.token(self.page.timing, "remove event")
        self.assertNotIn(made.id, {event.id for event in self.clip.events})

    def test_an_effect_is_put_at_an_anchor_that_exists_without_typing_its_name(self) -> None:
        self.hand.click(self.lanes, self.lane_point(3, 300))
        made = self.clip.moments[-1]
        self.assertEqual((made.kind, made.anchor, made.follow), ("effect", "pole_tip", True))
        self.hand.token(self.page.timing, "moment anchor")
        self.hand.pick("the puppet's feet")
        self.hand.token(self.page.timing, "moment name")
        self.hand.pick("embers")
        self.assertEqual((self.clip.moments[-1].anchor, self.clip.moments[-1].name),
                         (None, "embers"))

    def test_a_cancel_window_is_limited_to_states_by_picking_them(self) -> None:
        self.hand.click(self.lanes, self.lane_point(1, 300))
        self.hand.token(self.page.timing, "add into")
        self.hand.pick("Crouch")
        self.hand.token(self.page.timing, "into rise_state")
        window = self.event("swing_cancel")
        assert isinstance(window, Window)
        self.assertEqual(window.into, ("guard_state", "crouch_state"))

    def test_a_frames_edge_is_dragged_to_make_it_last(self) -> None:
        y = 40.0
        edge = QPointF(self.lanes.x_of(80), y)
        self.hand.drag(self.lanes, edge, QPointF(edge.x() + 40, y))
        self.assertGreater(self.clip.frames[0].duration, 80.0)
        self.assertEqual(self.clip.frames[1].duration, 60.0)
        self.assertEqual(self.window.document.history.undo_name, "change duration")
        self.window.document.undo()
        self.assertEqual(self.clip.frames[0].duration, 80.0, "one drag is one step")

    def test_the_counts_are_always_on_show(self) -> None:
        for selected in (None, "swing_hit", "spark"):
            self.desk.select_event(selected)
            self.assertEqual(self.page.counts.text(),
                             "0.42 s, 26 ticks at 60 Hz · startup 9   active 5   recovery 12")

    def test_by_key_at_the_head(self) -> None:
        self.lanes.setFocus()
        self.hand.key(self.lanes, Qt.Key.Key_Right)
        self.hand.key(self.lanes, Qt.Key.Key_5)
        self.assertEqual((self.clip.moments[-1].kind, self.clip.moments[-1].at), ("sound", 220.0))
        self.hand.key(self.lanes, Qt.Key.Key_Delete)
        self.assertEqual(len(self.clip.moments), 3)
        self.desk.show_time(233.0)
        self.hand.key(self.lanes, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
        self.assertEqual((self.clip.moments[-1].kind, self.clip.moments[-1].at), ("effect", 233.0))


class Cutting(ClipsPage):
    def test_the_grid_is_edited_live_and_cells_are_picked_by_dragging(self) -> None:
        self.hand.click(self.page.heading.recut)
        cut = self.page.cut
        self.assertIn("12 × 16", " ".join(part.text for part in self.page.cut_sentence.parts))
        self.hand.drag(cut, cut.cell_rect(1, 0), cut.cell_rect(3, 1))
        self.hand.type("patch")
        made = self.puppet.clips[-1]
        self.assertEqual([(frame.cell.x // 96, frame.cell.y // 64) for frame in made.frames],
                         [(1, 0), (2, 0), (3, 0), (1, 1), (2, 1), (3, 1)])
        self.hand.token(self.page.cut_sentence, "cell width")
        self.hand.type("192")
        self.assertIn("6 × 16", " ".join(part.text for part in self.page.cut_sentence.parts))
        self.assertEqual(self.puppet.sheets[0].grid.cell_width, 192)
        self.assertEqual(self.puppet.clips[-1], made, "clips keep the cells they have")

    def test_picked_cells_are_added_to_a_clip_that_is_there(self) -> None:
        self.hand.click(self.page.heading.recut)
        cut = self.page.cut
        self.hand.drag(cut, cut.cell_rect(0, 1), cut.cell_rect(1, 1))
        self.hand.pick("crouch")
        crouch = self.puppet.clip("crouch")
        self.assertEqual([(frame.cell.x // 96, frame.cell.y // 64) for frame in crouch.frames[-2:]],
                         [(0, 1), (1, 1)])
        self.assertEqual(len(crouch.frames), 6)
        self.assertEqual(self.window.document.history.undo_name, "add frames")

    def test_empty_cells_are_left_out_and_every_row_can_be_a_clip(self) -> None:
        before = len(self.puppet.clips)
        self.hand.click(self.page.heading.recut)
        self.hand.token(self.page.cut_sentence, "every row")
        self.hand.pick("row 1 to row 16")
        added = self.puppet.clips[before:]
        self.assertEqual([len(clip.frames) for clip in added],
                         [6, 8, 3, 3, 7, 10, 3, 4, 6, 3, 6, 6, 6, 3, 4, 6])
        self.assertEqual(added[0].pivot, self.puppet.clips[0].pivot,
                         "sheets of one figure share a pivot")

    def test_rows_are_picked_by_key(self) -> None:
        self.hand.click(self.page.heading.recut)
        for key in (Qt.Key.Key_Down, Qt.Key.Key_Down, Qt.Key.Key_Return):
            self.hand.key(self.page.cut, key)
        self.hand.type("stride")
        self.assertEqual((self.puppet.clips[-1].name, len(self.puppet.clips[-1].frames)),
                         ("stride", 8))
        for key in (Qt.Key.Key_Right, Qt.Key.Key_Right):
            self.hand.key(self.page.cut, key)
            # Art may be told of at any time: what was picked stays picked.
            self.window.sources.changed.emit()
        for key in (Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Left):
            self.hand.key(self.page.cut, key, Qt.KeyboardModifier.ShiftModifier)
        self.hand.key(self.page.cut, Qt.Key.Key_Return)
        self.hand.type("two")
        self.assertEqual([frame.cell.x // 96 for frame in self.puppet.clips[-1].frames], [1, 2])
        self.hand.key(self.page.cut, Qt.Key.Key_Escape)
        self.assertEqual(self.page.upper.currentIndex(), 0)

    def test_what_is_no_picture_is_said_and_the_others_still_come_in(self) -> None:
        good, bad = self.folder / "good.png", self.folder / "bad.png"
        shutil.copy(DEMO_FOLDER / "thatch.png", good)
        bad.write_bytes(b"\x89PNG\r\n\x1a\n" + b"no picture" * 20)
        before = len(self.puppet.sheets)
        self.page.bringing.bring_in([bad, self.folder / "gone.png", good])
        self.hand.until(lambda: not self.page.bringing.busy, "the pictures to be read")
        said = self.complaint()
        self.assertIn("bad.png: cannot be read as a picture", said)
        self.assertIn("gone.png: there is no such file", said)
        self.assertEqual([sheet.name for sheet in self.puppet.sheets[before:]], ["good.png"])

    def test_a_missing_sheet_is_drawn_as_a_marked_placeholder(self) -> None:
        whole = self.view.grab().toImage()
        self.window.art._sheets.clear()
        self.window.art._frames.clear()
        self.window.art.folder = self.folder
        self.view.update()
        self.assertNotEqual(self.view.grab().toImage(), whole)
        self.assertIsNone(self.window.art.sheet("lamplighter"))


class Playing(ClipsPage):
    def test_space_plays_the_clip_here_and_holds_it(self) -> None:
        self.view.setFocus()
        QTest.keyClick(self.view, Qt.Key.Key_Space)
        start = self.desk.time
        self.hand.until(lambda: self.desk.time != start, "the clip to play")
        QTest.keyClick(self.view, Qt.Key.Key_Space)
        held = self.desk.time
        self.hand.wait()
        self.assertEqual(self.desk.time, held)

    def test_the_page_fits_the_smallest_window(self) -> None:
        self.window.resize(1100, 700)
        self.hand.wait()
        for widget in (self.view, self.lanes, self.page.ribbons.parentWidget()):
            corner = widget.mapTo(self.window, widget.rect().bottomRight())
            self.assertTrue(QRectF(self.window.rect()).contains(QPointF(corner)))
