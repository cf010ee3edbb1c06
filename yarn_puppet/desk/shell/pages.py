"""The pages by name. Each is made when it is first shown: the first view should not wait for the others."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QWidget

from ...demo import DEMO_FOLDER

if TYPE_CHECKING:
    from .window import Window


def _clips(window: Window) -> QWidget:
    from ..clips.page import ClipsPage

    return ClipsPage(window.document, window.art, window.settings, window.sources, window.sounds, window.snags)


def _weave(window: Window) -> QWidget:
    from ..weave.page import WeavePage

    return WeavePage(window.document, window.player, window.art, window.snags)


def _wiring(window: Window) -> QWidget:
    from ..wiring.page import WiringPage

    page = WiringPage(window.document, window.player, window.pads)
    page.wanted.connect(window.go_to)
    return page


def _booth(window: Window) -> QWidget:
    from ..booth.painting.page import BoothPage

    return BoothPage(window.document, window.booths, window.kept, window.player, window.art, DEMO_FOLDER)


def _takes(window: Window) -> QWidget:
    from ..takes.page import TakesPage

    return TakesPage(window.document, window.kept, window.player, window.booth.feet)


def _snags(window: Window) -> QWidget:
    from ..snags.page import SnagsPage

    page = SnagsPage(window.document, window.snags)
    page.wanted.connect(window.go_to)
    return page


def _hand_off(window: Window) -> QWidget:
    from ..handoff.page import HandOffPage

    return HandOffPage(window.hand_off, window.wire)


PAGES: dict[str, Callable[[Window], QWidget]] = {
    "Clips": _clips, "Weave": _weave, "Wiring": _wiring, "Booth": _booth, "Takes": _takes, "Snags": _snags,
    "Hand-off": _hand_off,
}
"""What makes each page, in the order they stand in."""
