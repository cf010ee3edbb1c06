"""A grown character of 42 states, on Pell's clips: what a weave must stay readable with. For tests,
benches and pictures."""

from __future__ import annotations

from msgspec.structs import replace

from ...core.formats.puppet_file import load_puppet
from ...core.model.events import Deed, Rule
from ...core.model.graph import Blend, Group, Layer, Leave, State, Thread, Transition
from ...core.model.puppet import Puppet
from ...core.model.wiring import Intent, Memo, Sense
from ...core.rules.copying import pasted
from ...core.rules.parcels import parcel_of
from .. import FIRST_STEPS

BANDS: tuple[tuple[str, Thread, str, tuple[tuple[str, str], ...]], ...] = (
    ("Ground", "moss", "", (
        ("Idle", "idle"), ("Walk", "walk"), ("Run", "walk"), ("Turn", "idle"), ("Stop", "idle"),
        ("Crouch", "crouch"),
        ("Crawl", "crouch"), ("Sneak", "walk"))),
    ("Air", "woad", "", (
        ("Rise", "rise"), ("Fall", "fall"), ("Land", "crouch"), ("Long leap", "rise"),
        ("Glide", "guard"),
        ("Wall slide", "fall"))),
    ("Strike", "madder", "", (
        ("Heavy wind", "heavy_slam"), ("Heavy slam", "heavy_slam"), ("Air swing", "light_swing"),
        ("Guard", "guard"),
        ("Parry", "guard"), ("Guard break", "crouch"))),
    ("Combo", "madder", "Strike",
     (("Light 1", "light_swing"), ("Light 2", "light_swing"), ("Light 3", "heavy_slam"))),
    ("Ledge", "plum", "", (
        ("Grab", "rise"), ("Hang", "fall"), ("Shimmy", "fall"), ("Pull up", "crouch"),
        ("Drop", "fall"))),
    ("Ladder", "clay", "", (("Mount", "rise"), ("Climb", "rise"), ("Slide down", "fall"),
                            ("Step off", "walk"))),
    ("Water", "indigo", "", (
        ("Float", "fall"), ("Swim", "walk"), ("Dive", "fall"), ("Surface", "rise"),
        ("Climb out", "crouch"))),
    ("Hurt", "weld", "", (
        ("Flinch", "crouch"), ("Thrown", "fall"), ("Down", "crouch"), ("Get up", "crouch"),
        ("Out", "crouch"))),
)
"""Name, thread, the band around, and the states with their clips."""
WAYS = (
    "Idle>Walk:move_x != 0", "Walk>Idle:move_x == 0", "Walk>Run:speed > 80",
    "Run>Walk:speed < 70", "Run>Stop:move_x == 0",
    "Stop>Idle:done", "Walk>Turn:blocked", "Turn>Walk:done", "Idle>Crouch:held_down",
    "Crouch>Idle:not held_down",
    "Crouch>Crawl:move_x != 0", "Crawl>Crouch:move_x == 0", "Walk>Sneak:held_down and speed < 30",
    "Sneak>Walk:not held_down", "Idle>Turn:blocked", "Ground>Rise:press_jump and grounded",
    "Ground>Fall:not grounded",
    "Ground>Combo:tap_attack", "Ground>Heavy wind:hold_attack", "Ground>Guard:held_guard",
    "Ground>Mount:on_ladder",
    "Rise>Fall:vy < 0", "Rise>Long leap:move_x != 0 and speed > 80", "Long leap>Fall:vy < 0",
    "Fall>Land:grounded",
    "Land>Ground:done", "Fall>Glide:held_guard", "Glide>Fall:not held_guard",
    "Fall>Wall slide:blocked",
    "Wall slide>Fall:not blocked", "Wall slide>Rise:press_jump", "Air>Air swing:tap_attack",
    "Air>Grab:at_ledge",
    "Air>Float:in_water", "Heavy wind>Heavy slam:done", "Heavy slam>Idle:done",
    "Air swing>Fall:done",
    "Air swing>Land:grounded", "Guard>Idle:not held_guard", "Guard>Parry:tap_attack",
    "Parry>Guard:done",
    "Guard>Guard break:hurt", "Guard break>Idle:done", "Strike>Idle:done",
    "Light 1>Light 2:tap_attack@cancel",
    "Light 2>Light 3:tap_attack@cancel", "Light 1>Guard:held_guard@cancel",
    "Light 2>Guard:held_guard@cancel",
    "Light 1>Rise:press_jump and grounded@cancel", "Light 2>Rise:press_jump and grounded@cancel",
    "Light 1>Idle:@end",
    "Light 2>Idle:@end", "Light 3>Idle:@end", "Grab>Hang:done", "Hang>Shimmy:move_x != 0",
    "Shimmy>Hang:move_x == 0",
    "Hang>Pull up:press_jump", "Hang>Drop:held_down", "Pull up>Idle:done", "Drop>Fall:done",
    "Mount>Climb:done",
    "Climb>Slide down:held_down",
    "Slide down>Climb:not held_down", "Climb>Step off:not on_ladder", "Step off>Idle:done",
    "Float>Swim:move_x != 0", "Swim>Float:move_x == 0", "Swim>Dive:held_down",
    "Dive>Surface:not held_down",
    "Surface>Float:done", "Swim>Climb out:blocked and press_jump", "Climb out>Idle:done",
    "Flinch>Idle:done",
    "Flinch>Thrown:not grounded", "Thrown>Down:grounded", "Down>Get up:press_jump",
    "Get up>Idle:done",
    "Strike>Flinch:hurt!", "Ground>Flinch:hurt!", "Air>Thrown:hurt!", "Ledge>Thrown:hurt!",
    "Ladder>Thrown:hurt!",
    "Down>Out:hurt", "Water>Fall:not in_water",
)
""""From>To:condition", with "@cancel" or "@end" as leave rule, "!" for one that overrides."""


