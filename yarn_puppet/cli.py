"""The command line. Each command imports what it needs, so that none waits for another's packages."""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from .core.formats.errors import FileProblem
from .demo import DEMO_FOLDER, DEMO_PUPPET

if TYPE_CHECKING:
    from .core.model.puppet import Puppet
    from .core.model.world import World

OK, FOUND_ERRORS, BAD_INPUT = 0, 1, 2
"""Exit codes: all well; the check found errors; a file or an argument cannot be used."""


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit code."""
    options = _parser().parse_args(arguments)
    command: Callable[[argparse.Namespace], int] = options.command
    try:
        return command(options)
    except FileProblem as problem:
        print(f"yarn-puppet: {problem}", file=sys.stderr)
        return BAD_INPUT
    except BrokenPipeError:
        # The reader of our standard output has seen enough; keep Python from complaining as it shuts down.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return OK


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="yarn-puppet", description="Wires character animation state graphs to gameplay."
    )
    parser.set_defaults(command=_open, file=DEMO_PUPPET)
    commands = parser.add_subparsers(title="commands", metavar="COMMAND")

    opening = commands.add_parser("open", help="open the desk on a puppet")
    opening.add_argument("file", type=Path, metavar="FILE")
    opening.set_defaults(command=_open)

    playing = commands.add_parser("play", help="run a take without a window and write its trace")
    playing.add_argument("file", type=Path, metavar="FILE")
    playing.add_argument("--take", type=Path, required=True, metavar="TAKE")
    playing.add_argument("--trace", default="-", metavar="OUT",
                         help="a .jsonl, .csv or .vcd file; - is standard output as JSON lines (the default)")
    playing.set_defaults(command=_play)

    checking = commands.add_parser("check", help="snags, and the promises of the takes; exit 1 when there are errors")
    checking.add_argument("file", type=Path, metavar="FILE")
    checking.add_argument("--junit", type=Path, metavar="OUT", help="write what was checked as JUnit XML too")
    checking.set_defaults(command=_check)

    comparing = commands.add_parser(
        "compare", help="what differs in behaviour between two puppets, or since a revision; exit 1 if anything does")
    comparing.add_argument("files", type=Path, nargs="+", metavar="FILE", help="OLD NEW, or with --git one FILE")
    comparing.add_argument("--take", type=Path, action="append", default=[], metavar="TAKE",
                           help="a take to run with both; again for more. With --git all beside FILE, unless given")
    comparing.add_argument("--git", metavar="REV", help="compare FILE with itself in a revision of its git repository")
    comparing.set_defaults(command=_compare)

    handing = commands.add_parser("hand-off", help="write what a game gets: code, and a manifest of it")
    handing.add_argument("file", type=Path, metavar="FILE")
    handing.add_argument("--to", default="c,javascript,python", metavar="LANGUAGES",
                         help="of c, javascript, python and scxml, parted by commas; the first three where not given")
    handing.add_argument("--out", type=Path, required=True, metavar="DIR")
    handing.add_argument("--name", metavar="NAME", help="what the code is called; the puppet's name where not given")
    handing.add_argument("--art", action="store_true",
                         help="the frames as one packed sheet, and the sounds and pictures that are named")
    handing.add_argument("--tests", action="store_true",
                         help="golden traces of the takes beside FILE, and what runs them in each language")
    handing.add_argument("--wire", action="store_true", help="what speaks to the live wire in each language")
    handing.set_defaults(command=_hand_off)

    charting = commands.add_parser("read-chart", help="the skeleton of a puppet from a state chart: SCXML")
    charting.add_argument("file", type=Path, metavar="FILE")
    charting.add_argument("--out", type=Path, required=True, metavar="NAME", help="a .puppet.json file")
    charting.set_defaults(command=_read_chart)

    picturing = commands.add_parser("picture", help="save the graph as a picture: SVG or PNG")
    picturing.add_argument("file", type=Path, metavar="FILE")
    picturing.add_argument("--out", type=Path, required=True, metavar="NAME", help="a .svg or .png file")
    picturing.set_defaults(command=_picture)

    gaming = commands.add_parser("game", help="a stand-in game: the puppet on a rooftop, in a window of its own")
    gaming.add_argument("file", type=Path, nargs="?", default=DEMO_PUPPET, metavar="FILE",
                        help="a puppet; the demo's where none is given")
    gaming.add_argument("--mode", choices=("alone", "follow", "drive"), default="follow",
                        help="its own code alone; its own code, compared by the desk; or driven by the desk")
    gaming.add_argument("--wire", default="127.0.0.1:47800", metavar="ADDRESS", help="where the desk listens")
    gaming.add_argument("--name", default="stand-in", metavar="NAME", help="what the desk calls it")
    gaming.set_defaults(command=_game)

    schema = commands.add_parser("schema", help="print the JSON Schema of the puppet file, or of the live wire")
    schema.add_argument("--of", choices=("puppet", "wire"), default="puppet")
    schema.set_defaults(command=_schema)

    tour = commands.add_parser("tour", help="drive the real window without a monitor and save its main views")
    tour.add_argument("--out", type=Path, required=True, metavar="DIR")
    tour.set_defaults(command=_tour)
    return parser


def _open(options: argparse.Namespace) -> int:
    if not _has_display():
        print(
            "yarn-puppet: there is no display; `yarn-puppet tour --out DIR` draws the desk without one",
            file=sys.stderr,
        )
        return BAD_INPUT
    from .desk.shell.application import run_desk

    return run_desk(options.file)


def _has_display() -> bool:
    windowless = os.environ.get("QT_QPA_PLATFORM", "").startswith(("offscreen", "minimal", "vnc", "linuxfb", "eglfs"))
    return bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")) or windowless


def _play(options: argparse.Namespace) -> int:
    from .core.formats.puppet_file import load_puppet
    from .core.formats.take_file import load_take
    from .core.formats.trace_file import TRACES, save_trace, write_json_lines
    from .core.takes.run import replay, set_up
    from .core.takes.trace import trace_lines

    out = str(options.trace)
    if out != "-" and Path(out).suffix not in TRACES:
        raise FileProblem(out, "", f"expected a name that ends in {', '.join(TRACES)}, or - for standard output")
    puppet = load_puppet(options.file)
    take = load_take(options.take, puppet)
    world = world_for(take.booth, options.take.parent, options.file.parent)
    lines = trace_lines(replay(set_up(puppet, world), take))
    if out == "-":
        write_json_lines(lines, sys.stdout)
    else:
        save_trace(lines, puppet.rate, Path(out))
    return OK


def _hand_off(options: argparse.Namespace) -> int:
    from .core.formats.puppet_file import load_puppet
    from .core.formats.take_file import SUFFIX, load_take, takes_of
    from .core.handoff.files import LANGUAGES, hand_off, write_changed
    from .core.takes.run import set_up

    languages = [each.strip() for each in options.to.split(",") if each.strip()]
    unknown = [each for each in languages if each not in LANGUAGES]
    if unknown or not languages:
        found = ", ".join(unknown) or "none"
        raise FileProblem("hand-off", "--to", f"expected {' or '.join(LANGUAGES)}, found {found}")
    puppet = load_puppet(options.file)
    takes = []
    for path in takes_of(options.file) if options.tests else ():
        take = load_take(path, puppet)
        setup = set_up(puppet, world_for(take.booth, path.parent, options.file.parent))
        takes.append((path.name.removesuffix(SUFFIX).replace("_", " "), setup, take))
    made = hand_off(puppet, languages, options.name, takes, options.file.parent if options.art else None,
                    options.wire)
    for each in write_changed(options.out, made.files):
        print(f"{'changed' if each.changed else 'same':8}{each.size:>9}  {each.name}")
    for mended in made.mended:
        print(f"the {mended.kind} {mended.name} is called {mended.instead}")
    for unsaid in made.unsaid:
        print(f"not in the chart: {unsaid}")
    return OK


def _read_chart(options: argparse.Namespace) -> int:
    from .core.formats.puppet_file import save_puppet
    from .core.handoff.scxml.reading import read_chart

    if options.out.exists():
        raise FileProblem(options.out, "", "is there already, and stays as it is")
    made = read_chart(options.file)
    save_puppet(made.puppet, options.out)
    print(f"{len(made.puppet.states)} states, {len(made.puppet.groups)} groups, {len(made.puppet.layers)} layers and "
          f"{len(made.puppet.transitions)} transitions")
    for each in made.unread:
        print(f"not read: {each}")
    return OK


def _picture(options: argparse.Namespace) -> int:
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from .desk.shell.application import make_application

    application = make_application()
    from .desk.weave.whole import save_graph

    save_graph(options.file, options.out)
    application.processEvents()
    return OK


def _compare(options: argparse.Namespace) -> int:
    from .core.formats.puppet_file import load_puppet, puppet_from
    from .core.formats.revisions import file_at
    from .core.formats.take_file import SUFFIX, load_take, takes_of
    from .core.takes.comparing import difference
    from .core.takes.run import replay, set_up

    wanted = 1 if options.git is not None else 2
    if len(options.files) != wanted:
        raise FileProblem("compare", "FILE", "expected one file with --git REV" if wanted == 1
                          else "expected two files, OLD and NEW, or one with --git REV")
    file = options.files[-1]
    new = load_puppet(file)
    old = load_puppet(options.files[0]) if options.git is None else puppet_from(
        file_at(file, options.git), f"{file} in {options.git}")
    takes = options.take or (takes_of(file) if options.git is not None else [])
    if not takes:
        raise FileProblem("compare", "--take", "expected at least one take to run with both")
    differing = 0
    for path in takes:
        take = load_take(path)
        for puppet, name in ((old, options.git or options.files[0]), (new, file)):
            if puppet.rate != take.rate:
                raise FileProblem(path, "rate", f"expected the {puppet.rate} of {name}, found {take.rate}")
        world = world_for(take.booth, path.parent, file.parent)
        found = difference(*(list(replay(set_up(puppet, world), take)) for puppet in (old, new)))
        title = path.name.removesuffix(SUFFIX).replace("_", " ")
        if found is None:
            print(f"{title}: the same in {take.ticks} ticks")
        else:
            differing += 1
            print(f"{title}:")
            for words in found.words:
                print(f"  {words}")
    print(f"{differing} of {len(takes)} takes differ")
    return FOUND_ERRORS if differing else OK


def world_for(booth: str | None, *folders: Path) -> World | None:
    """The world of a take's booth: beside the take, beside the puppet, or one that ships; None for no booth."""
    from .core.formats.booth_file import find_booth

    return None if booth is None else find_booth(booth, (*folders, DEMO_FOLDER))


def _check(options: argparse.Namespace) -> int:
    from .core.formats.junit_file import Case, save_junit
    from .core.formats.puppet_file import load_puppet
    from .core.snags.check import check

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
    from .core.formats.take_file import SUFFIX, load_take, takes_of
    from .core.takes.promising.promises import judged, promise_words
    from .core.takes.run import replay, set_up

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


def _game(options: argparse.Namespace) -> int:
    if not _has_display():
        print("yarn-puppet: there is no display to show a game on", file=sys.stderr)
        return BAD_INPUT
    from .game.run import run_game

    return run_game(options.file, options.mode, options.wire, options.name)


def _schema(options: argparse.Namespace) -> int:
    if options.of == "wire":
        from .core.wire.openrpc import document_bytes

        print(document_bytes().decode(), end="")
        return OK
    from .core.formats.puppet_file import puppet_schema

    print(puppet_schema().decode())
    return OK


def _tour(options: argparse.Namespace) -> int:
    from .desk.tour.tour import run_tour
    from .game.run import stand_in

    return run_tour(options.out, stand_in)
