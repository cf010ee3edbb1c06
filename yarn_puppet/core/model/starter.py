"""What a new puppet begins with: the wiring nearly every character needs, so that art is all there
is to add."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from .kinds.modes import MODES, Mode
from .puppet import Puppet
from .wiring import Action, Intent, Sense

STARTER_ACTIONS = (
    Action("left", "left", ("key:Left", "key:A")),
    Action("right", "right", ("key:Right", "key:D")),
    Action("up", "up", ("key:Up", "key:W")),
    Action("down", "down", ("key:Down", "key:S")),
    Action("jump", "jump", ("key:Space",)),
    Action("attack", "attack", ("key:J", "mouse:left")),
    Action("guard", "guard", ("key:K", "mouse:right")),
)

STARTER_INTENTS = (
    Intent("press_attack", "press_attack", "attack", "press"),
    Intent("press_jump", "press_jump", "jump", "press"),
    Intent("held_guard", "held_guard", "guard", "held"),
    Intent("held_down", "held_down", "down", "held"),
    Intent("held_up", "held_up", "up", "held"),
)
"""A press is first: a tap only comes when the key is let go, and is worth that where a hold is read
too."""

BOOTH_SENSES = (
    Sense("grounded", "grounded", "bool", True),
    Sense("speed", "speed", "float", 0.0, 0.0, 120.0, unit="px/s"),
    Sense("vx", "vx", "float", 0.0, -120.0, 120.0, unit="px/s"),
    Sense("vy", "vy", "float", 0.0, -420.0, 420.0, unit="px/s"),
    Sense("move_x", "move_x", "int", 0, -1.0, 1.0),
    Sense("blocked", "blocked", "bool", False),
    Sense("fall_time", "fall_time", "float", 0.0, 0.0, 2.0, unit="s"),
    Sense("hit_landed", "hit_landed", "bool", False, event=True),
)
"""The senses a new puppet begins with."""

MORE_SENSES = (
    Sense("move_y", "move_y", "int", 0, -1.0, 1.0),
    Sense("footing", "footing", "bool", True),
    Sense("on_slope", "on_slope", "bool", False),
    Sense("on_ladder", "on_ladder", "bool", False),
    Sense("ladder_above", "ladder_above", "bool", False),
    Sense("at_ledge", "at_ledge", "bool", False),
    Sense("ledge_side", "ledge_side", "choice", "none", choices=("none", "left", "right")),
    Sense("in_water", "in_water", "bool", False),
    Sense("water_depth", "water_depth", "float", 0.0, 0.0, 96.0, unit="px"),
    Sense("headroom", "headroom", "float", 160.0, -32.0, 160.0, unit="px"),
    Sense("bumped_head", "bumped_head", "bool", False, event=True),
    Sense("zone", "zone", "choice", "", choices=("",)),
    Sense("yaw_rate", "yaw_rate", "float", 0.0, -10800.0, 10800.0, unit="°/s"),
    Sense("health", "health", "int", 0, 0.0, 20.0),
    Sense("hurt", "hurt", "bool", False, event=True),
    Sense("guarded", "guarded", "bool", False, event=True),
)
"""What the booth reports beside those: added to a puppet where it wants to read them."""


def new_puppet(name: str = "new puppet") -> Puppet:
    """A puppet without art or states, wired to the usual actions and to the booth's senses."""
    return Puppet(name=name, actions=STARTER_ACTIONS, intents=STARTER_INTENTS, senses=BOOTH_SENSES)


def with_senses_for(puppet: Puppet, modes: Iterable[Mode]) -> Puppet:
    """The puppet with the senses that conditions need about what its mover may do."""
    known = {value.id for value in puppet.named_values}
    wanted = [id for mode in modes
              for id in (MODES[mode].senses if mode else ()) if id not in known]
    more = tuple([sense for sense in MORE_SENSES if sense.id in wanted])
    return replace(puppet, senses=(*puppet.senses, *more)) if more else puppet
