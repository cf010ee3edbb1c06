"""Set-up: a second start has nothing to do, and what is missing is said."""

from __future__ import annotations

import shlex
import subprocess
import tempfile
from pathlib import Path

from tests.helpers import Case

ROOT = Path(__file__).parents[2]


class Scripts(Case):
    def sourced(self, command: str, folder: Path) -> subprocess.CompletedProcess[str]:
        script = shlex.quote(str(ROOT / "scripts" / "set-up.sh"))
        return subprocess.run(["bash", "-c", f". {script}; {command}"], cwd=folder, text=True,
                              capture_output=True,
                              check=False)

    def test_once_stamped_nothing_is_installed(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            (folder / ".venv").mkdir()
            (folder / "it.lock").write_text("a==1\n")
            (folder / ".venv" / "it.lock.installed").write_text("a==1\n")
            done = self.sourced(f"set_up {folder} it.lock && echo $PYTHON", folder)
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertEqual(done.stdout.strip(), f"{folder}/.venv/bin/python")

    def test_without_rights_the_one_command_is_printed(self) -> None:
        done = self.sourced("id() { echo 1000; }; install_system_packages one two", ROOT)
        self.assertEqual(done.returncode, 1)
        self.assertIn("sudo apt-get install -y one two", done.stderr)

    def test_without_python_it_says_so(self) -> None:
        done = self.sourced("PATH=/nowhere; find_python", ROOT)
        self.assertEqual(done.returncode, 1)
        self.assertIn("Python 3.11 or later is needed", done.stderr)

    def test_every_screenshot_is_linked_from_the_readme_and_shown_in_the_gallery(self) -> None:
        readme, gallery = (ROOT / "README.md").read_text(), (
            ROOT / "docs" / "gallery.md").read_text()
        for picture in (ROOT / "docs" / "screenshots").glob("*.png"):
            self.assertIn(f"docs/screenshots/{picture.name}", readme)
            self.assertTrue(picture.name in gallery or picture.name == "weave.png", picture.name)
