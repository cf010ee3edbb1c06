"""Bringing art in: by dialog, drag and drop or paste; files and folders, several at once."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QMimeData, QObject, pyqtSignal
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QWidget

from ....core.art.periods import together
from ....core.formats.errors import FileProblem
from ....core.formats.replacing import write_safely
from ....core.model.basics.name_words import own_words
from ....core.model.clips import Cell, Frame, Sheet
from ....core.model.edits import clips as edits
from ....core.model.puppet import Puppet
from ....core.patterns.clip_names import clip_names
from ...pictures.art import Art
from ...pictures.preview import PicturePreview
from ...session.document import Document
from ...session.settings import Settings
from ...session.work.job import Job
from ...widgets.asking import Answer, ask, complain
from ...widgets.dialogs import choose_file, choose_folder
from .bones_in import BONES, BonesIn
from .reader import PictureReader, Read, Unread
from .skin_art import SkinArt
from .strips import LookedAt, looked_at, strips_added

PICTURES = "Pictures (*.png *.apng *.gif *.webp *.ora)"
BONE_FILES = "Files of bones (*.glb *.gltf *.bvh)"
ART = "Art (*.png *.apng *.gif *.webp *.ora *.glb *.gltf *.bvh)"

PASTED = {"image/png": (".png", "PNG"), "image/webp": (".webp", "WebP"),
          "image/gif": (".gif", "GIF")}
"""What is kept as another program copied it, unread: by kind its ending and its name."""


class BringingIn(QObject):
    """Reads what is given in a thread, and makes sheets and clips of it in one edit."""

    progressed = pyqtSignal()
    clips_made = pyqtSignal(dict)
    """The ids of clips that strips have become, with other ways to cut each that fit about as
    well."""
    clip_made = pyqtSignal(str)
    sheet_made = pyqtSignal(str)
    """A still has come in: it is to be cut."""

    def __init__(self, document: Document, art: Art, settings: Settings, page: QWidget) -> None:
        super().__init__(page)
        self.document, self.art, self.settings, self.page = document, art, settings, page
        self.reader = PictureReader(self)
        self.reader.finished.connect(self._read)
        self.reader.progressed.connect(self.progressed)
        self.to_cut: tuple[str, ...] = ()
        """The sheets that came in with the one that is being cut: they are next."""
        self.for_skin: SkinArt | None = None
        """Takes what comes in while a skin is on show."""
        self.looking = Job(self)
        self.looking.progressed.connect(self.progressed)
        self.bones = BonesIn(document, art, self)
        self.bones.progressed.connect(self.progressed)
        self.bones.clip_made.connect(self.clip_made)

    @property
    def busy(self) -> bool:
        """Whether files are being read."""
        return bool(self.reader.total or self.looking.total or self.bones.busy)

    def said(self) -> str:
        """How far the reading is."""
        if self.bones.busy:
            return self.bones.said()
        if self.looking.total:
            return (f"looking at strip {self.looking.done + 1} of {self.looking.total}"
                    " · Esc stops it")
        done, whole = self.reader.part
        within = f", picture {done + 1} of {whole}" if whole else ""
        return f"reading {self.reader.done + 1} of {self.reader.total}{within} · Esc stops it"

    def ask_pictures(self) -> None:
        """Choose pictures."""
        choose_file(self.page, "Bring in art", ART, self.settings.folder, lambda path: None,
                    many=self.bring_in,
                    preview=PicturePreview)

    def ask_folder(self) -> None:
        """Choose a folder of numbered pictures."""
        choose_folder(self.page, "Bring in a folder of numbered pictures", self.settings.folder,
                      lambda path: self.bring_in([path]))

    def bring_in(self, paths: list[Path]) -> None:
        """Bring files and folders in; the page stays live meanwhile."""
        bones = [path for path in paths if path.suffix.lower() in BONES]
        if bones:
            self.settings.folder = str(bones[0].parent)
            self.bones.read(bones)
        pictures = [path for path in paths if path not in bones]
        if pictures:
            self.reader.read(pictures)

    def cancel(self) -> None:
        """Stop reading; nothing of what was asked for comes in."""
        self.reader.cancel()
        self.looking.cancel()
        self.bones.cancel()

    def cut_no_more(self) -> None:
        """The sheets that came in together are not to be cut one after the other."""
        self.to_cut = ()

    def paste(self, data: QMimeData | None) -> bool:
        """Bring in copied files, or a copied picture, which is given a file first. False where
        there is neither."""
        if data is None:
            return False
        paths = [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()]
        if paths:
            self.bring_in(paths)
            return True
        kinds = [kind for kind in data.formats() if kind.startswith("image/")]
        kind = next((kind for kind in PASTED if kind in kinds), None)
        content = data.data(kind).data() if kind is not None else b""
        if kinds and not content:
            # Qt would unpack it, here, whatever it holds.
            complain(self.page.window(), "What was copied cannot be pasted",
                     f"It is {', '.join(kinds[:4])}; expected PNG, WebP or GIF. Save it as a file, "
                     "and drop that here.")
            return True
        # What has no kind is pixels of this very program.
        image = QImage(data.imageData()) if data.hasImage() and not content else QImage()
        if image.isNull() and not content:
            return False
        # Art lives in files; a picture that has none yet is given one, and where is for its owner
        # to say.
        folder = (
            self.document.folder
            if self.document.path
            else Path(self.settings.folder or Path.home())
        )
        suffix, words = PASTED[kind] if kind is not None else PASTED["image/png"]
        choose_file(self.page, "Save the pasted picture as", f"{words} (*{suffix})", str(folder),
                    lambda path: self._keep(content or image, path), suffix, "pasted")
        return True

    def _keep(self, picture: QImage | bytes, path: Path) -> None:
        """Keep a pasted picture; what another program gave as a file is kept as it is, unread."""
        try:
            if isinstance(picture, bytes):
                write_safely(path, picture)
            elif not picture.save(str(path), "PNG"):
                raise FileProblem(path, "", "cannot be written")
        except FileProblem as problem:
            complain(self.page.window(), "The pasted picture cannot be saved", str(problem))
        else:
            self.bring_in([path])

    # What was read --------------------------------------------------------------------------------

    def _read(self, read: list[Read], unread: list[Unread]) -> None:
        """What is wrong is said, and the rest still comes in, once the strips among it were looked
        at."""
        # A file that was given twice comes in once.
        read = list({each.path.resolve(): each for each in read}.values())
        if self.for_skin is not None and self.document.skin is not None and read:
            self.for_skin.match(read, self.document.wearing.shown)
            read = []
        strips = [each for each in read if each.frames and self._known(each) is None]
        if strips:
            like = together([each.across for each in strips])
            self.looking.start(strips, lambda each: looked_at(each, like),
                               lambda looked: self._come_in(read, looked))
        elif read:
            self._come_in(read, [])
        wrong = [each.words for each in unread if not each.large]
        wrong += [words for each in read for words in each.left_out]
        # Names were read with what the user's own file says, or would say.
        wrong += [words for words in [own_words()[1]] if words and read]
        if wrong:
            complain(self.page.window(), "Not everything could be brought in", "\n".join(wrong))
        large = [each for each in unread if each.large]
        if large:
            self._ask_large(large)

    def _known(self, read: Read) -> Sheet | None:
        """The sheet that a file is already."""
        return next((sheet for sheet in self.document.puppet.sheets
                     if (self.document.folder / sheet.path).resolve() == read.path.resolve()), None)

    def _come_in(self, read: list[Read], strips: list[LookedAt]) -> None:
        """Strips and what moves become clips, sheets of several rows are to be cut; all of it in
        one edit."""
        puppet, last, last_clip, sheets = self.document.puppet, None, None, list[str]()
        looked = {strip.read.path for strip in strips}
        # All that came together is named together: what the names share says nothing.
        clips = [each.path for each in read if each.path in looked or len(each.images) > 1]
        names = dict(zip(clips, clip_names([path.stem or path.name for path in clips]),
                         strict=True))
        for each in read:
            self.settings.folder = str(each.path.parent)
            known = self._known(each)
            if known is not None:
                last, last_clip = known.id, None
                sheets.append(known.id)
            elif each.path not in looked:
                puppet, id = edits.sheet_added(puppet, self.document.stored(each.path),
                                               each.path.name, each.grid)
                self.art.know(self.document.folder / puppet.sheets[-1].path, each.images)
                if len(each.images) > 1:
                    puppet, last_clip = self._clip_of(puppet, id, each, names[each.path])
                else:
                    last, last_clip = id, None
                    sheets.append(id)
        paths = [self.document.stored(strip.read.path) for strip in strips]
        for strip, path in zip(strips, paths, strict=True):
            self.art.know(self.document.folder / path, strip.read.images)
        puppet, made = strips_added(puppet, strips, paths, names)
        self.document.edit("bring in art", puppet)
        if made:
            self.clips_made.emit({clip: strip.others
                                  for clip, strip in zip(made, strips, strict=True)})
        # One after the other they are cut, the first that came in first.
        self.to_cut = tuple(sheets[1:])
        if last_clip is not None:
            self.clip_made.emit(last_clip)
        elif last is not None:
            self.sheet_made.emit(sheets[0])

    def _clip_of(
        self, puppet: Puppet, sheet: str, each: Read, name: str
    ) -> tuple[Puppet, str]:
        """The clip of a picture that moves, its frames marked by what is drawn in them."""
        frames = [
            Frame(Cell(sheet, 0, 0, image.width(), image.height(), page), duration or 100.0,
                  mark=mark)
            for page, (image, duration, mark) in enumerate(
                zip(each.images, each.durations, each.marks, strict=True))
        ]
        return edits.clip_of_frames(puppet, name, frames)

    def _ask_large(self, large: list[Unread]) -> None:
        """Ask whether pictures of very many pixels are meant to come in."""
        words = "\n".join(each.words for each in large)
        ask(self.page.window(), "large", "Very large", "Bring this in anyway?",
            f"{words}\nA million pixels take four megabytes of memory.",
            [Answer("Bring it in", lambda: self.reader.read(
                [each.path for each in large], however_large=True)),
             Answer("Leave it")])
