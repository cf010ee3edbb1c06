"""Runs every test, the core's beside the desk's, and ends with the line `N passed, N failed`."""

import re
import subprocess
import sys
import unittest
from pathlib import Path

HERE = Path(__file__).parent
HALVES = ("core", "desk")
"""They share nothing, so that each has a process of its own."""


def main(names: list[str]) -> int:
    """Run the tests of the named modules or halves, or all of them; returns the exit code."""
    return _run(names) if names else _run_halves()


def _run(names: list[str]) -> int:
    loader, suite = unittest.TestLoader(), unittest.TestSuite()
    for name in names:
        suite.addTests(loader.discover(str(HERE / name), top_level_dir=str(HERE.parent)) if name in HALVES
                       else loader.loadTestsFromName(name))
    result = unittest.TextTestRunner(stream=sys.stdout, verbosity=1 if names[0] in HALVES else 2).run(suite)
    failed = len({test.id() for test, _ in result.failures + result.errors}) + len(result.unexpectedSuccesses)
    passed = result.testsRun - failed - len(result.skipped)
    if passed + failed == 0:
        failed = 1
    return _tell(passed, failed)


def _run_halves() -> int:
    running = [
        subprocess.Popen([sys.executable, "-m", "tests", half], stdout=subprocess.PIPE, stderr=subprocess.STDOUT,
                         text=True, cwd=HERE.parent)
        for half in HALVES
    ]
    passed = failed = 0
    for half, each in zip(HALVES, running, strict=True):
        output, _ = each.communicate()
        told = re.search(r"(\d+) passed, (\d+) failed\s*\Z", output)
        print(f"{half}\n{output}", flush=True)
        # A half that ended without its last line broke off: that is a failure however many passed before.
        passed += int(told[1]) if told else 0
        failed += int(told[2]) if told else 1
    return _tell(passed, failed)


def _tell(passed: int, failed: int) -> int:
    print(f"{passed} passed, {failed} failed")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
