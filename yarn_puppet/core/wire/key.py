"""What games find the desk by, in files that only the user can read: the key that they give, made
once, and beside it the address at which the desk listens."""

from __future__ import annotations

import os
import re
import secrets
import stat
from contextlib import suppress
from pathlib import Path

from platformdirs import user_config_path

from ..formats.errors import FileProblem

BYTES = 16
FORM = re.compile(r"[A-Za-z0-9_-]{22}")


def key_path() -> Path:
    """Where it is kept."""
    return user_config_path("yarn-puppet") / "wire.key"


def the_key(path: Path | None = None) -> str:
    """The key in the file; a new one where there is none, where others can read it, or where it is
    no key. Raises FileProblem."""
    path = path or key_path()
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        found = _read(path)
        return found if found is not None else new_key(path)
    except OSError as error:
        raise FileProblem(path, "", f"cannot be kept ({error.strerror or error})") from None


def address_path() -> Path:
    """Where it is written at which address the desk listens: the one that began last, of
    several."""
    return key_path().with_name("wire.address")


def forgotten_address(address: str) -> None:
    """Take away what is written of an address, where nobody else has written another since."""
    with suppress(OSError):
        if address_path().read_text(encoding="ascii", errors="replace") == address:
            address_path().unlink()


def kept_address(address: str) -> None:
    """Write beside the key where the desk listens, for games to look there. Raises FileProblem."""
    path = address_path()
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileProblem(path, "", f"cannot be kept ({error.strerror or error})") from None
    _write(path, address)


def new_key(path: Path | None = None) -> str:
    """Another key, in the place of the one before. Raises FileProblem."""
    made = secrets.token_urlsafe(BYTES)
    _write(path or key_path(), made)
    return made


def _write(path: Path, text: str) -> None:
    beside = path.with_name(f".{path.name}.{os.getpid()}.{secrets.token_hex(4)}")
    try:
        # Readable by nobody else from the first moment on, and never half written.
        handle = os.open(beside, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW, 0o600)
        with os.fdopen(handle, "w", encoding="ascii") as file:
            file.write(text)
        beside.replace(path)
    except OSError as error:
        raise FileProblem(path, "", f"cannot be written ({error.strerror or error})") from None


def _read(path: Path) -> str | None:
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK)
    except OSError:
        return None
    with os.fdopen(handle, "rb") as file:
        about = os.fstat(file.fileno())
        private = (
            stat.S_ISREG(about.st_mode)
            and not about.st_mode & 0o077
            and about.st_uid == os.getuid()
        )
        text = file.read(64).decode("ascii", errors="replace").strip() if private else ""
    return text if FORM.fullmatch(text) else None
