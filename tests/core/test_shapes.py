"""Code that is not of the puppet it is given says so, and touches nothing: an old header, library
or state."""

from __future__ import annotations

import json
import shutil
import subprocess
import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace

from tests.c_engine import FLAGS
from tests.helpers import Case, demo_puppet
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.generate.flat import flat
from yarn_puppet.core.generate.shape import shape_of
from yarn_puppet.core.handoff.files import hand_off
from yarn_puppet.core.model.edits.graph import state_changed, state_removed
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Memo, Sense
from yarn_puppet.game.puppets import imported

GAME = """#include "it.h"
#include <stdio.h>
#include <string.h>

int main(void) {
    static struct { it pell; unsigned char after[64]; } one;
    static it_report out;
    it_inputs in;
    size_t at;
    bool began, ticked;
    memset(&one, 7, sizeof one);
    began = it_start(&one.pell);
    memset(&in, 0, sizeof in);
    ticked = it_tick(&one.pell, &in, &out);
    for (at = 0; at < sizeof one.after && one.after[at] == 7; at++) {
    }
    printf("%d %d %d %d\\n", began, ticked, at == sizeof one.after, ((unsigned char *)&one.pell)[8] == 7);
    return 0;
}
"""  # noqa: E501


def shape(puppet: Puppet) -> int:
    """The number of a puppet's shape."""
    return shape_of(flat(compile_puppet(puppet)))


def grown() -> Puppet:
    """The demo with a memo and a sense more: its characters need more room."""
    puppet = demo_puppet()
    return replace(puppet, memos=(*puppet.memos,
                                  *[Memo(f"m{each}", f"more_{each}", "int") for each in range(9)]),
                   senses=(*puppet.senses, Sense("wet", "wet")))


class Shapes(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def write(self, puppet: Puppet, *names: str) -> None:
        files = hand_off(puppet, ["c", "javascript"], "it").files
        for name in names:
            (self.folder / name).write_bytes(files[name])

    def run_c(self, *command: str) -> tuple[int, str]:
        done = subprocess.run(command, cwd=self.folder, capture_output=True, text=True, check=False)
        return done.returncode, done.stdout + done.stderr

    def test_it_follows_what_numbers_stand_for_and_no_names(self) -> None:
        puppet = demo_puppet()
        self.assertEqual(shape(puppet), shape(state_changed(puppet, "idle_state", name="Rest")))
        others = [state_removed(puppet, "crouch_state"), grown(),
                  replace(puppet, states=tuple(reversed(puppet.states))),
                  replace(puppet, actions=puppet.actions[1:]),
                  replace(puppet, senses=tuple(
                      replace(sense, type="int", start=0) if sense.name == "speed" else sense
                                               for sense in puppet.senses))]
        self.assertEqual(len({shape(each) for each in (puppet, *others)}), 6)

    def test_it_is_the_same_in_every_language_and_in_the_manifest(self) -> None:
        files = hand_off(demo_puppet(), ["c", "javascript", "python"], "it").files
        number = shape(demo_puppet())
        self.assertEqual(json.loads(files["it.hand-off.json"])["shape"], number)
        self.assertIn(f"#define IT_SHAPE 0x{number:08X}u", files["it.h"].decode())
        self.assertIn(f"const SHAPE = {number};", files["it.js"].decode())
        self.assertEqual(imported(files["it.py"]).SHAPE, number)

    @unittest.skipUnless(shutil.which("gcc"), "no compiler is installed")
    def test_an_old_header_does_not_compile_with_new_code(self) -> None:
        self.write(demo_puppet(), "it.h")
        self.write(grown(), "it.c")
        code, said = self.run_c("gcc", *FLAGS, "-c", "it.c")
        self.assertNotEqual(code, 0)
        self.assertIn("it.h is of another puppet than it.c: hand both off together", said)

    @unittest.skipUnless(shutil.which("gcc"), "no compiler is installed")
    def test_a_library_that_was_made_again_touches_nothing_of_an_older_program(self) -> None:
        (self.folder / "game.c").write_text(GAME)
        library = ("gcc", *FLAGS, "-fPIC", "-shared", "-o", "libit.so", "it.c", "-lm")
        self.write(demo_puppet(), "it.h", "it.c")
        self.assertEqual(self.run_c(*library), (0, ""))
        self.assertEqual(self.run_c("gcc", *FLAGS, "-o", "game", "game.c", "-L.", "-lit",
                                    "-Wl,-rpath,."), (0, ""))
        self.assertEqual(self.run_c("./game"), (0, "1 1 1 0\n"))
        self.write(grown(), "it.h", "it.c")
        self.assertEqual(self.run_c(*library), (0, ""))
        self.assertEqual(self.run_c("./game"), (0, "0 0 1 1\n"))

    def test_python_goes_on_with_no_state_of_another_shape(self) -> None:
        old, new = (imported(hand_off(puppet, ["python"], "it").files["it.py"])
                    for puppet in (demo_puppet(), grown()))
        state, _ = old.step(old.START)
        again, report = old.step(old.State(*tuple(state)))
        self.assertEqual((again.shape, report.tick), (old.SHAPE, 1))
        for other in (state, tuple(state), state[:-1]):
            with self.assertRaisesRegex(ValueError,
                                        f"expected a state of shape {new.SHAPE}, found "):
                new.step(other)

    @unittest.skipUnless(shutil.which("node"), "no JavaScript is installed")
    def test_a_puppet_that_was_kept_by_older_code_is_said_of(self) -> None:
        (self.folder / "package.json").write_text('{"type": "module"}')
        self.write(demo_puppet(), "it.js")
        (self.folder / "it.js").rename(self.folder / "old.js")
        self.write(grown(), "it.js")
        (self.folder / "game.js").write_text(
            'import * as old from "./old.js";\nimport * as it from "./it.js";\n'
            "it.tick(it.start());\nit.tick(it.copied(it.start()));\n"
            "try { it.tick(old.start()); } catch (error) { console.log(error.message); }\n")
        self.assertEqual(self.run_c("node", "game.js"),
                         (0, "this puppet was begun by code of another shape: begin it again\n"))
