"""The house keeps to its plan: who may import whom, what the engine needs, and that all else is
pinned."""

from __future__ import annotations

import ast
import subprocess
import sys
from collections.abc import Iterable, Iterator
from functools import cache
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

import msgspec

from tests.helpers import Case, demo_puppet

ROOT = Path(__file__).parents[2]
CORE = ROOT / "yarn_puppet" / "core"
MAY_IMPORT = {
    "model": set(),
    "rules": {"model"},
    "engine": {"model", "rules"},
    "skins": {"model", "engine", "art", "patterns", "formats"},
    "generate": {"model", "rules", "engine"},
    "pose": {"model", "rules", "engine"},
    "booth": {"model", "rules", "engine", "pose"},
    "takes": {"model", "rules", "engine", "pose", "booth", "art", "formats"},
    "snags": {"model", "rules", "engine", "pose", "booth", "takes"},
    "languages": {"model", "rules", "engine", "generate", "formats"},
    "handoff": {"model", "rules", "engine", "generate", "languages", "pose", "booth", "takes",
                "snags", "formats", "skins"},
    "wire": {"model", "rules", "engine", "generate", "languages", "pose", "booth", "takes",
             "handoff", "formats", "skins"},
    "art": {"model"},
    "formats": {"model"},
}
DESK = ROOT / "yarn_puppet" / "desk"
FLOORS = (
    ("widgets",), ("pictures", "pads"), ("session",),
    ("trace", "booth", "weave", "snags", "takes", "handoff"), ("wiring", "clips"), ("shell",),
    ("tour",),
)
"""The rooms of the desk from the ground up; nothing points back up, nor across a floor."""
ALONE = """
import json, sys
from types import SimpleNamespace

class Refuse:
    def find_spec(self, name, path=None, target=None):
        if name.split(".")[0] in ("msgspec", "numpy", "PIL", "PyQt6", "platformdirs"):
            raise ImportError(name)

sys.meta_path.insert(0, Refuse())
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.state import Inputs
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.engine.plain.tick import tick
from yarn_puppet.core.engine.fast.tick import fast_tick

puppet = json.load(sys.stdin, object_hook=lambda fields: SimpleNamespace(**fields))
states = {state.id: state for state in puppet.states}
puppet.nodes = (*puppet.groups, *puppet.states)
puppet.clip = lambda id: next((each for each in puppet.clips if each.id == id), None)
puppet.state = states.get
puppet.group = {group.id: group for group in puppet.groups}.get
puppet.node = lambda id: puppet.state(id) or puppet.group(id)
puppet.groups_around = lambda node: [puppet.group(node.group)] if node.group else []
puppet.states_inside = lambda group: [state for state in puppet.states if state.group == group]
program = compile_puppet(puppet)
state, entered = initial_state(program), []
senses = tuple(sense.start for sense in program.senses)
for number in range(60):
    down = tuple(action == "attack" and 5 <= number < 9 for action in program.actions)
    inputs = Inputs(down, senses)
    assert (fast := fast_tick(program)(state, inputs)) == (tick(program, state, inputs))
    state, report = fast
    entered += [taken.target for taken in report.taken]
print(entered)
"""
PACKAGE_OF = {
    "PyQt6": "PyQt6", "numpy": "numpy", "PIL": "pillow", "msgspec": "msgspec",
    "platformdirs": "platformdirs",
    "scipy": "scipy", "font_source_sans_pro": "font-source-sans-pro", "hypothesis": "hypothesis",
    "defusedxml": "defusedxml", "xmlschema": "xmlschema", "websockets": "websockets",
    "jsonschema": "jsonschema", "markdown_it": "markdown-it-py",
    "moderngl": "moderngl", "shtab": "shtab", "argparse_manpage": "argparse-manpage",
    "trimesh": "trimesh",
}


Statement = ast.Import | ast.ImportFrom | ast.ClassDef


@cache
def nodes(path: Path) -> tuple[tuple[Statement, bool], ...]:
    """What imports and makes classes in a file, and whether that is for types alone."""
    return tuple(_statements(ast.parse(path.read_text()).body, False))


def _statements(body: Iterable[ast.stmt], for_types: bool) -> Iterator[tuple[Statement, bool]]:
    # Statements alone: what is within expressions is ten times as much.
    for node in body:
        if isinstance(node, ast.Import | ast.ImportFrom | ast.ClassDef):
            yield node, for_types
        types = for_types or (isinstance(node, ast.If)
                              and getattr(node.test, "id", "") == "TYPE_CHECKING")
        for part in ("body", "orelse", "finalbody"):
            yield from _statements(getattr(node, part, ()), types and part == "body")
        for inside in (*getattr(node, "handlers", ()), *getattr(node, "cases", ())):
            yield from _statements(inside.body, for_types)


@cache
def imports(path: Path) -> set[str]:
    """The modules a file imports, whole; relative ones made absolute."""
    found = set()
    package = path.relative_to(ROOT).with_suffix("").parts[:-1]
    for node, _ in nodes(path):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom):
            base = package[: len(package) - node.level + 1] if node.level else ()
            found.add(".".join((*base, *(node.module or "").split("."))))
    return found


def needed(path: Path) -> set[str]:
    """What a file needs when it runs: modules, and names of them, which may be modules, too."""
    package, found = path.relative_to(ROOT).with_suffix("").parts[:-1], set[str]()
    for node, for_types in nodes(path):
        if for_types:
            continue
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom):
            base = package[: len(package) - node.level + 1] if node.level else ()
            module = ".".join((*base, *(node.module or "").split("."))).rstrip(".")
            found |= {module, *(f"{module}.{alias.name}" for alias in node.names)}
    return found


