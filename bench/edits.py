"""What an edit costs the window's thread on every page, at several sizes: `python -m bench.edits
[STATES…]`.

With no sizes: the demo, and puppets of 30, 300, 1,000 and 3,000 states. Every page was opened
before. Each figure is in milliseconds of the thread's own time, which another program's load hardly
changes: the edit with all that is painted of it, and, after the stroke, the longest single piece of
what follows once hands rest. Before each page stands what a fixed loop took just then: machines
that are shared change their speed by the minute, and a figure means what it is beside that.
"""

from __future__ import annotations

import os
import sys
import tempfile
import threading
from collections.abc import Callable, Iterator
from pathlib import Path
from statistics import median
from time import sleep, thread_time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import QEventLoop
from PyQt6.QtWidgets import QApplication

from bench.large import large_puppet
from bench.yardstick import yardstick
from yarn_puppet.core.formats.puppet_file import save_puppet
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.core.model.edits.frames import frames as frame_edits
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.demo import DEMO_PUPPET
from yarn_puppet.desk.shell.application import make_application
from yarn_puppet.desk.shell.pages import PAGES
from yarn_puppet.desk.shell.window import Window

TURNS = 5
TABLES = {"Crossings": "crossings", "Frame data": "frame data"}
"""What stands on the Weave's page in the place of its cards."""


def kinds() -> dict[str, Callable[[Puppet, int], Puppet]]:
    """Edits by name, each a little different at every turn."""
    def state(puppet: Puppet, turn: int) -> str:
        return puppet.states[turn * 7 % len(puppet.states)].id

    def clip(puppet: Puppet, turn: int) -> str:
        return puppet.clips[turn * 5 % len(puppet.clips)].id

    return {
        "rename": lambda puppet, turn: edits.state_changed(
            puppet, state(puppet, turn), name=f"Renamed {turn}"),
        "condition": lambda puppet, turn: edits.transition_changed(
            puppet, puppet.transitions[turn % len(puppet.transitions)].id,
            when=f"speed > {turn}.5"),
        "duration": lambda puppet, turn: frame_edits.frame_changed(
            puppet, clip(puppet, turn), 0, duration=33.0 + turn),
        "add a state": lambda puppet, turn: edits.state_added(
            puppet, f"New {turn}", puppet.clips[0].id, None)[0],
        "remove one": lambda puppet, turn: edits.state_removed(puppet, state(puppet, turn)),
    }


def settled(window: Window) -> float:
    """Let what follows an edit run; the longest piece of it, in seconds of this thread."""
    window.snags.refresh()
    longest, still = 0.0, 0
    while still < 6:
        began = thread_time()
        QApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 4)
        took = thread_time() - began
        longest = max(longest, took)
        still = (
            still + 1
            if took < 0.0004 and not window.player.busy and threading.active_count() == 1
            else 0
        )
        sleep(0.004)
    return longest


def measured(puppet: Path) -> Iterator[tuple[str, str, float, float]]:
    """Page, edit, the edit's own time and the longest piece after it, in milliseconds: the median
    of some turns."""
    window = Window()
    window.resize(1280, 800)
    window.show()
    window.document.open(puppet)
    window.player.pause()
    for page in PAGES:
        window.show_page(page)
        settled(window)
    turn = 0
    for page in (*PAGES, *TABLES):
        window.show_page("Weave" if page in TABLES else page)
        window.page("Weave").showing.show_kind(TABLES.get(page, "cards"))
        settled(window)
        for name, edit in kinds().items():
            own, after = [], []
            for _ in range(TURNS):
                turn += 1
                began = thread_time()
                window.document.edit(name, lambda now, edit=edit, turn=turn: edit(now, turn))
                QApplication.processEvents()
                own.append(thread_time() - began)
                after.append(settled(window))
            yield page, name, median(own) * 1e3, median(after) * 1e3
    window.files.drop_edits()
    window.close()


def main() -> None:
    """All sizes, or those that were asked for."""
    sizes = [int(each) for each in sys.argv[1:]] or [0, 30, 300, 1000, 3000]
    application = make_application()
    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_CONFIG_HOME"] = folder
        for size in sizes:
            file = Path(folder) / f"{size}.puppet.json"
            save_puppet(large_puppet(size), file) if size else None
            print(f"{size or 'the demo'}{' states' * bool(size)}: own and after, by edit")
            row: list[str] = []
            for page, name, own, after in measured(file if size else DEMO_PUPPET):
                row.append(f"{name} {own:6.1f} + {after:6.1f}")
                if len(row) == len(kinds()):
                    print(f"{yardstick():5.1f} {page:>12}: {'   '.join(row)}", flush=True)
                    row = []
    application.quit()


if __name__ == "__main__":
    main()
