"""Cutting a large sheet beside decoding it, and the Clips page with many clips beside few: `python
-m bench.sheets`.

The sheet is 8192×8192 pixels with 2,000 frames, drawn here. Every figure is a ratio within this one
run; the peak is the most memory this process has held, of which the share of one decoded copy is
given.
"""

from __future__ import annotations

import os
import resource
import tempfile
from collections.abc import Callable
from pathlib import Path
from statistics import median
from time import perf_counter

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PIL import Image

SIDE, ACROSS, DOWN, FRAMES = 8192, 128, 256, 2000
ROUNDS = 5


def timed(work: Callable[[], object]) -> float:
    """Seconds that a piece of work takes."""
    start = perf_counter()
    work()
    return perf_counter() - start


def peak() -> int:
    """The most memory held so far, in bytes."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024


def draw_large(path: Path) -> None:
    """A sheet of figures, each of its own colours, in cells of 128×256 pixels."""
    dice = np.random.default_rng(5)
    sheet = np.zeros((SIDE, SIDE, 4), dtype=np.uint8)
    for number in range(FRAMES):
        x, y = number % (SIDE // ACROSS) * ACROSS, number // (SIDE // ACROSS) * DOWN
        figure = sheet[y + 40: y + 248, x + 24: x + 104]
        figure[:] = (*dice.integers(0, 255, 3), 255)
        figure[::3, ::2, :3] = dice.integers(0, 255, figure[::3, ::2, :3].shape)
    Image.fromarray(sheet, "RGBA").save(path, compress_level=6)


def bench_cutting(path: Path) -> None:
    """Decoding, then guessing the grid, finding the filled cells, and making clips of every row."""
    from PyQt6.QtWidgets import QApplication

    from yarn_puppet.core.art.cutting import filled_rows, guess_grid
    from yarn_puppet.core.model.edits.clips import sheet_added
    from yarn_puppet.core.model.starter import new_puppet
    from yarn_puppet.desk.clips.cutting.fitting import clip_from_cells, drawn_in
    from yarn_puppet.desk.pictures.art import Art
    from yarn_puppet.desk.pictures.decoding import read_pictures
    from yarn_puppet.desk.pictures.pixels import alpha_of

    assert QApplication.instance() is not None
    before = peak()
    decoding, cutting, making = [], [], []
    for _ in range(ROUNDS):
        start = perf_counter()
        image = read_pictures(path)[0][0]
        decoding.append(perf_counter() - start)
        puppet, id = sheet_added(new_puppet(), str(path), path.name, None)
        art = Art()
        art.show(puppet, path.parent)
        art.know(path, (image,))
        start = perf_counter()
        grid = guess_grid(alpha_of(image))
        rows = filled_rows(id, alpha_of(image), grid)
        cutting.append(perf_counter() - start)
        start = perf_counter()
        drawn = {cell: drawn_in(art.pixels(cell)) for row in rows for cell in row}
        for number, row in enumerate(rows):
            puppet, _ = clip_from_cells(puppet, drawn, f"row {number + 1}", row)
        making.append(perf_counter() - start)
        assert sum(len(row) for row in rows) == FRAMES, "every frame is found"
        assert (grid.cell_width, grid.cell_height) == (ACROSS, DOWN)
        del image, art
    decoded = SIDE * SIDE * 4
    print(f"{SIDE}×{SIDE} pixels, {FRAMES} frames; medians of {ROUNDS} rounds")
    print(f"  decoding {median(decoding):.2f} s, cutting {median(cutting):.2f} s, "
          f"clips with pivots, boxes and marks {median(making):.2f} s")
    print(
        f"  ratio: cutting takes {median(cutting) / median(decoding):.2f} times as long as "
        "decoding; "
        f"with the clips {(median(cutting) + median(making)) / median(decoding):.2f} times"
    )
    print(
        f"  peak: {peak() / 2**20:.0f} MB, {(peak() - before) / decoded:.2f} times one decoded "
        "copy over the start"
    )


def bench_page() -> None:
    """The Clips page opened with 500 clips and with 50, in turns."""
    from PyQt6.QtTest import QTest

    from yarn_puppet.core.formats.puppet_file import load_puppet
    from yarn_puppet.core.model.edits.clips import clip_duplicated
    from yarn_puppet.demo import DEMO_FOLDER, FIRST_STEPS
    from yarn_puppet.desk.shell.window import Window

    def with_clips(count: int):  # type: ignore[no-untyped-def]
        puppet = load_puppet(FIRST_STEPS)
        while len(puppet.clips) < count:
            puppet = clip_duplicated(puppet, puppet.clips[len(puppet.clips) % 8].id)[0]
        return puppet

    times: dict[int, list[float]] = {50: [], 500: []}
    puppets = {count: with_clips(count) for count in times}
    for _ in range(ROUNDS + 1):
        for count, puppet in puppets.items():
            window = Window()
            window.resize(1280, 800)
            window.document._replace(puppet, DEMO_FOLDER / "bench.puppet.json")
            window.show()
            QTest.qWait(30)

            def opened(window: Window = window) -> None:
                window.show_page("Clips")
                window.grab()

            times[count].append(timed(opened))
            window.files.drop_edits()
            window.close()
            window.deleteLater()
            QTest.qWait(5)
    few, many = (median(time[1:]) for time in times.values())
    print(
        f"the Clips page opened: {few * 1000:.0f} ms with 50 clips, {many * 1000:.0f} ms with 500"
    )
    print(f"  ratio: {many / few:.2f}")


def main() -> None:
    """Draw the sheet, then both."""
    from yarn_puppet.desk.shell.application import make_application

    application = make_application()
    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_CONFIG_HOME"] = folder
        path = Path(folder) / "large.png"
        # In a process of its own, so that its memory is not counted here.
        if os.fork() == 0:
            draw_large(path)
            os._exit(0)
        os.wait()
        bench_cutting(path)
        bench_page()
    del application


if __name__ == "__main__":
    main()
