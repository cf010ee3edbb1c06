"""Work that no file has survives the end of the program, however that comes, and is offered at the
next start."""

from __future__ import annotations

import errno
import os
import shutil
import signal
import subprocess
import sys
from pathlib import Path
from unittest import mock

from PyQt6.QtTest import QTest

from tests.depth import some_of
from tests.desk.case import DeskCase
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.demo import DEMO_FOLDER, FIRST_STEPS
from yarn_puppet.desk.session.files.journal import LeftBehind, left_behind
from yarn_puppet.desk.shell.window import Window


class Journals(DeskCase):
    def own_file(self) -> Path:
        self.own = self.folder / "pell.puppet.json"
        shutil.copy(FIRST_STEPS, self.own)
        for art in DEMO_FOLDER.glob("*.png"):
            shutil.copy(art, self.folder)
        return self.own

    def setUp(self) -> None:
        super().setUp()
        self.journals = self.folder / "journals"

    def open_window(self, file: Path | None = None, paused: bool = False) -> Window:
        folder = self.folder / "journals"
        with mock.patch("tests.desk.case.Window", lambda: Window(folder)):
            return super().open_window(file, paused)

    def rename(self, window: Window, *names: str) -> None:
        for name in names:
            window.document.edit("rename state",
                                 lambda now, name=name: state_changed(now, "walk_state", name=name))

    def leave(self, window: Window) -> None:
        """End as a program does that is killed: the journal stays, and nobody holds it."""
        window.keeper.flush_now()
        os.close(window.keeper._writer._descriptor)
        window.keeper._writer._descriptor = -1
        window.keeper._writer.path = None
        window.keeper._writer._written = type(window.keeper._writer._written)()

    def left(self) -> list[LeftBehind]:
        return left_behind(self.journals)

    def test_an_edit_is_written_down_while_hands_go_on(self) -> None:
        self.assertFalse(self.journals.exists())
        self.rename(self.window, "Stroll")
        # Edit upon edit does not put it off.
        self.hand.until(lambda: self.window.keeper.path is not None
                        and self.window.keeper.path.stat().st_size > 0,
                        "the journal")
        # Another desk does not take what this one has.
        self.assertEqual(self.left(), [])
        self.leave(self.window)
        (left,) = self.left()
        self.assertEqual(left.journal.work.history, self.window.document.history)

    def test_what_is_saved_and_closed_leaves_nothing_behind(self) -> None:
        self.rename(self.window, "Stroll")
        self.window.keeper.flush_now()
        self.window.files.save()
        self.window.close()
        self.assertEqual(list(self.journals.iterdir()), [])

    def test_it_is_offered_with_what_it_holds_and_taken_up_with_its_undo(self) -> None:
        self.rename(self.window, "Stroll", "Amble")
        self.window.files.save()
        self.rename(self.window, "March", "Wade", "Tread")
        self.window.document.undo()
        before, file = self.window.document.history, self.own.read_bytes()
        self.leave(self.window)
        window = self.open_window()
        window.start_on(self.own)
        self.hand.until(lambda: bool(window.notices.names), "the offer")
        (name,) = [each for each in window.notices.names if each.startswith("left")]
        said = " ".join(part.text for part in window.notices.sentence(name).parts)
        self.assertIn("Left behind: first steps 2 edits: rename state · after ", said)
        self.assertEqual(self.own.read_bytes(), file)
        self.hand.token(window.notices.sentence(name), "go on")
        self.assertEqual(window.document.history, before)
        self.assertEqual([step.name for step in window.document.history.past[1:]],
                         ["rename state"] * 4)
        self.assertTrue(window.document.unsaved)
        self.assertIsNone(window.notices.sentence(name))
        self.assertEqual(self.own.read_bytes(), file)
        # This desk has it now, in its own journal.
        self.assertEqual([each.suffix for each in self.journals.iterdir()], [".journal"])
        self.assertEqual(self.left(), [])
        window.document.redo()
        window.files.save()
        self.assertEqual(load_puppet(self.own).state("walk_state").name, "Tread")
        for _ in range(5):
            window.document.undo()
        self.assertEqual(window.document.puppet.state("walk_state").name, "Walk")

    def test_it_is_let_go_or_offered_again(self) -> None:
        self.rename(self.window, "Stroll")
        self.leave(self.window)
        window = self.open_window()
        for answer, left in (("later", 1), ("let go", 0)):
            window.recovery.offer()
            self.hand.token(window.notices.sentence(window.notices.names[0]), answer)
            self.assertEqual((len(self.left()), window.notices.names), (left, []))
        self.assertFalse(window.document.unsaved)

    def test_of_many_three_are_offered_and_a_damaged_one_hides_none(self) -> None:
        self.rename(self.window, "Stroll")
        self.leave(self.window)
        (one,) = [each.path for each in self.left()]
        content = one.read_bytes()
        for number in range(5):
            (self.journals / f"other-{number}{one.suffix}").write_bytes(content)
        for number, spoilt in enumerate((content.replace(b'"at":', b'"at":1e18,"was":'),
                                         content.replace(str(self.own).encode(), b"/a\\u0000b"),
                                         content[:40])):
            (self.journals / f"0-{number}{one.suffix}").write_bytes(spoilt)
        window = self.open_window()
        window.recovery.offer()
        offered = [name for name in window.notices.names if name != "left more"]
        self.assertEqual(len(offered), 3)
        self.assertGreaterEqual(len(self.left()), 6)
        more = window.notices.sentence("left more")
        self.assertIn("more left behind", more.parts[0].text)
        self.hand.token(window.notices.sentence(offered[0]), "let go")
        self.assertEqual(len([name for name in window.notices.names if name != "left more"]), 3)

    def test_two_desks_do_not_go_on_with_one_work(self) -> None:
        self.rename(self.window, "Stroll")
        self.leave(self.window)
        one, other = self.open_window(), self.open_window()
        for each in (one, other):
            each.recovery.offer()
        for each in (one, other):
            self.hand.token(each.notices.sentence(each.notices.names[0]), "go on")
        self.assertTrue(one.document.unsaved)
        self.assertFalse(other.document.unsaved)
        said = other.notices.sentence(other.notices.names[0]).parts[0].text
        self.assertEqual(said, "Another window has recovered it already.")

    def test_with_a_full_disk_what_was_left_behind_stays(self) -> None:
        self.rename(self.window, "Stroll")
        self.leave(self.window)
        window = self.open_window()
        window.recovery.offer()
        refused = OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
        with mock.patch("yarn_puppet.desk.session.files.journal.os.write", side_effect=refused):
            self.hand.token(window.notices.sentence(window.notices.names[0]), "go on")
        self.assertTrue(window.document.unsaved)
        (left,) = self.left()
        self.assertEqual(left.journal.work.history.puppet.state("walk_state").name, "Stroll")

    def test_a_full_disk_is_said_and_what_was_written_stays(self) -> None:
        self.rename(self.window, "Stroll")
        self.window.keeper.flush_now()
        write = os.write

        def full(descriptor: int, data: memoryview) -> int:
            if len(data) < 40:
                raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
            return write(descriptor, data[:len(data) // 2])

        with mock.patch("yarn_puppet.desk.session.files.journal.os.write", full):
            self.rename(self.window, "Amble")
            self.window.keeper.flush_now()
            self.hand.until(lambda: self.window.notices.names == ["journal"], "the notice")
        said = self.window.notices.sentence("journal").parts
        self.assertIn("no space left on device", said[1].text)
        self.assertIsNotNone(self.window.keeper.path)
        self.window.keeper.flush_now()
        self.hand.until(lambda: self.window.notices.names == [], "no notice")
        self.leave(self.window)
        self.assertEqual(self.left()[0].journal.work.history.puppet.state("walk_state").name,
                         "Amble")


def heeding() -> None:
    """Signals end a program that does nothing about them, whatever was inherited."""
    for number in (signal.SIGTERM, signal.SIGHUP, signal.SIGINT):
        signal.signal(number, signal.SIG_DFL)


class Ended(DeskCase):
    """A desk in a process of its own, ended by the system, by another program, or from the
    terminal."""

    file = None

    def ended_by(self, number: int) -> tuple[int, list[str], list[LeftBehind], bytes]:
        own = self.folder / f"{number}.puppet.json"
        shutil.copy(FIRST_STEPS, own)
        env = {**os.environ, "XDG_STATE_HOME": str(self.folder / f"state{number}"),
               "XDG_CONFIG_HOME": str(self.folder / "config"),
               "YARN_PUPPET_TEST_EVERY": "60"}
        process = subprocess.Popen([sys.executable, "-m", "tests.desk.working_desk", own], env=env,
                                   stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True,
                                   preexec_fn=heeding)
        said = [process.stdout.readline().strip() for _ in range(5)]
        journals = Path(env["XDG_STATE_HOME"]) / "yarn-puppet" / "journals"
        self.hand.until(lambda: any(path.stat().st_size for path in journals.glob("*"))
                        or QTest.qWait(5), "a journal")
        process.send_signal(number)
        said += process.stdout.read().split("\n")
        code = process.wait()
        process.stdout.close()
        return code, [each for each in said if each], left_behind(journals), own.read_bytes()

    def test_said_to_end_it_keeps_all_and_asks_nobody(self) -> None:
        for number in some_of((signal.SIGTERM, signal.SIGHUP, signal.SIGINT)):
            code, said, left, file = self.ended_by(number)
            self.assertEqual((code, len(left)), (128 + number, 1))
            steps = left[0].journal.work.history
            self.assertEqual([steps.puppet.states[0].name, len(steps.past)],
                             [said[-1], len(said) + 1])
            self.assertEqual(file, FIRST_STEPS.read_bytes())

    def test_killed_it_has_kept_what_was_done_seconds_before(self) -> None:
        code, said, left, file = self.ended_by(signal.SIGKILL)
        self.assertEqual((code, len(left)), (-signal.SIGKILL, 1))
        self.assertIn(left[0].journal.work.history.puppet.states[0].name, said)
        self.assertEqual(file, FIRST_STEPS.read_bytes())
