"""The languages of a hand-off, one line each; what is known of one stands in its folder, in
`language.py`.

A folder is read when its language is first asked for: most commands ask for none.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cache
from importlib import import_module

from ..generate.language import Language

BY_DEFAULT: dict[str, bool] = {
    "c": True,
    "javascript": True,
    "python": True,
    "scxml": False,
}
"""By folder, which is what the command line calls it, whether it is handed off where nobody says
which."""
DEFAULT_LANGUAGES = tuple(key for key, default in BY_DEFAULT.items() if default)


class _Languages(Mapping[str, Language]):
    def __getitem__(self, key: str) -> Language:
        if key not in BY_DEFAULT:
            raise KeyError(key)
        return _read(key)

    def __iter__(self) -> Iterator[str]:
        return iter(BY_DEFAULT)

    def __len__(self) -> int:
        return len(BY_DEFAULT)


@cache
def _read(key: str) -> Language:
    language = import_module(f".{key}.language", __package__).LANGUAGE
    assert isinstance(language, Language)
    return language


LANGUAGES: Mapping[str, Language] = _Languages()
"""By what the command line calls them."""
