"""Pell where the world has more than ground: hanging, climbing, swimming, landing hard, being
thrown, rolling."""

from __future__ import annotations

from msgspec.structs import replace

from ...core.model.clips import Clip, Grid, Sheet
from ...core.model.events import Moment, Rule
from ...core.model.graph import Blend, Group, Leave, SpeedMap, State, Transition
from ...core.model.mover import Mover
from ...core.model.puppet import Puppet
from ...core.model.starter import MORE_SENSES
from ...core.model.wiring import Action, Intent
from .art.pell import HEIGHT, WIDTH
from .art.world_poses import WORLD_CLIPS
from .lamplighter import sound
from .lamplighter_in_full import clip_of, lamplighter

END = Leave("at the end")
LOW = Rule("height", 0.6)
READS = ("move_y", "footing", "on_ladder", "ladder_above", "at_ledge", "ledge_side", "in_water",
         "water_depth",
         "headroom", "hurt", "guarded")

MOMENTS = {
    "pull_up": (Moment("up_on_it", 170, "call", "pull_up"), sound("cloth_up", 60, "cloth_whip")),
    "climb": (sound("rung", 0, "soft_step"), sound("other_rung", 180, "soft_step")),
    "land": (Moment("hard_landing", 0, "shake", "landing", strength=2.0, seconds=0.2),
             Moment("landing_dust", 0, "effect", "dust"), sound("landing", 0, "soft_step")),
    "roll": (sound("rolling", 60, "cloth_whip"),),
}


SHEET = "lamplighter_world"


def in_the_world() -> Puppet:
    """The demo's puppet: with the bands Ledge, Ladder and Water, and what the ground needs for
    them."""
    puppet = lamplighter()
    senses = {sense.id: sense for sense in MORE_SENSES}
    kept = tuple(sense for sense in puppet.senses if sense.id != "struck")
    return replace(
        puppet,
        sheets=(*puppet.sheets, Sheet(SHEET, f"{SHEET}.png", f"{SHEET}.png", Grid(WIDTH, HEIGHT))),
        clips=(*puppet.clips, *(_with_moments(clip_of(name, WORLD_CLIPS, SHEET))
                                for name in WORLD_CLIPS)),
        groups=(
            *(replace(group, rules=(*group.rules, Rule("mode", mode="water")))
              if group.id == "strike" else group
              for group in puppet.groups),
            Group("ledge", "Ledge", start="hang_state", thread="plum",
                  rules=(Rule("mode", mode="ledge"), Rule("lock_facing"))),
            Group("ladder", "Ladder", start="climb_state", thread="clay",
                  rules=(Rule("mode", mode="ladder"), Rule("lock_facing"))),
            Group("water", "Water", start="afloat_state", thread="indigo",
                  rules=(Rule("mode", mode="water"),)),
        ),
        states=(*(_lower(state) for state in puppet.states), *_states()),
        transitions=_in_order(puppet),
        actions=(*puppet.actions, Action("roll", "roll", ("key:C",))),
        intents=(*puppet.intents, Intent("held_down", "held_down", "down", "held"),
                 Intent("press_roll", "press_roll", "roll", "press")),
        senses=(*kept, *(senses[id] for id in READS)),
        mover=Mover(grace=0.1, corner=4.0, carry=0.1, hands_x=10.0, hands_y=42.0, health=20),
    )


def _with_moments(clip: Clip) -> Clip:
    return replace(clip, moments=(*clip.moments, *MOMENTS[clip.id])) if clip.id in MOMENTS else clip


def _lower(state: State) -> State:
    """What crouches and crawls fits under low ceilings."""
    return (
        replace(state, rules=(*state.rules, LOW))
        if state.id in ("crouch_state", "crawl_state")
        else state
    )


def _states() -> tuple[State, ...]:
    still = (Rule("lock_movement"),)
    pace = SpeedMap("speed", 0.0, 60.0, 0.0, 1.2)
    return (
        State("land_state", "Land", group="ground", clip="land", rules=still, place=6),
        State("roll_state", "Roll", group="ground", clip="roll", place=7,
              rules=(Rule("move_speed", 1.6), Rule("safe"), Rule("lock_facing"), LOW)),
        State("hang_state", "Hang", group="ledge", clip="hang", rules=still, place=0),
        State("shimmy_state", "Shimmy", group="ledge", clip="shimmy", place=1),
        State("pull_up_state", "Pull up", group="ledge", clip="pull_up", rules=still, place=2),
        State("climb_state", "Climb", group="ladder", clip="climb", speed_map=pace, place=0),
        State("slide_down_state", "Slide down", group="ladder", clip="slide_down",
              rules=(Rule("move_speed", 2.4),),
              place=1),
        State("afloat_state", "Afloat", group="water", clip="afloat", place=0),
        State("swim_state", "Swim", group="water", clip="swim", place=1),
        State("thrown_state", "Thrown", group="hurt", clip="thrown",
              rules=(Rule("lock_movement"), Rule("lock_facing"),
              Rule("tint", 0.5, ease_out=0.3, colour="#A8323A"), Rule("safe", ease_out=0.4)),
              place=1),
        State("get_up_state", "Get up", group="hurt", clip="get_up", rules=(*still, Rule("safe")),
              place=2),
    )


