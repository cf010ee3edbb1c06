"""State Chart XML: what is written fits the standard and means the same, what is read is kept or
listed."""

from __future__ import annotations

import json
import operator
import random
import shutil
import subprocess
import tempfile
import unittest
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import xmlschema
from msgspec.structs import replace

from tests.depth import some_of
from tests.helpers import Case, demo_puppet
from tests.random_puppets import Shaker
from yarn_puppet.cli import main
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.puppet_file import load_puppet, puppet_bytes, puppet_from
from yarn_puppet.core.generate.flat import flat
from yarn_puppet.core.languages.scxml.conditions import Data, read_condition
from yarn_puppet.core.languages.scxml.reading import chart_from
from yarn_puppet.core.languages.scxml.writing import state_chart
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.starter import new_puppet
from yarn_puppet.core.rules.bind import Tree, leaves
from yarn_puppet.core.takes.controls import Controls
from yarn_puppet.core.takes.run import advance, set_up, start
from yarn_puppet.demo import DEMO_FOLDER

SCHEMA = xmlschema.XMLSchema(str(Path(__file__).parent.parent / "scxml.xsd"))
HEAD = '<scxml xmlns="http://www.w3.org/2005/07/scxml" version="1.0"'
DOOR = f"""{HEAD} datamodel="ecmascript" initial="closed">
  <datamodel><data id="locked" expr="true"/><data id="count" expr="0"/><data id="mood" expr="'calm'"/></datamodel>
  <state id="closed">
    <transition event="push" cond="!locked &amp;&amp; (count &lt; 3 || mood == 'cross')" target="open"/>
    <transition event="knock.twice" target="closed"/>
  </state>
  <state id="open" initial="wide">
    <onentry><assign location="count" expr="count + 1"/><log expr="count"/></onentry>
    <history id="before"><transition target="ajar"/></history>
    <state id="ajar"><transition cond="In('closed') || Math.abs(count) >= 2" target="wide"/></state>
    <state id="wide"><onexit><assign location="count" expr="Math.min(count * 2, 9)"/></onexit>
      <transition cond="window.open()" target="before"/></state>
    <transition event="pull" target="closed"><assign location="locked" expr="true"/></transition>
  </state>
</scxml>"""  # noqa: E501

LIFT = f"""{HEAD}>
  <state id="idle"><transition event="call.*" target="ride"/><transition event="error" target="broken"/>
    <transition event="fault" target="halted"/><transition event="done.state.nothing" target="broken"/></state>
  <state id="ride">
    <initial><transition target="moving"/></initial>
    <history id="where"><transition target="fast"/></history>
    <state id="moving"><transition event="call.up.fast" target="fast"/><transition event="stop" target="there"/></state>
    <state id="fast"/>
    <final id="there"/>
    <transition event="done.state.ride" target="idle"/>
    <transition event="fault" target="halted"/>
  </state>
  <state id="halted"><transition event="call.up" target="where"/><transition event="call" target="ride"/></state>
  <state id="broken"><transition event="*" target="idle"/><transition event="error.motor" target="idle"/></state>
</scxml>"""  # noqa: E501


def valued(tree: Tree, given: dict[tuple[str, object], Any]) -> Any:
    """What a tree is, of what it reads; the simplest there is."""
    if tree.operator == "constant":
        return tree.value
    if not tree.operands:
        return given[tree.operator, tree.value]
    values = [valued(operand, given) for operand in tree.operands]
    if tree.operator == "clamp":
        return max(values[1], min(values[2], values[0]))
    functions = {
        "and": lambda *v: all(v), "or": lambda *v: any(v), "not": operator.not_,
        "negate": operator.neg, "abs": abs,
        "+": operator.add, "-": operator.sub, "*": operator.mul,
        "/": lambda a, b: a / b if b else 0,
        "<": operator.lt, "<=": operator.le, ">": operator.gt, ">=": operator.ge, "==": operator.eq,
        "!=": operator.ne, "min": min, "max": max, "sign": lambda v: (v > 0) - (v < 0),
    }
    return functions[tree.operator](*values)


