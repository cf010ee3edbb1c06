"""Threads hold nothing of the window's: it may close while they work, and nothing is taken down by
them."""

from __future__ import annotations

import gc
import subprocess
import sys
import threading
import weakref
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from types import FunctionType, ModuleType
from unittest.mock import patch

from PyQt6.QtCore import QObject

from tests.desk.case import DeskCase
from tests.helpers import Case
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.demo import DEMO_PUPPET
from yarn_puppet.desk.session.files.journal import JournalKeeper
from yarn_puppet.desk.session.work.job import Job
from yarn_puppet.desk.shell.pages import PAGES
from yarn_puppet.desk.tour.hand import PATIENCE
from yarn_puppet.desk.widgets.window_call import WindowCall


class Ears(QObject):
    """Hears what it is told, and in which thread."""

    def __init__(self) -> None:
        super().__init__()
        self.heard: list[tuple[object, threading.Thread]] = []

    def hear(self, *what: object) -> None:
        self.heard.append((*what, threading.current_thread()))


class Held:
    """Work that goes on until it is let go."""

    def __init__(self) -> None:
        self.begun, self.go, self.ended = threading.Event(), threading.Event(), threading.Event()

    def does(self, result: object) -> Callable[..., object]:
        def work(*_: object, **__: object) -> object:
            self.begun.set()
            self.go.wait(PATIENCE)
            self.ended.set()
            return result
        return work


TWICE = """
import threading
from PyQt6.QtCore import QObject
from yarn_puppet.desk.shell.application import make_application
from yarn_puppet.desk.widgets.window_call import WindowCall

class Ears(QObject):
    def hear(self, word):
        print(word, flush=True)

ears = Ears()

def say(word):
    application = make_application()
    thread = threading.Thread(target=WindowCall(ears.hear), args=(word,))
    thread.start()
    thread.join()
    application.processEvents()

say("one")
say("two")
"""
THREADS = {f"yarn_puppet.desk.{name}" for name in (
    "session.work.job", "session.run.rerun", "session.art.sources", "session.files.journal",
    "pictures.arriving")}


def reached(value: object) -> list[object]:
    """All that is held by a value, but for modules and classes, and what those hold."""
    found: dict[int, object] = {}
    left = [value]
    while left:
        each = left.pop()
        if id(each) in found or isinstance(each, ModuleType | type):
            continue
        found[id(each)] = each
        if isinstance(each, FunctionType):
            # Its module's names are not its own.
            left += [each.__closure__, each.__defaults__, each.__kwdefaults__]
        else:
            left += gc.get_referents(each)
    return list(found.values())


@contextmanager
def threads_end() -> Iterator[None]:
    """Those begun meanwhile are through at the end."""
    before = set(threading.enumerate())
    yield
    for each in set(threading.enumerate()) - before:
        each.join(PATIENCE)


class Calls(DeskCase):
    file = None

    def test_what_a_thread_says_is_heard_in_the_window_s(self) -> None:
        ears = Ears()
        call = WindowCall(ears.hear)
        thread = threading.Thread(target=call, args=("a word",))
        thread.start()
        thread.join()
        self.assertEqual(ears.heard, [])
        self.hand.until(lambda: bool(ears.heard), "the word")
        self.assertEqual(ears.heard, [("a word", threading.main_thread())])

    def test_who_is_gone_hears_nothing_and_is_held_by_no_call(self) -> None:
        ears = Ears()
        call, heard, gone = WindowCall(ears.hear), ears.heard, weakref.ref(ears)
        thread = threading.Thread(target=call, args=("a word",))
        thread.start()
        thread.join()
        del ears
        self.assertIsNone(gone())
        self.hand.wait()
        self.assertEqual(heard, [])

    def test_qt_may_have_taken_down_who_is_called(self) -> None:
        parent = QObject()
        ears = Ears()
        ears.setParent(parent)
        call = WindowCall(ears.hear)
        call("a word")
        del parent
        self.hand.wait()
        self.assertEqual(ears.heard, [])

    def test_a_job_s_thread_does_not_hold_the_window(self) -> None:
        held, heard = Held(), []
        with threads_end():
            job = Job(owner := QObject())
            job.start([1, 2], held.does(3), heard.append)
            self.assertTrue(held.begun.wait(PATIENCE))
            gone = weakref.ref(job)
            del job, owner
            self.assertIsNone(gone())
            held.go.set()
        self.hand.wait()
        self.assertEqual(heard, [])

    def test_what_is_left_is_not_begun(self) -> None:
        done: list[int] = []
        held = Held()
        with threads_end():
            job = Job(owner := QObject())
            job.start([1, 2, 3], lambda item: (done.append(item), held.does(0)()), done.extend)
            self.assertTrue(held.begun.wait(PATIENCE))
            del job, owner
            held.go.set()
        self.assertEqual(done, [1])


class Application(Case):
    def test_it_lasts_as_long_as_the_program_whoever_made_it(self) -> None:
        done = subprocess.run([sys.executable, "-c", TWICE], capture_output=True, text=True,
                              check=False)
        self.assertEqual(done.stdout.split(), ["one", "two"], done.stderr)


class Threads(DeskCase):
    """Each of the window's threads, looked through for anything of Qt's that it holds as it
    begins."""

    file = DEMO_PUPPET

    def setUp(self) -> None:
        self.begun: list[str] = []
        begin = threading.Thread.start

        def start(thread: threading.Thread) -> None:
            target = thread._target  # type: ignore[attr-defined]
            if target.__module__.startswith("yarn_puppet.desk"):
                found = [each for each in reached((target, thread._args))
                         if isinstance(each, QObject)]  # type: ignore[attr-defined]
                self.begun.append(f"{target.__module__}: {found or 'nothing'}")
            begin(thread)

        # Before the window opens.
        patcher = patch.object(threading.Thread, "start", start)
        patcher.start()
        self.addCleanup(patcher.stop)
        super().setUp()

    def test_no_thread_holds_anything_of_the_window(self) -> None:
        window, hand = self.window, self.hand
        keeper = JournalKeeper(window.document, self.folder / "journals")
        for page in PAGES:
            self.go(page)
        self.steps(20)
        window.document.edit("rename", state_changed(self.puppet, "idle_state", name="Resting"))
        window.player.rerun.settle.timeout.emit()
        window.snags._timer.timeout.emit()
        window.sources._changed(window.document.folder / self.puppet.sheets[0].path)
        keeper.flush_now()
        window.document.undo()
        keeper.let_go()
        hand.until(lambda: not (window.player.busy or window.snags.looking or window.sources.busy),
                   "the threads")
        self.assertEqual([each for each in self.begun if not each.endswith(": nothing")], [])
        self.assertLessEqual(THREADS, {each.split(":")[0] for each in self.begun})
