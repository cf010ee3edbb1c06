"""`NAME.take.json`: the recorded controls of one run."""

from __future__ import annotations

from pathlib import Path

from ..model.basics.values import WORDING, is_fit
from ..model.puppet import Puppet
from ..model.take import Take
from .belonging import puppet_named_in
from .errors import FileProblem, read_json
from .replacing import write_safely
from .writing import as_read, laid_out

SUFFIX = ".take.json"
CHANGES = ("controls", "senses", "axes", "landed", "stopped", "places")
"""The fields of a take that list ticks."""


def load_take(path: Path, puppet: Puppet | None = None) -> Take:
    """The take in a file; with a puppet it has to be of its rate, press actions that it has, and
    have its senses of their types. Raises FileProblem."""
    take = read_json(path, Take)
    if puppet is not None:
        _check_for(take, puppet, path)
    if take.first and take.first >= take.ticks:
        raise FileProblem(path, "first", f"expected a tick before {take.ticks}, found {take.first}")
    for place in CHANGES:
        for number, change in enumerate(getattr(take, place)):
            if change[0] >= take.ticks:
                raise FileProblem(path, f"{place}[{number}]",
                                  f"expected a tick before {take.ticks}, found {change[0]}")
    return take


def _check_for(take: Take, puppet: Puppet, path: Path) -> None:
    if take.rate != puppet.rate:
        raise FileProblem(path, "rate", f"expected the puppet's {puppet.rate}, found {take.rate}")
    actions = {action.id for action in puppet.actions}
    for number, (_, id, _) in enumerate(take.controls):
        if id not in actions:
            raise FileProblem(path, f"controls[{number}]",
                              f"expected an action of the puppet, found {id!r:.60}")
    axes = {axis.id for axis in puppet.axes}
    for number, (_, id, _) in enumerate(take.axes):
        if id not in axes:
            raise FileProblem(path, f"axes[{number}]",
                              f"expected an axis of the puppet, found {id!r:.60}")
    senses = {sense.id: sense for sense in puppet.senses}
    for number, (_, id, value) in enumerate(take.senses):
        sense = senses.get(id)
        if sense is not None and value is not None and not is_fit(value, sense.type, sense.choices):
            expected = f"expected {WORDING[sense.type]} for {id}, found {value!r:.40}"
            raise FileProblem(path, f"senses[{number}]", expected)


def take_bytes(take: Take) -> bytes:
    """A take as the text of its file: every field is written, each change on its line."""
    # As one that was read is written: numbers are of their types.
    take = as_read(take)
    fields: dict[str, object] = {
        "format": take.format, "booth": take.booth, "rate": take.rate, "ticks": take.ticks,
        "controls": take.controls, "senses": take.senses,
    }
    fields |= {name: value for name in (*CHANGES[2:], "first", "promises", "puppet")
               if (value := getattr(take, name))}
    if take.seed != 1:
        fields["seed"] = take.seed
    return laid_out(fields, frozenset((*CHANGES, "promises")))


def takes_of(puppet_file: Path) -> list[Path]:
    """The files of the takes that are kept with a puppet: those beside it that are for it, or for
    any."""
    return [path for path in sorted(puppet_file.absolute().parent.glob(f"*{SUFFIX}"))
            if puppet_named_in(path) in (None, "", puppet_file.name)]


def save_take(take: Take, path: Path) -> None:
    """Write a take's file safely. Raises FileProblem."""
    write_safely(path, take_bytes(take))
