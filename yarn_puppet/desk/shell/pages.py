"""The pages by name. Each is made when it is first shown: the first view should not wait for the
others."""

from __future__ import annotations

import threading
from collections.abc import Callable
from importlib import import_module
from typing import TYPE_CHECKING, Protocol

from PyQt6.QtWidgets import QWidget

from ...demo import DEMO_FOLDER
from ..booth.booth_view import BoothView
from ..booth.opponents_drawing import CastArt
from ..booth.sounds import Sounds
from ..pads.pads import Pads
from ..pictures.art import Art
from ..session.art.sources import Sources
from ..session.booths import Booths
from ..session.document import Document
from ..session.kept_takes import KeptTakes
from ..session.run.player import Player
from ..session.settings import Settings
from ..session.snag_list import SnagList

if TYPE_CHECKING:
    from ..clips.incoming.bringing_in import BringingIn
    from ..clips.incoming.skin_art import SkinArt
    from ..clips.page import ClipsPage
    from ..handoff.desk import HandOffDesk
    from ..handoff.wire_desk import WireDesk


class Desk(Protocol):
    """What pages are made of."""

    document: Document
    player: Player
    art: Art
    cast_art: CastArt
    settings: Settings
    sources: Sources
    sounds: Sounds
    snags: SnagList
    skin_art: SkinArt
    pads: Pads
    booths: Booths
    kept: KeptTakes
    booth: BoothView
    hand_off: HandOffDesk
    wire: WireDesk

    def page(self, name: str) -> QWidget:
        """A page, made when it is first asked for."""

    def show_page(self, name: str) -> None:
        """Go to a page."""

    def go_to(self, page: str, kind: str, id: str) -> None:
        """Show an entry where it is worked on."""


def _clips(desk: Desk) -> QWidget:
    from ..clips.page import ClipsPage

    page = ClipsPage(desk.document, desk.art, desk.settings, desk.sources, desk.sounds, desk.snags,
                     desk.skin_art)
    page.bringing.sheet_made.connect(lambda sheet: desk.show_page("Clips"))
    return page


def _weave(desk: Desk) -> QWidget:
    from ..weave.page import WeavePage

    def bringing() -> BringingIn:
        # Art comes in by the Clips page, wherever it was dropped.
        clips: ClipsPage = desk.page("Clips")  # type: ignore[assignment]
        if page.came_in is not clips.came_in.parts:
            page.came_in = clips.came_in.parts
            clips.came_in.changed.connect(page.refresh)
            page.offer.taken.connect(clips.came_in.done)
        return clips.bringing

    page = WeavePage(desk.document, desk.player, desk.art, desk.snags)
    page.art_dropped.connect(lambda data: bringing().paste(data))
    page.offer.art_wanted.connect(lambda: bringing().ask_pictures())
    return page


def _wiring(desk: Desk) -> QWidget:
    from ..wiring.page import WiringPage

    page = WiringPage(desk.document, desk.player, desk.pads)
    page.wanted.connect(desk.go_to)
    return page


def _booth(desk: Desk) -> QWidget:
    from ..booth.painting.page import BoothPage

    return BoothPage(desk.document, desk.booths, desk.kept, desk.player, desk.art, desk.cast_art,
                     DEMO_FOLDER)


def _takes(desk: Desk) -> QWidget:
    from ..takes.page import TakesPage

    return TakesPage(desk.document, desk.kept, desk.player, desk.booth.feet)


def _snags(desk: Desk) -> QWidget:
    from ..snags.page import SnagsPage

    page = SnagsPage(desk.document, desk.snags)
    page.wanted.connect(desk.go_to)
    return page


def _hand_off(desk: Desk) -> QWidget:
    from ..handoff.page import HandOffPage

    return HandOffPage(desk.hand_off, desk.wire)


PAGES: dict[str, Callable[[Desk], QWidget]] = {
    "Clips": _clips, "Weave": _weave, "Wiring": _wiring, "Booth": _booth, "Takes": _takes,
    "Snags": _snags,
    "Hand-off": _hand_off,
}
"""What makes each page, in the order they stand in."""

MODULES = ("clips.page", "wiring.page", "booth.painting.page", "takes.page", "snags.page",
           "handoff.desk",
           "handoff.wire_desk", "handoff.page", "clips.cutting.panel")


def fetch() -> threading.Thread:
    """Have Python read what the pages are made of, in a thread: who turns to one then does not wait
    for that."""
    def work() -> None:
        for name in MODULES:
            import_module(f"yarn_puppet.desk.{name}")

    thread = threading.Thread(target=work, daemon=True)
    thread.start()
    return thread
