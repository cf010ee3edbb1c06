"""What `pip install .` puts into another environment: all of the program, its demo, its fonts; and
no tests."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import zipfile
from pathlib import Path

from tests.helpers import Case

ROOT = Path(__file__).parents[2]


class Wheel(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def built(self) -> Path:
        """The wheel, built of a copy, by what `pip` calls for it: building leaves its marks in the
        tree."""
        copy = self.folder / "copy"
        shutil.copytree(ROOT / "yarn_puppet", copy / "yarn_puppet",
                        ignore=shutil.ignore_patterns("__pycache__"))
        for name in ("pyproject.toml", "README.md", "LICENSE"):
            shutil.copy(ROOT / name, copy)
        shutil.copytree(ROOT / "LICENSES", copy / "LICENSES")
        done = subprocess.run(
            [sys.executable, "-c", "import sys; from setuptools.build_meta import build_wheel; "
             "build_wheel(sys.argv[1])", self.folder],
            cwd=copy, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stderr)
        (found,) = self.folder.glob("yarn_puppet-*.whl")
        return found

    def test_it_holds_all_of_the_program_and_runs_elsewhere(self) -> None:
        with zipfile.ZipFile(self.built()) as wheel:
            names = set(wheel.namelist())
            wheel.extractall(self.folder / "site")
        ours = {str(path.relative_to(ROOT)) for path in (ROOT / "yarn_puppet").rglob("*")
                if path.is_file() and "__pycache__" not in path.parts}
        self.assertEqual({name for name in names if ".dist-info/" not in name}, ours)
        entry = next((self.folder / "site").glob("*.dist-info")) / "entry_points.txt"
        self.assertIn("yarn-puppet = yarn_puppet.cli:main", entry.read_text())
        self.assertIn("License-Expression: GPL-3.0-or-later",
                      (entry.parent / "METADATA").read_text())
        self.assertEqual({path.name
                          for path in (entry.parent / "licenses").rglob("*") if path.is_file()},
                         {"LICENSE", *(path.name for path in (ROOT / "LICENSES").iterdir())})
        elsewhere = self.folder / "elsewhere"
        elsewhere.mkdir()
        env = {**os.environ, "PYTHONPATH": str(self.folder / "site"),
               "QT_QPA_PLATFORM": "offscreen",
               "HOME": str(elsewhere)}
        demo = self.folder / "site" / "yarn_puppet" / "demo"
        pell, first = str(demo / "lamplighter.puppet.json"), str(demo / "first_steps.puppet.json")
        commands = (["check", pell], ["picture", first, "--out", "it.svg"],
                    ["hand-off", first, "--to", "c,javascript,python", "--art", "--wire", "--out",
                     "made"])
        # In one process: none has what another needs, and all of it is compiled once.
        run = (f"from yarn_puppet.cli import main\nfor words in {commands!r}:\n"
               "    print('ended with', main(words))")
        done = subprocess.run([sys.executable, "-c", run], cwd=elsewhere, env=env,
                              capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertEqual(done.stdout.count("ended with 0"), len(commands), done.stdout)
        for said in ("20 promises kept", "yarn_wire.js"):
            self.assertIn(said, done.stdout)
        self.assertTrue((elsewhere / "it.svg").stat().st_size > 1000)
