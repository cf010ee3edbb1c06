"""What is said between who wants a picture and the process that reads it, as JSON, a packet
each."""

from __future__ import annotations

import msgspec

LONGEST = 1 << 16
"""Bytes of a packet."""


class PictureRequest(msgspec.Struct, frozen=True, tag=True):
    """A picture file or a folder to be read; its path as the file system has it."""

    path: bytes
    most_pixels: int


class Progress(msgspec.Struct, frozen=True, tag=True):
    """So many pictures of a folder are read, of how many."""

    done: int
    whole: int


class Unreadable(msgspec.Struct, frozen=True, tag=True):
    """It cannot be used; `large` where only the number of its pixels stands against it."""

    what: str
    path: str
    large: bool = False


class Done(msgspec.Struct, frozen=True, tag=True):
    """It is read. With this comes a file that has the pixels of its pages, and from `at` on the
    `Contents`."""

    at: int


class Contents(msgspec.Struct, frozen=True):
    """The width, height and duration of each page, and what of a folder was left out."""

    pages: list[tuple[int, int, float | None]]
    left_out: list[str]


ASK = msgspec.json.Decoder(PictureRequest)
ANSWER = msgspec.json.Decoder(Progress | Unreadable | Done)
CONTENTS = msgspec.json.Decoder(Contents)
