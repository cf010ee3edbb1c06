"""The scale of ticks over the trace's lanes: numbers where there is room for them."""

from __future__ import annotations

from unittest import mock

from PyQt6.QtGui import QPainter, QPixmap

from tests.desk.case import APPLICATION
from tests.helpers import Case
from yarn_puppet.desk.trace import drawing_time
from yarn_puppet.desk.trace.drawing_time import TickScale, draw_scale
from yarn_puppet.desk.widgets import theme


class Numbers(Case):
    def numbers(self, scale: TickScale) -> list[tuple[float, str]]:
        """Where each number begins, and the number."""
        self.assertIsNotNone(APPLICATION)
        picture = QPixmap(round(scale.right) + 12, 200)
        with mock.patch.object(drawing_time.theme, "draw_text") as written:
            painter = QPainter(picture)
            draw_scale(painter, scale)
            painter.end()
        return [(call.args[1], call.args[3]) for call in written.call_args_list]

    def test_none_runs_out_of_the_view_and_none_into_the_next(self) -> None:
        font = theme.font(11.5)
        for first in (0.0, 74.6, 99_950.5):
            for width in (0.02, 0.5, 8.0, 24.0):
                scale = TickScale(first, width, 118, 1256, 28, 180)
                found = self.numbers(scale)
                self.assertGreater(len(found), 3)
                ends = [x + theme.text_width(text, font) for x, text in found]
                self.assertLessEqual(ends[-1], scale.right)
                for end, (begins, _) in zip(ends, found[1:], strict=False):
                    self.assertLess(end, begins)
                for x, text in found:
                    self.assertEqual(scale.x_of(int(text)) + 3, x)
