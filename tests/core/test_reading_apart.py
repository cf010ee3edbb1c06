"""The process that reads pictures: the same pages, within bounds, and to be ended."""

from __future__ import annotations

import os
import random
import signal
import socket
import subprocess
import sys
import tempfile
import threading
from pathlib import Path
from unittest import mock

from tests import bombs, reading_with_less
from tests.core.test_pictures import frames, png
from tests.depth import examples, some_of
from tests.helpers import Case
from yarn_puppet.core.formats.pictures import budget
from yarn_puppet.core.formats.pictures.apart import reading_apart
from yarn_puppet.core.formats.pictures.apart.answers import ANSWER, LONGEST
from yarn_puppet.core.formats.pictures.apart.reading_apart import (
    MODULE,
    ROOT,
    PictureProcess,
    Stopped,
)
from yarn_puppet.core.formats.pictures.budget import HARDEST_PIXELS
from yarn_puppet.core.formats.pictures.pages import PictureProblem, TooLarge
from yarn_puppet.core.formats.pictures.reading import read_pages
from yarn_puppet.demo import DEMO_FOLDER

BOMBS = examples(8)
"""Of the hundred; and mutated files beside them."""


class Apart(Case):
    @classmethod
    def setUpClass(cls) -> None:
        cls.process = PictureProcess()

    @classmethod
    def tearDownClass(cls) -> None:
        cls.process.close()

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def pipe(self, name: str = "pipe") -> Path:
        """A picture that never ends coming: numbered, so that a folder with it is read as
        pictures."""
        path = self.folder / name
        os.mkfifo(path)
        return path


class Same(Apart):
    def test_the_pages_are_those_that_are_read_here(self) -> None:
        first, *rest = frames((11, 7))
        first.save(self.folder / "it.gif", save_all=True, append_images=rest,
                   duration=[40, 120, 80], disposal=2)
        first.save(self.folder / "it.apng", "PNG", save_all=True, append_images=rest, duration=50)
        many = self.folder / "many"
        many.mkdir()
        for number, frame in enumerate(frames((5, 3))):
            (many / f"walk_{number}.png").write_bytes(png(frame))
        (many / "walk_9.png").write_bytes(b"no picture")
        odd = self.folder / "ß \udcff.png"
        odd.write_bytes(png(first))
        for path in (DEMO_FOLDER / "lamplighter.png", self.folder / "it.gif",
                     self.folder / "it.apng", many, odd):
            with self.subTest(path=str(path).encode(errors="replace")):
                here: list[str] = []
                there: list[str] = []
                wanted = read_pages(path, left_out=here)
                found = self.process.read(path, left_out=there)
                self.assertEqual([(*page[:3], bytes(page.pixels)) for page in found],
                                 [(*page[:3], bytes(page.pixels)) for page in wanted])
                self.assertEqual(there, here)

    def test_what_is_wrong_is_said_as_here(self) -> None:
        (self.folder / "it.png").write_bytes(b"no picture")
        (self.folder / "large.png").write_bytes(png(frames((40, 40))[0]))
        for path, most in ((self.folder / "it.png", 1 << 20), (self.folder / "gone.png", 1 << 20),
                           (self.folder, 1 << 20), (self.folder / "large.png", 1000),
                           (self.pipe(), 1 << 20)):
            with self.assertRaises(PictureProblem) as here:
                read_pages(path, most)
            with self.assertRaises(PictureProblem) as there:
                self.process.read(path, most)
            self.assertEqual((type(there.exception), str(there.exception)),
                             (type(here.exception), str(here.exception)))
        self.assertIs(type(there.exception), PictureProblem)

    def test_only_too_large_is_said_apart(self) -> None:
        (self.folder / "it.png").write_bytes(bombs.png(9_000, 9_000))
        with self.assertRaises(TooLarge):
            self.process.read(self.folder / "it.png")
        self.assertEqual(self.process.read(self.folder / "it.png", HARDEST_PIXELS)[0].width, 9_000)


