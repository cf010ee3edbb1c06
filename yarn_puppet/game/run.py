"""Starts the stand-in game: `yarn-puppet game`."""

from __future__ import annotations

import signal
import sys
from pathlib import Path
from typing import NoReturn

from ..commands.bones import read_puppet
from ..core.formats.booth_file import find_booth
from ..demo import DEMO_BOOTH, DEMO_FOLDER
from ..desk.shell.application import end_process, keep_going, make_application
from .puppets import Runner
from .window import GameWindow


def stand_in(path: Path, mode: str, address: str | None, name: str) -> GameWindow:
    """The game's window on a puppet's file. Raises FileProblem."""
    puppet = read_puppet(path)
    folder = path.absolute().parent
    world = find_booth(puppet.booth or DEMO_BOOTH, (folder, DEMO_FOLDER))
    return GameWindow(puppet, folder, world, DEMO_FOLDER, Runner(puppet, mode, address, name))


def run_game(path: Path, mode: str, address: str | None, name: str) -> NoReturn:
    """Play a puppet's file; the process ends with the exit code when the window is closed. Raises
    FileProblem."""
    application = make_application()
    sys.excepthook = keep_going
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    window = stand_in(path, mode, address, name)
    window.show()
    # As the desk does: a thread looks for the wire.
    end_process(application.exec())