def _in_order(puppet: Puppet) -> tuple[Transition, ...]:
    """The transitions of Pell in full, those of the world before those that would hide them."""
    when = {
        "ground_struck": "hurt", "strike_struck": "hurt", "air_struck": "hurt",
        "ground_to_rise": "press_jump and footing", "crouch_to_idle": "tap_down and headroom >= 0",
        "crawl_to_crouch": "tap_down",
    }
    targets = {"air_struck": "thrown_state", "ground_struck": "flinch_state",
               "strike_struck": "flinch_state"}
    own = {transition.id: replace(transition, when=when.get(transition.id, transition.when),
                                  target=targets.get(transition.id, transition.target))
           for transition in puppet.transitions}
    first = (own.pop("ground_struck"), own.pop("strike_struck"), own.pop("air_struck"))
    return (*first, *_hurt(), *_ways_in(), *own.values(), *_ledge(), *_ladder(), *_water())


def _hurt() -> tuple[Transition, ...]:
    return (
        *(Transition(f"{group}_hurt", group, "thrown_state", "hurt", overrides=True)
          for group in ("ledge", "ladder", "water")),
        Transition("thrown_to_up", "thrown_state", "get_up_state", "grounded and elapsed > 0.15"),
        Transition("thrown_to_water", "thrown_state", "water", "in_water and elapsed > 0.15"),
        Transition("up_to_ground", "get_up_state", "ground", "", END),
    )


def _ways_in() -> tuple[Transition, ...]:
    return (
        Transition("ground_to_water", "ground", "water", "in_water"),
        Transition("air_to_water", "air", "water", "in_water"),
        Transition("air_to_ledge", "air", "ledge", "at_ledge and not held_down and elapsed > 0.05"),
        Transition("air_to_ladder", "air", "ladder", "held_up and on_ladder"),
        Transition("ground_to_ladder", "ground", "ladder", "held_up and ladder_above"),
        Transition("ground_down_ladder", "ground", "ladder",
                   "held_down and on_ladder and not ladder_above"),
        Transition("ground_to_roll", "ground", "roll_state", "press_roll and grounded"),
        Transition("fall_to_rise", "fall_state", "rise_state", "press_jump and footing"),
        Transition("fall_to_land", "fall_state", "land_state", "grounded and elapsed > 0.45"),
        Transition("land_to_idle", "land_state", "idle_state", "", END),
        Transition("roll_to_crouch", "roll_state", "crouch_state", "headroom < 0", END),
        Transition("roll_to_idle", "roll_state", "idle_state", "", END),
    )


def _ledge() -> tuple[Transition, ...]:
    return (
        Transition("pull_up_to_ground", "pull_up_state", "ground", "grounded", END),
        Transition("pull_up_to_hang", "pull_up_state", "hang_state", "", END),
        Transition("hang_to_pull_up", "hang_state", "pull_up_state",
                   "press_jump or held_up and elapsed > 0.15"),
        Transition("hang_to_shimmy", "hang_state", "shimmy_state",
                   'move_x != 0 and ledge_side == "none"'),
        Transition("shimmy_to_pull_up", "shimmy_state", "pull_up_state", "press_jump"),
        Transition("shimmy_to_hang", "shimmy_state", "hang_state", "move_x == 0"),
        Transition("ledge_to_fall", "ledge", "fall_state", "held_down and elapsed > 0.15"),
        Transition("ledge_lost", "ledge", "fall_state",
                   "not at_ledge and not grounded and elapsed > 0.05"),
    )


def _ladder() -> tuple[Transition, ...]:
    return (
        Transition("ladder_to_rise", "ladder", "rise_state", "press_jump"),
        Transition("ladder_to_ground", "ladder", "ground",
                   "grounded and elapsed > 0.1 and (not ladder_above or held_down or move_x != 0)"),
        Transition("ladder_to_fall", "ladder", "fall_state", "not on_ladder and not grounded"),
        Transition("climb_to_slide", "climb_state", "slide_down_state", "held_down and held_run"),
        Transition("slide_to_climb", "slide_down_state", "climb_state", "not held_down"),
    )


def _water() -> tuple[Transition, ...]:
    return (
        Transition("water_to_ledge", "water", "ledge", "at_ledge and held_up"),
        Transition("water_to_ladder", "water", "ladder", "held_up and on_ladder"),
        Transition("water_to_rise", "water", "rise_state", "press_jump and water_depth < 36"),
        Transition("water_to_light", "water", "light_swing_state", "tap_attack",
                   blend=Blend("crossfade", 0.06)),
        Transition("water_to_ground", "water", "ground", "not in_water and grounded"),
        Transition("water_to_fall", "water", "fall_state", "not in_water"),
        Transition("afloat_to_swim", "afloat_state", "swim_state", "move_x != 0 or move_y != 0"),
        Transition("swim_to_afloat", "swim_state", "afloat_state", "move_x == 0 and move_y == 0"),
    )
