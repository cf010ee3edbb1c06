"""Pictures of every open kind as pages of plain pixels: a still has one page, a moving one a page a
frame.

PNG, GIF and WebP are read by Pillow; APNG, OpenRaster and folders of numbered pictures are put
together here of what Pillow reads. Files are hostile until read: sizes are known before anything is
unpacked, and nothing is looked for outside an archive.
"""

from __future__ import annotations

import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path

from ..errors import open_regular
from .apng import MOST_BYTES, apng_frames, moves
from .budget import MOST_PAGES, MOST_PIXELS, Budget
from .decoding import decoded
from .names import ENDINGS, is_numbered, name_order
from .pages import USUAL_DURATION, Drawn, Page, PictureProblem, TooLarge

OnProgress = Callable[[int, int], None]
"""Is told how many pictures of a folder were read, of how many."""


def read_pages(
    path: Path, most_pixels: int = MOST_PIXELS, left_out: list[str] | None = None
) -> tuple[Page, ...]:
    """The pages of a picture file, an OpenRaster file or a folder of numbered pictures, read by
    this process.

    Raises PictureProblem; where only the number of pixels stands against it, TooLarge. Pictures of
    a folder that cannot be read are left out, and what is wrong with each is added to `left_out`.
    """
    return tuple(Page(image.width, image.height, duration, image.tobytes())
                 for image, duration in drawn_in(path, most_pixels, left_out))


def drawn_in(path: Path, most_pixels: int = MOST_PIXELS, left_out: list[str] | None = None,
             progress: OnProgress = lambda done, whole: None) -> Iterator[Drawn]:
    """The pages as `read_pages` gives them, one after the other, with the same errors; MemoryError
    too."""
    budget = Budget(most_pixels)
    try:
        if path.is_dir():
            yield from _folder(path, budget, left_out if left_out is not None else [], progress)
        elif not path.is_file():
            raise PictureProblem(path, "there is no such file")
        else:
            yield from _file(path, budget)
    except PictureProblem:
        raise
    except OSError as error:
        raise PictureProblem(path, f"cannot be read ({error.strerror or error})") from None


def _file(path: Path, budget: Budget) -> Iterator[Drawn]:
    with open_regular(path) as file:
        head = file.read(1 << 16)
        file.seek(0)
        if moves(head):
            if path.stat().st_size > MOST_BYTES:
                raise PictureProblem(path, f"its size is more than {MOST_BYTES >> 20} MiB")
            yield from apng_frames(path, file.read(MOST_BYTES + 1), budget)
        elif zipfile.is_zipfile(file):
            # Only here: a process that reads pictures is to be ready soon.
            from .open_raster import open_raster

            yield from open_raster(path, budget)
        else:
            file.seek(0)
            yield from decoded(path, file, budget)


def _folder(
    path: Path, budget: Budget, left_out: list[str], progress: OnProgress
) -> Iterator[Drawn]:
    """The numbered pictures of a folder, in the order of their names, numbers read as numbers."""
    numbered = sorted((each for each in path.iterdir()
                       if each.suffix.lower() in ENDINGS and is_numbered(each.stem)
                       and each.is_file()),
                      key=lambda each: (name_order(each.stem), each.name))
    if not numbered:
        raise PictureProblem(path, "no numbered pictures are in this folder")
    if len(numbered) > MOST_PAGES:
        raise PictureProblem(path, f"its {len(numbered)} pictures are more than {MOST_PAGES}")
    found = 0
    wrong: list[str] = []
    for number, each in enumerate(numbered):
        progress(number, len(numbered))
        used = budget.used
        try:
            first = next(_file(each, budget))
        except TooLarge:
            raise
        except PictureProblem as problem:
            # One stray file keeps none of the others out.
            wrong.append(str(problem))
            budget.used = used
        else:
            found += 1
            yield first._replace(duration=USUAL_DURATION)
    if not found:
        raise PictureProblem(path, f"none of its pictures can be read; {wrong[0]}")
    left_out += wrong
