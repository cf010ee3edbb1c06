"""A desk in a process of its own that works on a puppet: `python -m tests.desk.working_desk
PUPPET`.

It renames the first state of the puppet again and again, says each name once it is an edit, and
goes on until it is ended: what the journal of it holds is then looked at.
"""

from __future__ import annotations

import os
import sys
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.desk.shell import application
from yarn_puppet.desk.shell.window import Window


def work() -> None:
    """An edit, and what it is called."""
    window = next(toplevelwidget
                  for toplevelwidget in QApplication.topLevelWidgets()
                  if isinstance(toplevelwidget, Window))
    document = window.document
    # What it plays is not what is looked at.
    window.player.pause()
    count = len(document.history.past)
    document.edit("rename state",
                  lambda now: state_changed(now, now.states[0].id, name=f"Name {count}"))
    print(f"Name {count}", flush=True)


def main() -> int:
    """The desk, as `yarn-puppet open` has it, with hands that never rest."""
    app = application.make_application()
    timer = QTimer(app, interval=int(os.environ.get("YARN_PUPPET_TEST_EVERY", "20")))
    timer.timeout.connect(work)
    QTimer.singleShot(300, timer.start)
    application.run_desk(Path(sys.argv[1]))


if __name__ == "__main__":
    sys.exit(main())
