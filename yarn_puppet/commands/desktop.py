"""`yarn-puppet desktop`: the program among the user's applications, and its files opened by a
double click."""

from __future__ import annotations

import argparse
import os

from .exit_codes import OK


def add(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Its arguments."""
    desktop = commands.add_parser(
        "desktop",
        help="put the program among your applications, or take it away: an entry,"
        " icons, what opens *.puppet.json, a man page, and what Tab"
        " completes in bash and zsh",
    )
    what = desktop.add_mutually_exclusive_group(required=True)
    what.add_argument("--install", action="store_true",
                      help="add the program to the applications of this user")
    what.add_argument("--remove", action="store_true",
                      help="take away what --install added")
    desktop.set_defaults(command=run)


def run(options: argparse.Namespace) -> int:
    """Do it; gives the exit code."""
    from ..desktop.entries import install, remove

    for path in install(draw, options.parser) if options.install else remove(options.parser):
        print(f"{'put' if options.install else 'removed'} {path}")
    return OK


def draw(size: int) -> bytes:
    """The icon as a PNG."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, Qt
    from PyQt6.QtGui import QImage, QPainter
    from PyQt6.QtSvg import QSvgRenderer

    from ..desktop.entries import HERE

    image = QImage(size, size, QImage.Format.Format_ARGB32)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    QSvgRenderer(str(HERE / "yarn-puppet.svg")).render(painter)
    painter.end()
    content = QByteArray()
    buffer = QBuffer(content)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return bytes(content.data())
