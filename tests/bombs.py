"""Picture files that ask for far more than they are: a hundred of them, made again for each run.

`python -m tests.bombs SEED` reads all of them, and tells what each took; `python -m tests.bombs
SEED COUNT` reads so many sound pictures of every kind that were spoilt.
"""

from __future__ import annotations

import io
import resource
import struct
import sys
import tempfile
import time
import zipfile
import zlib
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from random import Random

from PIL import Image

from yarn_puppet.core.formats.pictures.apart.reading_apart import PictureProcess
from yarn_puppet.core.formats.pictures.pages import PictureProblem

SIGNATURE = b"\x89PNG\r\n\x1a\n"


def chunk(kind: bytes, data: bytes) -> bytes:
    """A chunk of a PNG file."""
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


def zeros(count: int) -> bytes:
    """So many bytes of nothing, packed."""
    packer, made = zlib.compressobj(9), []
    piece = bytes(1 << 20)
    while count > 0:
        made.append(packer.compress(piece[:count]))
        count -= len(piece)
    return b"".join((*made, packer.flush()))


def png(width: int, height: int, kind: int = 6, depth: int = 8, *more: bytes) -> bytes:
    """A PNG of that size with nothing in it; `kind` is the colour type."""
    channels = {0: 1, 2: 3, 3: 1, 4: 2, 6: 4}[kind]
    line = (width * channels * depth + 7) // 8 + 1
    return b"".join((
        SIGNATURE, chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, depth, kind, 0, 0, 0)),
        *more,
        chunk(b"PLTE", bytes(768)) if kind == 3 else b"", chunk(b"IDAT", zeros(line * height)),
        chunk(b"IEND", b"")))


def apng(side: int, frames: int) -> bytes:
    """A PNG that moves, each frame of it as large as the whole."""
    data = zeros((side * 4 + 1) * side)
    control = struct.pack(">IIIIHHBB", side, side, 0, 0, 1, 10, 1, 1)
    made = [SIGNATURE, chunk(b"IHDR", struct.pack(">IIBBBBB", side, side, 8, 6, 0, 0, 0)),
            chunk(b"acTL", struct.pack(">II", frames, 0))]
    for number in range(frames):
        made.append(chunk(b"fcTL", struct.pack(">I", 2 * number) + control))
        made.append(chunk(b"fdAT", struct.pack(">I", 2 * number + 1) + data)
                    if number else chunk(b"IDAT", data))
    return b"".join((*made, chunk(b"IEND", b"")))


def gif(width: int, height: int, frames: int) -> bytes:
    """A GIF that moves, of empty frames."""
    block = struct.pack("<8sBHHHHB", bytes.fromhex("21f9040405000000"), 0x2C, 0, 0, width, height,
                        0)
    return (b"GIF89a" + struct.pack("<HH", width, height) + bytes.fromhex("800000000000ffffff")
            + (block + bytes.fromhex("02024401" + "00")) * frames + b";")


def raster(stack: str, side: int = 64, layer: bytes = b"", members: int = 1) -> bytes:
    """An OpenRaster file of this list of layers."""
    out = io.BytesIO()
    if not layer:
        small = io.BytesIO()
        Image.new("RGBA", (4, 4), (200, 40, 40, 255)).save(small, "PNG")
        layer = small.getvalue()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("stack.xml", f'<image w="{side}" h="{side}">{stack}</image>')
        for number in range(members):
            archive.writestr(f"{number}.png", layer)
    return out.getvalue()


def texts(length: int, count: int) -> bytes:
    """A small PNG with long texts."""
    return png(4, 4, 6, 8, *[chunk(b"zTXt", b"a\0\0" + zeros(length))] * count)


def large(layers: str, side: int, own: int) -> bytes:
    """An OpenRaster file whose layers all show one large picture."""
    return raster(f"<stack><stack>{layers}</stack></stack>", side, png(own, own))


