"""The start without a file: the demo; at the first start a smaller puppet, and what to press."""

from __future__ import annotations

from ...demo import DEMO_PUPPET, FIRST_STEPS
from ..booth.greeting import Greeting
from ..session.settings import save_settings
from .window import Window


def start_on_demo(window: Window) -> None:
    """Open what is right for who starts it."""
    settings = window.settings
    if settings.greeted:
        window.start_on(DEMO_PUPPET)
        return
    window.start_on(FIRST_STEPS)
    greeting = Greeting(window.booth)

    def gone() -> None:
        settings.greeted = True
        save_settings(settings)

    greeting.gone.connect(gone)
    greeting.demo_wanted.connect(window.files.open_demo)
