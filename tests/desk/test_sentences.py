"""Sentences and the editors at their tokens."""

from __future__ import annotations

import unittest
from dataclasses import replace

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from tests.desk.case import APPLICATION, FAULTS
from yarn_puppet.desk.tour.hand import Hand
from yarn_puppet.desk.widgets import theme
from yarn_puppet.desk.widgets.parts import (
    Field,
    Suggestion,
    Token,
    Word,
    choice_field,
    name_field,
    number_field,
)
from yarn_puppet.desk.widgets.sentence import Sentence


class SentenceCase(unittest.TestCase):
    """A sentence in a window of its own; what is committed is gathered."""

    def setUp(self) -> None:
        FAULTS.clear()
        self.assertIsNotNone(APPLICATION)
        self.window = QWidget()
        self.sentence, self.below = Sentence(), QLineEdit()
        self.sentence.fallback = self.below
        layout = QVBoxLayout(self.window)
        layout.addWidget(self.sentence)
        layout.addWidget(self.below)
        layout.addStretch(1)
        self.window.resize(500, 300)
        self.window.show()
        self.window.activateWindow()
        QTest.qWaitForWindowActive(self.window)
        self.hand = Hand()
        self.got: list[object] = []
        self.addCleanup(self.window.deleteLater)
        self.addCleanup(lambda: self.assertEqual(FAULTS, []))

    def show_field(self, field: Field) -> None:
        self.sentence.show_parts([Word("it is"), Token("this", theme.INDIGO, field, name="field")])
        self.hand.token(self.sentence, "field")

    def key(self, key: Qt.Key) -> None:
        QTest.keyClick(self.hand.popup().line, key)

    def rows(self) -> list[str]:
        popup = self.hand.popup()
        return [popup.list.item(row).text() for row in range(popup.list.count())]


class Editors(SentenceCase):
    def test_a_choice_is_filtered_by_typing_and_taken_by_enter(self) -> None:
        self.show_field(choice_field("b", [("stone", "a"), ("straw", "b"), ("water", "c")],
                                     self.got.append))
        self.assertEqual(self.hand.popup().line.text(), "straw")
        self.assertEqual(self.hand.popup().list.currentItem().text(), "straw")
        self.hand.popup().line.clear()
        QTest.keyClicks(self.hand.popup().line, "st")
        self.assertEqual(self.rows(), ["stone", "straw"])
        self.key(Qt.Key.Key_Down)
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.got, ["b"])

    def test_a_choice_takes_nothing_that_is_not_there(self) -> None:
        self.show_field(choice_field("a", [("stone", "a")], self.got.append))
        self.hand.popup().line.clear()
        QTest.keyClicks(self.hand.popup().line, "cloud")
        self.key(Qt.Key.Key_Return)
        self.assertEqual((self.got, self.rows()), ([], []))
        self.key(Qt.Key.Key_Escape)

    def test_a_number_is_stepped_by_the_arrows_within_its_bounds(self) -> None:
        self.show_field(number_field(0.2, self.got.append, 0, 0.35, 0.1))
        for key in (Qt.Key.Key_Up, Qt.Key.Key_Up, Qt.Key.Key_Up):
            self.key(key)
        self.assertEqual(self.hand.popup().line.text(), "0.3")
        self.key(Qt.Key.Key_Down)
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.got, [0.2])

    def test_a_wrong_number_is_said_and_kept_for_mending(self) -> None:
        self.show_field(number_field(5, self.got.append, 1, 10, 1))
        for typed, said in (("eleven", "expected a number"), ("11", "expected 1 to 10")):
            self.hand.popup().line.selectAll()
            QTest.keyClicks(self.hand.popup().line, typed)
            self.key(Qt.Key.Key_Return)
            self.assertEqual((self.hand.popup().note.text(), self.hand.popup().line.text()),
                             (said, typed))
        self.hand.popup().line.selectAll()
        QTest.keyClicks(self.hand.popup().line, "7,5")
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.got, [7.5])

    def test_no_row_of_a_list_is_overlapped_by_the_hint_however_long(self) -> None:
        for count in (1, 4, 30):
            for hint in ("", "short", "a hint of several lines, " * 9):
                field = choice_field("a 0",
                                     [(f"a {number}", f"a {number}") for number in range(count)],
                                     self.got.append)
                self.show_field(replace(field, hint=hint))
                popup = self.hand.popup()
                self.hand.wait()
                self.assertGreaterEqual(popup.list.height(), 26 * min(9, count))
                if hint:
                    self.assertLessEqual(popup.list.geometry().bottom(),
                                         popup.note.geometry().top())
                    words = popup.note.fontMetrics().boundingRect(
                        popup.note.rect(), Qt.TextFlag.TextWordWrap, popup.note.text())
                    self.assertGreaterEqual(popup.note.height(), words.height())
                    self.assertLess(popup.height() - popup.note.geometry().bottom(), 16)
                popup.close()

    def test_escape_and_a_click_elsewhere_leave_all_as_it_was(self) -> None:
        self.show_field(name_field("old", self.got.append))
        QTest.keyClicks(self.hand.popup().line, "new")
        self.key(Qt.Key.Key_Escape)
        self.hand.wait()
        with self.assertRaises(LookupError):
            self.hand.popup()
        self.assertEqual(self.got, [])

    def test_a_suggestion_that_does_not_finish_goes_on_being_typed(self) -> None:
        suggestions = (Suggestion("grounded", "grounded"),
                       Suggestion("speed …", "speed >", finishes=False))
        self.show_field(Field("", self.got.append, suggestions))
        self.hand.pick("speed …")
        self.assertEqual(self.hand.popup().line.text(), "speed >")
        QTest.keyClicks(self.hand.popup().line, " 4")
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.got, ["speed > 4"])


