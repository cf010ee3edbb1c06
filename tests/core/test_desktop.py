"""The program on a user's desktop: put there, valid, found by the kind of file, and taken away
without a trace."""

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
from yarn_puppet.desktop.shell_help import BASH, MAN, ZSH


class Desktop(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.home = Path(folder.name) / "data"
        self.enterContext(mock.patch.dict(os.environ, {"XDG_DATA_HOME": str(self.home)}))

    def there(self) -> list[str]:
        return sorted(str(path.relative_to(self.home))
                      for path in self.home.rglob(f"*{ID}*")) + sorted(
            path.name for pattern in ("yarn-puppet*", "_yarn-puppet")
            for path in self.home.rglob(pattern))

    def test_put_there_and_taken_away(self) -> None:
        code, out, _ = test_commands.typed("desktop", "--install")
        self.assertEqual((code, out.count("\n")), (0, 7 + len(SIZES)))
        ours = [f"applications/{ID}.desktop", f"metainfo/{ID}.metainfo.xml",
                f"mime/packages/{ID}.xml"]
        self.assertEqual(self.there(), [
            *ours, "_yarn-puppet", "yarn-puppet", "yarn-puppet.1",
            *["yarn-puppet.png"] * len(SIZES),
            "yarn-puppet.svg"])
        for size in SIZES:
            with Image.open(
                self.home / f"icons/hicolor/{size}x{size}/apps/yarn-puppet.png"
            ) as icon:
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
            self.assertEqual(shlex.split(read)[0].replace("\\`", "`").replace("\\$", "$").replace(
                "%%", "%"), word)

    def test_every_command_is_in_the_man_page_with_what_it_takes(self) -> None:
        test_commands.typed("desktop", "--install")
        page = (self.home / MAN).read_text().replace("\\", "")
        for command, words in (("open", "FILE"), ("check", "--junit"), ("merge", "THEIRS"),
                               ("hand-off", "--art")):
            part = page[page.index(f"fByarn-puppet {command}fR"):]
            self.assertIn(words, part[: part.index(".SS", 4) if ".SS" in part[4:] else None],
                          command)
        self.assertIn(".SH EXIT STATUS", page)

    @unittest.skipUnless(shutil.which("groff"), "groff is not installed")
    def test_the_man_page_is_set_without_a_warning(self) -> None:
        test_commands.typed("desktop", "--install")
        done = subprocess.run(["groff", "-man", "-ww", "-Tutf8", self.home / MAN],
                              capture_output=True, text=True,
                              check=False)
        self.assertEqual((done.returncode, done.stderr), (0, ""))

    @unittest.skipUnless(shutil.which("bash"), "bash is not installed")
    def test_tab_completes_commands_options_and_files(self) -> None:
        test_commands.typed("desktop", "--install")
        (self.home / "pell.puppet.json").write_text("{}")

        def completed(*words: str) -> list[str]:
            asked = " ".join(map(shlex.quote, ("yarn-puppet", *words)))
            script = (
                f"source {shlex.quote(str(self.home / BASH))}; cd {shlex.quote(str(self.home))}; "
                f"COMP_WORDS=({asked}); COMP_CWORD={len(words)}; "
                '$(complete -p yarn-puppet | grep -o -- "-F [^ ]*" | cut -c4-) yarn-puppet; '
                'printf "%s\n" "${COMPREPLY[@]}"'
            )
            done = subprocess.run(["bash", "-c", script], capture_output=True, text=True,
                                  check=True)
            return done.stdout.split()

        self.assertEqual(completed("ch"), ["check"])
        self.assertEqual(completed("check", "--ju"), ["--junit"])
        self.assertIn("pell.puppet.json", completed("open", "pe"))
        self.assertEqual(completed("play", "--tra"), ["--trace"])

    @unittest.skipUnless(shutil.which("zsh"), "zsh is not installed")
    def test_what_zsh_reads_is_sound(self) -> None:
        test_commands.typed("desktop", "--install")
        done = subprocess.run(["zsh", "-n", self.home / ZSH], capture_output=True, text=True,
                              check=False)
        self.assertEqual((done.returncode, done.stderr), (0, ""))

    @unittest.skipUnless(shutil.which("desktop-file-validate"),
                         "desktop-file-utils is not installed")
    def test_the_entry_is_valid(self) -> None:
        test_commands.typed("desktop", "--install")
        done = subprocess.run(["desktop-file-validate", self.home / f"applications/{ID}.desktop"],
                              capture_output=True,
                              text=True, check=False)
        self.assertEqual((done.returncode, done.stdout), (0, ""))

    @unittest.skipUnless(shutil.which("appstreamcli"), "appstream is not installed")
    def test_what_a_catalogue_says_is_valid(self) -> None:
        test_commands.typed("desktop", "--install")
        done = subprocess.run(["appstreamcli", "validate", "--no-net",
                               self.home / f"metainfo/{ID}.metainfo.xml"],
                              capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stdout)

    @unittest.skipUnless(shutil.which("update-mime-database") and shutil.which("xdg-mime"),
                         "no kinds of files here")
    def test_a_puppet_is_known_by_its_name(self) -> None:
        test_commands.typed("desktop", "--install")
        self.assertIn(MIME, (self.home / "mime" / "globs2").read_text())
