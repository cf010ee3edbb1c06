"""What the patterns are made of: each has the ground that it stands on, and the same wiring under
the same names."""

from __future__ import annotations

from msgspec.structs import replace

from ...core.model.events import Rule
from ...core.model.graph import BODY, Blend, Group, Layer, Leave, SpeedMap, State, Transition
from ...core.model.puppet import Puppet
from ...core.model.starter import BOOTH_SENSES, MORE_SENSES, STARTER_ACTIONS, STARTER_INTENTS
from ...core.model.wiring import Action, Intent

END = Leave("at the end")
CANCEL = Leave("in a window", window="cancel")
SOFT = Blend("crossfade", 0.08, "ease out")
STILL = (Rule("lock_movement"), Rule("lock_facing"))
PACE = SpeedMap("speed", 10.0, 90.0, 0.6, 1.2)
LOW = Rule("height", 0.6)
GROUND = Group("ground", "Ground", start="idle", thread="moss")
AIR = Group("air", "Air", start="fall", thread="woad")
IDLE = State("idle", "Idle", group="ground", waits_for="idle", place=0)
FALL = State("fall", "Fall", group="air", waits_for="fall", place=1)
WALKS_OFF = Transition("ground_to_fall", "ground", "fall", "not grounded")
COMES_DOWN = Transition("fall_to_ground", "fall", "ground", "grounded")

ACTIONS = {action.id: action for action in (
    *STARTER_ACTIONS, Action("run", "run", ("key:Shift",)), Action("roll", "roll", ("key:C",)))}
INTENTS = {intent.id: intent for intent in (
    *STARTER_INTENTS,
    Intent("tap_attack", "tap_attack", "attack", "tap"),
    Intent("hold_attack", "hold_attack", "attack", "hold"),
    Intent("held_run", "held_run", "run", "held"),
    Intent("press_roll", "press_roll", "roll", "press"),
)}
SENSES = {sense.id: sense for sense in (*BOOTH_SENSES, *MORE_SENSES)}


def pattern(
    name: str,
    groups: tuple[Group, ...],
    states: tuple[State, ...],
    transitions: tuple[Transition, ...],
    intents: tuple[str, ...],
    senses: tuple[str, ...],
) -> Puppet:
    """A puppet of these, which starts in *idle*, with the actions that its intents are of."""
    wanted = {"left", "right", "up", "down", *(INTENTS[each].action for each in intents)}
    return Puppet(
        name=name, layers=(Layer(BODY, "body", "idle"),), groups=groups, states=states,
        transitions=transitions,
        actions=tuple(action for action in ACTIONS.values() if action.id in wanted),
        intents=tuple(INTENTS[each] for each in intents),
        senses=tuple(SENSES[each] for each in senses),
    )


def ways(*each: tuple[str, str, str] | tuple[str, str, str, Transition]) -> tuple[Transition, ...]:
    """Transitions as (source, target, when), and what else they have as one that is like them."""
    made = []
    for number, (source, target, when, *more) in enumerate(each):
        like = more[0] if more else Transition("like", source, target)
        made.append(replace(like, id=f"{source}_to_{target}_{number}", source=source,
                            target=target, when=when))
    return tuple(made)


AT_END = Transition("like", "source", "target", leave=END)
IN_CANCEL = Transition("like", "source", "target", leave=CANCEL)
SOFTLY = Transition("like", "source", "target", blend=SOFT)
OVER_ALL = Transition("like", "source", "target", overrides=True)
