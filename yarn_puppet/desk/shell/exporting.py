"""What a run gives to others: its trace as a table or waves, the marked ticks as a picture that
moves."""

from __future__ import annotations

from pathlib import Path

from PIL import Image
from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QProgressDialog, QWidget

from ...core.formats.errors import FileProblem
from ...core.formats.pictures.moving_picture import save_moving, ticks_shown
from ...core.formats.trace_file import TRACES, save_trace
from ...core.takes.trace import trace_lines
from ..booth.booth_view import BoothView
from ..session.run.player import Player
from ..session.settings import Settings
from ..session.work.job import Job
from ..widgets import theme
from ..widgets.asking import complain
from ..widgets.dialogs import choose_file
from ..widgets.timers import timer


class Exporting(QObject):
    """Asks for a file, and writes; long work goes on in the background and can be stopped."""

    done = pyqtSignal()

    def __init__(
        self, window: QWidget, booth: BoothView, player: Player, settings: Settings
    ) -> None:
        super().__init__(window)
        self.window, self.booth, self.player, self.settings = window, booth, player, settings
        self.job = Job(self)

    def trace(self) -> None:
        """The ticks that are marked, or all of them, as JSON lines, CSV or VCD."""
        names = " ".join(f"*{suffix}" for suffix in TRACES)
        choose_file(self.window, "Write the trace as", f"Traces ({names})", self.settings.folder,
                    self.write_trace,
                    ".csv", self.player.take_name or "trace", other_suffixes=tuple(TRACES))

    def write_trace(self, path: Path) -> None:
        """Write it to a file."""
        first, last = self.player.span
        run, rate = self.player.records, self.player.recording.puppet.rate

        def write(_: int) -> str:
            try:
                save_trace(lambda: trace_lines(run.between(first, last + 1)), rate, path)
            except FileProblem as problem:
                return str(problem)
            return ""

        self.job.start([0], write, self._written)

    def moving_picture(self) -> None:
        """The booth over the ticks that are marked, as GIF or APNG."""
        choose_file(self.window, "Write the booth as", "Pictures that move (*.gif *.png *.apng)",
                    self.settings.folder,
                    self.write_picture, ".gif", self.player.take_name or "booth",
                    other_suffixes=(".png", ".apng"))

    def write_picture(self, path: Path) -> None:
        """Draw every tick, then write them."""
        first, last = self.player.span
        self.player.pause()
        shown = ticks_shown(last + 1 - first, self.player.recording.puppet.rate,
                            path.suffix.lower())
        Drawing(self, path, [(first + tick, lasts) for tick, lasts in shown]).start()

    def _written(self, problems: list[str]) -> None:
        if problems[0]:
            complain(self.window, "This cannot be written", problems[0])
        self.done.emit()


class Drawing(QObject):
    """Draws the booth tick by tick, between which the window does what it has to, and lets itself
    be stopped."""

    def __init__(self, owner: Exporting, path: Path, ticks: list[tuple[int, float]]) -> None:
        super().__init__(owner)
        self.owner, self.path, self.ticks = owner, path, ticks
        self.pictures: list[Image.Image] = []
        self.head = owner.player.head
        self.progress = theme.dressed(QProgressDialog(
            "Drawing the booth", "Stop", 0, len(ticks), owner.window))
        self.progress.setObjectName("drawing")
        self.progress.setMinimumDuration(400)
        self.timer = timer(self, 0)
        self.timer.timeout.connect(self._draw_one)

    def start(self) -> None:
        """Begin."""
        self.owner.booth.show_bare(True)
        self.timer.start()

    def _draw_one(self) -> None:
        number, player = len(self.pictures), self.owner.player
        if self.progress.wasCanceled():
            self._end()
            return
        if number < len(self.ticks):
            player.seek(self.ticks[number][0])
            self.pictures.append(_picture_of(self.owner.booth))
            self.progress.setValue(number + 1)
            return
        pictures, lasts, path = self.pictures, [lasts for _, lasts in self.ticks], self.path

        def write(_: int) -> str:
            try:
                save_moving(pictures, lasts, path)
            except FileProblem as problem:
                return str(problem)
            return ""

        self.owner.job.start([0], write, self.owner._written)
        self._end()

    def _end(self) -> None:
        self.timer.stop()
        self.progress.close()
        self.owner.booth.show_bare(False)
        self.owner.player.seek(self.head)
        self.deleteLater()


def _picture_of(widget: QWidget) -> Image.Image:
    image = widget.grab().toImage().convertToFormat(QImage.Format.Format_RGB888)
    bits = image.constBits()
    assert bits is not None
    return Image.frombytes("RGB", (image.width(), image.height()),
                           bits.asstring(image.sizeInBytes()), "raw", "RGB",
                           image.bytesPerLine())
