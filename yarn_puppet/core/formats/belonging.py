"""Whose a file beside a puppet is: takes and skins name the puppet's file."""

from __future__ import annotations

from pathlib import Path

import msgspec

from .errors import FileProblem, read_whole


def puppet_named_in(path: Path) -> str | None:
    """The file name of the puppet that a take or skin is for; empty for none, None where that
    cannot be read. The rest is not minded: what is wrong with it is told when it is used."""
    try:
        return msgspec.json.decode(read_whole(path), type=_Belonging).puppet
    except (FileProblem, msgspec.MsgspecError, RecursionError):
        return None


class _Belonging(msgspec.Struct):
    puppet: str = ""