def bombs(dice: Random) -> Iterator[tuple[str, Callable[[], bytes]]]:
    """A hundred files, by name: of each kind some, their sizes by chance. Each is made when it is
    asked for."""
    one = '<layer src="0.png"/>'
    for number in range(10):
        side, short = dice.randrange(2_000, 8_192), dice.randrange(50, 4_000)
        long, frames = dice.randrange(1 << 16, 1 << 26), dice.randrange(9, 3_000)
        deep, wide = dice.randrange(8, 60), dice.randrange(100, 3_000)
        kind, more = dice.choice((0, 2, 4, 6)), dice.randrange(1, 9)
        nested = f"<stack>{'<stack>' * deep}{one * 9}{'</stack>' * deep}</stack>"
        empty = f"<stack>{one}{'<stack></stack>' * wide}</stack>"
        layers = '<layer src="0.png" opacity="0.5" composite-op="svg:luminosity"/>' * (wide // 20)
        yield from ((f"{name} {number}.{ending}", make) for name, ending, make in (
            ("sheer", "png", partial(png, 1, long)),
            ("flat", "png", partial(png, long, 1, kind)),
            ("square", "png", partial(png, side, side, kind)),
            ("sixteen", "png", partial(png, side, side // 2, kind, 16)),
            ("text", "png", partial(texts, long // 2, more)),
            ("moves", "apng", partial(apng, 200 + short // 6, 50 + frames // 9)),
            ("moves", "gif", partial(gif, short, side // 2, frames)),
            ("nested", "ora", partial(raster, nested, short)),
            ("empty", "ora", partial(raster, empty, short)),
            ("large", "ora", partial(large, layers, short, side))))


def most_taken(pid: int | None) -> int:
    """The most memory that a process has taken so far, in bytes."""
    if pid is None:
        return 0
    status = Path(f"/proc/{pid}/status").read_text()
    return int(next(line.split()[1]
                    for line in status.splitlines() if line.startswith("VmHWM"))) * 1024


def spoilt(count: int, seed: int) -> str:
    """So many sound pictures, of which bytes were changed, cut off and put in; what became of
    them."""
    from tests.core.test_pictures import frames, mutilated

    dice, process, first = Random(seed), PictureProcess(), frames()[0]
    whole = [png(12, 8), gif(12, 8, 5), apng(12, 4), raster('<stack><layer src="0.png"/></stack>')]
    for kind in ("PNG", "GIF", "WEBP"):
        out = io.BytesIO()
        first.save(out, kind, save_all=True, append_images=frames()[1:], duration=50)
        whole.append(out.getvalue())
    read = broke = 0
    slowest, hungriest = 0.0, 0
    with tempfile.TemporaryDirectory() as folder:
        for number in range(count):
            (Path(folder) / "it").write_bytes(mutilated(whole[number % len(whole)], dice))
            start = time.perf_counter()
            try:
                process.read(Path(folder) / "it")
                read += 1
            except PictureProblem as problem:
                broke += "broke down" in problem.what
            slowest = max(slowest, time.perf_counter() - start)
            if number % 100 == 0:
                hungriest = max(hungriest, most_taken(process.pid))
    process.close()
    return (
        f"{count} spoilt pictures: {read} read, {count - read} refused, {broke} of them broke the "
        "process; the "
        f"slowest {slowest:.2f} s, at most {hungriest / 2**20:.0f} MiB"
    )


def main() -> None:
    """Read all, and tell what each took."""
    seed, *more = [int(each) for each in sys.argv[1:]] or [1]
    if more:
        print(spoilt(more[0], seed))
        return
    slowest = hungriest = 0.0
    read = refused = 0
    with tempfile.TemporaryDirectory() as folder:
        for name, make in bombs(Random(seed)):
            content = make()
            path = Path(folder) / name
            path.write_bytes(content)
            process, start = PictureProcess(), time.perf_counter()
            try:
                pages = process.read(path)
                read += 1
                said = f"{len(pages)} pages of {pages[0].width}×{pages[0].height}"
            except PictureProblem as problem:
                refused += 1
                said = problem.what
            took = time.perf_counter() - start
            memory = most_taken(process.pid) if process.pid is not None else 0
            process.close()
            path.unlink()
            slowest, hungriest = max(slowest, took), max(hungriest, memory)
            print(f"{name:16} {len(content):9} B  {took:5.2f} s  {memory / 2**20:5.0f} MiB  {said}")
    print(
        f"{read} read, {refused} refused; the slowest {slowest:.2f} s, the hungriest "
        f"{hungriest / 2**20:.0f} MiB; "
        f"this process {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 2**10:.0f} MiB"
    )


if __name__ == "__main__":
    main()