class Ended(Apart):
    def test_what_is_not_wanted_any_more_is_ended_in_the_middle(self) -> None:
        (self.folder / "it.ora").write_bytes(slow())
        self.process.read(DEMO_FOLDER / "thatch.png")
        before = self.process.pid
        asked = 0

        def wanted() -> bool:
            nonlocal asked
            asked += 1
            return asked < 3

        with self.assertRaises(Stopped):
            self.process.read(self.folder / "it.ora", wanted=wanted)
        self.assertEqual(asked, 3)
        self.assertIsNone(self.process.pid)
        with self.assertRaises(ProcessLookupError):
            os.kill(before or 0, 0)
        self.assertEqual(len(self.process.read(DEMO_FOLDER / "thatch.png")), 1,
                         "the next begins it again")

    def test_who_waits_for_another_can_leave(self) -> None:
        (self.folder / "it.ora").write_bytes(slow())
        go, began = threading.Event(), threading.Event()

        def wanted() -> bool:
            began.set()
            return not go.is_set()

        ended: list[str] = []

        def first() -> None:
            try:
                self.process.read(self.folder / "it.ora", wanted=wanted)
            except (Stopped, PictureProblem) as error:
                ended.append(type(error).__name__)

        thread = threading.Thread(target=first)
        thread.start()
        began.wait(30)
        with self.assertRaises(Stopped):
            self.process.read(DEMO_FOLDER / "thatch.png", wanted=lambda: False)
        go.set()
        thread.join(30)
        self.assertEqual(ended, ["Stopped"])

    def test_one_that_was_killed_is_begun_again(self) -> None:
        self.process.read(DEMO_FOLDER / "thatch.png")
        os.kill(self.process.pid or 0, signal.SIGKILL)
        self.assertEqual(len(self.process.read(DEMO_FOLDER / "thatch.png")), 1)

    def test_it_ends_with_who_asked_and_not_by_an_interrupt(self) -> None:
        ours, theirs = socket.socketpair(socket.AF_UNIX, socket.SOCK_SEQPACKET)
        with ours, theirs:
            process = subprocess.Popen([sys.executable, "-P", "-m", MODULE, str(theirs.fileno())],
                                       pass_fds=[theirs.fileno()],
                                       env={**os.environ, "PYTHONPATH": str(ROOT)})
            theirs.close()
            ours.send(b'{"type":"PictureRequest","path":"","most_pixels":9}')
            self.assertIn("no numbered pictures", str(ANSWER.decode(ours.recv(LONGEST))))
            process.send_signal(signal.SIGINT)
            ours.send(b'{"type":"PictureRequest","path":"","most_pixels":9}')
            self.assertTrue(ours.recv(LONGEST))
            ours.close()
            self.assertEqual(process.wait(30), 0)


class Bounds(Apart):
    def test_bombs_are_read_or_refused_within_bounds(self) -> None:
        dice = random.Random(5)
        made = list(bombs.bombs(dice))
        for name, make in dice.sample(made, BOMBS):
            path = self.folder / name
            path.write_bytes(make())
            with self.subTest(name):
                try:
                    self.process.read(path)
                except PictureProblem as problem:
                    self.assertNotIn("broke down", str(problem))
                if self.process.pid is not None:
                    self.assertLess(bombs.most_taken(self.process.pid), 1 << 30)
            path.unlink()

    def test_time_and_memory_are_held_by_the_kernel(self) -> None:
        (self.folder / "slow.ora").write_bytes(slow())
        (self.folder / "large.ora").write_bytes(bombs.raster(
            "<stack><stack>" + '<layer src="0.png"/><layer src="0.png"/>' * 3 + "</stack></stack>",
            64,
            bombs.png(7_000, 7_000)))
        for name, share, said in (
            ("slow.ora", budget.Share(budget.USUAL_SHARE.memory, 1),
             "takes more than 1 seconds of a processor"),
            ("large.ora", budget.Share(256 << 20, 60), "needs more than 256 MiB of memory"),
        ):
            process = PictureProcess()
            self.addCleanup(process.close)
            with (mock.patch.object(reading_apart, "MODULE", reading_with_less.__name__),
                  mock.patch.object(budget, "USUAL_SHARE", share),
                  mock.patch.dict(os.environ, {
                      reading_with_less.SHARE: f"{share.memory} {share.seconds}"}),
                  self.assertRaisesRegex(PictureProblem, said)):
                process.read(self.folder / name)

    def test_no_more_memory_than_its_share_is_given(self) -> None:
        done = subprocess.run([sys.executable, "-c", TAKES], cwd=ROOT, capture_output=True,
                              text=True, check=False)
        self.assertEqual(done.stdout.split(), ["given", "refused"], done.stderr)

    def test_mutated_files_are_read_or_said_what_is_wrong(self) -> None:
        from tests.core.test_pictures import mutilated

        dice = random.Random(7)
        whole = [png(frames()[0]), bombs.gif(12, 8, 5), bombs.apng(12, 4),
                 bombs.raster('<stack><layer src="0.png"/></stack>')]
        problems = 0
        numbers = some_of(range(200))
        for number in numbers:
            path = self.folder / "it"
            path.write_bytes(mutilated(whole[number % 4], dice))
            try:
                self.process.read(path)
            except PictureProblem as problem:
                problems += 1
                self.assertNotIn("broke down", str(problem))
        self.assertGreater(problems, 0.3 * len(numbers))


TAKES = """
from yarn_puppet.core.formats.pictures.apart.worker import keep_to
from yarn_puppet.core.formats.pictures.budget import Share
keep_to(Share(256 << 20, 60))
for size in (64, 512):
    try:
        bytearray(size << 20)
        print("given")
    except MemoryError:
        print("refused")
"""


def slow() -> bytes:
    """A picture that takes longer than anything may, by layers mixed in the costliest way; small in
    all else."""
    layers = '<layer src="0.png" opacity="0.5" composite-op="svg:luminosity"/>' * 21
    return bombs.raster(f"<stack><stack>{layers}</stack></stack>", 2_000, bombs.png(2_000, 2_000))