class Flow(SentenceCase):
    def test_it_flows_over_as_many_lines_as_it_needs(self) -> None:
        self.sentence.show_parts([Token(f"token {number}", theme.MOSS) for number in range(20)])
        self.hand.wait()
        wide = self.sentence.height()
        self.window.resize(260, 500)
        self.hand.wait()
        self.assertGreater(self.sentence.height(), wide)
        area = self.sentence.rect()
        boxes = [token.geometry() for token in self.sentence.tokens()]
        for number, box in enumerate(boxes):
            self.assertTrue(area.contains(box), box)
            self.assertFalse(any(box.intersects(other) for other in boxes[number + 1:]))

    def test_the_keyboard_stays_on_the_token_of_the_same_name_or_goes_to_the_fallback(self) -> None:
        self.sentence.show_parts([Token("1", theme.MOSS, name="count"),
                                  Token("x", theme.MOSS, name="other")])
        self.sentence.token("count").setFocus()
        self.sentence.show_parts([Token("2", theme.MOSS, name="count")])
        self.assertTrue(self.sentence.token("count").hasFocus())
        self.sentence.show_parts([Word("nothing to edit")])
        self.assertTrue(self.below.hasFocus())

    def test_tokens_are_reached_by_tab_and_opened_by_enter(self) -> None:
        self.sentence.show_parts([
            Token("do", theme.MOSS, action=lambda: self.got.append("done"), name="do"),
            Token("say", theme.MOSS, name_field("a", self.got.append), name="say"),
        ])
        self.sentence.token("do").setFocus()
        QTest.keyClick(self.sentence.token("do"), Qt.Key.Key_Return)
        QTest.keyClick(self.sentence.token("do"), Qt.Key.Key_Tab)
        self.assertTrue(self.sentence.token("say").hasFocus())
        QTest.keyClick(self.sentence.token("say"), Qt.Key.Key_Return)
        self.hand.type("b")
        self.assertEqual(self.got, ["done", "b"])

    def test_a_token_that_is_not_there_is_named(self) -> None:
        self.sentence.show_parts([Token("a", theme.MOSS)])
        with self.assertRaisesRegex(KeyError, "b is not among"):
            self.sentence.token("b")