def grown_puppet() -> Puppet:
    """The puppet, whole: bands with a combo in one of them, three layers, while-rules, and 84
    transitions."""
    demo = load_puppet(FIRST_STEPS)
    demo = replace(demo, clips=tuple(
        replace(clip, windows=tuple(replace(window, into=()) for window in clip.windows))
        for clip in demo.clips))
    groups, states = [], []
    for name, thread, around, cards in BANDS:
        groups.append(Group(_id(name), name, group=_id(around) if around else None,
                            start=_id(cards[0][0]),
                            thread=thread))
        states += [State(_id(card), card, group=_id(name), clip=clip, place=index)
                   for index, (card, clip) in enumerate(cards)]
    still = (Rule("lock_movement"), Rule("lock_facing"))
    brought = {
        "light_1": replace(_of(states, "light_1"), rules=still,
                           on_enter=(Deed("combo_step", "combo_step + 1"),)),
        "light_2": replace(_of(states, "light_2"),
                           rules=(Rule("move_speed", 0.2, 0.05, 0.1), Rule("lock_facing"))),
        "guard": replace(_of(states, "guard"), rules=(Rule("move_speed", 0.5, 0.1, 0.1),),
                         deaf_to=("strike_idle", "strike_flinch")),
    }
    states = [brought.get(state.id, state) for state in states]
    states += [State("hands_rest", "Rest", layer="arms"),
               State("umbrella_up", "Umbrella", layer="arms", clip="guard"),
               State("unlit", "Unlit", layer="lantern"),
               State("lit", "Lit", layer="lantern", clip="idle")]
    senses = tuple(Sense(name, name) for name in ("on_ladder", "at_ledge", "in_water", "hurt"))
    return replace(
        demo, name="grown lamplighter", groups=tuple(groups), states=tuple(states),
        transitions=(*[_way(text) for text in WAYS],
                     Transition("arm_up", "hands_rest", "umbrella_up", "held_guard"),
                     Transition("arm_down", "umbrella_up", "hands_rest", "not held_guard",
                                blend=Blend("crossfade", 0.1)),
                     Transition("light_it", "unlit", "lit", "lamp"),
                     Transition("put_out", "lit", "unlit", "not lamp")),
        layers=(Layer("body", "body", "idle"),
                Layer("arms", "arms", "hands_rest", shown_when="held_guard", ease_in=0.1,
                                                     ease_out=0.15),
                Layer("lantern", "lantern", "unlit", weight=0.8, under=True, pinned_to="pole_tip")),
        senses=(*demo.senses, *senses),
        memos=(Memo("combo_step", "combo_step", wraps=3, returns=1.0),
                                               Memo("lamp", "lamp", "bool", False)),
        intents=(*demo.intents, Intent("dash", "dash", "right", "sequence", 0.3,
                                       others=("right",))),
    )


def crowd() -> Puppet:
    """The grown character five times over on one layer: 210 states in 40 bands."""
    grown = grown_puppet()
    parcel = parcel_of(grown, [group.id for group in grown.groups if group.group is None]).puppet
    puppet = replace(grown, name="crowd")
    for number in range(4):
        before = len(puppet.groups)
        puppet = pasted(puppet, parcel, "body").puppet
        ground = next(each for each in puppet.groups[before:] if each.name.startswith("Ground"))
        way = Transition(f"to_{ground.id}", "idle", ground.id, f"combo_step == {number + 1}")
        puppet = replace(puppet, transitions=(*puppet.transitions, way))
    return puppet


def _id(name: str) -> str:
    return name.lower().replace(" ", "_")


def _of(states: list[State], id: str) -> State:
    return next(state for state in states if state.id == id)


def _way(text: str) -> Transition:
    ends, _, rest = text.partition(":")
    source, target = (_id(name) for name in ends.split(">"))
    overrides = rest.endswith("!")
    when, _, leave = rest.rstrip("!").partition("@")
    rule = {"cancel": Leave("in a window", window="cancel"), "end": Leave("at the end")}.get(
        leave, Leave())
    return Transition(f"{source}_{target}", source, target, when, rule, overrides=overrides)
