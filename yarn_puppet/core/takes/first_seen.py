"""When a run first came across what: kept while it is run, so that an edit need not look through
it."""

from __future__ import annotations

from .run import Record, Setup


class FirstSeen:
    """The first ticks in which states and groups, by id, were active, entered or left; actions were
    down; and intents were armed."""

    def __init__(self) -> None:
        self.nodes: dict[str, int] = {}
        self.actions: dict[str, int] = {}
        self.armed: dict[str, int] = {}
        self._setup: Setup | None = None
        self._places: set[tuple[int, ...]] = set()
        self._down: frozenset[str] = frozenset()

    def append(self, tick: int, record: Record) -> None:
        """Add a tick."""
        if record.setup is not self._setup:
            self._setup, self._places = record.setup, set()
        places = tuple([layer.state for layer in record.before.machine.layers])
        program, report = record.setup.program, record.report
        if places not in self._places:
            self._places.add(places)
            for place in places:
                if place >= 0:
                    self._came_across(record.setup, program.states[place].id, tick)
        for taken in report.taken:
            self._came_across(record.setup, taken.source, tick)
            self._came_across(record.setup, taken.target, tick)
        for intent in report.armed:
            self.armed.setdefault(intent, tick)
        for intent in report.used:
            self.armed.setdefault(intent, tick)
        down = record.controls.down
        if down is not self._down:
            self._down = down
            for action in down:
                self.actions.setdefault(action, tick)
        for action, _ in record.controls.edges:
            self.actions.setdefault(action, tick)

    def _came_across(self, setup: Setup, id: str, tick: int) -> None:
        program = setup.program
        self.nodes.setdefault(id, tick)
        place = program.places.get(("in_state", id), -1)
        if place >= 0:
            for group in program.states[place].groups:
                self.nodes.setdefault(program.groups[group].id, tick)

    def up_to(self, tick: int) -> FirstSeen:
        """What was come across before a tick."""
        made = FirstSeen()
        for name in ("nodes", "actions", "armed"):
            setattr(made, name, {id: first
                                 for id, first in getattr(self, name).items() if first < tick})
        return made
