"""What stands in a puppet and can never do anything: ways that are never taken, clips that are
never picked, maps of no width, sounds without a file."""

from __future__ import annotations

import ast
from collections.abc import Iterator, Sequence
from itertools import pairwise

from ..engine.program import Program
from ..model.events import Rule
from ..model.puppet import Puppet
from .references import Named
from .snag import Snag


def without_effect(puppet: Puppet, program: Program) -> list[Snag]:
    """All that can be seen without running it."""
    return [*_ways(puppet), *_states(puppet), *_spreads(puppet), *_sounds(puppet),
            *_groups(puppet), *_rules(puppet), *_props(puppet), *_bounds(puppet)]


def _ways(puppet: Puppet) -> Iterator[Snag]:
    named, still = Named(puppet), {state.id for state in puppet.states
                                   if state.speed == 0 and state.speed_map is None}
    states = {state.id for state in puppet.states}
    for each in puppet.transitions:
        where = named.of("transition", each.id)
        if each.source == each.target and each.source in states and not each.reenters:
            yield Snag("warning", "transition", each.id, where,
                       "it leads to the state that it leaves, and does not enter it again",
                       "let it enter the state again, or remove it")
        if each.source in still and each.leave.kind == "at the end":
            yield Snag("warning", "transition", each.id, where,
                       "it waits for the end of a clip that plays at speed 0",
                       "give the state a speed, or let it leave at any time")


def _states(puppet: Puppet) -> Iterator[Snag]:
    for state in puppet.states:
        mapped = state.speed_map
        if mapped is not None and mapped.low == mapped.high:
            yield Snag("warning", "state", state.id, state.name,
                       f"its speed is read from {mapped.low:g} to {mapped.high:g}: no width",
                       "give the range two ends")


def _spreads(puppet: Puppet) -> Iterator[Snag]:
    clips = {clip.id: clip.name for clip in puppet.clips}
    for spread in puppet.spreads:
        if not spread.clips:
            yield Snag("warning", "spread", spread.id, spread.name, "it has no clip",
                       "place a clip in it")
        seen: dict[tuple[float, ...], str] = {}
        for placed in spread.clips if spread.along else ():
            first = seen.setdefault(placed.place, placed.clip)
            if first != placed.clip:
                yield Snag("warning", "spread", spread.id, spread.name,
                           f"{clips.get(placed.clip, placed.clip)} stands where "
                           f"{clips.get(first, first)} does, which is picked before it",
                           "give each clip a place of its own")


BOUNDS = {"height": (0.2, 1.0), "playback": (0.0, 100.0)}
"""Within which while-rules of a kind are held."""


def _groups(puppet: Puppet) -> Iterator[Snag]:
    above = {group.id: group.group for group in puppet.groups}
    for group in puppet.groups:
        at, seen = group.group, {group.id}
        while at is not None and at in above and at not in seen:
            seen.add(at)
            at = above[at]
        if at == group.id:
            yield Snag("error", "group", group.id, group.name, "it is inside itself",
                       "take it out of the group that it is in")


def _owners(puppet: Puppet) -> Iterator[tuple[str, str, str, Sequence[Rule]]]:
    for kind, owners in (("state", puppet.states), ("group", puppet.groups)):
        for owner in owners:
            yield kind, owner.id, owner.name, owner.rules
    for clip in puppet.clips:
        for window in clip.windows:
            yield "clip", clip.id, f"{clip.name}, {window.name}", window.rules


def _rules(puppet: Puppet) -> Iterator[Snag]:
    for kind, id, name, rules in _owners(puppet):
        for rule in rules:
            low, high = BOUNDS.get(rule.kind, (rule.value, rule.value))
            if not low <= rule.value <= high:
                yield Snag("warning", kind, id, name,
                           f"its {rule.kind} {rule.value:g} is held within {low:g} and {high:g}",
                           f"set it within {low:g} and {high:g}")


def _props(puppet: Puppet) -> Iterator[Snag]:
    """Of each state its own rules and those of the groups around it."""
    groups = {group.id: group for group in puppet.groups}
    anchors = {anchor.id: anchor.name for anchor in puppet.anchors}
    for state in puppet.states:
        rules, at, seen = [*state.rules], state.group, set[str]()
        while at in groups and at not in seen:
            rules += groups[at].rules
            seen.add(at)
            at = groups[at].group
        held: dict[tuple[str, str | None], str] = {}
        for rule in rules:
            if rule.kind != "prop" or rule.when or not (rule.shows or rule.clip):
                continue
            first = held.setdefault((rule.shows, rule.clip), rule.anchor or "")
            if first != (rule.anchor or ""):
                yield Snag("warning", "state", state.id, state.name,
                           f"{rule.shows or rule.clip} is shown at {anchors.get(first, first)} and "
                           f"at {anchors.get(rule.anchor or '', rule.anchor)} at once",
                           "let one of them give way, or give each a condition")


def _bounds(puppet: Puppet) -> Iterator[Snag]:
    """Numbers that a sense is compared with and, as it says of itself, never has."""
    senses = {sense.id: sense for sense in puppet.senses
              if sense.type in ("int", "float") and sense.low < sense.high}
    named = Named(puppet)
    conditions = [("transition", each.id, named.of("transition", each.id), each.when)
                  for each in puppet.transitions if each.when]
    conditions += [(kind, id, name, rule.when) for kind, id, name, rules in _owners(puppet)
                   for rule in rules if rule.when]
    for kind, id, name, when in conditions:
        for sense_id, number in dict.fromkeys(_compared(when)):
            sense = senses.get(sense_id)
            if sense is not None and not sense.low <= number <= sense.high:
                yield Snag("note", kind, id, name,
                           f"{sense.name} is from {sense.low:g} to {sense.high:g}, and compared "
                           f"with {number:g}", "compare it with what it can be, or give the sense "
                           "other bounds")


def _compared(condition: str) -> Iterator[tuple[str, float]]:
    """The names that a condition compares with a number, each with it."""
    try:
        tree = ast.parse(condition.strip(), mode="eval")
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return
    for each in ast.walk(tree):
        if isinstance(each, ast.Compare):
            for one, other in pairwise((each.left, *each.comparators)):
                for name, number in ((one, other), (other, one)):
                    sign = -1 if isinstance(number, ast.UnaryOp) else 1
                    value = number.operand if isinstance(number, ast.UnaryOp) else number
                    if isinstance(name, ast.Name) and isinstance(value, ast.Constant) and (
                            isinstance(value.value, int | float)):
                        yield name.id, sign * float(value.value)


def _sounds(puppet: Puppet) -> Iterator[Snag]:
    for clip in puppet.clips:
        for moment in clip.moments:
            if moment.kind == "sound" and not moment.file:
                yield Snag("note", "clip", clip.id, f"{clip.name}, {moment.name}",
                           "its sound has no file, and nothing is heard at the desk",
                           "choose a sound")
