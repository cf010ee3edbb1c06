"""Pictures of every open kind as pages of plain pixels: a still has one page, a moving one a page a frame.

PNG, GIF and WebP are read by Pillow; APNG, OpenRaster and folders of numbered pictures are put together here of what
Pillow reads. Files are hostile until read: sizes are known before anything is unpacked, and nothing is looked for
outside an archive.
"""

from __future__ import annotations

import zipfile
from pathlib import Path

from ..errors import open_regular
from .apng import MOST_BYTES, apng_pages, moves
from .decoding import decoded
from .names import ENDINGS, is_numbered, name_order
from .open_raster import open_raster
from .pages import MOST_PAGES, MOST_PIXELS, USUAL_DURATION, Budget, Page, PictureProblem, TooLarge


def read_pages(path: Path, most_pixels: int = MOST_PIXELS, left_out: list[str] | None = None) -> tuple[Page, ...]:
    """The pages of a picture file, an OpenRaster file or a folder of numbered pictures.

    Raises PictureProblem; where only the number of pixels stands against it, TooLarge. Pictures of a folder that cannot
    be read are left out, and what is wrong with each is added to `left_out`.
    """
    budget = Budget(most_pixels)
    try:
        if path.is_dir():
            return _folder(path, budget, left_out if left_out is not None else [])
        if not path.is_file():
            raise PictureProblem(path, "there is no such file")
        return tuple(_file(path, budget))
    except PictureProblem:
        raise
    except OSError as error:
        raise PictureProblem(path, f"cannot be read ({error.strerror or error})") from None


def _file(path: Path, budget: Budget) -> list[Page]:
    if zipfile.is_zipfile(path):
        return open_raster(path, budget)
    with open_regular(path) as file:
        if moves(file.read(1 << 16)):
            if path.stat().st_size > MOST_BYTES:
                raise PictureProblem(path, f"its size is more than {MOST_BYTES >> 20} MiB")
            file.seek(0)
            return apng_pages(path, file.read(), budget)
        file.seek(0)
        return decoded(path, file, budget)


def _folder(path: Path, budget: Budget, left_out: list[str]) -> tuple[Page, ...]:
    """The numbered pictures of a folder, in the order of their names, numbers read as numbers."""
    numbered = sorted((each for each in path.iterdir()
                       if each.suffix.lower() in ENDINGS and is_numbered(each.stem) and each.is_file()),
                      key=lambda each: (name_order(each.stem), each.name))
    if not numbered:
        raise PictureProblem(path, "no numbered pictures are in this folder")
    if len(numbered) > MOST_PAGES:
        raise PictureProblem(path, f"its {len(numbered)} pictures are more than {MOST_PAGES}")
    pages: list[Page] = []
    wrong: list[str] = []
    for each in numbered:
        used = budget.used
        try:
            pages.append(_file(each, budget)[0]._replace(duration=USUAL_DURATION))
        except TooLarge:
            raise
        except PictureProblem as problem:
            # One stray file keeps none of the others out.
            wrong.append(str(problem))
            budget.used = used
    if not pages:
        raise PictureProblem(path, f"none of its pictures can be read; {wrong[0]}")
    left_out += wrong
    return tuple(pages)
