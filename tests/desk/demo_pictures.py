"""The demo's pictures are decoded once in a process of tests, and not again for each window that
shows them, in whatever folder a copy of them lies. All others are read as they always are."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import Any

from yarn_puppet.core.formats.pictures.apart.reading_apart import PICTURES, PictureProcess
from yarn_puppet.core.formats.pictures.pages import Page
from yarn_puppet.demo import DEMO_FOLDER

_read = PictureProcess.read


@cache
def _sizes() -> dict[int, Path]:
    return {path.stat().st_size: path for path in DEMO_FOLDER.glob("*.png")}


@cache
def _decoded(path: Path) -> tuple[Page, ...]:
    return _read(PICTURES, path)


def _demo_picture(path: Path) -> Path | None:
    """The demo's picture that this is a copy of. Any file may go while it is looked at."""
    try:
        found = _sizes().get(path.stat().st_size) if path.is_file() else None
        return found if found is not None and found.read_bytes() == path.read_bytes() else None
    except OSError:
        return None


def _read_once(self: PictureProcess, path: Path, *more: Any, **named: Any) -> tuple[Page, ...]:
    found = _demo_picture(path)
    return _read(self, path, *more, **named) if found is None else _decoded(found)


def decode_once() -> None:
    """From now on, in this process."""
    PictureProcess.read = _read_once  # type: ignore[method-assign]
