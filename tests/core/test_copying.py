"""What is copied into another puppet behaves there as it did, whatever the other puppet calls its own entries."""

from __future__ import annotations

import unittest
from string import ascii_lowercase

from msgspec.structs import replace

from tests.helpers import Case
from tests.random_puppets import Shaker
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.state import Inputs
from yarn_puppet.core.engine.tick import initial_state, tick
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.graph import State
from yarn_puppet.core.model.puppet import COLLECTIONS, Puppet
from yarn_puppet.core.model.wiring import Memo
from yarn_puppet.core.rules.copying import parcel_of, pasted
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.sampling import Sampler
from yarn_puppet.demo import DEMO_PUPPET, FIRST_STEPS
from yarn_puppet.demo.make.grown import grown_puppet

SEEDS = 60
TICKS = 40


def one_layer(puppet: Puppet) -> Puppet:
    """Only what is on the first layer, and wholly inside it."""
    layer = puppet.layers[0].id
    inside = {node.id for node in puppet.nodes if node.layer == layer
              and all(each.layer == layer for each in puppet.groups_around(node))}
    states = tuple(each for each in puppet.states if each.id in inside)
    return replace(
        puppet, layers=(replace(puppet.layers[0], shown_when="", weight=1.0, start=states[0].id if states else None),),
        states=states,
        groups=tuple(replace(each, start=each.start if each.start in inside else None)
                     for each in puppet.groups if each.id in inside),
        transitions=tuple(each for each in puppet.transitions if each.source in inside and each.target in inside),
    )


def strange(puppet: Puppet) -> Puppet:
    """Another puppet, in which every id of this one is taken by a memo or a state that is something else."""
    ids = [each.id for field in COLLECTIONS for each in getattr(puppet, field) if field not in ("senses", "layers")]
    senses = {each.id for each in puppet.senses}
    taken = [id for id in dict.fromkeys(ids) if id not in senses]
    return Puppet(
        rate=puppet.rate, facing=puppet.facing, senses=puppet.senses, layers=(replace(puppet.layers[0], start=None),),
        memos=tuple(Memo(id, f"own_{number}") for number, id in enumerate(taken)),
        states=tuple(State(id, f"Own {number}", puppet.layers[0].id) for number, id in enumerate(taken)),
    )


def copied_whole(puppet: Puppet) -> Puppet:
    """Its graph, in the strange puppet."""
    parcel = parcel_of(puppet, [node.id for node in puppet.nodes])
    made = pasted(strange(puppet), parcel.puppet, puppet.layers[0].id)
    names = {node.name: node.id for node in made.puppet.nodes if node.id in {*made.states, *made.groups}}
    start = next((node.name for node in puppet.nodes if node.id == puppet.layers[0].start), "")
    return replace(made.puppet, layers=(replace(made.puppet.layers[0], start=names.get(start)),))


def lived(puppet: Puppet, seed: int) -> list[tuple[object, ...]]:
    """What a run comes to, all in names."""
    shaker, program = Shaker(seed), compile_puppet(puppet)
    names = {node.id: node.name for node in puppet.nodes}
    clips = {clip.id: clip.name for clip in puppet.clips}
    memos = [each.name for each in program.memos]
    state, sampler, told = initial_state(program), Sampler(program), []
    keys = {each.id: each.name[-1] for each in puppet.actions}
    down = dict.fromkeys(ascii_lowercase, False)
    for _ in range(TICKS):
        down = {name: held != shaker.chance(3) for name, held in down.items()}
        held = [down[keys.get(action, "z")] for action in program.actions]
        senses = {each.id: shaker.pick([0, 1, 2.5, 90, True, False]) for each in puppet.senses}
        senses = {id: value for id, value in senses.items() if shaker.chance(8)}
        state, report = tick(program, state, Inputs(
            tuple(held), sampler.alone(tuple(senses.items())), (), False))
        layer = report.layers[0] if report.layers else None
        told.append((
            layer and (names.get(layer.state), tuple(names.get(each) for each in layer.groups),
                       clips.get(layer.clip or ""), layer.clip_time, layer.loops),
            report.facing, report.move_speed, report.lock_movement, report.safe,
            {name: value for name, value in zip(memos, report.memos, strict=True) if not name.startswith("own_")},
        ))
    return told


class Copied(Case):
    def same(self, puppet: Puppet, seed: int) -> None:
        """A puppet of one layer and its copy live alike."""
        before, after = lived(puppet, seed), lived(copied_whole(puppet), seed)
        kept = {memo.name for memo in copied_whole(puppet).memos}
        for number, (one, other) in enumerate(zip(before, after, strict=True)):
            memos = {name: value for name, value in one[-1].items() if name in kept}  # type: ignore[attr-defined]
            self.assertEqual((*one[:-1], memos), other, f"seed {seed}, tick {number}")

    def test_the_demos_live_on_among_strangers_with_their_ids(self) -> None:
        for puppet in (grown_puppet(), load_puppet(DEMO_PUPPET), load_puppet(FIRST_STEPS)):
            for seed in range(5):
                self.same(one_layer(puppet), seed)

    def test_random_puppets_do(self) -> None:
        for seed in range(SEEDS):
            puppet = one_layer(Shaker(seed).puppet())
            if puppet.states:
                self.same(puppet, seed)

    def test_a_copy_has_the_snags_it_had(self) -> None:
        puppet = one_layer(grown_puppet())
        copy = copied_whole(puppet)
        own = {each.id for each in copy.states if each.name.startswith("Own")}
        self.assertEqual([each.why for each in check(puppet) if each.kind == "transition"],
                         [each.why for each in check(copy) if each.kind == "transition" and each.id not in own])


if __name__ == "__main__":
    unittest.main()
