"""Who a dummy that replays is, and what its hands do: a take, an intent held, or a mix of
intents."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from ....core.formats.errors import FileProblem
from ....core.formats.take_file import load_take, takes_of
from ....core.model.kinds.gestures import GESTURES
from ....core.model.puppet import Puppet
from ....core.model.take import Take
from ....core.model.world import LONGEST_REPLAY, Dummy
from ....core.takes.opponent_hands import held, mixed
from ...session.files.takes_to_write import title_of
from ...widgets import theme
from ...widgets.parts import Part, Token, Word, choice_field
from .editing import Painting

Put = Callable[..., None]
MIX, EVERY, LONG = "+mix", 1.0, 30.0
"""A mix makes an intent every so many seconds, for so many; then it begins again."""


def replaying_tokens(painting: Painting, dummy: Dummy, put: Put) -> list[Part]:
    """The sentence of a dummy that replays, or answers."""
    return [Word("as"), _cast(painting, dummy, put), Word("does"), _hands(painting, dummy, put),
            *_mix(painting, dummy, put)]


def _puppet_of(painting: Painting, dummy: Dummy) -> Puppet:
    """What it is: the puppet itself where its file is not there."""
    own = painting.document.puppet
    return (painting.booths.opponents.puppet(dummy.cast) if dummy.cast else None) or own


def _mix(painting: Painting, dummy: Dummy, put: Put) -> list[Part]:
    """Which intents its dice pick among: each is put in or taken out."""
    seed, puppet = _seed_of(dummy.plays), _puppet_of(painting, dummy)
    if not seed or not puppet.intents:
        return []
    among = [intent.id for intent in puppet.intents if intent.id in dummy.mix] or [
        intent.id for intent in puppet.intents]

    def chosen(id: str) -> None:
        now = [each.id for each in puppet.intents
               if (each.id in among) != (each.id == id)] or [id]
        hands, long = mixed(puppet, now, EVERY, seed, LONG)
        put("choose intents", mix=tuple(now), hands=hands, long=long, hands_rate=puppet.rate)

    options = [(f"{'without' if intent.id in among else 'with'} {intent.name}", intent.id)
               for intent in puppet.intents]
    names = [intent.name for intent in puppet.intents if intent.id in among]
    said = "any intent" if len(names) == len(puppet.intents) else ", ".join(names[:3]) + (
        f" and {len(names) - 3} more" if len(names) > 3 else "")
    return [Word("of"), Token(said, theme.MADDER, name="mix", field=choice_field(
        "", options, chosen, "the intents that its dice pick among"))]


def _cast(painting: Painting, dummy: Dummy, put: Put) -> Token:
    opponents = painting.booths.opponents
    others = opponents.names()
    there = not dummy.cast or opponents.puppet(dummy.cast) is not None
    said = next((name for name, file in others if file == dummy.cast), dummy.cast)

    def chosen(file: str) -> None:
        values: dict[str, Any] = {"cast": file}
        puppet = opponents.puppet(file) if file else painting.document.puppet
        if puppet is not None:
            values |= {"width": puppet.mover.width, "height": puppet.mover.height}
            pressed = {action for _, action, _ in dummy.hands}
            if not pressed <= {action.id for action in puppet.actions}:
                # Its hands were another's.
                values |= {"plays": "", "hands": (), "long": 0, "mix": ()}
        put("cast", **values)

    label = "the puppet itself" if not dummy.cast else said if there else f"{said} (not there)"
    return Token(label, theme.PLUM, name="cast", quiet=not dummy.cast, field=choice_field(
        dummy.cast, [("the puppet itself", ""), *others], chosen,
        "a skin, or another puppet beside the puppet's file"))


def _hands(painting: Painting, dummy: Dummy, put: Put) -> Token:
    """What its hands do is copied into the booth, which so needs no take."""
    puppet = _puppet_of(painting, dummy)
    takes = _takes(painting, dummy)
    keeping = {f"+{intent.id}": intent for intent in puppet.intents
               if GESTURES[intent.gesture].can_be_kept_down}

    def chosen(what: str) -> None:
        if what == MIX:
            seed = _seed_of(dummy.plays) + 1
            among = [intent.id for intent in puppet.intents if intent.id in dummy.mix]
            hands, long = mixed(puppet, among or [intent.id for intent in puppet.intents], EVERY,
                                seed, LONG)
            plays, rate = f"mix {seed}", puppet.rate
        elif what in keeping:
            hands, long = held(puppet, keeping[what].id)
            plays, rate = f"{keeping[what].name}, kept down", puppet.rate
        else:
            take = takes[what]
            long = min(take.ticks, LONGEST_REPLAY)
            hands = tuple([control for control in take.controls if control[0] < long])
            plays, rate = title_of(what), take.rate
        put("choose replay", plays=plays, hands=hands, long=long, hands_rate=rate)

    options = [(title_of(file), file) for file in takes]
    options += [(f"{intent.name}, kept down", what) for what, intent in keeping.items()]
    if puppet.intents:
        mix = "any intent each second, by dice" if _seed_of(dummy.plays) == 0 else (
            f"by other dice than mix {_seed_of(dummy.plays)}")
        options.append((mix, MIX))
    return Token(dummy.plays or "what…", theme.INDIGO, name="plays", quiet=not dummy.plays,
                 field=choice_field("", options, chosen,
                                    "a kept take, an intent kept down, or intents by dice"))


def _seed_of(plays: str) -> int:
    """The seed of a mix by its name; 0 for what is none."""
    found = re.fullmatch(r"mix (\d{1,9})", plays)
    return int(found[1]) if found else 0


def _takes(painting: Painting, dummy: Dummy) -> dict[str, Take]:
    """The takes that this dummy can replay, by file name: those of the puppet that it is."""
    document = painting.document
    if not dummy.cast or dummy.cast in document.skins or document.path is None:
        return painting.takes()
    found = {}
    for path in takes_of(document.folder / dummy.cast):
        try:
            found[path.name] = load_take(path, painting.booths.opponents.puppet(dummy.cast))
        except FileProblem:
            # It is for another puppet.
            continue
    return found
