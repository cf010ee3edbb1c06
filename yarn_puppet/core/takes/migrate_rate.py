"""A running puppet's times in the ticks of another rate: every time stays what it is in seconds."""

from __future__ import annotations

from ..booth.booth_state import BoothState
from ..engine.state import ActionState, Blending, LayerState, MachineState


def machine_at_rate(state: MachineState, old: int, new: int) -> MachineState:
    """The machine state of a program of rate `old` as one of the same program at rate `new`; `tick`
    stays.

    A time in units that would lie between two is a little early, so that nothing happens before its
    time; a life that is counted in ticks lasts at least as long as it would have.
    """
    if old == new:
        return state

    def since(tick: int) -> int:
        return tick if tick < 0 else max(0, state.tick - (state.tick - tick) * new // old)

    def life(ticks: int) -> int:
        return ticks if ticks < 0 else -(-ticks * new // old)

    def action(each: ActionState) -> ActionState:
        return each._replace(since=since(each.since), first=since(each.first))

    return state._replace(
        layers=tuple([_layer(layer, old, new) for layer in state.layers]),
        actions=tuple([action(each) for each in state.actions]),
        armed=tuple([life(each) for each in state.armed]),
        memo_lives=tuple([life(each) for each in state.memo_lives]),
        sequences=tuple([tuple([since(tick) for tick in reached]) for reached in state.sequences]),
    )


def _layer(layer: LayerState, old: int, new: int) -> LayerState:
    return layer._replace(
        # A state that played has played a tick at least.
        ticks=max(min(layer.ticks, 1), layer.ticks * new // old), time=layer.time * new // old,
        advance=layer.advance, shown=layer.shown * new // old,
        blending=_blending(layer.blending, old, new),
    )


def _blending(blending: Blending | None, old: int, new: int) -> Blending | None:
    if blending is None:
        return None
    fading = tuple([each._replace(time=each.time * new // old) for each in blending.old])
    return blending._replace(done=blending.done * new // old,
                             units=max(1, blending.units * new // old), old=fading)


def booth_at_rate(state: BoothState, tick: int, old: int, new: int) -> BoothState:
    """The state of a booth, `tick` the number of the tick to come, with what it counts in ticks at
    another rate."""
    if old == new:
        return state

    def since(then: int) -> int:
        return then if then < 0 else max(0, tick - (tick - then) * new // old)

    return state._replace(
        dummies=tuple([dummy._replace(last=since(dummy.last), clock=dummy.clock * new // old)
                       for dummy in state.dummies]),
        effects=tuple([effect._replace(born=since(effect.born)) for effect in state.effects]),
        shots=tuple([shot._replace(born=since(shot.born)) for shot in state.shots]),
        shake=state.shake._replace(since=since(state.shake.since))
        if state.shake is not None else None,
        stop=-(-state.stop * new // old),
    )
