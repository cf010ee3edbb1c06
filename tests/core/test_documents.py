"""The documents: every link leads somewhere, every file they name is there, every table renders,
the code compiles."""

from __future__ import annotations

import ast
import re
import shutil
import subprocess
import tempfile
import unittest
from pathlib import Path

from markdown_it import MarkdownIt
from markdown_it.token import Token

from tests import window_texts
from tests.helpers import Case
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.handoff.files import hand_off
from yarn_puppet.core.model.kinds.gestures import GESTURES
from yarn_puppet.core.model.kinds.modes import MODES
from yarn_puppet.core.model.kinds.moments import MOMENTS
from yarn_puppet.core.model.kinds.promises import PROMISES
from yarn_puppet.core.model.kinds.while_rules import WHILE_RULES
from yarn_puppet.core.model.kinds.windows import WINDOWS
from yarn_puppet.demo import DEMO_PUPPET

ROOT = Path(__file__).parents[2]
DOCUMENTS = sorted([*ROOT.glob("*.md"), *(ROOT / "docs").rglob("*.md"),
                    *(ROOT / "examples").glob("*.md")])
NAMED = re.compile(r"^[\w.-]+(/[\w.-]+)+/?$|^[\w-]+\.(py|md|toml|lock|txt)$")
"""What is the name of a file or folder, among words in code type."""
KEPT = ("yarn_puppet", "tests", "bench", "docs", "examples", "scripts", "LICENSES", ".ci")
OTHERS = re.compile(
    r"[A-Z]{3}|^(game|made|files)/|^(random\.py|yarn-puppet/wire\.key|terminal/pell|application/.*)$"
)
"""Those that are the user's own, or are made."""


def there() -> set[str]:
    """All files and folders of the repository, by their names from each folder above them on."""
    whole = [path.relative_to(ROOT).parts for folder in KEPT
             for path in [ROOT / folder, *(ROOT / folder).rglob("*")]]
    whole += [(path.name,) for path in ROOT.iterdir()]
    return {"/".join(parts[first:]) for parts in whole for first in range(len(parts))}


def tokens(document: Path) -> list[Token]:
    """What a renderer reads out of a document."""
    return MarkdownIt("commonmark").enable("table").parse(document.read_text(encoding="utf-8"))


def inline(document: Path) -> list[Token]:
    """The pieces of running text."""
    return [each for token in tokens(document) for each in token.children or ()]


def slug(heading: str) -> str:
    """What a heading is linked to by."""
    return re.sub(r"[^\w\- ]", "", heading.lower()).replace(" ", "-")


class Documents(Case):
    def test_the_list_of_the_texts_of_the_window_is_that_of_the_code(self) -> None:
        self.assertEqual(window_texts.OUT.read_text(encoding="utf-8"), window_texts.document(),
                         "make it again: python -m tests.window_texts")

    def test_the_first_page_is_short(self) -> None:
        self.assertLessEqual(len((ROOT / "README.md").read_text().splitlines()), 120)

    def test_every_link_leads_to_a_file_that_is_there_and_to_a_heading_of_it(self) -> None:
        for document in DOCUMENTS:
            for token in inline(document):
                target = str(token.attrs.get("href") or token.attrs.get("src") or "")
                if not target or target.startswith(("http:", "https:")):
                    continue
                name, _, heading = target.partition("#")
                path = (document.parent / name).resolve() if name else document
                with self.subTest(document.name, target=target):
                    self.assertTrue(path.exists())
                    if heading:
                        found = re.findall(r"^#+ (.*)$", path.read_text(encoding="utf-8"),
                                           re.MULTILINE)
                        self.assertIn(heading, [slug(each) for each in found])

    def test_every_file_that_is_named_is_there(self) -> None:
        known = there()
        for document in DOCUMENTS:
            for token in inline(document):
                words = token.content.split()
                name = (
                    words[0].removeprefix("./")
                    if token.type == "code_inline" and len(words) == 1
                    else ""
                )
                if NAMED.match(name) and not OTHERS.search(name):
                    with self.subTest(document.name, name=name):
                        self.assertTrue(name.rstrip("/") in known)

    def test_the_page_on_files_names_every_kind(self) -> None:
        page = " ".join((ROOT / "docs" / "file-format.md").read_text(encoding="utf-8").split())
        rules = page[page.index("**While-rules**"): page.index("**Deeds**")]
        events = page[page.index("**A moment**"): page.index("**Conditions**")]
        for where, kinds in ((rules, WHILE_RULES), (events, MOMENTS), (events, WINDOWS),
                             (rules, MODES), (page, GESTURES), (page, PROMISES)):
            self.assertEqual([kind for kind in kinds if f"`{kind}`" not in where], [])

    def test_the_page_on_a_tick_has_a_rule_for_every_gesture_and_while_rule(self) -> None:
        page = (ROOT / "docs" / "semantics.md").read_text(encoding="utf-8")
        self.assertEqual([kind for kind in (*GESTURES, *WHILE_RULES) if f"*{kind}*" not in page],
                         [])

    def test_every_table_renders_with_as_many_cells_in_each_row(self) -> None:
        for document in DOCUMENTS:
            lines, found = document.read_text(encoding="utf-8").splitlines(), tokens(document)
            coded = {line for each in found if each.type == "fence" and each.map
                     for line in range(*each.map)}
            tables = [range(*each.map) for each in found if each.type == "table_open" and each.map]
            for number, line in enumerate(lines):
                table = next((each for each in tables if number in each), None)
                if line.startswith("|") and number not in coded:
                    with self.subTest(document.name, line=number + 1):
                        self.assertIsNotNone(table, "it is shown as text")
                if table is not None:
                    cells, heads = (len(re.findall(r"(?<!\\)\|", each))
                                    for each in (line, lines[table[0]]))
                    with self.subTest(document.name, line=number + 1):
                        self.assertEqual(cells, heads)

    def test_the_c_of_the_page_on_embedding_compiles(self) -> None:
        if shutil.which("gcc") is None:
            self.skipTest("no compiler is installed")
        code = next(token.content
                    for token in tokens(ROOT / "docs" / "embedding.md") if token.info == "c")
        includes, body = code.split("\n\n", 1)
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            for file, content in hand_off(load_puppet(DEMO_PUPPET), ["c"],
                                          "lamplighter").files.items():
                (folder / file).write_bytes(content)
            (folder / "game.c").write_text(
                f"{includes}\nint game(bool pressed, bool on_floor);\nint game(bool pressed, bool "
                f"on_floor) {{\n"
                f"{body}return count;\n}}\n"
            )
            done = subprocess.run(["gcc", "-std=c99", "-Wall", "-Wextra", "-Werror",
                                   "-fsyntax-only", "game.c"],
                                  cwd=folder, capture_output=True, text=True, check=False)
        self.assertEqual((done.returncode, done.stderr), (0, ""))

    def test_the_python_of_the_documents_is_python(self) -> None:
        for document in DOCUMENTS:
            for token in tokens(document):
                if token.type == "fence" and token.info == "python":
                    with self.subTest(document.name):
                        ast.parse(token.content)


if __name__ == "__main__":
    unittest.main()
