"""Random edits over patterns and skins: every file that could be saved on the way opens as what it
was, and undone all the way it is the start again."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests import strategies
from tests.helpers import Case, demo_puppet
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.formats.puppet_file import puppet_bytes, puppet_from
from yarn_puppet.core.formats.skin_file import skin_bytes, skin_from
from yarn_puppet.core.model.history import History
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.skin import Skin
from yarn_puppet.core.patterns.combining import combined
from yarn_puppet.core.skins.dressing import dressed
from yarn_puppet.core.skins.undressing import undressed
from yarn_puppet.core.snags.check import check

FILE = "other.skin.json"


@some.composite
def wired(draw: some.DrawFn) -> Puppet:
    """A puppet with some patterns in it, a few of their cards with clips."""
    wanted = draw(some.sets(some.integers(0, len(strategies.SHIPPED) - 1), min_size=1))
    clips = demo_puppet().clips
    puppet = combined(Puppet(clips=clips, sheets=demo_puppet().sheets),
                      [strategies.SHIPPED[number] for number in sorted(wanted)]).puppet
    every = draw(some.integers(1, 4))
    return replace(puppet, states=tuple([
        replace(state, clip=clips[number % len(clips)].id) if number % every == 0 else state
        for number, state in enumerate(puppet.states)]))


class RandomEdits(Case):
    @given(wired(), some.data())
    def test_what_is_saved_opens_and_undone_all_is_the_start(
        self, puppet: Puppet, data: some.DataObject
    ) -> None:
        skin = data.draw(strategies.skins(puppet))
        history = History.starting_with(puppet).edited(puppet, "a skin", skins={FILE: skin})
        steps = data.draw(some.lists(some.tuples(some.booleans(), strategies.edits()), max_size=8))
        for worn, (name, edit) in steps:
            bare, skin = history.puppet, history.skins[FILE]
            assert isinstance(skin, Skin)
            if worn:
                before = dressed(bare, skin)
                made, skin = undressed(bare, skin, before, edit(before))
            else:
                made = edit(bare)
            history = history.edited(made, name, skins={FILE: skin})
            self.assertEqual(puppet_from(puppet_bytes(made), "here"), made, name)
            self.assertEqual(skin_from(skin_bytes(skin), "here"), skin, name)
            initial_state(compile_puppet(dressed(made, skin)))
        check(history.puppet)
        while history.undo_name is not None:
            history = history.undone()
        self.assertEqual(history.puppet, puppet)
