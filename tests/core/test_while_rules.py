"""Of several while-rules for one thing the strongest has it, and all who ask say the same of which
that is."""

from __future__ import annotations

import unittest

from msgspec.structs import replace

from tests.helpers import Case
from tests.random_cases import random_run
from tests.random_puppets import Shaker
from yarn_puppet.core.model.events import Rule
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Memo
from yarn_puppet.core.pose.ruled import HALF, by_strength

RUNS = 60
EASES = (0.0, 0.0, 0.05, 0.2, 0.7)


def twins(puppet: Puppet, shaker: Shaker) -> tuple[Puppet, int]:
    """States, groups and windows each hold a memo at a number and want the box of the same number,
    eased alike."""
    count = 0

    def pairs() -> tuple[Rule, ...]:
        nonlocal count
        found: list[Rule] = []
        for _ in range(shaker.pick((0, 1, 1, 2))):
            count += 1
            ease = {"ease_in": shaker.pick(EASES), "ease_out": shaker.pick(EASES)}
            found += [Rule("memo", memo="stance", to=count, **ease),
                      Rule("box", box=str(count), **ease)]
        return tuple(found)

    clips = tuple([replace(clip,
                           windows=tuple([replace(window, rules=pairs())
                                          for window in clip.windows]))
                   for clip in puppet.clips])
    return replace(
        puppet, clips=clips, memos=(*puppet.memos, Memo("stance", "stance")),
        states=tuple([replace(state, rules=pairs()) for state in puppet.states]),
        groups=tuple([replace(group, rules=pairs()) for group in puppet.groups])), count


class WhileRules(Case):
    def test_the_memo_that_is_held_and_the_box_that_is_wanted_are_those_of_one_rule(self) -> None:
        held = outgoing = 0
        for seed in range(RUNS):
            shaker = Shaker(seed)
            puppet, _ = twins(shaker.puppet(), shaker)
            stance = len(puppet.memos) - 1
            run = random_run(puppet, shaker, 120)
            for inputs, report in zip(run.inputs, run.reports, strict=True):
                if inputs.stopped:
                    # Nothing changes, nor does what is held.
                    continue
                wanted = next((each for each in by_strength(report, "box") if each.share >= HALF),
                              None)
                self.assertEqual(report.memos[stance], int(wanted.rule.text) if wanted else 0,
                                 (seed, report.tick))
                held += wanted is not None
                outgoing += wanted is not None and wanted.out
        self.assertGreater(held, 2000)
        self.assertGreater(outgoing, 50)


if __name__ == "__main__":
    unittest.main()
