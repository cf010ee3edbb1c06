"""What the window's process and the wire's say to each other: a line of JSON each."""

from __future__ import annotations

import msgspec

from ..model.puppet import Puppet
from ..model.skin import Skin
from ..model.take import Take
from ..takes.controls import Controls
from .hub import Row


class Listen(msgspec.Struct, frozen=True, tag=True):
    """Listen at an address with this puppet; `port` is the first of `PORTS` that are tried."""

    host: str
    port: int
    key: str
    puppet: Puppet
    number: int
    skins: tuple[Skin, ...] = ()


class Edit(msgspec.Struct, frozen=True, tag=True):
    """The puppet is another, of this number, or its skins are."""

    puppet: Puppet
    number: int
    skins: tuple[Skin, ...] = ()


class Watch(msgspec.Struct, frozen=True, tag=True):
    """Tell what this game does, from its first tick on; zero for none."""

    game: int


class Keep(msgspec.Struct, frozen=True, tag=True):
    """Give what a game did as a take, of which its last minute is looked at."""

    game: int


class Dismiss(msgspec.Struct, frozen=True, tag=True):
    """Forget a game that went away."""

    game: int


class NewKey(msgspec.Struct, frozen=True, tag=True):
    """Games that come in from now on need another key."""

    key: str


class Listening(msgspec.Struct, frozen=True, tag=True):
    """Games can come in, here."""

    host: str
    port: int


class Failed(msgspec.Struct, frozen=True, tag=True):
    """Why nothing can be listened to."""

    why: str


class Rows(msgspec.Struct, frozen=True, tag=True):
    """All games as they stand, and why the last one that wanted to come in was refused, if it
    was."""

    rows: tuple[Row, ...]
    refused: str = ""


class Ticks(msgspec.Struct, frozen=True, tag=True):
    """Ticks of the game that is watched, from `first` on, run with the puppet of this number, which
    may be in a skin (`puppets.SKINS_FROM`). What was told before of these is taken back."""

    game: int
    first: int
    revision: int
    controls: tuple[Controls, ...]


class Kept(msgspec.Struct, frozen=True, tag=True):
    """What a game did; None where it is no longer kept."""

    game: int
    name: str
    take: Take | None


TO_WIRE = msgspec.json.Decoder(Listen | Edit | Watch | Keep | Dismiss | NewKey)
FROM_WIRE = msgspec.json.Decoder(Listening | Failed | Rows | Ticks | Kept)
