"""Dialogs that do not block: they answer when they close."""

from __future__ import annotations

from collections.abc import Callable
from html import escape
from pathlib import Path

from PyQt6.QtCore import QSignalBlocker, QSize, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QFileDialog, QGridLayout, QLineEdit, QListView, QWidget

from ...core.formats.file_names import file_name, path_problem
from . import theme
from .asking import Answer, ask, complain
from .certain import sure


def plain(text: str) -> str:
    """A text for where Qt would read marks of markup in it: names are anybody's, and are shown as
    they are."""
    rich = Qt.mightBeRichText(text)  # type: ignore[attr-defined]  # its stub lacks it
    return f"<qt>{escape(text)}</qt>".replace("\n", "<br>") if rich else text


HEADLESS = ("offscreen", "minimal", "vnc", "linuxfb", "eglfs")
"""Platforms without a desktop that has dialogs of its own."""


def is_native() -> bool:
    """Whether the desktop's own file dialog is asked; where it has none Qt falls back on its own,
    without a word."""
    return QGuiApplication.platformName() not in HEADLESS


class Preview(QWidget):
    """Shows the file that is marked in a dialog."""

    def look_at(self, name: str) -> None:
        """Show a file, or nothing where it is none that can be shown."""
        raise NotImplementedError


class FileDialog(QFileDialog):
    """The desktop's dialog, where there is a desktop; otherwise Qt's own, in which what is typed is
    what is meant, and which shows the picture that is marked.

    While a path is typed Qt marks each folder it leads through in its list, and now and then fails
    to let go of one; it then goes into that folder on Enter and empties the line.
    """

    def __init__(self, parent: QWidget | None, title: str, folder: str, filter: str = "") -> None:
        super().__init__(parent, title, folder or str(Path.home()), filter)
        self.setObjectName("file dialog")
        theme.dressed(self)
        self.setOption(QFileDialog.Option.DontUseNativeDialog, not is_native())
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)

    def put_beside(self, preview: Preview) -> None:
        """Show what is marked beside the list, where the dialog is ours."""
        layout = self.layout()
        if self.testOption(QFileDialog.Option.DontUseNativeDialog) and isinstance(
            layout, QGridLayout
        ):
            layout.addWidget(preview, 0, layout.columnCount(), layout.rowCount(), 1)
            self.currentChanged.connect(preview.look_at)
            self.resize(self.sizeHint().expandedTo(self.size()) + QSize(preview.width(), 0))

    def selectFile(self, filename: str | None) -> None:
        """Put a name into the line. A file of that name is not marked in the list: as soon as
        another is typed the list would write the marked one into the line again."""
        super().selectFile(filename)
        view, line = self.findChild(QListView, "listView"), self.findChild(
            QLineEdit, "fileNameEdit")
        if view is not None and line is not None:
            with QSignalBlocker(view.selectionModel()):
                sure(view.selectionModel()).clear()
            line.setText(filename or "")

    def accept(self) -> None:
        line, view = self.findChild(QLineEdit, "fileNameEdit"), self.findChild(
            QListView, "listView")
        typed = line.text() if line is not None else ""
        # Several files are named in quotes; they are picked in the list.
        if line is not None and view is not None and typed and '"' not in typed:
            with QSignalBlocker(view.selectionModel()):
                sure(view.selectionModel()).clearSelection()
            sure(view.viewport()).update()
        super().accept()


def choose_file(
    parent: QWidget | None,
    title: str,
    filter: str,
    folder: str,
    then: Callable[[Path], None],
    suffix: str = "",
    name: str = "",
    many: Callable[[list[Path]], None] | None = None,
    other_suffixes: tuple[str, ...] = (),
    preview: Callable[[], Preview] | None = None,
) -> None:
    """Ask for a file without blocking. `many` takes several at once instead of `then`. `preview`
    makes what shows the file that is marked.

    With a suffix it is one to write, whose name is given that suffix unless it has one of the
    others. Whether a file that is there may be replaced is asked about by the very name that is
    then written.
    """
    dialog = FileDialog(parent, title, folder, filter)
    if preview is not None:
        dialog.put_beside(preview())
    if suffix:
        dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        dialog.setOption(QFileDialog.Option.DontConfirmOverwrite)
        dialog.selectFile(f"{file_name(name) if name else ''}{suffix}")
    else:
        dialog.setFileMode(QFileDialog.FileMode.ExistingFiles
                           if many else QFileDialog.FileMode.ExistingFile)

    def accepted() -> None:
        paths = [Path(path) for path in dialog.selectedFiles()]
        problems = [problem for path in paths if (problem := path_problem(path))]
        if problems:
            complain(parent, "This file cannot be used", "\n".join(problems))
        elif many is not None:
            many(paths)
        elif paths and suffix:
            path = with_suffix(paths[0], suffix, other_suffixes)
            if path.exists():
                _may_replace(parent, path, lambda: then(path), lambda: choose_file(
                    parent, title, filter, str(path.parent), then, suffix,
                    path.name.removesuffix(suffix),
                    other_suffixes=other_suffixes,
                ))
            else:
                then(path)
        elif paths:
            then(paths[0])

    dialog.accepted.connect(accepted)
    dialog.open()


def with_suffix(path: Path, suffix: str, others: tuple[str, ...] = ()) -> Path:
    """A path to write that ends in `suffix` or one of the others, nothing of what was typed cut off
    but its last part.

    "hero" and "hero.json" give "hero.puppet.json", "hero.v2" gives "hero.v2.puppet.json".
    """
    if path.name.endswith((suffix, *others)):
        return path
    return path.with_name(path.name.removesuffix(f".{suffix.rsplit('.', 1)[-1]}") + suffix)


def _may_replace(
    parent: QWidget | None, path: Path, replace: Callable[[], None], otherwise: Callable[[], None]
) -> None:
    """Ask whether a file may be replaced; if not, another is asked for."""
    ask(parent, "replace", "Replace the file", f"{path.name} already exists.",
        "Replace it, or choose another name?",
        [Answer("Replace it", replace, lets_go=True), Answer("Another name…", otherwise),
         Answer("Cancel")])


def choose_folder(
    parent: QWidget | None, title: str, folder: str, then: Callable[[Path], None]
) -> None:
    """Ask for a folder without blocking."""
    dialog = FileDialog(parent, title, folder)
    dialog.setFileMode(QFileDialog.FileMode.Directory)
    dialog.accepted.connect(lambda: then(Path(dialog.selectedFiles()[0]))
                            if dialog.selectedFiles() else None)
    dialog.open()
