"""Of several while-rules for one thing the strongest has it, and all who ask say the same of which
that is."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from tests.helpers import Case, Press, clip, puppet_of, run
from tests.random_cases import random_run
from tests.random_puppets import Shaker
from yarn_puppet.core.model.events import Rule, Window
from yarn_puppet.core.model.graph import State
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.starter import new_puppet
from yarn_puppet.core.model.wiring import Intent, Memo, Sense
from yarn_puppet.core.pose.strongest import HALF, by_strength
from yarn_puppet.core.rules.copying import pasted
from yarn_puppet.core.rules.parcels import parcel_of
from yarn_puppet.core.rules.renames import choice_renamed, windows_renamed
from yarn_puppet.core.rules.uses import uses_of
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.run import set_up

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
            # A group around all of its layer is never left, and what it brings never goes out.
            shaker = Shaker(seed, seams=seed % 4 == 0)
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


class WithConditions(Case):
    """A rule counts only while its condition holds too."""

    def setUp(self) -> None:
        rule = Rule("move_speed", 0.5, when="tired")
        self.puppet = puppet_of(
            [clip("stand", [1000.0])], [State("s", "S", clip="stand", rules=(rule,))],
            memos=(Memo("tired", "tired", "bool", False),),
            intents=(Intent("held", "held", "guard", "held"),))

    def speeds(self, puppet: Puppet, presses: Sequence[Press], ticks: int) -> list[float]:
        return [each.report.move_speed for each in run(set_up(puppet, None), presses, ticks)]

    def test_from_the_tick_in_which_it_holds_to_that_in_which_it_does_not(self) -> None:
        puppet = replace(self.puppet, states=(replace(self.puppet.states[0], rules=(
            Rule("move_speed", 0.5, when="held"),)),))
        self.assertEqual(self.speeds(puppet, [(3, 6, "guard")], 9),
                         [1.0] * 3 + [0.5] * 3 + [1.0] * 3)

    def test_it_eases_as_if_its_owner_came_and_went(self) -> None:
        puppet = replace(self.puppet, states=(replace(self.puppet.states[0], rules=(
            Rule("move_speed", 0.0, ease_in=4 / 60, ease_out=2 / 60, when="held"),)),))
        self.assertEqual([round(each, 3) for each in self.speeds(puppet, [(1, 4, "guard")], 7)],
                         [1.0, 0.75, 0.5, 0.25, 0.75, 1.0, 1.0])

    def test_nothing_is_used_up_and_what_cannot_be_read_never_counts(self) -> None:
        pressed = Intent("press", "press", "attack")
        puppet = replace(self.puppet, intents=(pressed,), states=(replace(
            self.puppet.states[0], rules=(Rule("move_speed", 0.5, when="press"),
                                          Rule("gravity", 0.5, when="gone > 3"))),))
        records = run(set_up(puppet, None), [(2, 4, "attack")], 5)
        self.assertEqual([each.report.move_speed for each in records][2:4], [0.5, 0.5])
        self.assertEqual({each.report.gravity for each in records}, {1.0})
        self.assertEqual([each.report.used for each in records], [()] * 5)
        self.assertIn("“gone > 3” cannot be used", str([
            snag.why for snag in check(puppet)]))

    def test_it_follows_what_it_names(self) -> None:
        window = Window("w", 0, 500, "named", "open", rules=(
            Rule("safe", when='window("open") and ground == "straw"'),))
        ground = Sense("ground", "ground", "choice", "stone", choices=("stone", "straw"))
        puppet = replace(
            self.puppet, senses=(ground,),
            clips=(replace(self.puppet.clips[0], windows=(window,)),))
        made = choice_renamed(windows_renamed(puppet, {"open": "wide"}), "ground", "straw", "hay")
        self.assertEqual(made.clips[0].windows[0].rules[0].when,
                         'window("wide") and ground == "hay"')
        found = uses_of(made)
        self.assertEqual([use.kind for use in found["value", "ground"]], ["clip"])
        self.assertEqual([use.kind for use in found["value", "tired"]], ["state"])
        pasted_into = pasted(new_puppet("other"), parcel_of(puppet, ["s"])[0], {}).puppet
        [state] = pasted_into.states
        [memo] = [each for each in pasted_into.memos if each.name == "tired"]
        self.assertEqual(state.rules[0].when, memo.id)
