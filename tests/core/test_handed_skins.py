"""One code, several skins: in each a character does what the puppet in that skin does."""

from __future__ import annotations

import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from typing import Any

from hypothesis import given
from hypothesis import strategies as some

from tests.depth import SANITIZED, some_of
from tests.helpers import Case, demo_puppet
from tests.random_cases import random_run_of
from tests.random_puppets import Shaker
from tests.random_skins import random_skin
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.engine.plain.tick import tick
from yarn_puppet.core.engine.state import Report
from yarn_puppet.core.engine.worn import worn
from yarn_puppet.core.handoff.files import hand_off
from yarn_puppet.core.handoff.golden import golden_text
from yarn_puppet.core.languages.table import LANGUAGES
from yarn_puppet.core.model.skin import Skin
from yarn_puppet.core.skins.dressing import dressed
from yarn_puppet.core.skins.wardrobe import wardrobe

FLAGS = ("-std=c99", "-Wall", "-Wextra", "-Werror", "-pedantic", "-O0", *SANITIZED)


def plainly(report: Report, names: dict[str, str]) -> tuple[Any, ...]:
    """A report without what tells a program's own entries apart, its clips called as the puppet
    calls them."""
    def clip(id: str | None) -> str | None:
        return names.get(id, id) if id is not None else None

    return (
        report._replace(layers=(), moments=(), windows=(), rules=()),
        [layer._replace(clip=clip(layer.clip),
                        fading=tuple([each._replace(clip=clip(each.clip))
                                      for each in layer.fading])) for layer in report.layers],
        [each._replace(clip=clip(each.clip)) for each in report.moments],
        [each._replace(clip=clip(each.clip)) for each in report.windows],
        list(report.rules))


class Worn(Case):
    @given(some.integers(0, 1 << 30))
    def test_the_code_of_all_in_a_skin_does_what_the_puppet_in_it_does(self, seed: int) -> None:
        shaker = Shaker(seed)
        puppet = shaker.puppet()
        skins = [random_skin(puppet, shaker, name) for name in ("moss", "moss")]
        program = wardrobe(puppet, skins).program
        self.assertEqual([each.name for each in program.skins], ["moss", "moss 2"])
        for number, skin in enumerate((None, *skins)):
            own = compile_puppet(dressed(puppet, skin))
            of_all = worn(program, number)
            names = {new: old for each in program.skins for old, new in each.clips.items()}
            one, other = initial_state(own), initial_state(of_all)
            for inputs in random_run_of(own, shaker, 30).inputs:
                one, expected = tick(own, one, inputs)
                other, found = tick(of_all, other, inputs)
                self.assertEqual(plainly(found, names), plainly(expected, {}))

    def test_there_is_no_skin_of_another_number(self) -> None:
        program = wardrobe(demo_puppet(), [Skin()]).program
        for number in (-1, 2):
            with self.assertRaises(IndexError):
                worn(program, number)


class Handed(Case):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def runs(self, seed: int, language: str) -> str:
        """What the runner of a language says of a random puppet in each of its skins."""
        shaker = Shaker(seed)
        puppet = shaker.puppet()
        skins = [random_skin(puppet, shaker, "moss"), random_skin(puppet, shaker, "brick red")]
        made = hand_off(puppet, [language], "it", skins=skins)
        program = wardrobe(puppet, skins).program
        files = dict(made.files)
        takes = []
        for number in range(3):
            run = random_run_of(worn(program, number), shaker, 60)
            takes.append((f"skin {number}", number, 1,
                          list(zip(run.inputs, run.reports, strict=True))))
        files["it.golden.txt"] = golden_text(program, takes).encode()
        runner = LANGUAGES[language].runner
        assert runner is not None
        files |= {name: text.encode() for name, text in runner(program, "it").items()}
        for name, content in files.items():
            (self.folder / name).write_bytes(content)
        return "\n".join(f"skin {number}: 60 ticks, all equal" for number in range(3)) + "\n"

    def said(self, *command: str) -> str:
        done = subprocess.run(command, cwd=self.folder, capture_output=True, text=True, check=False)
        return done.stdout + done.stderr

    @unittest.skipUnless(shutil.which("gcc"), "no compiler is installed")
    def test_c_reports_the_same_in_each_skin(self) -> None:
        for seed in some_of(range(2)):
            expected = self.runs(seed, "c")
            self.assertEqual(self.said("gcc", *FLAGS, "-o", "it", "it_test.c", "it.c", "-lm"), "")
            self.assertEqual(self.said("./it"), expected, seed)

    @unittest.skipUnless(shutil.which("node"), "node is not installed")
    def test_javascript_reports_the_same_in_each_skin(self) -> None:
        for seed in some_of(range(4, 8)):
            expected = self.runs(seed, "javascript")
            self.assertEqual(self.said("node", "it_test.mjs"), expected, seed)

    def test_python_reports_the_same_in_each_skin(self) -> None:
        for seed in some_of(range(8, 12)):
            expected = self.runs(seed, "python")
            self.assertEqual(self.said(sys.executable, "it_test.py"), expected, seed)


