"""Runs every test and ends with the line `N passed, N failed`."""

import sys
import unittest
from pathlib import Path


def main(names: list[str]) -> int:
    """Run the named tests, or all of them; returns the exit code."""
    loader = unittest.TestLoader()
    if names:
        suite = loader.loadTestsFromNames(names)
    else:
        suite = loader.discover(str(Path(__file__).parent), top_level_dir=str(Path(__file__).parent.parent))
    result = unittest.TextTestRunner(stream=sys.stdout, verbosity=2 if names else 1).run(suite)
    failed = len({test.id() for test, _ in result.failures + result.errors}) + len(result.unexpectedSuccesses)
    passed = result.testsRun - failed - len(result.skipped)
    if passed + failed == 0:
        failed = 1
    print(f"{passed} passed, {failed} failed")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
