"""`yarn-puppet check`: snags, and the promises of the takes."""

from __future__ import annotations

import argparse
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING

from .exit_codes import FOUND_ERRORS, OK
from .worlds import world_for

if TYPE_CHECKING:
    from ..core.model.puppet import Puppet


def add(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Its arguments."""
    checking = commands.add_parser("check", help="snags, and the promises of the takes; exit 1 when there are errors")
    checking.add_argument("file", type=Path, metavar="FILE")
    checking.add_argument("--junit", type=Path, metavar="OUT", help="write what was checked as JUnit XML too")
    checking.set_defaults(command=run)


def run(options: argparse.Namespace) -> int:
    """Do it; gives the exit code."""
    from ..core.formats.junit_file import Case, save_junit
    from ..core.formats.puppet_file import load_puppet
    from ..core.snags.check import check

    puppet = load_puppet(options.file)
    snags = check(puppet)
    for snag in snags:
        print(f"{snag.severity}: {snag.kind} {snag.where}: {snag.why}. Mend: {snag.mend}.")
    cases = [Case("snags", f"{snag.kind} {snag.where}", f"{snag.why}. Mend: {snag.mend}.")
             for snag in snags if snag.severity == "error"] or [Case("snags", "no errors", "")]
    kept = 0
    for take, promise, failure in _promises(options.file, puppet):
        cases.append(Case(take, promise, failure))
        kept += not failure
        if failure:
            print(f"broken: {take}: {promise}: {failure}")
    if options.junit is not None:
        save_junit(cases, options.junit)
    errors = sum(snag.severity == "error" for snag in snags)
    warnings, broken = len(snags) - errors, len(cases) - kept - max(1, errors)
    promised = f", {kept} promise{'s' * (kept != 1)} kept, {broken} broken" if kept + broken else ""
    print(f"{errors} error{'s' * (errors != 1)}, {warnings} warning{'s' * (warnings != 1)}{promised}")
    return FOUND_ERRORS if errors or broken else OK


def _promises(file: Path, puppet: Puppet) -> Iterator[tuple[str, str, str]]:
    """Every promise of the takes that are kept with a puppet: the take, the promise, and why it is broken."""
    from ..core.formats.take_file import SUFFIX, load_take, takes_of
    from ..core.takes.promising.promises import judged, promise_words
    from ..core.takes.run import replay, set_up

    for path in takes_of(file):
        take = load_take(path)
        if not take.promises:
            continue
        take = load_take(path, puppet)
        records = list(replay(set_up(puppet, world_for(take.booth, path.parent, file.parent)), take))
        name = path.name.removesuffix(SUFFIX).replace("_", " ")
        for promise in take.promises:
            verdict = judged(promise, records)
            at = f"at {verdict.tick}: " if verdict.tick is not None else ""
            yield name, promise_words(promise, puppet), "" if verdict.kept else f"{at}{verdict.words}"
