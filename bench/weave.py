"""The weave of 100 and of 1,000 states: painting while playing, an edit on show, layout, routing, opening.

`python -m bench.weave`, off screen. Each figure is the median and the 95th percentile of several turns; the ratio of
the two sizes is what counts, since machines differ.
"""

from __future__ import annotations

import gc
import os
import tempfile
import threading
from collections.abc import Callable
from pathlib import Path
from statistics import median
from time import perf_counter

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

SIZES = (100, 1000)
TURNS = 40


def times(
    work: Callable[[], object], turns: int = TURNS, before: Callable[[], object] = lambda: None
) -> list[float]:
    """How long each of several turns takes, in milliseconds, sorted; `before` each, something that is not counted."""
    found = []
    for _ in range(turns):
        before()
        start = perf_counter()
        work()
        found.append((perf_counter() - start) * 1000)
    return sorted(found)


def said(found: list[float]) -> str:
    """Median and 95th percentile."""
    return f"p50 {median(found):7.2f}  p95 {found[len(found) * 95 // 100]:7.2f} ms"


def measure(states: int, folder: Path) -> dict[str, list[float]]:
    """All figures of one size."""
    puppet = large_puppet(states)
    path = folder / f"{states}.puppet.json"
    save_puppet(puppet, path)
    layout = lay_out(puppet, 762)
    found = {
        "layout": times(lambda: lay_out(puppet, 762), 10),
        "routing of one card": times(lambda: route_of(puppet, layout, ["s1"]), 20),
        "routing of a page": times(lambda: route_of(puppet, layout, list(layout.cards)[:100]), 5),
        "routing of all": times(lambda: route_of(puppet, layout, list(layout.cards)), 3),
    }
    window = Window()
    window.resize(1280, 800)
    window.show()
    found["opening"] = times(lambda: shown(window, lambda: window.files.load(path)), 3)
    view = window.page("Weave").view
    window.player.restart()
    window.player.pause()

    def played() -> None:
        window.player.step(1)
        QApplication.processEvents()

    def painted() -> None:
        view.repaint()

    def quiet() -> None:
        """Hands rest between two edits: what follows the last one in threads has ended."""
        window.snags.refresh()
        while window.player.busy or len(threading.enumerate()) > 1:
            QApplication.processEvents()

    for _ in range(5):
        played()
    found["a tick on show"] = times(played, 120)
    found["a paint"] = times(painted, 120)
    names = iter(range(10_000))
    found["an edit on show"] = times(lambda: shown(window, lambda: window.document.edit(
        "rename", lambda now: edits.state_changed(now, "s5", name=f"Renamed {next(names)}"))), 40, quiet)
    found["a state added on show"] = times(lambda: shown(window, lambda: window.document.edit(
        "add", lambda now: edits.state_added(now, f"New {next(names)}", None, now.groups[0].id, 3, "body")[0])), 40,
        quiet)
    found["an edit right after another"] = times(lambda: shown(window, lambda: window.document.edit(
        "rename", lambda now: edits.state_changed(now, "s5", name=f"Renamed {next(names)}"))), 40)
    found["a card selected"] = times(lambda: shown(window, lambda: window.document.select(
        "state", f"s{next(names) % states}")), 20)
    window.files.drop_edits()
    window.close()
    window.deleteLater()
    QApplication.processEvents()
    gc.collect()
    return found


def route_of(puppet, layout, nodes: list[str]) -> object:  # type: ignore[no-untyped-def]
    """The threads of some cards."""
    ends = Ends(puppet, layout)
    return route(ends, ends.all_tails(nodes))


def shown(window: Window, does: Callable[[], object]) -> None:
    """Do something, and let the window show it."""
    does()
    QApplication.processEvents()
    window.page("Weave").view.repaint()


def main() -> None:
    """Measure both sizes, and print them with their ratios."""
    application = make_application()
    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_CONFIG_HOME"] = folder
        few, many = (measure(size, Path(folder)) for size in SIZES)
    for name in few:
        ratio = median(many[name]) / max(1e-6, median(few[name]))
        print(f"{name:>20}: {SIZES[0]} states {said(few[name])}   {SIZES[1]} states {said(many[name])}"
              f"   {ratio:5.1f} ×")
    application.quit()


if __name__ == "__main__":
    main()
