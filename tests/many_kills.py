"""Kills a desk that works, again and again, and says how much of its work was lost: `python -m
tests.many_kills COUNT`.

Each desk is a process of its own that edits fifty times a second; it is killed at a random moment.
What its journal holds then is compared with what it said it had done. The puppet's file must be as
it was, and the journal whole.
"""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from random import Random

from yarn_puppet.demo import FIRST_STEPS
from yarn_puppet.desk.session.files.journal import left_behind

EVERY_MS = 20
MOST_LOST_S = 10.0


def killed(folder: Path, after: float) -> float:
    """Seconds of work that one kill cost; raises AssertionError where more is wrong than that."""
    own = folder / "it.puppet.json"
    shutil.copy(FIRST_STEPS, own)
    env = {**os.environ, "XDG_STATE_HOME": str(folder / "state"),
           "XDG_CONFIG_HOME": str(folder / "config"),
           "YARN_PUPPET_TEST_EVERY": str(EVERY_MS)}
    process = subprocess.Popen([sys.executable, "-m", "tests.desk.working_desk", own], env=env,
                               stdout=subprocess.PIPE,
                               stderr=subprocess.DEVNULL, text=True)
    assert process.stdout is not None
    said = [process.stdout.readline()]
    began = time.monotonic()
    time.sleep(after)
    process.send_signal(signal.SIGKILL)
    took = time.monotonic() - began
    said += [line for line in process.stdout.read().splitlines() if line]
    process.wait()
    assert own.read_bytes() == FIRST_STEPS.read_bytes(), "the file is another"
    left = left_behind(folder / "state" / "yarn-puppet" / "journals")
    kept = len(left[0].journal.work.history.past) - 1 if left else 0
    if kept:
        name = left[0].journal.work.history.puppet.states[0].name
        assert name == f"Name {kept}", f"{name} is not the last of {kept}"
    # As fast as it really worked, which is slower on a busy machine.
    return max(0, len(said) - kept) * max(EVERY_MS / 1000, took / len(said))


def main() -> int:
    """So many kills; 1 where one cost more than it may."""
    count, dice = int(sys.argv[1]) if len(sys.argv) > 1 else 20, Random(7)
    lost = []
    for number in range(count):
        with tempfile.TemporaryDirectory() as name:
            lost.append(killed(Path(name), dice.uniform(0.0, 4.0)))
        print(f"{number + 1}: {lost[-1]:.2f} s of work lost", flush=True)
    print(
        f"{count} kills: at worst {max(lost):.2f} s of work lost, "
        f"{sorted(lost)[len(lost) // 2]:.2f} s in the middle"
    )
    return 1 if max(lost) > MOST_LOST_S else 0


if __name__ == "__main__":
    sys.exit(main())
