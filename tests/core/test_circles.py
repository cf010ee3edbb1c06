"""What is made of a puppet goes with it: nothing stands in a circle, where it would wait for the
collector, which holds the window up while it looks. Objects are counted, not seconds."""

from __future__ import annotations

import gc
from collections.abc import Callable

from msgspec.structs import replace

from bench.large import large_puppet
from tests.helpers import Case, demo_world
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.again.touched import first_touched
from yarn_puppet.core.takes.controls import Controls
from yarn_puppet.core.takes.first_seen import FirstSeen
from yarn_puppet.core.takes.recording import Recording, run_again
from yarn_puppet.core.takes.run import set_up

FEW = 20
"""Objects in circles that anybody may leave."""
STATES = 40


def renamed(puppet: Puppet) -> Puppet:
    """The puppet after an edit."""
    return replace(puppet, states=(replace(puppet.states[0], name="another"), *puppet.states[1:]))


def plays(puppet: Puppet) -> None:
    """A run in which a button goes down and up, an edit in it, and the run again."""
    recording = Recording(puppet, demo_world(), None)
    buttons = [frozenset[str](), frozenset([puppet.actions[0].id])]
    for tick in range(40):
        recording.step(Controls(down=buttons[tick // 5 % 2]))
    recording.edit(renamed(puppet))
    recording.step()
    *_, again = run_again(recording.setup, recording.controls)
    recording.adopt(again)


def touches(puppet: Puppet) -> None:
    """From which tick on an edit can touch a run."""
    first_touched(set_up(puppet, None), set_up(renamed(puppet), None), FirstSeen(), 100)


WORKS = (compile_puppet, check, plays, touches)


class Circles(Case):
    def test_no_work_leaves_any(self) -> None:
        was = gc.isenabled()
        gc.disable()
        try:
            found = {work.__name__: self.left_by(work) for work in WORKS}
        finally:
            if was:
                gc.enable()
        self.assertEqual({name: left for name, left in found.items() if left > FEW}, {})

    def left_by(self, work: Callable[[Puppet], object]) -> int:
        """How many objects only the collector finds, after a work on a puppet that nobody knows any
        more."""
        for size in (STATES, STATES // 2):
            # What is remembered of the first goes with the second.
            gc.collect()
            work(large_puppet(size))
        # The two that were compiled last are known: these take their places.
        compile_puppet(large_puppet(2))
        compile_puppet(large_puppet(2))
        return gc.collect()
