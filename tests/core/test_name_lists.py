"""Names of clips, as many people write them, and what each is read as."""

from __future__ import annotations

import os
import unicodedata
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest.mock import patch

from tests.helpers import Case
from yarn_puppet.core.model.basics.name_words import meanings, own_words
from yarn_puppet.core.model.edits.directions import facing_of
from yarn_puppet.core.patterns.clip_names import clip_names
from yarn_puppet.core.patterns.reading_names import NameRead, read_name, read_names

LISTS = Path(__file__).with_name("name_lists.txt")


def lists() -> list[tuple[list[str], list[str]]]:
    """Each list of names, and what each of them is."""
    found = []
    for line in LISTS.read_text(encoding="utf-8").splitlines():
        if line.strip() and not line.startswith("#"):
            names, _, wanted = line.rpartition(" = ")
            found.append((names.split(", "), wanted.split(", ")))
    return found


def said(read: NameRead, wanted: str) -> str:
    """What was read, as the lists write it; a number where it is wanted, or where it tells blows
    apart."""
    if read.movement is None:
        return "-"
    counts = any(map(str.isdigit, wanted)) or read.movement.counted
    return (read.movement.name.replace(" ", "_") + str(read.number or "") * counts
            + f">{read.facing}" * bool(read.facing))


class NameLists(Case):
    def test_each_name_becomes_what_it_says(self) -> None:
        wrong = []
        for names, wanted in lists():
            short = clip_names(names)
            read = [said(*each) for each in zip(read_names(short), wanted, strict=True)]
            if read != wanted:
                wrong.append(f"{names} as {short}: {read} for {wanted}")
        self.assertGreaterEqual(len(lists()), 300)
        self.assertEqual(wrong, [])

    def test_a_facing_is_what_clips_of_one_name_differ_by(self) -> None:
        for name, parts in {
            "walk_left": ("walk", "left"), "WalkDownLeft": ("Walk", "down_left"),
            "walk_left_2": ("walk 2", "left"), "walk_side": ("walk", "right"),
            "left walk": ("walk", "left"), "walk_se": ("walk", "down_right"), "left": None,
            unicodedata.normalize("NFD", "héros_gauche_2"): ("héros 2", "left"),
            "gehen_rechts": ("gehen", "right"), "歩き左": ("歩き", "left"), "walk": None,
        }.items():
            self.assertEqual(facing_of(name), parts)

    def test_words_of_ones_own_go_first_and_a_file_that_is_none_says_why(self) -> None:
        with TemporaryDirectory() as folder, patch.dict(os.environ, {"XDG_CONFIG_HOME": folder}):
            path = Path(folder) / "yarn-puppet" / "words.toml"
            path.parent.mkdir()
            for text, problem, movement in (
                ('[ours]\nidle = ["lurk", "walk"]', "", "idle"),
                ("[ours\n", "line 1", None), ("idle = 3", "expected [idle]", None),
                ("[ours]\nidle = [3]", 'ours, idle: expected words, as ["one", "other"]', None),
                ("", "", None),
            ):
                path.write_text(text)
                meanings.cache_clear()
                read_name.cache_clear()
                self.assertIn(problem, own_words()[1])
                found = read_name("lurk").movement
                self.assertEqual(found.name if found else None, movement)
                self.assertEqual(read_name("walk").movement.name, movement or "walk")
        meanings.cache_clear()
        read_name.cache_clear()
