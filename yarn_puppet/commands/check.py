"""`yarn-puppet check`: snags, and the promises of the takes."""

from __future__ import annotations

import argparse
import json
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING

from .bones import bone_snags, read_puppet
from .exit_codes import BAD_INPUT, FOUND_ERRORS, OK
from .outputs import may_write
from .skins import ALL, add_skin, chosen_skins
from .worlds import world_for

if TYPE_CHECKING:
    from ..core.formats.junit_file import Case
    from ..core.model.puppet import Puppet
    from ..core.snags.snag import Snag

JSON_KEYS = {"severity": "severity", "kind": "kind", "id": "id", "where": "where", "why": "why",
             "fix": "fix"}
"""The field of a snag under each key: what is printed for programs keeps its keys."""


def add(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Its arguments."""
    checking = commands.add_parser(
        "check", help="snags, and the promises of the takes; exit 1 when there are errors"
    )
    checking.add_argument("file", type=Path, metavar="FILE", help="a .puppet.json file")
    checking.add_argument("--junit", type=Path, metavar="OUT",
                          help="write what was checked as JUnit XML too")
    checking.add_argument("--quiet", action="store_true",
                          help="print nothing; the exit code says it")
    checking.add_argument("--json", action="store_true",
                          help="print what was found as one JSON object")
    add_skin(checking, f"; {ALL} for the puppet as it is, and in each")
    checking.set_defaults(command=run)


def run(options: argparse.Namespace) -> int:
    """Do it; gives the exit code."""
    from ..core.formats.junit_file import Case, save_junit
    from ..core.formats.take_file import takes_of
    from ..core.skins.dressing import dressed
    from ..core.snags.check import check

    if options.junit is not None:
        may_write(options.junit, "junit", options.file, *takes_of(options.file))
    puppet = read_puppet(options.file)
    say = (lambda text: None) if options.quiet or options.json else print
    snags: list[Snag] = []
    cases: list[Case] = []
    found: list[dict[str, object]] = []
    promises: list[dict[str, object]] = []
    kept = broken = unread = 0
    said: set[Snag] = set()
    for skin, worn in chosen_skins(options.file, options.skin):
        within, called = f"in {skin}: " if skin else "", f" in {skin}" if skin else ""
        of_skin = {"skin": skin} if skin else {}
        now = dressed(puppet, worn)
        # What is so without a skin too is said once.
        fresh = [snag for snag in (*check(now), *bone_snags(now, options.file.parent))
                 if snag not in said]
        said.update(fresh)
        snags += fresh
        for snag in fresh:
            say(f"{within}{snag.severity}: {snag.kind} {snag.where}: {snag.why}. "
                f"Fix: {snag.fix}.")
        found += [{**{key: getattr(snag, field) for key, field in JSON_KEYS.items()}, **of_skin}
                  for snag in fresh]
        cases += [Case(f"snags{called}", f"{snag.kind} {snag.where}",
                       f"{snag.why}. Fix: {snag.fix}.")
                  for snag in fresh if snag.severity == "error"] or [
                      Case(f"snags{called}", "no errors", "")]
        for case, verdict in _promises(options.file, now):
            cases.append(case._replace(suite=f"{case.suite}{called}"))
            kept += verdict is True
            broken += verdict is False
            unread += verdict is None
            promises.append({"take": case.suite, "promise": case.name, "kept": verdict,
                             "why": case.failure, **of_skin})
            if verdict is not True:
                say(f"{within}{'broken' if verdict is False else 'cannot be judged'}: "
                    f"{case.suite}: {case.name}{': ' if case.name else ''}{case.failure}")
    if options.junit is not None:
        save_junit(cases, options.junit)
    errors = sum(snag.severity == "error" for snag in snags)
    warnings = sum(snag.severity == "warning" for snag in snags)
    promised = f", {kept} promise{'s' * (kept != 1)} kept, {broken} broken" if kept + broken else ""
    promised += f", {unread} take{'s' * (unread != 1)} not judged" if unread else ""
    say(f"{errors} error{'s' * (errors != 1)}, {warnings} warning{'s' * (warnings != 1)}{promised}")
    if options.json:
        print(json.dumps({"snags": found, "promises": promises}, ensure_ascii=False, indent=1))
    return BAD_INPUT if unread else FOUND_ERRORS if errors or broken else OK


def _promises(file: Path, puppet: Puppet) -> Iterator[tuple[Case, bool | None]]:
    """Every promise of the takes that are kept with a puppet, and whether it is kept; None for a
    take that cannot be run. They are judged by whom the desk has judge them."""
    from ..core.formats.errors import FileProblem
    from ..core.formats.junit_file import Case
    from ..core.formats.take_file import SUFFIX, load_take, takes_of
    from ..core.takes.again.kept import KeptRuns
    from ..core.takes.bones_read import poses_in
    from ..core.takes.promising.promises import promise_words

    for path in takes_of(file):
        name = path.name.removesuffix(SUFFIX).replace("_", " ")
        try:
            take = load_take(path)
            if not take.promises:
                continue
            load_take(path, puppet)
            world = world_for(take.booth, path.parent, file.parent)
        except FileProblem as problem:
            yield Case(name, "it can be run", str(problem), error=True), None
            continue
        worlds = {take.booth: world} if take.booth is not None and world is not None else {}
        kept = KeptRuns(lambda now: poses_in(now, file.parent))
        for outcome in kept.run(puppet, {name: take}, worlds):
            if outcome is None:
                continue
            if outcome.problem:
                yield Case(name, "it can be run", outcome.problem, error=True), None
            for promise, verdict in zip(take.promises, outcome.verdicts, strict=False):
                at = f"at {verdict.tick}: " if verdict.tick is not None else ""
                failure = "" if verdict.kept else f"{at}{verdict.words}"
                yield Case(name, promise_words(promise, puppet), failure), verdict.kept
