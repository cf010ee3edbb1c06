"""The weave of 100, 1,000 and 3,000 states: painting while playing, an edit on show, layout,
routing, opening.

`python -m bench.weave`, off screen. Each figure is the median and the 95th percentile of several
turns; the ratio of the sizes is what counts, since machines differ. What grows by more than `BAR`
says is marked, and the exit code is 1.
"""

from __future__ import annotations

import os
import sys
import tempfile
import threading
from collections.abc import Callable
from pathlib import Path
from statistics import median
from time import perf_counter
from typing import NamedTuple

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtWidgets import QApplication

from bench.large import large_puppet
from yarn_puppet.core.formats.puppet_file import save_puppet
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.desk.shell.application import make_application
from yarn_puppet.desk.shell.window import Window
from yarn_puppet.desk.weave.placing.ends import Ends
from yarn_puppet.desk.weave.placing.layout import lay_out
from yarn_puppet.desk.weave.placing.routing import route

SIZES = (100, 1000, 3000)
BAR = 1.5
"""How many times as much as its share 3,000 states may take beside 1,000: what grows, grows
linearly."""
BARS = {"routing of all": 2.5}
"""Where that is another: here each thread of the puppet crosses more rows too, as its transitions
go anywhere."""


class Work(NamedTuple):
    """What is measured: some work, how often, and what goes before each turn without being
    counted."""

    does: Callable[[], object]
    turns: int
    before: Callable[[], object] = lambda: None


def said(found: list[float]) -> str:
    """Median and 95th percentile."""
    return f"p50 {median(found):7.2f}  p95 {found[len(found) * 95 // 100]:7.2f} ms"


def works(states: int, folder: Path) -> dict[str, Work]:
    """All that is measured of one size."""
    puppet = large_puppet(states)
    path = folder / f"{states}.puppet.json"
    save_puppet(puppet, path)
    layout = lay_out(puppet, 762)
    window = Window()
    window.resize(1280, 800)
    window.show()
    window.files.load(path)
    view = window.page("Weave").view
    window.player.restart()
    window.player.pause()
    names = iter(range(100_000))

    def played() -> None:
        window.player.step(1)
        QApplication.processEvents()

    def opened() -> None:
        window.files.drop_edits()
        shown(lambda: window.files.load(path))

    def quiet() -> None:
        """Hands rest between two edits: what follows the last one in threads has ended."""
        window.snags.refresh()
        while window.player.busy or len(threading.enumerate()) > 1:
            QApplication.processEvents()

    def renamed() -> None:
        shown(lambda: window.document.edit("rename", lambda now: edits.state_changed(
            now, "s5", name=f"Renamed {next(names)}")))

    def added() -> None:
        shown(lambda: window.document.edit("add", lambda now: edits.state_added(
            now, f"New {next(names)}", None, now.groups[0].id, 3, "body")[0]))

    for _ in range(5):
        played()
    return {
        "layout": Work(lambda: lay_out(puppet, 762), 20),
        "routing of one card": Work(lambda: route_of(puppet, layout, ["s1"]), 20),
        "routing of a page": Work(lambda: route_of(puppet, layout, list(layout.cards)[:100]), 20),
        "routing of all": Work(lambda: route_of(puppet, layout, list(layout.cards)), 8),
        "a tick on show": Work(played, 120),
        "a paint": Work(view.repaint, 120),
        "an edit on show": Work(renamed, 40, quiet),
        "a state added on show": Work(added, 40, quiet),
        "an edit right after another": Work(renamed, 40),
        "a card selected": Work(lambda: shown(lambda: window.document.select(
            "state", f"s{next(names) % states}")), 40, quiet),
        "opening": Work(opened, 5, quiet),
    }


def measured(sizes: list[Work]) -> list[list[float]]:
    """How long each turn took, in milliseconds, sorted. The sizes take turns, since machines change
    their speed."""
    found: list[list[float]] = [[] for _ in sizes]
    for _ in range(sizes[0].turns):
        for work, times in zip(sizes, found, strict=True):
            work.before()
            start = perf_counter()
            work.does()
            times.append((perf_counter() - start) * 1000)
    return [sorted(times) for times in found]


def route_of(puppet, layout, nodes: list[str]) -> object:  # type: ignore[no-untyped-def]
    """The threads of some cards."""
    ends = Ends(puppet, layout)
    return route(ends, ends.all_tails(nodes))


def shown(does: Callable[[], object]) -> None:
    """Do something, and let the window paint it."""
    does()
    QApplication.processEvents()


def main() -> int:
    """Measure the sizes, and print them with the ratios of each to the one before."""
    application, over = make_application(), 0
    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_CONFIG_HOME"] = folder
        all_works = [works(size, Path(folder)) for size in SIZES]
        for name in all_works[0]:
            times = measured([work[name] for work in all_works])
            few, many, most = (max(1e-6, median(time)) for time in times)
            high = most / many > SIZES[2] / SIZES[1] * BARS.get(name, BAR)
            over += high
            figures = "   ".join(f"{size} {said(each)}"
                                 for size, each in zip(SIZES, times, strict=True))
            print(
                f"{name:>27}: {figures}   {many / few:5.1f} × {most / many:5.1f} "
                f"×{'   over the bar' * high}",
                flush=True,
            )
    application.quit()
    return 1 if over else 0


if __name__ == "__main__":
    sys.exit(main())
