"""What a hand-off was made of, in a word: by it a game and the desk know whether they speak of the
same puppet."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence

from ..formats.puppet_file import puppet_bytes
from ..formats.skin_file import skin_bytes
from ..model.puppet import Puppet
from ..model.skin import Skin


def made_of(puppet: Puppet, skins: Sequence[Skin] = (), skin: int = 0) -> str:
    """What tells one puppet from another: a digest of its file, and of its skins where it has any.
    In a skin, by its number, that number follows."""
    digest = digest_of(b"".join([puppet_bytes(puppet), *map(skin_bytes, skins)]))
    return f"{digest}-{skin}" if skin else digest


def digest_of(content: bytes) -> str:
    """The SHA-256 of a file's content, in hexadecimal digits."""
    return hashlib.sha256(content).hexdigest()
