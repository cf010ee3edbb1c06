"""Art for a skin: files are read in a thread, matched with the puppet's clips, and put on."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QWidget

from ....core.model.basics.ids import free_name
from ....core.model.puppet import Puppet
from ....core.model.skin import Skin
from ....core.skins.matching import ArtFile, Matched, matched
from ...pictures.art import Art
from ...pictures.decoding import read_pictures
from ...pictures.pixels import pixels_of
from ...pictures.preview import PicturePreview
from ...session.document import Document
from ...session.settings import Settings
from ...session.wearing import new_skin_file
from ...session.work.job import Job
from ...widgets.asking import complain
from ...widgets.dialogs import choose_file
from .reader import PictureReader, Read, Unread

PICTURES = "Pictures (*.png *.apng *.gif *.webp *.ora)"


class SkinArt(QObject):
    """What came last is told by `matched`, until it is answered."""

    changed = pyqtSignal()
    """What is told is another, or reading goes on."""

    def __init__(self, document: Document, art: Art, settings: Settings, window: QWidget) -> None:
        super().__init__(window)
        self.document, self.art, self.settings, self.window = document, art, settings, window
        self.reader = PictureReader(self)
        self.reader.finished.connect(self._was_read)
        self.reader.progressed.connect(self.changed)
        self.job = Job(self)
        self.matched: Matched | None = None
        self._for = ""
        document.replaced.connect(self.answered)

    @property
    def busy(self) -> bool:
        """Whether files are being read or matched."""
        return bool(self.reader.total or self.job.total)

    def ask_another(self) -> None:
        """Choose the art of a skin that there is not yet."""
        self._ask("Art of another skin", "")

    def ask_more(self) -> None:
        """Choose more art for the skin on show."""
        self._ask("More art for this skin", self.document.wearing.shown)

    def _ask(self, title: str, file: str) -> None:
        choose_file(self.window, title, PICTURES, self.settings.folder, lambda path: None,
                    many=lambda paths: self.bring(paths, file), preview=PicturePreview)

    def bring(self, paths: list[Path], file: str = "") -> None:
        """Read files as art for the skin of this file name, or for another one."""
        self._for = file
        self.reader.read(paths)

    def answered(self) -> None:
        """What came last is as it should be."""
        self.matched = None
        self.changed.emit()

    def cancel(self) -> None:
        """Stop; nothing comes of what was asked for."""
        self.reader.cancel()
        self.job.cancel()
        self.changed.emit()

    def _was_read(self, read: list[Read], unread: list[Unread]) -> None:
        wrong = [each.words for each in unread] + [
            words for each in read for words in each.left_out]
        if wrong:
            complain(self.window, "Not everything could be brought in", "\n".join(wrong))
        if read:
            self.match(read, self._for)

    def match(self, read: Sequence[Read], file: str) -> None:
        """Match art that was read with the clips of the puppet; of pictures that are sheets, beside
        the puppet's own."""
        document, bare = self.document, self.document.bare_puppet
        # Given twice, it comes in once.
        read = list({each.path.resolve(): each for each in read}.values())
        skin = document.skins.get(file)
        known = {sheet.path for sheet in skin.sheets} if skin is not None else set()
        read = [each for each in read if document.stored(each.path) not in known]
        if not read:
            return
        self.settings.folder = str(read[0].path.parent)
        name = self._name(read)
        stored = {each.path: document.stored(each.path) for each in read}
        folder, own = document.folder, [(sheet.id, sheet.path) for sheet in bare.sheets]
        for each in read:
            self.art.know(folder / stored[each.path], each.images)

        def work(puppet: Puppet) -> Matched:
            sizes = {}
            for id, path in own:
                try:
                    image = read_pictures(folder / path)[0][0]
                except (ValueError, OSError, MemoryError):
                    # Without its picture only names are matched.
                    continue
                sizes[id] = (image.width(), image.height())
            files = [ArtFile(each.path.stem or each.path.name, stored[each.path],
                             tuple(pixels_of(image) for image in each.images),
                             each.durations, each.grid, each.frames) for each in read]
            return matched(puppet, name, files, sizes, skin)

        self.job.start([bare], work, lambda found: self._put_on(found[0], file))
        self.changed.emit()

    def _name(self, read: Sequence[Read]) -> str:
        """What a skin of these files is called: as the file, or as the folder of several."""
        path = read[0].path
        name = (path.stem or path.name) if len(read) == 1 else path.parent.name
        taken = {skin.name for skin in self.document.skins.values()}
        return free_name(name.replace("_", " ").strip() or "skin", taken)

    def _put_on(self, found: Matched, file: str) -> None:
        document = self.document
        path = document.path
        if file and file in document.skins:
            document.edit_skins("art for a skin", {file: found.skin}, show=file)
        else:
            made: Skin = replace(found.skin, puppet=path.name if path is not None else "")
            file = new_skin_file(made.name, document.skins,
                                 path.parent if path is not None else None)
            document.edit_skins("another skin", {file: made}, show=file)
        self.matched = found
        self.changed.emit()
