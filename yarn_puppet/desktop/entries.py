"""Puts the program on a user's desktop, and takes it away again: nothing outside of the user's own
data folder."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from argparse import ArgumentParser
from collections.abc import Callable
from pathlib import Path

from platformdirs import user_data_path

from ..core.formats.replacing import write_together
from ..version import VERSION
from . import shell_help

HERE = Path(__file__).parent
ID = "org.example.YarnPuppet"
"""Our name among all desktop entries."""
MIME = "application/x-yarn-puppet+json"
SIZES = (16, 24, 32, 48, 64, 128, 256)
"""Pixels of the icon's pictures, beside the drawing itself."""
REFRESHED = (("update-desktop-database", "applications"), ("update-mime-database", "mime"),
             ("gtk-update-icon-cache", "icons/hicolor"))
"""Programs that make the desktop look again, where they are there, and the folder each is told
of."""


def data_home() -> Path:
    """The folder of the user's own data: `XDG_DATA_HOME`."""
    return user_data_path()


def files(draw: Callable[[int], bytes], parser: ArgumentParser) -> dict[Path, bytes]:
    """What is put where, below the data folder. `draw` gives the icon as a PNG so many pixels wide,
    `parser` is the command line's, of which a shell is told."""
    found = shell_help.files(parser) | {
        Path("applications") / f"{ID}.desktop": entry().encode(),
        Path("mime/packages") / f"{ID}.xml": (HERE / "mime.xml").read_bytes(),
        Path("metainfo") / f"{ID}.metainfo.xml": (HERE / "metainfo.xml").read_text(
            encoding="utf-8").replace(
            "@ID@", ID).replace("@VERSION@", VERSION).encode(),
        Path("icons/hicolor/scalable/apps/yarn-puppet.svg"): (
            HERE / "yarn-puppet.svg").read_bytes(),
    }
    return found | {Path(f"icons/hicolor/{size}x{size}/apps/yarn-puppet.png"): draw(size)
                    for size in SIZES}


def entry() -> str:
    """The desktop entry."""
    return "\n".join((
        "[Desktop Entry]", "Type=Application", "Name=Yarn Puppet",
        "Comment=Wire character animation to gameplay", f"Exec={command()} open %f",
        "Icon=yarn-puppet",
        "Terminal=false", f"MimeType={MIME};", "Categories=Development;",
        "Keywords=animation;sprite;state;game;", "StartupNotify=true", "")).replace("\r", "")


def command() -> str:
    """How this program is begun, as a desktop entry has it: quoted, with its signs escaped. Never
    is code of the folder run in which it is begun (`-P`): that is where the opened file lies."""
    installed = shutil.which("yarn-puppet")
    words = [installed] if installed else [sys.executable, "-P", "-m", "yarn_puppet"]
    if not installed:
        # From a tree: the command at its top, which sets itself up.
        top = Path(__file__).parents[2] / "yarn-puppet"
        words = [str(top)] if top.is_file() else words
    return " ".join(map(quoted, words))


def quoted(word: str) -> str:
    """One word of a command: in quotes, since a folder may have any name."""
    escaped = word.replace("%", "%%")
    for sign in ("\\", "`", "$", '"'):
        escaped = escaped.replace(sign, f"\\{sign}")
    # A backslash is written twice in a value of an entry.
    return '"' + escaped.replace("\\", "\\\\") + '"'


def install(
    draw: Callable[[int], bytes], parser: ArgumentParser, home: Path | None = None
) -> list[Path]:
    """Put all of it where a desktop looks; gives the files. Raises FileProblem."""
    home = home or data_home()
    put = {home / name: content for name, content in files(draw, parser).items()}
    for path in put:
        path.parent.mkdir(parents=True, exist_ok=True)
    write_together(put)
    refresh(home)
    return list(put)


def remove(parser: ArgumentParser, home: Path | None = None) -> list[Path]:
    """Take all of it away; gives what was there."""
    home = home or data_home()
    gone = [path for path in (home / name for name in files(lambda size: b"", parser))
            if path.exists()]
    for path in gone:
        path.unlink(missing_ok=True)
    refresh(home)
    return gone


def refresh(home: Path) -> None:
    """Make the desktop look again."""
    for program, folder in REFRESHED:
        found = shutil.which(program)
        if found is not None and (home / folder).is_dir():
            subprocess.run([found, str(home / folder)], check=False, capture_output=True,
                           env={**os.environ, "LC_ALL": "C"})
