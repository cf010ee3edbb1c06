"""Set-up: what is imported is pinned, and a second start has nothing to do."""

from __future__ import annotations

import shlex
import subprocess
import sys
import tempfile
from pathlib import Path

from tests.core.test_structure import imports
from tests.helpers import Case

ROOT = Path(__file__).parents[2]
PACKAGE_OF = {
    "PyQt6": "PyQt6", "numpy": "numpy", "PIL": "pillow", "msgspec": "msgspec",
    "platformdirs": "platformdirs",
    "scipy": "scipy", "font_source_sans_pro": "font-source-sans-pro", "hypothesis": "hypothesis",
    "defusedxml": "defusedxml", "xmlschema": "xmlschema", "websockets": "websockets",
    "jsonschema": "jsonschema", "markdown_it": "markdown-it-py",
    "moderngl": "moderngl", "shtab": "shtab", "argparse_manpage": "argparse-manpage",
    "trimesh": "trimesh",
}


def pinned(lock: str) -> dict[str, str]:
    """The packages of a lock file and their versions."""
    lines = [line for line in (ROOT / lock).read_text().splitlines()
             if line and not line.startswith("#")]
    return dict(line.split("==") for line in lines)


class Locks(Case):
    def test_every_line_pins_one_version(self) -> None:
        for lock in ("requirements.lock", "requirements-test.lock"):
            for name, version in pinned(lock).items():
                self.assertRegex(version, r"^\d+(\.\d+)*$", name)

    def test_what_the_application_imports_is_in_its_lock(self) -> None:
        found = set()
        for path in (ROOT / "yarn_puppet").rglob("*.py"):
            found |= {name.split(".")[0] for name in imports(path)}
            if "font_source_sans_pro" in path.read_text():
                found.add("font_source_sans_pro")
        outside = found - set(sys.stdlib_module_names) - {"yarn_puppet", ""}
        self.assertLessEqual({PACKAGE_OF[name] for name in outside},
                             set(pinned("requirements.lock")))

    def test_what_the_tests_import_is_in_one_of_the_locks(self) -> None:
        found = {name.split(".")[0] for path in (ROOT / "tests").rglob("*.py")
                 for name in imports(path)}
        outside = found - set(sys.stdlib_module_names) - {"yarn_puppet", "tests", "bench", ""}
        both = set(pinned("requirements.lock")) | set(pinned("requirements-test.lock"))
        self.assertLessEqual({PACKAGE_OF[name] for name in outside}, both)


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
