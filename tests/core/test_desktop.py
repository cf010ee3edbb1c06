"""The program on a user's desktop: put there, valid, found by the kind of file, and taken away without a trace."""

from __future__ import annotations

import os
import shlex
import shutil
import subprocess
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from PIL import Image

from tests.core import test_commands
from tests.helpers import Case
from yarn_puppet.desktop.entries import ID, MIME, SIZES, quoted


class Desktop(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.home = Path(folder.name) / "data"
        self.enterContext(mock.patch.dict(os.environ, {"XDG_DATA_HOME": str(self.home)}))

    def there(self) -> list[str]:
        return sorted(str(path.relative_to(self.home)) for path in self.home.rglob(f"*{ID}*")) + sorted(
            path.name for path in self.home.rglob("yarn-puppet.*"))

    def test_put_there_and_taken_away(self) -> None:
        code, out, _ = test_commands.typed("desktop", "--install")
        self.assertEqual((code, out.count("\n")), (0, 4 + len(SIZES)))
        ours = [f"applications/{ID}.desktop", f"metainfo/{ID}.metainfo.xml", f"mime/packages/{ID}.xml"]
        self.assertEqual(self.there(), [*ours, *["yarn-puppet.png"] * len(SIZES), "yarn-puppet.svg"])
        for size in SIZES:
            with Image.open(self.home / f"icons/hicolor/{size}x{size}/apps/yarn-puppet.png") as icon:
                self.assertEqual(icon.size, (size, size))
                self.assertGreater(len(icon.getcolors(1 << 20) or ()), 4)
        # Twice is as once.
        self.assertEqual(test_commands.typed("desktop", "--install")[0], 0)
        self.assertEqual(test_commands.typed("desktop", "--remove")[0], 0)
        self.assertEqual(self.there(), [])
        self.assertEqual(test_commands.typed("desktop", "--remove")[:2], (0, ""))

    def test_any_folder_can_be_quoted(self) -> None:
        for word in ("/a b/c", '/a"b', "/a$b`c", "/100%/x", "/back\\slash", "/größer, 'x'"):
            # A value's own escapes first, then the quotes, as an entry is read.
            read = quoted(word).replace("\\\\", "\\")
            self.assertEqual(shlex.split(read)[0].replace("\\`", "`").replace("\\$", "$").replace("%%", "%"), word)

    @unittest.skipUnless(shutil.which("desktop-file-validate"), "desktop-file-utils is not installed")
    def test_the_entry_is_valid(self) -> None:
        test_commands.typed("desktop", "--install")
        done = subprocess.run(["desktop-file-validate", self.home / f"applications/{ID}.desktop"], capture_output=True,
                              text=True, check=False)
        self.assertEqual((done.returncode, done.stdout), (0, ""))

    @unittest.skipUnless(shutil.which("appstreamcli"), "appstream is not installed")
    def test_what_a_catalogue_says_is_valid(self) -> None:
        test_commands.typed("desktop", "--install")
        done = subprocess.run(["appstreamcli", "validate", "--no-net", self.home / f"metainfo/{ID}.metainfo.xml"],
                              capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stdout)

    @unittest.skipUnless(shutil.which("update-mime-database") and shutil.which("xdg-mime"), "no kinds of files here")
    def test_a_puppet_is_known_by_its_name(self) -> None:
        test_commands.typed("desktop", "--install")
        self.assertIn(MIME, (self.home / "mime" / "globs2").read_text())
