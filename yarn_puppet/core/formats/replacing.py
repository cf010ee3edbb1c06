"""Replaces files so that neither a crash, a full disk nor a failure half-way loses anything of what
was there."""

from __future__ import annotations

import os
import secrets
import shutil
import time
from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager, suppress
from pathlib import Path
from stat import S_IMODE
from typing import NamedTuple, TextIO

from .errors import FileProblem

BESIDE = ".yarn-puppet-"
"""How the names of the files begin that are written beside where they go."""
OLD_S = 3600.0
"""Seconds after which such a file is a killed program's, and swept away."""


class WriteProtected(FileProblem):
    """A file that its owner does not want to be written."""


class _Beside(NamedTuple):
    """A file written beside where it goes; what was there before, under another name; and how many
    names that has."""

    new: Path
    old: Path | None = None
    names: int = 0


def write_safely(path: Path, content: bytes, protected: bool = False) -> None:
    """Replace a file in one step: a file beside it, flushed to disk, renamed. Raises
    FileProblem."""
    write_together({path: content}, protected=protected)


def write_together(
    files: Mapping[Path, bytes], gone: Iterable[Path] = (), protected: bool = False
) -> None:
    """Replace several files, and take others away.

    All are written beside where they go and flushed to disk, and only then renamed, in the order
    given. Links are followed. A file that has other names (hard links) keeps them, and all keep
    their mode, owner and attributes. One that is write-protected is replaced only where `protected`
    files may be. Raises FileProblem, WriteProtected where it is that; then all files are as they
    were.
    """
    beside: dict[Path, _Beside] = {}
    path = Path()
    done: list[Path] = []
    try:
        targets = {Path(os.path.realpath(path)): content for path, content in files.items()}
        if not protected:
            _refuse_protected(targets)
        for path, content in targets.items():
            beside[path] = _Beside(_written_beside(path, content),
                                   names=path.stat().st_nlink if path.exists() else 0)
            beside[path] = beside[path]._replace(old=_kept_beside(path))
        for path, each in beside.items():
            done.append(path)
            _put(each, path)
        for path in gone:
            path.unlink(missing_ok=True)
        for folder in dict.fromkeys([*(path.parent for path in beside),
                                     *(path.parent for path in gone)]):
            flush_folder(folder)
    except OSError as error:
        for put in done:
            _put_back(beside[put], put)
        raise FileProblem(path, "", f"cannot be written ({error.strerror or error})") from None
    finally:
        for each in beside.values():
            _let_go(each)
        for folder in dict.fromkeys(path.parent for path in beside):
            sweep(folder)


def _refuse_protected(paths: Iterable[Path]) -> None:
    for path in paths:
        if path.exists() and not path.stat().st_mode & 0o222:
            raise WriteProtected(path, "", "is write-protected")


def _let_go(beside: _Beside) -> None:
    """Take away what was written beside a file. What cannot be taken away is swept another time."""
    for left in (beside.new, beside.old):
        if left is not None:
            with suppress(OSError):
                left.unlink(missing_ok=True)


@contextmanager
def written_safely(path: Path) -> Iterator[TextIO]:
    """A file to write text into, as much as one likes: it takes the place of the one of that name
    once all is written and flushed, and of none where anything goes wrong. Raises FileProblem."""
    path = Path(os.path.realpath(path))
    new = _name_beside(path)
    try:
        with new.open("x", encoding="utf-8", newline="") as file:
            yield file
            file.flush()
            os.fsync(file.fileno())
        if path.exists():
            _dress(new, path)
        _put(_Beside(new, names=path.stat().st_nlink if path.exists() else 0), path)
        flush_folder(path.parent)
    except OSError as error:
        raise FileProblem(path, "", f"cannot be written ({error.strerror or error})") from None
    finally:
        with suppress(OSError):
            new.unlink(missing_ok=True)


def flush_folder(folder: Path) -> None:
    """Flush to disk which files a folder has: a new name is lost in a power cut otherwise, however
    well what it names was written. Where the file system knows of no such thing, nothing
    happens."""
    with suppress(OSError):
        descriptor = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
        try:
            os.fsync(descriptor)
        finally:
            os.close(descriptor)


def sweep(folder: Path) -> None:
    """Take away what programs that were killed while writing have left beside their files."""
    with suppress(OSError):
        for left in folder.glob(f"{BESIDE}*"):
            with suppress(OSError):
                if time.time() - left.lstat().st_mtime > OLD_S:
                    left.unlink()


def _name_beside(path: Path) -> Path:
    return path.parent / f"{BESIDE}{secrets.token_hex(8)}"


def _written_beside(path: Path, content: bytes) -> Path:
    new = _name_beside(path)
    # As any new file would be: what a folder's rules and the user's mask make of it.
    descriptor = os.open(new, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o666)
    try:
        with os.fdopen(descriptor, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        if path.exists():
            _dress(new, path)
    except OSError:
        new.unlink(missing_ok=True)
        raise
    return new


def _dress(new: Path, path: Path) -> None:
    """Give a new file the owner, the mode and the attributes of the one that it replaces, as far as
    one may."""
    found = path.stat()
    with suppress(OSError):
        os.chown(new, found.st_uid, found.st_gid)
    with suppress(OSError):
        for name in os.listxattr(path):
            with suppress(OSError):
                os.setxattr(new, name, os.getxattr(path, name))
    new.chmod(S_IMODE(found.st_mode))


def _kept_beside(path: Path) -> Path | None:
    """What is there now under another name, to be put back."""
    if not path.exists():
        return None
    old = _name_beside(path)
    if path.stat().st_nlink > 1:
        shutil.copy2(path, old)
    else:
        try:
            os.link(path, old)
        except OSError:
            # A file system without other names.
            shutil.copy2(path, old)
    return old


def _put(each: _Beside, path: Path) -> None:
    """Put a file where it goes: renamed in one step, or, where it has other names, written into it,
    so that they are names of it still. What is written stays beside it until that is done."""
    if each.names > 1:
        _write_into(path, each.new.read_bytes())
    else:
        each.new.replace(path)


def _put_back(each: _Beside, path: Path) -> None:
    with suppress(OSError):
        if each.old is None:
            path.unlink(missing_ok=True)
        elif each.names > 1:
            _write_into(path, each.old.read_bytes())
        else:
            each.old.replace(path)


def _write_into(path: Path, content: bytes) -> None:
    with path.open("r+b") as file:
        file.write(content)
        file.truncate()
        file.flush()
        os.fsync(file.fileno())