class Written(Case):
    def test_charts_of_random_puppets_fit_the_schema_and_name_every_state(self) -> None:
        for seed in some_of(range(60)):
            with self.subTest(seed):
                program = compile_puppet(Shaker(seed).puppet())
                content = state_chart(program).content
                SCHEMA.validate(content.decode())
                found = [each.get("{urn:yarn-puppet:state-chart}name")
                         for each in ElementTree.fromstring(content).iter(
                    "{http://www.w3.org/2005/07/scxml}state")]
                names = [state.name for state in program.states if state.layer >= 0]
                names += [group.name for group in program.groups if group.layer >= 0]
                names += [layer.name for layer in program.layers]
                self.assertEqual(sorted(map(str, found)), sorted(names))

    def test_names_of_all_kinds_make_a_chart(self) -> None:
        shaken = Shaker(3).puppet()
        names = ["while", "tick", "绣", "a b", "a-b", "puppet", "\x07bell", "In", "<&\"'>",
                 "facing"]
        states = [replace(each, name=names[index % len(names)] + str(index // len(names) or ""))
                  for index, each in enumerate(shaken.states)]
        made = state_chart(compile_puppet(replace(shaken, states=tuple(states))))
        SCHEMA.validate(made.content.decode())
        self.assertTrue(made.renames)

    @unittest.skipUnless(shutil.which("node"), "no JavaScript is installed")
    def test_conditions_are_worth_the_same_in_ecmascript(self) -> None:
        dice, wanted = random.Random(11), []
        lines = ["const In = id => places.has(id);", "let places;", "const out = [];"]
        for seed in some_of(range(120)):
            for tree in flat(compile_puppet(Shaker(seed).puppet())).conditions:
                keys = list(dict.fromkeys((leaf.operator, leaf.value) for leaf in leaves(tree)))
                names = {key: f"v{index}" for index, key in enumerate(keys)}
                called = names | {key: "facing" if key[1] == "facing" else f"l_{key[1]}"
                                  for key in keys
                                  if key[0] == "built-in"}
                nodes = {str(value): f"n{value}" for kind, value in keys if kind == "in_state"}
                types = {(leaf.operator, leaf.value): leaf.type for leaf in leaves(tree)}
                for _ in range(3):
                    given = {key: {"bool": dice.random() < 0.5, "int": dice.randrange(-3, 4),
                                   "float": dice.choice([-1.5, 0.0, 0.1, 0.5, 30.25]),
                                   "choice": dice.choice(["left", "straw", "calm", "x"])}[
                                       types[key]] for key in keys}
                    wanted.append(valued(tree, given))
                    inside = [nodes[str(value)]
                              for (kind, value), yes in given.items() if kind == "in_state" and yes]
                    sets = "".join(f"const {called[key]} = {json.dumps(value)};"
                                   for key, value in given.items()
                                   if key[0] != "in_state")
                    lines.append(f"{{ places = new Set({json.dumps(inside)}); {sets} "
                                 f"out.push({Data(names, nodes).text(tree, 'l')}); }}")
        lines.append("console.log(JSON.stringify(out));")
        said = subprocess.run(["node", "-"], input="\n".join(lines), capture_output=True, text=True,
                              check=True).stdout
        self.assertGreater(len(wanted), 500)
        self.assertEqual(json.loads(said), wanted)

    def test_hand_off_writes_a_chart_and_says_what_it_cannot(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = DEMO_FOLDER / "lamplighter.puppet.json"
            self.assertEqual(main(["hand-off", str(file), "--to", "scxml", "--name", "it", "--out",
                                   folder]), 0)
            SCHEMA.validate(str(Path(folder) / "it.scxml"))
            manifest = json.loads((Path(folder) / "it.hand-off.json").read_text())
            self.assertEqual(set(manifest["files"]), {"it.scxml"})
            self.assertIn("spreads are one state without a clip: Walk, Run", manifest["unsaid"])
            again = Path(folder) / "again.puppet.json"
            self.assertEqual(main(["read-chart", str(Path(folder) / "it.scxml"), "--out",
                                   str(again)]), 0)
            self.assertEqual(len(load_puppet(again).states), len(load_puppet(file).states))
            before = again.read_bytes()
            self.assertEqual(main(["read-chart", str(Path(folder) / "it.scxml"), "--out",
                                   str(again)]), 2)
            self.assertEqual(again.read_bytes(), before)


class Read(Case):
    def test_what_was_written_is_read_again(self) -> None:
        puppet = demo_puppet()
        made = chart_from(state_chart(compile_puppet(puppet)).content, "it.scxml")
        again = made.puppet
        self.assertEqual(made.unread, ())
        self.assertEqual(compile_puppet(again).problems, ())
        names = self.shape(again)
        self.assertEqual(names, self.shape(puppet))
        ways = sorted((self.name(again, transition.source), self.name(again, transition.target),
                       transition.reenters)
                      for transition in again.transitions)
        self.assertEqual(ways, sorted((self.name(puppet, transition.source),
                                       self.name(puppet, transition.target), transition.reenters)
                                      for transition in puppet.transitions))
        swing = next(transition for transition in again.transitions
                     if self.name(again, transition.source) == "Ground"
                     and self.name(again, transition.target) == "Heavy slam")
        self.assertIn("hold_attack", swing.when)

    @staticmethod
    def name(puppet: Puppet, id: str) -> str:
        return next(node.name for node in puppet.nodes if node.id == id)

    def shape(self, puppet: Puppet) -> set[tuple[str, str, str]]:
        layers = {layer.id: layer.name for layer in puppet.layers}
        return {(node.name, layers[node.layer], self.name(puppet, node.group) if node.group else "")
                for node in puppet.nodes}

    def test_a_chart_of_another_hand_becomes_a_skeleton(self) -> None:
        made = chart_from(DOOR.encode(), "door.scxml")
        puppet = made.puppet
        self.assertEqual(puppet_from(puppet_bytes(puppet)), puppet)
        self.assertEqual([(state.id, state.group) for state in puppet.states],
                         [("closed", None), ("ajar", "open"), ("wide", "open")])
        group = puppet.groups[0]
        self.assertEqual((group.id, group.start, group.remembers, puppet.layers[0].start),
                         ("open", "ajar", True, "closed"),
                         "one that remembers nothing yet is where its history says")
        self.assertEqual([(transition.source, transition.target, transition.when,
                           transition.reenters) for transition in puppet.transitions], [
            ("closed", "wide", 'push and (not locked and ( count < 3 or mood == "cross" ))', False),
            ("closed", "closed", "knock_twice", True),
            ("ajar", "wide", 'in_state("closed") or abs ( count ) >= 2', False),
            ("wide", "open", "window.open()", False),
            ("open", "closed", "pull", False)])
        started = {sense.id for sense in new_puppet().senses}
        self.assertEqual([(sense.id, sense.event)
                          for sense in puppet.senses if sense.id not in started],
                         [("mood", False), ("push", True), ("knock_twice", True), ("pull", True)])
        self.assertEqual(next(sense.choices for sense in puppet.senses if sense.id == "mood"),
                         ("calm", "cross"))
        self.assertEqual([(memo.id, memo.type) for memo in puppet.memos],
                         [("locked", "bool"), ("count", "int")])
        self.assertEqual(puppet.states[2].on_leave[0].value, "min ( count * 2 , 9 )")
        self.assertEqual(made.unread,
                         ("locked set by a transition of open", "1 × log",
                          "the condition window.open()",
                                       "what open does on the way in or out: it is a group"))

    def test_descriptors_of_events_match_as_the_standard_says(self) -> None:
        made = chart_from(LIFT.encode(), "lift.scxml")
        puppet, setup = made.puppet, set_up(made.puppet, None)
        self.assertEqual(
            made.unread,
            (
                "the event done.state.nothing, which a transition of idle waits for: nothing "
                "inside ends so",
                "any event, which a transition of broken waits for: it is taken on those the chart "
                "names",
            ),
        )
        names = {each.id: each.name for each in puppet.states}
        started = {sense.id for sense in new_puppet().senses}
        events = {sense.name: sense.id
                  for sense in puppet.senses if sense.event and sense.id not in started}
        self.assertEqual(list(events),
                         ["call", "error", "fault", "call_up_fast", "stop", "call_up",
                          "error_motor"])

        def after(*happens: str) -> list[str]:
            state, seen = start(setup), []
            for each in ("", *happens):
                senses = {id: name == each for name, id in events.items()}
                record = advance(setup, state, Controls(frozenset(), tuple(senses.items())))
                state = record.after
                seen.append(names[record.report.layers[0].state])
            return seen[1:]

        # Begun in the first state: nothing says where.
        self.assertEqual(after("", "call"), ["idle", "moving"])
        self.assertEqual(after("call_up"), ["moving"], "call matches call.up")
        self.assertEqual(after("call_up_fast"), ["fast"],
                         "and call.up.fast, which goes on for its whole tick here")
        self.assertEqual(after("stop", "error_motor"), ["idle", "broken"],
                         "error.* matches error.motor")
        self.assertEqual(after("error_motor", "", "stop"), ["broken", "broken", "idle"],
                         "* is any event")
        # done.state.ride: its final state was entered, which is told before the next event.
        self.assertEqual(after("call", "", "stop"), ["moving", "moving", "idle"])
        # fast is where ride was left: its history knows, its initial does not.
        self.assertEqual(after("call", "call_up_fast", "fault", "call_up"),
                         ["moving", "fast", "halted", "fast"])
        self.assertEqual(after("call", "call_up_fast", "fault", "call"),
                         ["moving", "fast", "halted", "moving"])
        # Where nothing is remembered, the history says where.
        self.assertEqual(after("fault", "call_up"), ["halted", "fast"])

    def test_histories_that_are_not_ours_are_said_of(self) -> None:
        text = f"""{HEAD}><history id="all"><transition target="a"/></history>
          <state id="out"><history id="h"><transition target="a"/></history>
            <history id="g" type="deep"><transition target="in"/></history>
            <state id="a"/><state id="in" initial="gone"><state id="c"/></state></state></scxml>"""
        self.assertEqual(chart_from(text.encode(), "it.scxml").unread, (
            "where in starts: gone, which is no state", "2 histories of out, which are one here",
            "the history of out is shallow: here the innermost state is remembered",
            "a history of the whole chart, which is begun once"))
        nameless = chart_from(f'{HEAD}><state/><state id="b"/></scxml>'.encode(), "it.scxml").puppet
        self.assertEqual(nameless.layers[0].start, nameless.states[0].id,
                         "the first, though it has no id")

    def test_charts_of_random_puppets_are_read_and_can_be_saved(self) -> None:
        for seed in some_of(range(60)):
            with self.subTest(seed):
                program = compile_puppet(Shaker(seed).puppet())
                made = chart_from(state_chart(program).content, "it.scxml")
                self.assertEqual(puppet_from(puppet_bytes(made.puppet)), made.puppet)
                self.assertEqual(len(made.puppet.states),
                                 sum(state.layer >= 0 for state in program.states))
                compile_puppet(made.puppet)
                # A state in no layer is not in the chart.
                self.assertEqual([each for each in made.unread if "In(" not in each], [])

    def test_a_condition_is_read_or_it_is_not(self) -> None:
        words = {"a": "a", "b.c": "b_c"}.get
        for text, wanted in (
            ("a&&!b.c", "a and not b_c"), ("a === 'it\\'s'", 'a == "it\'s"'),
            ("Math.sign(a)>=.5", "sign ( a ) >= .5"),
            ("a = 1", None), ("a; b", None), ("eval('x')", None), ("In(a)", None),
            ("In('nowhere')", None),
            ("(b.c === 0 ? 0 : a / b.c)", "( a / b_c )"),
            ("(b.c + 1 === 0 ? 0 : a / b.c + 1)", None),
            ("((a - 1) === 0 ? 0 : (a * 2) / (a - 1)) > 1", "( ( a * 2 ) / ( a - 1 ) ) > 1"),
            ("(a === 0 ? 0 : 1 + b.c / a)", None), ("(a === 0 ? 1 : b.c / a)", None),
            ("a ? 1 : 2", None),
            ("`a`", None), ("__proto__", None), ("a[0]", None), ("Math.random()", None),
        ):
            with self.subTest(text):
                self.assertEqual(read_condition(text, words, {}.get), wanted)

    def test_hostile_charts_say_what_is_wrong(self) -> None:
        bomb = b'<!DOCTYPE a [<!ENTITY b "c">]><a>&b;</a>'
        for content, wanted in (
            (b"", "expected XML"), (b"<scxml", "expected XML"),
            (b"<scxml/>", "expected scxml of the namespace"),
            (bomb, "without a document type"),
            (b'<?xml version="1.0" encoding="no"?><a/>', "expected XML"),
            (b"\xff\xfe\x00", "expected XML"),
        ):
            with self.subTest(content), self.assertRaises(FileProblem) as caught:
                chart_from(content, "it.scxml")
            self.assertIn(wanted, str(caught.exception)) if caught.exception else None
        deep = f"{HEAD}>" + "<state>" * 3000 + "</state>" * 3000 + "</scxml>"
        made = chart_from(deep.encode(), "it.scxml")
        self.assertEqual(len(made.puppet.groups), 40)
        self.assertTrue(any("nested" in each for each in made.unread))
        text = f"""{HEAD}><state id="and"><transition target="nowhere" cond="1 +"/><transition/></state>
            <state id="and"/><datamodel><data id="x"/><data/><data id="not" expr="1e999"/></datamodel></scxml>"""  # noqa: E501
        odd = chart_from(text.encode(), "it.scxml")
        self.assertEqual(puppet_from(puppet_bytes(odd.puppet)), odd.puppet)
        self.assertEqual(len(odd.unread), 6)
        empty = chart_from(f"{HEAD}/>".encode(), "it.scxml")
        self.assertEqual((empty.puppet.states, empty.puppet.name), ((), "it"))

    def test_bytes_that_were_changed_are_read_or_said_and_never_raise(self) -> None:
        dice = random.Random(5)
        texts = [DOOR.encode(), state_chart(compile_puppet(demo_puppet())).content]
        read = 0
        for _ in range(200):
            content = bytearray(dice.choice(texts))
            for _ in range(dice.randrange(1, 4)):
                content[dice.randrange(len(content))] = dice.choice(b"abx 019()=!'\".\xc3\x00")
            try:
                made = chart_from(bytes(content), "it.scxml").puppet
            except FileProblem:
                continue
            read += 1
            self.assertEqual(puppet_from(puppet_bytes(made)), made)
        self.assertGreater(read, 20)
