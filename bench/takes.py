"""What takes cost: `python -m bench.takes`.

Memory of ten recorded minutes and how it grows; the Trace over them at every zoom, another run
under it; running again after a late edit beside all of it; and the desk that plays while the kept
takes are run again by their process. Times are ratios in one run where machines differ.
"""

from __future__ import annotations

import os
import tempfile
from statistics import quantiles
from time import perf_counter

from msgspec.structs import replace

from bench.world import random_hands
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.formats.take_file import take_bytes
from yarn_puppet.core.takes.again.touched import first_touched
from yarn_puppet.core.takes.controls import Controls
from yarn_puppet.core.takes.recording import run_again, take_of
from yarn_puppet.core.takes.records import Records
from yarn_puppet.core.takes.run import Setup, set_up
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET

MINUTE = 3600
SECONDS = 5


def pressed(ticks: int) -> list[Controls]:
    """Random hands for so long."""
    found: list[Controls] = []
    while len(found) < ticks:
        found += random_hands(len(found))
    return found[:ticks]


def whole_run(setup: Setup, controls: list[Controls]) -> Records:
    """A run."""
    *_, run = run_again(setup, controls)
    return run


def memory() -> None:
    """Ten minutes, and a tenth of that."""
    puppet, world = load_puppet(DEMO_PUPPET), load_booth(DEMO_FOLDER / "rooftop.booth.json")
    setup = set_up(puppet, world)
    for minutes in (1, 10):
        run = whole_run(setup, pressed(minutes * MINUTE))
        print(
            f"{minutes:>3} recorded minutes: {run.weight / 2**20:5.1f} MB, of which the columns to "
            "draw "
            f"{run.columns.weight / 2**20:.1f}"
        )


def late_edit() -> None:
    """A state that is first come across late: what is run again, beside all of it."""
    puppet, world = load_puppet(DEMO_PUPPET), load_booth(DEMO_FOLDER / "rooftop.booth.json")
    before = set_up(puppet, world)
    controls = [*pressed(3000), *[Controls(frozenset({"attack"}))] * 4,
                *[Controls(frozenset())] * 300]
    controls = [replace_attack(each) if number < 3000 else each
                for number, each in enumerate(controls)]
    run = whole_run(before, controls)
    swing = next(state for state in puppet.states if state.id == "light_swing_state")
    slower = replace(swing, speed=0.8)
    edited = replace(puppet,
                     states=tuple(slower if state is swing else state for state in puppet.states))
    after = set_up(edited, world, before.program)
    begun = perf_counter()
    touched = first_touched(before, after, run.first_seen, len(run))
    whole_from = perf_counter()
    *_, part = run_again(after, controls, run.up_to(touched))
    done = perf_counter()
    whole_run(after, controls)
    whole = perf_counter() - done
    print(
        f"a late edit: tick {touched} of {len(part)} is the first it can touch; found in "
        f"{(whole_from - begun) / whole:.2f} of the whole run, run again in "
        f"{(done - whole_from) / whole:.2f}"
    )


def replace_attack(controls: Controls) -> Controls:
    """The same without attacking."""
    return controls._replace(down=controls.down - {"attack"})


def desk() -> None:
    """The Trace over ten minutes, then the playing desk while takes are run again."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    os.environ["XDG_CONFIG_HOME"] = tempfile.mkdtemp()
    from PyQt6.QtCore import QEventLoop, QTimer
    from PyQt6.QtWidgets import QApplication

    from yarn_puppet.desk.shell.application import make_application
    from yarn_puppet.desk.shell.window import Window
    from yarn_puppet.desk.trace.trace_view import WIDTHS

    application = make_application()
    window = Window()
    window.resize(1280, 800)
    window.show()
    window.files.load(DEMO_PUPPET)
    player, recording = window.player, window.player.recording
    player.pause()
    controls = pressed(10 * MINUTE)
    recording.records = whole_run(recording.setup, controls)
    recording.controls = list(controls)
    slower = replace(recording.setup.puppet,
                     mover=replace(recording.setup.puppet.mover, walk_speed=80.0))
    recording.earlier = whole_run(set_up(slower, recording.setup.world), controls)
    trace = window.trace
    for zoom, width in enumerate(WIDTHS):
        times = []
        trace.zoom = zoom
        for step in range(24):
            trace.first = step / 24 * max(0.0, 10 * MINUTE - trace.ticks_seen)
            begun = perf_counter()
            trace.grab()
            times.append((perf_counter() - begun) * 1000)
        p95 = quantiles(times, n=20)[-1]
        print(
            f"the Trace, {10 * MINUTE} ticks over another run, {width:g} px a tick: p95 {p95:5.1f} "
            "ms"
        )
    player.load(window.document.puppet, window.booths.world, window.booths.file)
    window.show_page("Takes")
    until(application, lambda: bool(window.kept.outcomes) and not window.kept.busy)
    pictures = [0]
    paint = window.booth.paintEvent

    def counted(event: object) -> None:
        pictures[0] += 1
        paint(event)  # type: ignore[arg-type]

    window.booth.paintEvent = counted  # type: ignore[method-assign, assignment]
    for how in ("alone", "while all kept takes are run again", "after one edit and the next"):
        busy_for = looks = pictures[0] = 0
        player.restart()
        begun, ticks = perf_counter(), len(player.records)
        again = QTimer(interval=50)

        def run_again(how: str = how) -> None:
            # From their start each time, so that the process is always at work; or after an edit
            # that all of them feel.
            if how.startswith("while") and not window.kept.busy:
                window.kept.forget()
                window.kept.run_again()
            elif how.startswith("after") and not window.kept.busy:
                walk = window.document.puppet.mover.walk_speed
                window.document.edit("walk",
                                     lambda now: replace(
                                         now, mover=replace(now.mover, walk_speed=walk + 0.25)))

        again.timeout.connect(run_again)
        again.start()
        while perf_counter() - begun < SECONDS:
            application.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents, 5)
            busy_for, looks = busy_for + window.kept.busy, looks + 1
        again.stop()
        player.pause()
        gone = perf_counter() - begun
        print(
            f"playing {how}: {(len(player.records) - ticks) / gone:.1f} ticks and "
            f"{pictures[0] / gone:.1f} pictures"
            f" of the booth a second; the process was at work {busy_for / looks:.0%} of the time"
        )
    window.files.drop_edits()
    window.close()
    QApplication.processEvents()


def until(application: object, holds: object) -> None:
    """Let the window work until something is so."""
    while not holds():  # type: ignore[operator]
        application.processEvents()  # type: ignore[attr-defined]


def main() -> None:
    """All of it."""
    memory()
    late_edit()
    desk()
    long = take_of(pressed(10 * MINUTE), None, 60)
    print(f"a take of ten minutes: {len(take_bytes(long)) / 1024:.0f} kB as a file")


if __name__ == "__main__":
    main()
