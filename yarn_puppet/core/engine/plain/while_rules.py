"""While-rules: which are in force, how far each counts, and what they come to. Step 6 of
docs/semantics.md."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any, NamedTuple

from ...model.kinds.while_rules import AT_REST, FACTORS, REPORTED, WHILE_RULES
from ...rules.numbers import real
from ..program import Program
from ..program_clips import FULL, ProgramRule
from ..state import InForce, LayerState, RuleShare
from .play import clip_of

MOST_GOING = 32
"""While-rules that go out at a time."""
HALF = FULL // 2
"""The share from which a rule that is on or off is on."""

Bringing = tuple[int, bool, str, ProgramRule]
"""A rule in force: its layer's place, whether a window brings it, its owner's id, and the rule."""


def holds_for(program: Program, rule: ProgramRule, layer: int, on: Sequence[int]) -> bool:
    """Whether the condition of a rule holds for a layer, or it has none; `on` are
    `MachineState.rules_on`."""
    return rule.when is None or bool(
        on and on[layer] >> program.rule_conditions[rule.when] & 1)


def rules_of_nodes(
    program: Program, layers: Sequence[LayerState], on: Sequence[int]
) -> list[Bringing]:
    """The rules in force of the states that layers are in, and of the groups around them, inside
    out."""
    found: list[Bringing] = []
    for index, layer in enumerate(layers):
        if layer.state >= 0:
            state = program.states[layer.state]
            found += [(index, False, state.id, rule) for rule in state.rules]
            for group in state.groups:
                owner = program.groups[group]
                found += [(index, False, owner.id, rule) for rule in owner.rules]
    if not program.rule_conditions:
        return found
    return [each for each in found if holds_for(program, each[3], each[0], on)]


def rules_of_windows(
    program: Program, layers: Iterable[tuple[int, LayerState]], on: Sequence[int]
) -> list[Bringing]:
    """The rules of the open windows of layers, given with their places; each once."""
    found: dict[tuple[int, str, int], Bringing] = {}
    for place, layer in layers:
        clip = (
            clip_of(program.states[layer.state], layer) if layer.state >= 0 and layer.open else None
        )
        if clip is None:
            continue
        for number, window in enumerate(clip.windows):
            if layer.open >> number & 1:
                for rule in window.rules:
                    if holds_for(program, rule, place, on):
                        found.setdefault((place, window.id, rule.number),
                                         (place, True, window.id, rule))
    return list(found.values())


def key_of(each: RuleShare | Bringing) -> tuple[int, bool, str, int]:
    """What a rule is known by."""
    return each[0], each[1], each[2], each[3].number


def eased(
    before: tuple[RuleShare, ...], bringing: Sequence[Bringing], of_windows: bool
) -> tuple[RuleShare, ...]:
    """The shares after a tick of the rules of nodes, or of windows, where these are in force; the
    others as they were."""
    if not before and not any([each[3].eased for each in bringing]):
        return before
    had = {key_of(each): each for each in before}
    keys = {key_of(each) for each in bringing}
    now = [
        RuleShare(*each, min(FULL,
                             (had[key].share if (key := key_of(each)) in had else 0) + each[
                                 3].rise), False)
        for each in bringing if each[3].eased
    ]
    others = [each for each in before if each.of_window != of_windows and not each.out]
    going = [each for each in before if each.out]
    going += [each for each in before if each.of_window == of_windows and not each.out]
    left = []
    for each in going:
        if key_of(each) in keys:
            continue
        if each.of_window == of_windows:
            each = each._replace(share=each.share - each.rule.fall, out=True)
        if each.share > 0:
            left.append(each)
    return (*others, *now, *left) if of_windows else (*now, *others, *left)


def few_going(shares: tuple[RuleShare, ...]) -> tuple[RuleShare, ...]:
    """Without those that went out first, where there are too many."""
    going = [share for share in shares if share.out]
    if len(going) <= MOST_GOING:
        return shares
    return (*[share for share in shares if not share.out], *going[-MOST_GOING:])


def counting(
    bringing: Sequence[Bringing], shares: tuple[RuleShare, ...]
) -> list[tuple[Bringing, int, bool]]:
    """The rules that count, in order, each with its share and whether it goes out."""
    had = {key_of(share): share.share for share in shares}
    found = (
        [(each, had.get(key_of(each), 0) if each[3].eased else FULL, False) for each in bringing]
        if shares or any([each[3].eased for each in bringing])
        else [(each, FULL, False) for each in bringing]
    )
    # One that goes out and has come back counts once.
    keys = {key_of(each) for each in bringing}
    return found + [((*share[:3], share.rule), share.share, True) for share in shares
                    if share.out and key_of(share) not in keys]


def factor(rule: ProgramRule, share: int) -> float:
    """What a rule of a number counts as."""
    return real(1.0 + (rule.value - 1.0) * (share / FULL))


def playback(
    program: Program, number: int, layers: Sequence[LayerState], shares: tuple[RuleShare, ...],
    on: Sequence[int],
) -> list[float]:
    """What the speed of a layer's clip is multiplied by: by its nodes as they are, by windows as
    they were."""
    layer = layers[number]
    nodes = [node for node in rules_of_nodes(program, layers, on) if node[0] == number]
    windows = {key_of(window): window
               for window in rules_of_windows(program, [(number, layer)], on)}
    for each in shares:
        # One whose condition holds no more goes out from now on, if it eases: it counts still.
        if each.layer == number and each.of_window and not each.out and (
            each.rule.fall < FULL or holds_for(program, each.rule, number, on)
        ):
            windows.setdefault(key_of(each), (*each[:3], each.rule))
    own = tuple([each for each in shares if each.layer == number])
    return [
        factor(each[3], share) for each, share, _ in counting([*nodes, *windows.values()], own)
        if WHILE_RULES[each[3].kind].changes == "clips"
    ]


class Together(NamedTuple):
    """What the while-rules come to: `sums` in the order of `REPORTED`."""

    rules: tuple[InForce, ...]
    sums: tuple[float | bool, ...]


LOCK_FACING_AT, SAFE_AT = REPORTED.index("lock_facing"), REPORTED.index("safe")


def together(found: Sequence[tuple[Bringing, int, bool]], safe_window: bool) -> Together:
    """The factors multiplied, and what is on while any rule for it counts enough."""
    sums = list(AT_REST)
    for (_, _, _, rule), share, _ in found:
        at = SUM_PLACES.get(rule.kind)
        if at is not None and at < len(FACTORS):
            sums[at] = real(sums[at] * factor(rule, share))
        elif at is not None and share >= HALF:
            sums[at] = True
    sums[SAFE_AT] = bool(sums[SAFE_AT]) or safe_window
    return Together(
        tuple([InForce(each[2], each[3], each[0], share / FULL, out)
               for each, share, out in found]), tuple(sums))


SUM_PLACES = {kind: index for index, kind in enumerate(REPORTED)}


def by_strength(found: Sequence[tuple[Bringing, int, bool]]) -> list[tuple[ProgramRule, int]]:
    """The rules that count with their shares, the strongest first: where several want one thing,
    the first has it."""
    ordered = sorted(enumerate(found),
                     key=lambda one: weakness(one[0], one[1][0][0], one[1][0][1], one[1][2]))
    return [(each[3], share) for _, (each, share, _) in ordered]


def weakness(number: int, layer: int, of_window: bool, out: bool) -> tuple[int, int, int]:
    """What the rules that count are sorted by, the strongest first: upper layers before lower; of
    one layer windows, then the state, then the groups inside out, then what goes out, the latest
    ended first. `number` is its place among all that count, `of_window` whether an open window
    brings it."""
    return -layer, 2 if out else 0 if of_window else 1, -number if out else number


def held_memos(found: Sequence[tuple[Bringing, int, bool]]) -> tuple[tuple[int, Any], ...]:
    """What memos are held at, by place."""
    held: dict[int, Any] = {}
    for rule, share in by_strength(found):
        if WHILE_RULES[rule.kind].changes == "memos" and share >= HALF:
            held.setdefault(rule.place, rule.to)
    return tuple(sorted(held.items(), key=lambda each: each[0]))


def layer_weight(
    program: Program, number: int, shown: int, found: Sequence[tuple[Bringing, int, bool]]
) -> float:
    """How much of a layer is shown, 0 to 1."""
    weight = program.layers[number].weight * (shown / FULL)
    for (_, _, _, rule), share, _ in found:
        if WHILE_RULES[rule.kind].changes == "layers" and rule.place == number:
            weight = real(weight * factor(rule, share))
    return min(1.0, max(0.0, weight))
