"""Files are replaced all together or not at all, and stay what they were beside their content."""

from __future__ import annotations

import errno
import os
import stat
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any
from unittest import mock

from tests.helpers import Case
from yarn_puppet.core.formats import replacing
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.replacing import (
    BESIDE,
    OLD_S,
    WriteProtected,
    write_safely,
    write_together,
)

CALLS = ("os.open", "os.fsync", "os.link", "shutil.copy2", "Path.replace", "os.fdopen")
"""What a disk can refuse."""


class Replacing(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def there(self) -> dict[str, bytes]:
        return {path.name: path.read_bytes()
                for path in sorted(self.folder.iterdir()) if path.is_file()}

    def test_wherever_the_disk_refuses_all_is_as_it_was_and_nothing_is_left(self) -> None:
        (self.folder / "one").write_bytes(b"old one")
        (self.folder / "linked").write_bytes(b"old linked")
        os.link(self.folder / "linked", self.folder / "other name")
        before = self.there()
        files = {self.folder / name: f"new {name}".encode() for name in ("one", "linked", "fresh")}
        failed = 0
        for name in CALLS:
            owner, _, attribute = name.partition(".")
            where = getattr(replacing, owner)
            for turn in range(12):
                with mock.patch.object(where, attribute, failing(getattr(where, attribute), turn)):
                    try:
                        write_together(files)
                    except FileProblem as problem:
                        failed += 1
                        self.assertIn("No space left on device", problem.expected)
                        self.assertEqual(self.there(), before, f"{name} {turn}")
                        continue
                self.assertEqual(self.there()["one"], b"new one", f"{name} {turn}")
                self.assertEqual([each for each in self.there() if each.startswith(BESIDE)], [],
                                 f"{name} {turn}")
                old = {self.folder / each: before[each] for each in ("one", "linked")}
                write_together(old, [self.folder / "fresh"])
        self.assertGreater(failed, 10)

    def test_links_are_followed_and_other_names_kept(self) -> None:
        target = self.folder / "deep" / "it"
        target.parent.mkdir()
        target.write_bytes(b"old")
        (self.folder / "link").symlink_to(target)
        os.link(target, self.folder / "other name")
        write_safely(self.folder / "link", b"new and longer")
        self.assertTrue((self.folder / "link").is_symlink())
        self.assertEqual([path.read_bytes() for path in (target, self.folder / "other name")],
                         [b"new and longer"] * 2)
        self.assertTrue(target.samefile(self.folder / "other name"))
        write_safely(target, b"x")
        self.assertEqual((self.folder / "other name").read_bytes(), b"x")
        self.assertEqual(sorted(self.there()), ["link", "other name"])

    def test_mode_owner_and_attributes_stay(self) -> None:
        path = self.folder / "it"
        path.write_bytes(b"old")
        path.chmod(0o640)
        marked = hasattr(os, "setxattr")
        try:
            os.setxattr(path, "user.note", b"mine")
        except OSError:
            marked = False
        if os.geteuid() == 0:
            os.chown(path, 12345, 23456)
        owner = path.stat().st_uid, path.stat().st_gid
        write_safely(path, b"new")
        found = path.stat()
        self.assertEqual((stat.S_IMODE(found.st_mode), (found.st_uid, found.st_gid)),
                         (0o640, owner))
        if marked:
            self.assertEqual(os.getxattr(path, "user.note"), b"mine")

    def test_a_new_file_is_as_any_other(self) -> None:
        for mask in (0o022, 0o077, 0o002):
            before = os.umask(mask)
            try:
                write_safely(self.folder / f"{mask}", b"")
            finally:
                os.umask(before)
            self.assertEqual(stat.S_IMODE((self.folder / f"{mask}").stat().st_mode), 0o666 & ~mask)

    def test_a_write_protected_file_is_not_replaced_unasked(self) -> None:
        path = self.folder / "it"
        path.write_bytes(b"old")
        path.chmod(0o444)
        with self.assertRaises(WriteProtected):
            write_together({self.folder / "other": b"x", path: b"new"})
        self.assertEqual(self.there(), {"it": b"old"})
        write_together({path: b"new"}, protected=True)
        self.assertEqual((path.read_bytes(), stat.S_IMODE(path.stat().st_mode)), (b"new", 0o444))

    def test_what_killed_programs_left_is_swept_and_what_is_being_written_is_not(self) -> None:
        for name, old in (("old", OLD_S + 60), ("new", 0)):
            left = self.folder / f"{BESIDE}{name}"
            left.write_bytes(b"left")
            at = left.stat().st_mtime - old
            os.utime(left, (at, at))
        write_safely(self.folder / "it", b"")
        self.assertEqual(sorted(self.there()), [f"{BESIDE}new", "it"])


def failing(call: Callable[..., Any], after: int) -> Callable[..., Any]:
    """A call that fails once, after so many that do not."""
    left = after

    def does(*given: Any, **named: Any) -> Any:
        nonlocal left
        left -= 1
        if left == -1:
            raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
        return call(*given, **named)

    return does
