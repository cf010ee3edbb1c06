"""What hands hold: actions that are down, sticks that are pushed, senses forced, and gestures made
for them."""

from __future__ import annotations

from ....core.model.basics.base import Scalar
from ....core.model.kinds.gestures import GESTURES
from ....core.model.wiring import Intent
from ....core.takes.controls import NO_CONTROLS, Controls


class Holding:
    """Becomes the controls of a tick when one is run. `forced` are senses held at a value by
    hand."""

    def __init__(self) -> None:
        self.forced: dict[str, Scalar] = {}
        self._down: set[str] = set()
        self._pushed: dict[str, int] = {}
        self._tapped: set[str] = set()
        self._last: frozenset[str] = frozenset()
        """What was down in the last tick."""
        self._let_go: set[str] = set()
        self._again: set[str] = set()
        """What was let go of since, and of that what was pressed again."""
        self._script: list[tuple[int, int, str]] = []
        """First tick, the tick after the last, and the action, of gestures that are being made."""
        self._made = NO_CONTROLS
        """The controls of the last tick."""

    def press(self, action: str) -> None:
        """An action goes down. However short, it is down for a whole tick."""
        self._down.add(action)
        self._tapped.add(action)
        if action in self._let_go:
            self._again.add(action)

    def release(self, action: str) -> None:
        """An action goes up."""
        self._down.discard(action)
        if action in self._last:
            self._let_go.add(action)

    def push(self, axis: str, steps: int) -> None:
        """A stick is pushed so far, in whole steps of a hundredth; zero lets it go."""
        self._pushed[axis] = steps

    def let_go(self) -> None:
        """Nothing is down any more."""
        self._down.clear()
        self._pushed.clear()

    def start_again(self) -> None:
        """Another run: no gesture goes on."""
        self._script.clear()
        self._tapped.clear()
        self._last = frozenset()

    def force(self, sense: str, value: Scalar | None) -> None:
        """Hold a sense at a value; None lets it go."""
        if value is None:
            self.forced.pop(sense, None)
        else:
            self.forced[sense] = value

    def make(self, intent: Intent, tick: int, rate: int) -> int:
        """Make an intent's gesture, as a hand would, from a tick on; gives how many ticks it
        takes."""
        kind, actions = GESTURES[intent.gesture], (*intent.others, intent.action)
        if kind.others == "some":
            shape = [(2 * number, 2 * number + 1, each) for number, each in enumerate(actions)]
        else:
            long = int(intent.seconds * rate) + 2
            lasts = (rate if kind.is_level
                     else 2 * long if kind.repeats else long if kind.must_last else 2)
            shape = [(3 * press, 3 * press + lasts, each)
                     for press in range(kind.quickest.count(True)) for each in actions]
        self._script += [(tick + first, tick + last, action) for first, last, action in shape]
        return max(last for _, last, _ in shape)

    def controls(self, tick: int) -> Controls:
        """The controls of a tick that is run now."""
        scripted = {action for first, last, action in self._script if first <= tick < last}
        self._script = [each for each in self._script if each[1] > tick]
        down = frozenset(self._down | self._tapped | scripted)
        self._tapped.clear()
        # Let go of and pressed again between two ticks: that is two edges, and what is down does
        # not tell.
        edges = tuple([(action, 2) for action in sorted(self._again & self._last & down)])
        self._last = down
        self._let_go.clear()
        self._again.clear()
        pushed = tuple((id, steps) for id, steps in self._pushed.items() if steps)
        now = Controls(down, tuple(self.forced.items()), pushed, None, edges)
        # Hands rest for most ticks: those share one value, and a long run is small. What is forced
        # may be equal and not the same, as zero and minus zero are.
        if self.forced or now != self._made:
            self._made = now
        return self._made
