"""Memory of the desk over an hour of play and edits, its clock driven as fast as it goes: `python
-m tests.long_desk`.

A minute is 3,600 ticks under hands that never rest, every eighth of them painted; every ten seconds
an edit, every minute another page, every five a new run, now and then an undo. What the process
holds is told every ten minutes; it ends with 1 where an hour holds a fifth more than ten minutes
did.
"""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path
from random import Random

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import QCoreApplication, QEvent
from PyQt6.QtWidgets import QApplication

from yarn_puppet.core.model.edits.frames.frames import frame_changed
from yarn_puppet.core.model.edits.graph import state_changed, transition_changed
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.demo import DEMO_PUPPET
from yarn_puppet.desk.shell.application import make_application
from yarn_puppet.desk.shell.pages import PAGES
from yarn_puppet.desk.shell.window import Window

RATE, MINUTE = 60, 60
MOST_GROWN = 1.2
PAINTED = 8


def held(window: Window) -> int:
    """What this process holds, in bytes, after the desk has rested and let go of what nobody
    needs."""
    window.collector.look_through()
    return int(Path("/proc/self/statm").read_text().split()[1]) * os.sysconf("SC_PAGESIZE")


def turn() -> None:
    """A turn of the loop. What is to be deleted later is: outside of a loop of Qt's own, which a
    desk has, only if it is asked to."""
    QApplication.processEvents()
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)


def edited(puppet: Puppet, dice: Random, number: int) -> Puppet:
    """One of the edits that are made all the time."""
    clip, state = dice.choice(puppet.clips), dice.choice(puppet.states)
    transition = dice.choice(puppet.transitions)
    return dice.choice((
        lambda: frame_changed(puppet, clip.id, 0, duration=dice.uniform(30, 200)),
        lambda: state_changed(puppet, state.id, name=f"{state.name.split(' #')[0]} #{number}"),
        lambda: transition_changed(puppet, transition.id, when=transition.when or "grounded"),
        lambda: state_changed(puppet, state.id, speed=round(dice.uniform(0.5, 1.5), 2))))()


def minute(window: Window, dice: Random, number: int) -> None:
    """Play and edit for a minute."""
    player, document = window.player, window.document
    window.show_page(list(PAGES)[number % len(PAGES)])
    if number % 5 == 0:
        player.restart()
        # It would play by the clock beside the ticks that are counted here.
        player.pause()
    keys, down = [action.id for action in document.puppet.actions], set[str]()
    for tick in range(RATE * MINUTE):
        if dice.random() < 0.07:
            key = dice.choice(keys)
            (player.release if key in down else player.press)(key)
            down ^= {key}
        player.run_tick()
        if tick % PAINTED == 0:
            player.moved.emit()
            player.seen.emit()
            turn()
        if tick % (10 * RATE) == 9 * RATE:
            if dice.random() < 0.2:
                document.undo()
            else:
                document.edit("edit", edited(document.puppet, dice, number * 10 + tick // RATE))
            while player.busy:
                turn()


def main() -> int:
    """An hour of it, or as many minutes as are asked for."""
    minutes = int(sys.argv[1]) if len(sys.argv) > 1 else 60
    application = make_application()
    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_CONFIG_HOME"] = f"{folder}/config"
        os.environ["XDG_DATA_HOME"] = f"{folder}/data"
        window = Window()
        window.resize(1280, 800)
        window.show()
        window.files.load(DEMO_PUPPET)
        window.player.pause()
        dice, after_ten = Random(5), 0
        for number in range(minutes):
            minute(window, dice, number)
            if number % 10 == 9:
                now = held(window)
                after_ten = after_ten or now
                steps, ticks = len(window.document.history.past), len(window.player.records)
                print(
                    f"{number + 1} minutes: {now / 2**20:.0f} MiB, {steps} steps to undo, {ticks} "
                    "ticks in the run",
                    flush=True,
                )
        grown = held(window) / after_ten if after_ten else 1.0
        print(f"{grown:.2f} times as much as after ten minutes")
        window.files.drop_edits()
        window.close()
        application.processEvents()
    return int(grown > MOST_GROWN)


if __name__ == "__main__":
    sys.exit(main())
