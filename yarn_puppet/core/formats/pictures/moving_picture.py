"""Pictures of ticks as one that moves: GIF, or APNG, which keeps every colour."""

from __future__ import annotations

from collections.abc import Sequence
from io import BytesIO
from pathlib import Path

from PIL import Image

from ..errors import FileProblem
from ..replacing import write_safely

SUFFIXES = (".gif", ".png", ".apng")
STEPS = {".gif": 10.0, ".png": 1.0, ".apng": 1.0}
"""The milliseconds in which a format counts."""
LEAST = {".gif": 20.0, ".png": 1.0, ".apng": 1.0}
"""The shortest time that viewers show a picture of a format for."""


def ticks_shown(ticks: int, rate: int, suffix: str) -> list[tuple[int, float]]:
    """Which of so many ticks are shown, and for how many milliseconds each, in whole steps of the
    format that add up to the time played."""
    step, least = STEPS[suffix], LEAST[suffix]
    every = 1
    while every * 1000 / rate < least:
        every += 1
    shown = list(range(0, ticks, every))
    ends = [min(tick + every, ticks) * 1000 / rate for tick in shown]
    found, begun = [], 0.0
    for tick, end in zip(shown, ends, strict=True):
        until = round(end / step) * step
        found.append((tick, max(step, until - begun)))
        begun = max(until, begun + step)
    return found


MOST_ASKED = 12
"""Pictures from which the colours of all are picked."""


def _palette(pictures: Sequence[Image.Image]) -> Image.Image:
    """One set of colours for all of them, so that nothing flickers: picked from some, spread over
    the whole."""
    some = pictures[::max(1, len(pictures) // MOST_ASKED)]
    wide, high = pictures[0].size
    whole = Image.new("RGB", (wide, high * len(some)))
    for number, each in enumerate(some):
        whole.paste(each.convert("RGB"), (0, number * high))
    return whole.quantize(256, dither=Image.Dither.NONE)


def save_moving(pictures: Sequence[Image.Image], milliseconds: Sequence[float], path: Path) -> None:
    """Write pictures, each shown for so long, round and round. Raises FileProblem."""
    suffix = path.suffix.lower()
    if suffix not in SUFFIXES:
        raise FileProblem(path, "", f"expected a name that ends in {', '.join(SUFFIXES)}")
    if not pictures:
        raise FileProblem(path, "", "expected at least one tick to show")
    out = BytesIO()
    first, *rest = pictures
    if suffix == ".gif":
        palette = _palette(pictures)
        flat = [picture.convert("RGB").quantize(palette=palette, dither=Image.Dither.NONE)
                for picture in pictures]
        flat[0].save(out, "GIF", save_all=True, append_images=flat[1:],
                     duration=[round(millisecond) for millisecond in milliseconds],
                     loop=0, optimize=False, disposal=1)
    else:
        first.save(out, "PNG", save_all=True, append_images=rest, duration=list(milliseconds),
                   loop=0)
    write_safely(path, out.getvalue())
