"""`NAME.take.json`: the recorded controls of one run."""

from __future__ import annotations

from pathlib import Path

from ..model.world import Take
from .errors import FileProblem, read_json
from .writing import laid_out, write_safely

SUFFIX = ".take.json"


def load_take(path: Path) -> Take:
    """The take in a file. Raises FileProblem."""
    take = read_json(path, Take)
    for place, changes in (("controls", take.controls), ("senses", take.senses)):
        for number, change in enumerate(changes):
            if change[0] >= take.ticks:
                raise FileProblem(path, f"{place}[{number}]", f"expected a tick before {take.ticks}, found {change[0]}")
    return take


def take_bytes(take: Take) -> bytes:
    """A take as the text of its file: every field is written, each change on its line."""
    fields = {
        "format": take.format, "booth": take.booth, "rate": take.rate, "ticks": take.ticks,
        "controls": take.controls, "senses": take.senses,
    }
    return laid_out(fields, frozenset(("controls", "senses")))


def save_take(take: Take, path: Path) -> None:
    """Write a take's file safely. Raises FileProblem."""
    write_safely(path, take_bytes(take))
