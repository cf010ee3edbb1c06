"""Who runs the puppet: the game, by the code it was handed, and compared where the desk is there;
or the desk."""

from __future__ import annotations

import importlib.util
import sys
import tempfile
from pathlib import Path
from types import ModuleType
from typing import Any

import msgspec

from ..core.handoff.files import hand_off
from ..core.languages.python.client.yarn_wire import Wire
from ..core.model.basics.base import Scalar
from ..core.model.puppet import Puppet
from ..core.takes.run import set_up
from ..core.wire.messages import ReportMessage
from ..core.wire.telling import Teller

Hit = tuple[str, int, int]


class OwnCode:
    """The puppet by the Python that was handed off, written to a folder and imported as a game
    would. `begin` puts it before its first tick."""

    def __init__(self, puppet: Puppet) -> None:
        self.module = imported(hand_off(puppet, ("python",), "pell").files["pell.py"])
        self.teller = Teller(set_up(puppet, None))
        self.layers = {layer.id: index for index, layer in enumerate(self.module.PROGRAM.layers)}
        self.layers |= {layer.name: index for index, layer in enumerate(self.module.PROGRAM.layers)}
        self.begin()

    def begin(self) -> None:
        """The puppet is before its first tick."""
        self.state = self.module.START

    def tick(
        self,
        down: frozenset[str],
        senses: dict[str, Scalar],
        landed: tuple[Hit, ...],
        stopped: bool,
    ) -> tuple[ReportMessage, dict[str, Any], list[int]]:
        """What happened in a tick; and what is told of it on the wire."""
        names = {sense.id: sense.name for sense in self.module.PROGRAM.senses}
        values = {names[id]: value for id, value in senses.items() if id in names}
        hits = [self.module.Landed(self.layers[layer], visit, cycle)
                for layer, visit, cycle in landed]
        known = [each for each in down if each in self.module.ACTIONS]
        self.state, report = self.module.step(self.state, known, values, hits, stopped)
        return (self.teller.message(report), self.module.told(known, values, hits, stopped),
                self.module.digests(report))


def imported(source: bytes) -> ModuleType:
    """A module of its own, from a file that is gone afterwards, with the byte code that Python
    writes beside it."""
    with tempfile.TemporaryDirectory(prefix="stand-in-") as folder:
        path = Path(folder) / "pell.py"
        path.write_bytes(source)
        spec = importlib.util.spec_from_file_location("pell", path)
        assert spec is not None and spec.loader is not None
        module = importlib.util.module_from_spec(spec)
        sys.modules["pell"] = module
        spec.loader.exec_module(module)
    return module


class Runner:
    """Runs the puppet tick by tick, in one of three ways: "alone", "follow" or "drive". Where a
    desk should drive it and is not there, its own code does."""

    def __init__(self, puppet: Puppet, mode: str, address: str | None, name: str) -> None:
        self.own = OwnCode(puppet)
        self.mode = mode
        self.wire = None if mode == "alone" else Wire(
            name, mode, "Python", self.own.module.MADE_OF, address)
        self.driven = False

    def tick(
        self,
        down: frozenset[str],
        senses: dict[str, Scalar],
        landed: tuple[Hit, ...],
        stopped: bool,
        at: tuple[float, float],
    ) -> ReportMessage:
        """What happened in a tick."""
        wire = self.wire
        if wire is not None and wire.begins():
            self.own.begin()
        if wire is not None and self.mode == "drive":
            inputs = {"down": sorted(down), "senses": senses, "landed": landed, "stopped": stopped}
            found = wire.drive(inputs, at) if wire.here else None
            if found is not None:
                self.driven = True
                return msgspec.convert(found, ReportMessage)
            if self.driven:
                # The desk is gone: its own code takes over, from the start.
                self.driven = False
                self.own.begin()
        report, inputs, digests = self.own.tick(down, senses, landed, stopped)
        if wire is not None and self.mode == "follow":
            wire.follow(inputs, digests, at)
        return report

    def words(self) -> str:
        """Who runs it, for people."""
        wire = self.wire
        if wire is None or not wire.here:
            return "runs by its own code · no desk" if wire is not None else "runs by its own code"
        if self.mode == "drive":
            return f"the desk drives it · tick {wire.tick:,}"
        differs = wire.differs
        same = (
            "" if wire.welcome is None or wire.welcome["same"] else " · the desk has another puppet"
        )
        if differs is not None:
            return (f"differs from the desk in tick {differs['tick']:,}: "
                    f"{' and '.join(differs['parts'])}{same}")
        return f"runs by its own code, followed · tick {wire.tick:,}{same}"
