"""PNG files that move, in and out (https://www.w3.org/TR/png-3/, chunks acTL, fcTL, fdAT).

Each frame is a PNG of its own to Pillow; how they lie over each other is worked out here. Pillow
would take the picture for programs that know no animation for a frame, mix half-clear frames
wrongly, and join frames that look alike.
"""

from __future__ import annotations

import io
import struct
import zlib
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

from PIL import Image

from .budget import Budget
from .decoding import decoded_still, duration_of
from .pages import Drawn, PictureProblem

SIGNATURE = b"\x89PNG\r\n\x1a\n"
MOST_BYTES = 256 * 1024 * 1024
"""Of a file that moves."""
KEEP, CLEAR, BACK = range(3)
"""What becomes of a frame's place when its time is over."""
OVER = 1
"""Mixed over what is there, not in its place."""
FOR_ALL = (b"PLTE", b"tRNS", b"gAMA", b"sBIT")
"""Chunks that hold for every frame."""


def moves(head: bytes) -> bool:
    """Whether the beginning of a file is that of a PNG that moves."""
    return head.startswith(SIGNATURE) and any(kind == b"acTL" for kind, _ in _chunks(head, True))


def _chunks(content: bytes, cut: bool = False) -> Iterator[tuple[bytes, bytes]]:
    """The kind and data of each chunk; of one that is `cut` off the last may lack some of its
    data."""
    at = len(SIGNATURE)
    while at + 8 <= len(content):
        length, kind = struct.unpack_from(">I4s", content, at)
        if at + 12 + length > len(content) and not cut:
            raise ValueError(f"chunk {kind!r} at byte {at} is cut off")
        yield kind, content[at + 8: at + 8 + length]
        at += 12 + length


@dataclass
class _Frame:
    width: int
    height: int
    x: int
    y: int
    milliseconds: float
    after: int
    over: bool
    data: list[bytes]


def apng_frames(path: Path, content: bytes, budget: Budget) -> Iterator[Drawn]:
    """The frames of a PNG that moves, each as it is shown. Raises PictureProblem."""
    try:
        header, shared, frames = _parsed(content)
        width, height = struct.unpack_from(">II", header)
    except (ValueError, struct.error) as error:
        raise PictureProblem(path, f"cannot be read as a picture ({error})") from None
    if not frames:
        raise PictureProblem(path, "cannot be read as a picture (it has no frames)")
    budget.spend(path, width, height, len(frames))
    canvas = Image.new("RGBA", (width, height), (0, 0, 0, 0))
    for number, frame in enumerate(frames):
        place = (frame.x, frame.y, frame.x + frame.width, frame.y + frame.height)
        if not frame.width or not frame.height or place[2] > width or place[3] > height:
            raise PictureProblem(
                path, f"cannot be read as a picture (frame {number + 1} does not lie in it)"
            )
        own = struct.pack(">II", frame.width, frame.height) + header[8:]
        single = b"".join((SIGNATURE, _chunk(b"IHDR", own), *shared,
                           *(_chunk(b"IDAT", each) for each in frame.data),
                           _chunk(b"IEND", b"")))
        piece = decoded_still(path, single, Budget(width * height))
        before = canvas.crop(place)
        canvas.paste(Image.alpha_composite(before, piece) if frame.over else piece, place[:2])
        yield Drawn(canvas.copy(), frame.milliseconds)
        if frame.after == CLEAR or (frame.after == BACK and not number):
            canvas.paste((0, 0, 0, 0), place)
        elif frame.after == BACK:
            canvas.paste(before, place[:2])


def _parsed(content: bytes) -> tuple[bytes, list[bytes], list[_Frame]]:
    """The header, the chunks that hold for every frame, and the frames. Raises ValueError and
    struct.error."""
    header, shared, frames, wanted = b"", list[bytes](), list[_Frame](), 0
    for kind, data in _chunks(content):
        if kind == b"IHDR":
            header = data
        elif kind == b"acTL":
            wanted = struct.unpack_from(">I", data)[0]
        elif kind == b"fcTL":
            _, width, height, x, y, share, whole, after, over = struct.unpack_from(
                ">IIIIIHHBB", data)
            frames.append(_Frame(width, height, x, y, duration_of(1000 * share / (whole or 100)),
                                 after, over == OVER,
                                 []))
        elif kind == b"IDAT" and frames:
            # Before the first frame's control it is the picture for programs that know no
            # animation.
            frames[-1].data.append(data)
        elif kind == b"fdAT" and frames:
            frames[-1].data.append(data[4:])
        elif kind in FOR_ALL:
            shared.append(_chunk(kind, data))
    if len(header) != 13:
        raise ValueError("it has no header")
    if len(frames) < wanted:
        raise ValueError(f"it tells of {wanted} frames and has {len(frames)}")
    return header, shared, frames


def _chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


def apng_bytes(frames: Sequence[Image.Image], milliseconds: Sequence[int], loops: bool) -> bytes:
    """Frames of one size as a PNG that moves: each of them whole, none joined with another."""
    made, number = [SIGNATURE], 0
    for image, lasts in zip(frames, milliseconds, strict=True):
        out = io.BytesIO()
        image.convert("RGBA").save(out, "PNG")
        chunks = list(_chunks(out.getvalue()))
        if number == 0:
            made += [_chunk(b"IHDR", chunks[0][1]),
                     _chunk(b"acTL", struct.pack(">II", len(frames), 0 if loops else 1))]
        # Sixteen bits hold a minute of milliseconds; what lasts longer is told in coarser parts.
        parts = next(each for each in (1000, 100, 10, 1) if lasts * each // 1000 <= 0xFFFF
                     or each == 1)
        delay = min(0xFFFF, lasts * parts // 1000)
        made.append(_chunk(b"fcTL",
                           struct.pack(">IIIIIHHBB", number, *image.size, 0, 0, delay, parts, KEEP,
                                       0)))
        first, number = number == 0, number + 1
        for kind, data in chunks:
            if kind == b"IDAT" and first:
                made.append(_chunk(b"IDAT", data))
            elif kind == b"IDAT":
                made.append(_chunk(b"fdAT", struct.pack(">I", number) + data))
                number += 1
    return b"".join([*made, _chunk(b"IEND", b"")])
