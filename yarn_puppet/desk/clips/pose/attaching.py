"""A prop that is dropped on a bone of the big pose is attached there: who holds it is asked."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QMimeData, QObject, QUrl, pyqtSignal
from PyQt6.QtWidgets import QWidget

from ....core.formats.bones.reading import load_bones
from ....core.formats.errors import FileProblem
from ....core.model.edits.in_hand import holders, prop_attached
from ....core.model.motions import BonePlace
from ...pictures.bones import ENDINGS
from ...session.document import Document
from ...session.work.job import Job
from ...widgets import theme
from ...widgets.certain import sure
from ...widgets.parts import choice_field
from ...widgets.popup import TokenPopup
from ..clip_desk import ClipDesk

PICTURES = (".png", ".webp", ".ora")


class Attaching(QObject):
    """Props on their way to a bone."""

    not_a_prop = pyqtSignal(QMimeData)
    """What was dropped has clips, or cannot be read: it is for the page to bring in."""

    def __init__(self, document: Document, desk: ClipDesk, parent: QWidget) -> None:
        super().__init__(parent)
        self.document, self.desk = document, desk
        self._job = Job(self)
        self._dropped: tuple[Path, BonePlace, str] | None = None

    @property
    def busy(self) -> bool:
        """Whether a file is being looked at."""
        return bool(self._job.total)

    def drop(self, path: Path, place: BonePlace) -> None:
        """A file was dropped on a bone, at this place of it."""
        if self.desk.clip is None:
            return
        self._dropped = path, place, self.desk.clip.id
        if path.suffix.lower() in PICTURES:
            self._ask()
        else:
            self._job.start([path], _is_prop, self._looked)

    def _looked(self, found: list[bool]) -> None:
        if self._dropped is None:
            return
        if found[0]:
            self._ask()
            return
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(self._dropped[0]))])
        self.not_a_prop.emit(data)

    def _ask(self) -> None:
        dropped = self._dropped
        assert dropped is not None
        _, place, clip = dropped
        found = holders(self.document.puppet, clip)
        field = choice_field("", [(each.words, each.words) for each in found], self._attach,
                             f"who holds it on {place.bone}?")
        view = sure(self.parent())
        assert isinstance(view, QWidget)
        self.popup = TokenPopup(view.window(), field, theme.PLUM)
        self.popup.open_at(view)

    def _attach(self, words: str) -> None:
        dropped = self._dropped
        if dropped is None:
            return
        path, place, clip = dropped
        found = next((each for each in holders(self.document.puppet, clip)
                      if each.words == words), None)
        if found is None:
            return
        puppet, anchor = prop_attached(self.document.puppet, self.document.stored(path), place,
                                   found.nodes)
        self.document.edit(f"attach {path.name} to {place.bone}", puppet)
        self.desk.bone = place.bone
        self.desk.set(on_bone=anchor)


def one_prop(data: QMimeData | None) -> Path | None:
    """The one file that is dragged, where it may be a prop."""
    paths = [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()] if data else []
    if len(paths) == 1 and paths[0].suffix.lower() in (*ENDINGS, *PICTURES):
        return paths[0]
    return None


def _is_prop(path: Path) -> bool:
    """Whether a file of bones is a prop: meshes, and nothing that moves."""
    try:
        art = load_bones(path)
    except FileProblem:
        return False
    return bool(art.meshes) and not art.clips
