"""The trace below the desk: that of the run; or, as long as nothing has run and patterns are
offered, that of a take which would come along with them."""

from __future__ import annotations

from contextlib import suppress
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QStackedWidget

from ...core.formats.errors import FileProblem
from ...core.model.puppet import Puppet
from ..session.booths import Booths
from ..trace.trace_view import LEAST_HEIGHT, TraceView
from ..widgets.timers import timer

if TYPE_CHECKING:
    from ..weave.page import WeavePage

SETTLE_MS = 120
"""How long choices must pause before their take is run."""


class Traces(QStackedWidget):
    """Holds the trace of the run, and the one of what is offered, once it was."""

    def __init__(self, trace: TraceView, booths: Booths) -> None:
        super().__init__()
        self.trace, self.booths = trace, booths
        self.addWidget(trace)
        self.setMinimumHeight(LEAST_HEIGHT)
        self.offered: TraceView | None = None
        self._weave: WeavePage | None = None
        self._shown: tuple[Puppet, str] | None = None
        self._settle = timer(self, SETTLE_MS, once=True)
        self._settle.timeout.connect(self._run)
        trace.player.run_replaced.connect(self.look)
        trace.player.state_changed.connect(self.look)

    def offers(self, weave: WeavePage) -> None:
        """Show what this page's patterns would do."""
        self._weave = weave
        weave.offer.changed.connect(self.look)
        self.look()

    @property
    def on_offer(self) -> bool:
        """Whether what is offered is shown: patterns whose cards have clips, before anything of the
        puppet itself has run."""
        weave = self._weave
        return (weave is not None and weave.isVisible() and weave.offer.open
                and not len(self.trace.player.records) and bool(weave.offer.takes))

    def look(self) -> None:
        """Show the one or the other."""
        if self.on_offer:
            self._settle.start()
        elif self.currentWidget() is not self.trace:
            self._settle.stop()
            self.put_down()
            self.setCurrentWidget(self.trace)

    def _run(self) -> None:
        weave = self._weave
        if weave is None or not self.on_offer:
            return
        offer, player = weave.offer, weave.preview.player
        if self.offered is None:
            self.offered = TraceView(offer.preview, player)
            self.offered.setAccessibleName("Trace of what would be wired")
            self.addWidget(self.offered)
            player.run_replaced.connect(self._whole)
        name, take = next(iter(offer.takes.items()))
        puppet = offer.puppet
        if self._shown is None or self._shown[0] is not puppet or self._shown[1] != name:
            self._shown = (puppet, name)
            world = None
            with suppress(FileProblem):
                world = self.booths.get(take.booth) if take.booth else None
            player.load(puppet, world, take.booth)
            player.open_take(take, f"the {name}'s", world)
            self.offered.caption = f"the {name}'s take"
        self.setCurrentWidget(self.offered)
        self.offered.update()

    def _whole(self) -> None:
        """What was run is seen whole, from its start."""
        if self.offered is not None and len(self.offered.player.records) > 1:
            self.offered.fit()
            if self.offered.player.head is None:
                self.offered.player.seek(0)

    def put_down(self) -> None:
        """Leave what is being run for it."""
        if self._weave is not None and self._shown is not None:
            self._weave.preview.player.pause()
            self._weave.preview.player.rerun.cancel()
            self._shown = None