def pinned(lock: str) -> dict[str, str]:
    """The packages of a lock file and their versions."""
    lines = [line for line in (ROOT / lock).read_text().splitlines()
             if line and not line.startswith("#")]
    return dict(line.split("==") for line in lines)


class Plan(Case):
    def test_imports_point_down(self) -> None:
        for floor, below in MAY_IMPORT.items():
            for path in (CORE / floor).rglob("*.py"):
                for name in imports(path):
                    if name.startswith("yarn_puppet.core."):
                        self.assertIn(name.split(".")[2], {floor, *below}, f"{path} imports {name}")

    def test_one_class_name_is_one_thing(self) -> None:
        for half in ("core", "desk"):
            found: dict[str, list[str]] = {}
            for path in (ROOT / "yarn_puppet" / half).rglob("*.py"):
                for node, _ in nodes(path):
                    if isinstance(node, ast.ClassDef):
                        found.setdefault(node.name, []).append(str(path))
            self.assertEqual({name: paths for name, paths in found.items() if len(paths) > 1}, {})

    def test_no_files_import_each_other_in_a_circle(self) -> None:
        """Also where they do so late, within functions; for types alone they may."""
        files = {".".join(path.relative_to(ROOT).with_suffix("").parts).removesuffix(".__init__")
                 : path for path in (ROOT / "yarn_puppet").rglob("*.py")}
        graph = {name: {found for found in needed(path) & files.keys() if found != name}
                 for name, path in files.items()}
        with self.assertRaises(CycleError):
            TopologicalSorter(graph | {"yarn_puppet.version": {"yarn_puppet.cli"}}).prepare()
        TopologicalSorter(graph).prepare()

    def test_the_rooms_of_the_desk_stand_on_floors(self) -> None:
        self.assertEqual({path.name for path in DESK.iterdir() if (path / "__init__.py").exists()},
                         {room for floor in FLOORS for room in floor})
        self.assertEqual([path.name for path in DESK.glob("*.py")], ["__init__.py"],
                         "every file stands in a room")
        for number, floor in enumerate(FLOORS):
            below = {room for lower in FLOORS[:number] for room in lower}
            for room in floor:
                for path in (DESK / room).rglob("*.py"):
                    for name in imports(path):
                        if name.startswith("yarn_puppet.desk."):
                            self.assertIn(name.split(".")[2], {room, *below},
                                          f"{path} imports {name}")

    def test_the_core_knows_no_window_library_and_no_desk(self) -> None:
        for path in CORE.rglob("*.py"):
            for name in imports(path):
                self.assertFalse(name.startswith(("PyQt6", "yarn_puppet.desk", "yarn_puppet.demo")),
                                 f"{path}: {name}")

    def test_the_stand_in_game_is_on_top_of_the_house(self) -> None:
        for path in (*CORE.rglob("*.py"), *DESK.rglob("*.py")):
            for name in imports(path):
                self.assertFalse(name.startswith("yarn_puppet.game"), f"{path}: {name}")

    def test_the_engine_runs_on_the_standard_library_alone(self) -> None:
        done = subprocess.run([sys.executable, "-c", ALONE],
                              input=msgspec.json.encode(demo_puppet()), cwd=ROOT,
                              capture_output=True, check=False)
        self.assertEqual(done.stderr.decode(), "")
        self.assertEqual(done.stdout.decode().strip(), "['light_swing_state', 'idle_state']")

    def test_what_begins_imports_nothing_it_does_not_need(self) -> None:
        """A part of scipy takes half a second to come: who begins does not wait for it."""
        for module, absent in (
            ("cli", ("PyQt6", "numpy", "PIL", "scipy")),
            ("core.wire.worker", ("PyQt6", "numpy", "PIL", "scipy")),
            ("core.takes.again.worker", ("PyQt6", "numpy", "PIL", "scipy")),
            ("desk.shell.window", ("scipy.spatial", "scipy.sparse", "scipy.ndimage")),
        ):
            with self.subTest(module):
                code = f"import sys, yarn_puppet.{module}; print(*sys.modules)"
                done = subprocess.run([sys.executable, "-c", code], cwd=ROOT, capture_output=True,
                                      text=True, check=True)
                self.assertEqual(set(absent) & set(done.stdout.split()), set())


class Locks(Case):
    def test_every_line_pins_one_version(self) -> None:
        for lock in ("requirements.lock", "requirements-test.lock"):
            for name, version in pinned(lock).items():
                self.assertRegex(version, r"^\d+(\.\d+)*$", name)

    def test_what_the_application_imports_is_in_its_lock(self) -> None:
        found = set()
        for path in (ROOT / "yarn_puppet").rglob("*.py"):
            found |= {name.split(".")[0] for name in imports(path)}
            if "font_source_sans_pro" in path.read_text():
                found.add("font_source_sans_pro")
        outside = found - set(sys.stdlib_module_names) - {"yarn_puppet", ""}
        self.assertLessEqual({PACKAGE_OF[name] for name in outside},
                             set(pinned("requirements.lock")))

    def test_what_the_tests_import_is_in_one_of_the_locks(self) -> None:
        found = {name.split(".")[0] for path in (ROOT / "tests").rglob("*.py")
                 for name in imports(path)}
        outside = found - set(sys.stdlib_module_names) - {"yarn_puppet", "tests", "bench", ""}
        both = set(pinned("requirements.lock")) | set(pinned("requirements-test.lock"))
        self.assertLessEqual({PACKAGE_OF[name] for name in outside}, both)
