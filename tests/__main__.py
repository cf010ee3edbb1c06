"""Runs every test, in one process more than there are processors, and ends with the line `N passed,
N failed`.

A process is given one module after the other; they share nothing. With names of modules, or `core`
or `desk`, those are run here, one after the other, and go through every case, as all do with
`--every-case` (tests/depth.py).
"""

import faulthandler
import gc
import os
import re
import shutil
import subprocess
import sys
import threading
import unittest
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from resource import RUSAGE_CHILDREN, RUSAGE_SELF, getrusage
from time import monotonic

from bench.yardstick import FULL_SPEED, yardstick
from tests.depth import FEW_CASES

HERE = Path(__file__).parent
HALVES = ("core", "desk")
ROOMS = ("yarn_puppet", "tests", "bench")
"""The folders of our code."""
LONG = frozenset(f"tests.{name}" for name in (
    "core.test_reading_apart", "core.test_running_again", "core.test_wheel", "desk.test_stalls",
    "desk.test_zoo"))
"""Modules that take long though there is little to read."""
MOST = 4
"""Processes at once: more would wait for each other's screens and compilers. One more than
there are processors, since each waits now and then for a process of its own."""
LISTEN = "-"
"""The name under which this runs what it is told, a module a line."""
EVERY_CASE = "--every-case"
"""Said instead of names: every module goes through all of its cases."""
HANGS_AFTER = 900
"""Seconds after which a module that does not end says where it stands, and counts as failed."""
LOOKS_EVERY = 5
"""Seconds after which it looks again how fast the machine is."""
DONE = re.compile(r"(\d+) passed, (\d+) failed\n\Z")
USED = re.compile(r"(\d+\.\d) s of a processor\n\Z")


def main(names: list[str]) -> int:
    """Run the tests of the named modules or halves, or all of them; returns the exit code."""
    # What takes a process down says where it stood.
    faulthandler.enable()
    if names == [LISTEN]:
        for line in sys.stdin:
            faulthandler.dump_traceback_later(HANGS_AFTER, exit=True)
            _run([line.strip()], 1)
            faulthandler.cancel_dump_traceback_later()
            # What is left of a module stays: the collector would go through it after each test of
            # all that come after.
            gc.collect()
            gc.freeze()
        return 0
    if not names or names == [EVERY_CASE]:
        return _run_all(bool(names))
    modules = [module for name in names
               for module in (_modules(name) if name in HALVES else [name])]
    return _run(modules, 1 if set(names) <= set(HALVES) else 2)


def _modules(half: str) -> list[str]:
    return [f"tests.{half}.{path.stem}" for path in sorted((HERE / half).glob("test_*.py"))]


def _run(names: list[str], verbosity: int) -> int:
    suite = unittest.defaultTestLoader.loadTestsFromNames(names)
    began = _processor()
    result = unittest.TextTestRunner(stream=sys.stdout, verbosity=verbosity).run(suite)
    print(f"{_processor() - began:.1f} s of a processor")
    failed = len({test.id() for test, _ in result.failures + result.errors}) + len(
        result.unexpectedSuccesses)
    passed = result.testsRun - failed - len(result.skipped)
    return _tell(passed, failed or int(result.testsRun == 0))


def _run_all(every_case: bool) -> int:
    """The longest first, so that none is left when the others are through: as a rule those with the
    most to read."""
    modules = [*_modules("core"), *_modules("desk")]
    size = {name: (HERE / f"{name.removeprefix('tests.').replace('.', '/')}.py").stat().st_size
            for name in modules}
    waiting = deque(sorted(modules, key=lambda name: (name not in LONG, -size[name])))
    counts: list[tuple[int, int]] = []
    took: list[tuple[float, float, str]] = []
    # Whoever began this and became it may have set up an environment before.
    began, before = monotonic(), _processor()
    with _around(every_case) as around:
        threads = [threading.Thread(target=_work, args=(waiting, counts, took, around))
                   for _ in range(min(MOST, (os.cpu_count() or 1) + 1))]
        for thread in threads:
            thread.start()
        speeds: list[float] = []
        for thread in threads:
            while thread.is_alive():
                thread.join(LOOKS_EVERY)
                speeds.append(FULL_SPEED / yardstick(1))
    print("every case of each test" if every_case else
          f"few cases of each test that has many; all of them: ./run-tests {EVERY_CASE}")
    print("seconds, by module, and those of a processor:")
    for seconds, used, module in sorted(took, reverse=True):
        print(f"{seconds:7.1f} {used:7.1f}  {module}")
    used, speed = _processor() - before, sum(speeds) / len(speeds)
    print(f"{monotonic() - began:.0f} s, {used:.0f} of a processor at {speed:.0%} of full speed "
          f"(bench/yardstick.py): {used * speed:.0f} s")
    return _tell(sum(passed for passed, _ in counts), sum(failed for _, failed in counts))


@contextmanager
def _around(every_case: bool) -> Iterator[dict[str, str]]:
    """The environment of the tests. Where Python is told to write no bytecode beside the code it is
    written while they run, and taken away again: each process of a test would compile all of it."""
    # Arithmetic in several threads would take its turns from the other processes.
    around = {"OPENBLAS_NUM_THREADS": "1"} | dict(os.environ) | (
        {} if every_case else {FEW_CASES: "1"})
    unwanted, before = around.pop("PYTHONDONTWRITEBYTECODE", ""), set(_bytecode())
    # Once: processes that begin together would all compile the same. What cannot be compiled here
    # is said by whoever imports it.
    subprocess.run([sys.executable, "-m", "compileall", "-qq", "-j", "0", *ROOMS], cwd=HERE.parent,
                   env=around, check=False, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    try:
        yield around
    finally:
        for folder in set(_bytecode()) - before if unwanted else ():
            shutil.rmtree(folder, ignore_errors=True)


def _bytecode() -> list[Path]:
    return [path for room in ROOMS for path in (HERE.parent / room).rglob("__pycache__")]


def _work(
    waiting: deque[str], counts: list[tuple[int, int]], took: list[tuple[float, float, str]],
    around: dict[str, str],
) -> None:
    """Have modules run until none is waiting. What breaks off is a failure, and the next has a new
    process."""
    running = None
    while True:
        try:
            module = waiting.popleft()
        except IndexError:
            break
        if running is None or running.poll() is not None:
            running = subprocess.Popen([sys.executable, "-m", "tests", LISTEN],
                                       stdin=subprocess.PIPE, text=True,
                                       stdout=subprocess.PIPE, stderr=subprocess.STDOUT,
                                       cwd=HERE.parent, bufsize=1, env=around)
        assert running.stdin is not None and running.stdout is not None
        began = monotonic()
        print(module, file=running.stdin, flush=True)
        output, done, used = "", None, 0.0
        for line in running.stdout:
            output += line
            done, said = DONE.fullmatch(line), USED.fullmatch(line)
            used = float(said[1]) if said else used
            if done:
                break
        print(f"{module}\n{output}", flush=True)
        took.append((monotonic() - began, used, module))
        counts.append((int(done[1]), int(done[2])) if done else (0, 1))
    if running is not None:
        running.communicate()


def _processor() -> float:
    """The seconds of a processor that this process has used, and those that it began and waited
    for."""
    return sum(sum(getrusage(whose)[:2]) for whose in (RUSAGE_SELF, RUSAGE_CHILDREN))


def _tell(passed: int, failed: int) -> int:
    print(f"{passed} passed, {failed} failed", flush=True)
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
