"""Dialogs that do not block: they answer when they close."""

from __future__ import annotations

from collections.abc import Callable
from html import escape
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget


def complain(parent: QWidget, title: str, what: str) -> None:
    """Say what is wrong, where, and what was expected."""
    box = QMessageBox(QMessageBox.Icon.NoIcon, title, f"<b>{escape(title)}</b>", parent=parent)
    box.setObjectName("complaint")
    box.setTextFormat(Qt.TextFormat.RichText)
    box.setInformativeText(escape(what, quote=False).replace("\n", "<br>"))
    box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    box.open()


def choose_file(
    parent: QWidget, title: str, filter: str, folder: str, then: Callable[[Path], None], suffix: str = "",
    name: str = "", many: Callable[[list[Path]], None] | None = None, other_suffixes: tuple[str, ...] = (),
) -> None:
    """Ask for a file without blocking. `many` takes several at once instead of `then`.

    With a suffix it is one to write, whose name is given that suffix unless it has one of the others.
    """
    dialog = QFileDialog(parent, title, folder or str(Path.home()), filter)
    dialog.setObjectName("file dialog")
    dialog.setOption(QFileDialog.Option.DontUseNativeDialog)
    dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    if suffix:
        dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        dialog.setDefaultSuffix(suffix.lstrip("."))
        dialog.selectFile(f"{name}{suffix}")
    else:
        dialog.setFileMode(QFileDialog.FileMode.ExistingFiles if many else QFileDialog.FileMode.ExistingFile)

    def accepted() -> None:
        paths = [Path(path) for path in dialog.selectedFiles()]
        if many is not None:
            many(paths)
        elif paths:
            path = paths[0]
            if suffix and not path.name.endswith((suffix, *other_suffixes)):
                path = path.with_name(path.name.split(".")[0] + suffix)
            then(path)

    dialog.accepted.connect(accepted)
    dialog.open()


def choose_folder(parent: QWidget, title: str, folder: str, then: Callable[[Path], None]) -> None:
    """Ask for a folder without blocking."""
    dialog = QFileDialog(parent, title, folder or str(Path.home()))
    dialog.setObjectName("file dialog")
    dialog.setOption(QFileDialog.Option.DontUseNativeDialog)
    dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    dialog.setFileMode(QFileDialog.FileMode.Directory)
    dialog.accepted.connect(lambda: then(Path(dialog.selectedFiles()[0])) if dialog.selectedFiles() else None)
    dialog.open()
