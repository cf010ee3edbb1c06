"""Clips and sounds picked at random: steps 5 and 8 of docs/semantics.md.

The dice are thirty-two bits that are never all zero, and go on by three shifts (G. Marsaglia,
"Xorshift RNGs", Journal of Statistical Software 8/14, 2003).
"""

from __future__ import annotations

from collections.abc import Sequence

from ..program import Program
from ..state import NO_HITS, Fired, LayerState

BITS = 0xFFFFFFFF


def seeded(seed: int) -> int:
    """The dice that a seed of 0 to 2³² - 1 begins with."""
    return (seed * 2654435761 + 1013904223) & BITS or 1


def thrown(dice: int) -> int:
    """The dice after a throw: 1 to 2³² - 1."""
    dice ^= dice << 13 & BITS
    dice ^= dice >> 17
    return dice ^ dice << 5 & BITS


def pick(chances: Sequence[int], repeats: bool, dice: int, last: int) -> tuple[int, int]:
    """The place of one of several, picked by their weights, and the dice after that. `last` was
    picked before, -1 for none."""
    weights = list(chances)
    others = any(weight for place, weight in enumerate(weights) if place != last)
    if not repeats and others and 0 <= last < len(weights):
        weights[last] = 0
    whole = sum(weights)
    if not whole:
        return 0, dice
    dice = thrown(dice)
    left = dice % whole
    for place, weight in enumerate(weights):
        if left < weight:
            return place, dice
        left -= weight
    raise AssertionError("a share of the whole is in it")


def clips_picked(
    program: Program, layers: Sequence[LayerState], dice: int, picked: tuple[int, ...]
) -> tuple[list[LayerState], int, tuple[int, ...]]:
    """The layers after those picked a clip that entered such a state, or came to the end of one;
    the dice, and what was picked."""
    found, last = list(layers), list(picked)
    for number, layer in enumerate(layers):
        if layer.state < 0 or not (layer.fresh or layer.ended):
            continue
        state = program.states[layer.state]
        if not state.chances:
            continue
        at = program.picking.index(layer.state)
        place, dice = pick(state.chances, state.repeats, dice, last[at])
        last[at] = place
        if layer.fresh:
            found[number] = layer._replace(variant=place)
            continue
        # The end of a pass counts as one, whether its clip goes round or not.
        over = 0 if state.spread[layer.variant].clip.loops else 1
        found[number] = LayerState(
            layer.state, layer.ticks, 0, layer.cycle + over, True, False, 0, layer.visit, place,
            NO_HITS, 0, layer.blending)
    return found, dice, tuple(last)


def sounds_picked(
    program: Program, moments: Sequence[Fired], dice: int, picked: tuple[int, ...]
) -> tuple[tuple[Fired, ...], int, tuple[int, ...]]:
    """The moments that fired, each with the sound that is heard, how loud and how high; the dice,
    and what was picked."""
    found, last = [], list(picked)
    for fired in moments:
        heard = fired.moment.heard
        if heard is None:
            found.append(fired)
            continue
        sound = 0
        at = program.sounding.get((fired.clip, fired.moment.id), -1)
        if at >= 0:
            sound, dice = pick(heard.chances, heard.repeats, dice, last[at])
            last[at] = sound
        volume, dice = more_or_less(heard.volume, heard.volume_spread, dice)
        pitch, dice = more_or_less(heard.pitch, heard.pitch_spread, dice)
        found.append(fired._replace(sound=sound, volume=max(0, volume) / 1000,
                                    pitch=max(1, pitch) / 1000))
    return tuple(found), dice, tuple(last)


def more_or_less(value: int, spread: int, dice: int) -> tuple[int, int]:
    """A whole number that is off by up to a spread, and the dice after that."""
    if not spread:
        return value, dice
    dice = thrown(dice)
    return value - spread + dice % (2 * spread + 1), dice
