"""Missing files found again: folders move whole, and no file becomes two sheets."""

from __future__ import annotations

from pathlib import Path

from hypothesis import given
from hypothesis import strategies as some

from tests.helpers import Case
from yarn_puppet.desk.session.art.finding_again import found_with


def paths(**names: str) -> dict[str, Path]:
    return {id: Path(name) for id, name in names.items()}


class FindingAgain(Case):
    def found(
        self, missing: dict[str, Path], sheet: str, at: str, *there: str, used: str = "/x"
    ) -> dict[str, str]:
        files = {Path(each) for each in (*there, at)}
        made = found_with(missing, sheet, Path(at), {Path(used)}, files.__contains__)
        return {id: str(path) for id, path in made.items()}

    def test_files_of_one_name_go_to_their_own_folders(self) -> None:
        missing = paths(a="/old/hero/walk.png", b="/old/foe/walk.png")
        self.assertEqual(
            self.found(missing, "a", "/new/hero/walk.png", "/new/foe/walk.png"),
            {"a": "/new/hero/walk.png", "b": "/new/foe/walk.png"})
        self.assertEqual(self.found(missing, "a", "/new/walk.png"), {"a": "/new/walk.png"},
                         "the one file is not both of them")

    def test_a_folder_took_all_in_it_along(self) -> None:
        missing = paths(a="/p/art/a.png", b="/p/art/b.png", c="/p/art/deep/c.png",
                        d="/p/other/d.png")
        self.assertEqual(
            self.found(missing, "a", "/q/pictures/a.png", "/q/pictures/b.png",
                       "/q/pictures/deep/c.png",
                       "/q/other/d.png"),
            {"a": "/q/pictures/a.png", "b": "/q/pictures/b.png", "c": "/q/pictures/deep/c.png"},
            "what was beside a folder of another name is not there by the same move")

    def test_what_is_a_sheet_already_is_not_taken(self) -> None:
        missing = paths(a="/p/a.png", b="/p/b.png")
        self.assertEqual(self.found(missing, "a", "/q/a.png", "/q/b.png", used="/q/b.png"),
                         {"a": "/q/a.png"})

    @given(some.lists(some.sampled_from(["/p/x/a", "/p/x/b", "/p/y/a", "/p/y/b", "/p/a", "/r/a"]),
                      min_size=1,
                      unique=True), some.sets(some.sampled_from(
                          ["/q/x/a", "/q/x/b", "/q/y/a", "/q/a", "/s/a"])),
           some.sampled_from(["/q/x/a", "/q/y/a", "/s/a", "/q/z"]))
    def test_no_file_is_given_twice_and_none_that_is_not_there(
        self, missing: list[str], there: set[str], at: str
    ) -> None:
        found = self.found({each: Path(each) for each in missing}, missing[0], at, *there)
        self.assertEqual(len(set(found.values())), len(found))
        self.assertLessEqual(set(found.values()), {*there, at})
        self.assertEqual(found[missing[0]], at)
