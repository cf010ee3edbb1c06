"""What is offered now: which patterns, filled how, and the puppet that would come of it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage

from ....core.model.clips import Clip
from ....core.model.graph import BODY
from ....core.model.history import History
from ....core.model.puppet import Puppet
from ....core.model.take import Take
from ....core.patterns.offering import Wired, fitting, unused_clips, wired
from ....core.patterns.promising import take_for
from ....core.patterns.striking import strike_guessed
from ....core.patterns.words import movement_called
from ...pictures.art import Art
from ...session.document import Document
from ...session.files.takes_to_write import new_file
from ...session.work.job import Job
from .known_patterns import known_patterns, take_of

if TYPE_CHECKING:
    from ....core.art.marks import Pixels

Looked = tuple[Clip, tuple[tuple[QImage, ...], ...]]
"""A clip, and the pages of the picture that each of its frames is cut from."""


class Offer(QObject):
    """Listens to the document. `preview` is a document of its own that holds what is offered: what
    is selected in it is selected in the preview alone."""

    changed = pyqtSignal()
    art_wanted = pyqtSignal()
    """Pictures are to be chosen and brought in."""
    taken = pyqtSignal()
    """What was offered was made so: the clips are right as they are."""

    def __init__(self, document: Document, art: Art, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document, self.art = document, art
        self.preview = Document()
        self.picked: tuple[str, ...] | None = None
        """The patterns that were chosen; None for those that fit."""
        self.by_hand: frozenset[str] = frozenset()
        """Those of them that somebody asked for: all their cards are kept, also those that wait."""
        self.cards: dict[str, str | None] = {}
        """By the name of a state the clip that was chosen for it, or None for none."""
        self.asked = False
        """Whether it was asked for, though there are states already."""
        self._new_left = False
        self._fit: tuple[tuple[object, ...], tuple[str, ...]] | None = None
        self._possible: tuple[tuple[object, ...], bool] | None = None
        self._left_clips: frozenset[str] = frozenset()
        self._patterns: dict[str, Puppet] | None = None
        self._made: tuple[Puppet, tuple[object, ...], Wired] | None = None
        self._looking = Job(self)
        self._struck: tuple[Wired, Puppet] | None = None
        """What was looked at last, and the puppet with its strikes guessed."""
        document.replaced.connect(self._begin_again)
        art.arrived.connect(self._art_arrived)

    def _begin_again(self) -> None:
        self.picked, self.by_hand, self.cards, self.asked = None, frozenset(), {}, False
        self._left_clips, self._new_left = frozenset(), False
        self.changed.emit()

    # What is offered ------------------------------------------------------------------------------

    @property
    def patterns(self) -> Mapping[str, Puppet]:
        """All patterns there are."""
        if self._patterns is None:
            self._patterns = known_patterns()
        return self._patterns

    def forget_patterns(self) -> None:
        """Read them again when they are next wanted: one was kept."""
        self._patterns = None

    @property
    def unused(self) -> tuple[Clip, ...]:
        """The clips that no state plays."""
        return unused_clips(self.document.puppet)

    @property
    def is_bare(self) -> bool:
        """Whether the puppet has no state yet that could be played."""
        return not any(state.layer == BODY and not state.waits
                       for state in self.document.puppet.states)

    @property
    def chosen(self) -> tuple[str, ...]:
        """The patterns that are put in now, in the order in which they are put in."""
        if self.picked is None:
            puppet = self.document.puppet
            key = (puppet.clips, puppet.states, puppet.spreads, self._patterns)
            if self._fit is None or any(
                    one is not other for one, other in zip(key, self._fit[0], strict=True)):
                found = fitting(puppet, self.patterns)
                self._fit = ((*key[:3], self._patterns), found)
            return self._fit[1]
        return tuple(name for name in self.patterns if name in self.picked)

    @property
    def possible(self) -> bool:
        """Whether anything can be offered: a clip that some card waits for. Asked at every edit,
        and worked out where one touched clips or states."""
        puppet = self.document.puppet
        key = (puppet.clips, puppet.states, puppet.spreads, self._left_clips, self.picked)
        known = self._possible
        if known is None or any(one is not other for one, other in zip(key, known[0], strict=True)):
            known = self._possible = (key, self._is_possible())
        return known[1]

    def _is_possible(self) -> bool:
        fresh = frozenset(clip.id for clip in self.unused)
        return bool(fresh) and bool(fresh - self._left_clips) and bool(self.chosen)

    @property
    def is_new(self) -> bool:
        """Whether there is nothing yet: no clip, and no state."""
        return not self.document.puppet.clips and not self.document.puppet.states

    @property
    def open(self) -> bool:
        """Whether the preview stands in place of the weave."""
        if self.asked:
            return True
        if self.is_new and not self._new_left:
            return True
        return self.is_bare and (self.picked is not None or self.possible)

    @property
    def wired(self) -> Wired:
        """What would come of it."""
        puppet, names = self.document.puppet, self.chosen
        key = (names, tuple(sorted(self.cards.items(), key=lambda card: card[0])), self.by_hand)
        if self._made is None or self._made[0] is not puppet or self._made[1] != key:
            made = wired(puppet, [self.patterns[name] for name in names], self.cards,
                         whole=[name in self.by_hand for name in names])
            self._made = (puppet, key, made)
        return self._made[2]

    @property
    def puppet(self) -> Puppet:
        """The puppet that would come of it, with its strikes guessed as far as they were looked
        at."""
        made = self.wired
        known = self._struck
        return known[1] if known is not None and known[0] is made else made.puppet

    @property
    def takes(self) -> dict[str, Take]:
        """The takes that come along, by pattern: what each promises of the cards that have
        clips."""
        made, puppet, found = self.wired, self.puppet, {}
        for name, nodes in zip(self.chosen, made.ids, strict=True):
            take = take_of(name)
            if take is not None and any(not state.waits and state.id in nodes.values()
                                        for state in made.puppet.states):
                found[name] = take_for(take, self.patterns[name], puppet, nodes)
        return found

    @property
    def striking(self) -> tuple[Clip, ...]:
        """The clips of cards that strike, and have no hit window yet."""
        made = self.wired
        clips = {clip.id: clip for clip in made.puppet.clips}
        found = []
        for state in made.puppet.states:
            movement = movement_called(state.waits_for)
            for clip in made.puppet.clips_of(state):
                if state.id in made.cards and movement is not None and movement.strikes and not any(
                        window.kind == "hit" for window in clip.windows):
                    found.append(clips[clip.id])
        return tuple(dict.fromkeys(found))

    # Changing it ----------------------------------------------------------------------------------

    def ask(self) -> None:
        """Open it, though there are states already."""
        self.asked, self._left_clips = True, frozenset()
        self._show()

    def toggle(self, name: str) -> None:
        """With a pattern, or without it."""
        now = set(self.chosen)
        self.picked = tuple(now - {name} if name in now else now | {name})
        self.by_hand = (self.by_hand | {name}) & set(self.picked)
        self._show()

    def give(self, state: str, clip: str | None) -> None:
        """Another clip for a card, by its name, or none."""
        self.cards = {name: given for name, given in self.cards.items() if given != clip} | {
            state: clip}
        self._show()

    def leave(self) -> None:
        """Not now: till other clips come in, nothing is offered by itself."""
        self._left_clips = frozenset(clip.id for clip in self.unused)
        self._new_left = True
        self.asked, self.picked, self.by_hand, self.cards = False, None, frozenset(), {}
        self.changed.emit()

    def take(self, only_cards: bool = False) -> None:
        """Make it so, in one edit."""
        self._look_now()
        puppet, before, takes = self.puppet, self.document.puppet, self._takes_by_file()
        if only_cards:
            puppet = replace(puppet, transitions=before.transitions, intents=before.intents,
                             actions=before.actions)
        self.asked, self.picked, self.by_hand, self.cards = False, None, frozenset(), {}
        self._left_clips = frozenset(clip.id for clip in unused_clips(puppet))
        self.document.edit_worlds(
            "add the cards of a pattern" if only_cards else "wire by names",
            dict(self.document.history.worlds), puppet=puppet,
            takes={**self.document.history.takes, **(takes if not only_cards else {})})
        self.taken.emit()
        self.changed.emit()

    def _takes_by_file(self) -> dict[str, Take | None]:
        path, made = self.document.path, dict[str, Take | None]()
        whose = path.name if path is not None else ""
        for name, take in self.takes.items():
            file = new_file(name, whose, path.parent if path is not None else None,
                            {*self.document.history.takes, *made})
            made[file] = replace(take, puppet=whose)
        return made

    def refresh(self) -> None:
        """Show what is offered of the puppet as it is now."""
        known = {clip.id for clip in self.document.puppet.clips}
        self.cards = {name: clip for name, clip in self.cards.items()
                      if clip is None or clip in known}
        self._show()

    # The preview ----------------------------------------------------------------------------------

    def _show(self) -> None:
        if self.open:
            self._preview()
            self._look()
        self.changed.emit()

    def _preview(self) -> None:
        puppet = self.puppet
        if self.preview.puppet is not puppet:
            self.preview.history = History.starting_with(puppet)
            if self.preview.selection and puppet.node(self.preview.selection[1]) is None:
                self.preview.deselect()
            self.preview.puppet_changed.emit()

    def _art_arrived(self) -> None:
        if self.open:
            self._show()

    # Strikes --------------------------------------------------------------------------------------

    def _look(self) -> None:
        """Guess where clips strike, in a thread; the preview shows it once it is known."""
        made, wanted = self.wired, self._to_look_at()
        if self._is_struck(made) or not wanted:
            return
        self._looking.start(wanted, _pixels, lambda drawn: self._looked(made, wanted, drawn))

    def _is_struck(self, made: Wired) -> bool:
        return self._struck is not None and self._struck[0] is made

    def _to_look_at(self) -> list[Looked]:
        return [(clip, tuple(self.art.pages(frame.cell.sheet) for frame in clip.frames))
                for clip in self.striking
                if all(self.art.pages(frame.cell.sheet) for frame in clip.frames)]

    def _looked(
        self, made: Wired, wanted: Sequence[Looked], drawn: Sequence[Sequence[Pixels]]
    ) -> None:
        puppet = made.puppet
        for (clip, _), pixels in zip(wanted, drawn, strict=True):
            puppet = strike_guessed(puppet, clip.id, pixels)
        self._struck = (made, puppet)
        if self._made is not None and self._made[2] is made and self.open:
            self._preview()
            self.changed.emit()

    def _look_now(self) -> None:
        """The same, at once: it is taken as it will be shown."""
        made = self.wired
        if not self._is_struck(made):
            wanted = self._to_look_at()
            self._looking.cancel()
            self._looked(made, wanted, [_pixels(each) for each in wanted])


def _pixels(given: Looked) -> list[Pixels]:
    from ...pictures.pixels import frame_pixels

    clip, pages = given
    return [frame_pixels(each, frame) for frame, each in zip(clip.frames, pages, strict=True)]
