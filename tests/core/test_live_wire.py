"""The live wire without a socket: what docs/live-wire.md says of each message, and what hostile
ones come to."""

from __future__ import annotations

import json
import random
import tempfile
from pathlib import Path
from typing import Any

import jsonschema
from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.depth import some_of
from tests.helpers import Case, demo_puppet
from tests.random_puppets import Shaker
from tests.wire import KEY, ROOT, Speaking, hub_of
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.engine.plain.tick import tick
from yarn_puppet.core.engine.state import Inputs, Landed
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.generate.flat import flat
from yarn_puppet.core.generate.report_numbers import ReportNumbers
from yarn_puppet.core.handoff.files import hand_off
from yarn_puppet.core.handoff.made_of import made_of
from yarn_puppet.core.languages.table import LANGUAGES
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.skin import Skin, SkinClip
from yarn_puppet.core.takes.controls import Controls, GameInput, controls_of
from yarn_puppet.core.takes.recording import Recording
from yarn_puppet.core.takes.run import replay, set_up
from yarn_puppet.core.takes.sampling import Sampler
from yarn_puppet.core.wire.history import WHOLE_EVERY, ControlsHistory, Room
from yarn_puppet.core.wire.hub import WAIT
from yarn_puppet.core.wire.key import new_key, the_key
from yarn_puppet.core.wire.messages import (
    BAD_PARAMETERS,
    HELLO_AGAIN,
    METHODS,
    NO_JSON,
    NO_METHOD,
    NO_REQUEST,
    NOTIFICATIONS,
    OTHER_PROTOCOL,
    OUT_OF_ORDER,
    TOO_MANY,
    WRONG_KEY,
)
from yarn_puppet.core.wire.openrpc import DOCUMENT, document_bytes
from yarn_puppet.core.wire.speaking import UNASKED, Speaker
from yarn_puppet.demo import DEMO_PUPPET
from yarn_puppet.game.puppets import imported

HOSTILE = 6_000


def shaken(seed: int, ticks: int) -> tuple[Puppet, list[dict[str, Any]], list[Inputs]]:
    """A random puppet, what a game tells of random ticks, and the inputs that these are."""
    shaker = Shaker(seed)
    puppet = shaker.puppet()
    program = compile_puppet(puppet)
    sent, inputs, sampler = [], [], Sampler(program)
    values = {sense.id: sense.start for sense in program.senses}
    for number in range(ticks):
        values |= shaker.senses()
        values = {sense.id: values[sense.id] for sense in program.senses}
        down = [action for action in program.actions if shaker.chance(4)]
        landed = [(place, shaker.random.randint(0, 3), 0)
                  for place in range(len(program.layers)) if shaker.chance(1)]
        stopped = shaker.chance(1)
        senses = sampler.alone(tuple(values.items()))
        fit = {sense.id: value for sense, value in zip(program.senses, senses, strict=True)}
        sent.append({"tick": number, "down": down, "senses": fit, "landed": landed,
                     "stopped": stopped})
        inputs.append(Inputs(tuple([each in down for each in program.actions]), senses,
                             tuple([Landed(*each) for each in landed]), stopped))
    return puppet, sent, inputs


class Driving(Case):
    def test_a_game_is_said_what_the_engine_reports(self) -> None:
        for seed in some_of(range(40)):
            puppet, sent, inputs = shaken(seed, 60)
            program = compile_puppet(puppet)
            names = {state.id: state.name for state in program.states}
            game, state = Speaking(hub_of(puppet)), initial_state(program)
            game.hello("drive")
            for said, each in zip(sent, inputs, strict=True):
                found = game.ask("tick", **said)["result"]
                state, report = tick(program, state, each)
                self.assertEqual(
                    [(layer["state"], layer["clip"], layer["frame"], layer["clip_time"],
                      layer["elapsed"],
                      layer["weight"], layer["blend"], layer["visit"], layer["pass"], layer["done"])
                     for layer in found["layers"]],
                    [(names[layer.state], layer.clip, layer.frame, layer.clip_time, layer.elapsed,
                      layer.weight,
                      layer.blend, layer.visit, layer.cycle, layer.done)
                      for layer in report.layers], f"puppet {seed}")
                self.assertEqual(list(found["memos"].values()), list(report.memos))
                self.assertEqual((found["facing"], found["move_speed"], found["gravity"],
                                  found["lock_movement"]),
                                 (report.facing, report.move_speed, report.gravity,
                                  report.lock_movement))
                self.assertEqual([(each["name"], each["clip"], each["frame"])
                                  for each in found["moments"]],
                                 [(moment.moment.name, moment.clip, moment.frame)
                                  for moment in report.moments])
                self.assertEqual([each["name"] for each in found["windows"]],
                                 [window.window.name for window in report.windows])

    def test_boxes_anchors_and_pictures_are_beside_the_pivot_and_turned_by_the_facing(self) -> None:
        game = Speaking(hub_of(demo_puppet()))
        game.hello("drive")
        clip = demo_puppet().clip("light_swing")
        assert clip is not None
        found: dict[str, Any] = {}
        for side in ("right", "left"):
            game.ask("begin")
            for number in range(40):
                sent = game.ask("tick", tick=number, down=["attack"] if 10 <= number < 12 else [],
                                senses={"grounded": True,
                                        "move_x": (-1 if side == "left" else 1) * (number < 9)})
                for window in sent["result"]["windows"]:
                    if window["kind"] == "hit":
                        layer = sent["result"]["layers"][0]
                        found.setdefault(side, (
                            window["boxes"][0], layer["picture"], layer["frame"]))
        (x, y, wide, high), picture, number = found["right"]
        left, mirrored, _ = found["left"]
        frame = clip.frames[number]
        box = next(each for each in frame.boxes if each.kind == "hit")
        pivot = clip.pivot_of(number)
        self.assertEqual((x, y, wide, high),
                         (box.x - pivot.x, box.y - pivot.y, box.width, box.height))
        self.assertEqual(left, [-x - wide, y, wide, high])
        self.assertEqual((picture["flipped"], mirrored["flipped"]), (False, True))
        self.assertEqual(mirrored["corner"][0], -picture["corner"][0] - picture["cell"][2])

    def test_an_edit_takes_effect_in_the_next_tick_and_the_run_goes_on(self) -> None:
        puppet = demo_puppet()
        hub = hub_of(puppet)
        game, recording = Speaking(hub), Recording(puppet, None, None)
        game.hello("drive")
        quick = state_changed(puppet, "light_swing_state", speed=2.0)
        for number in range(60):
            if number == 14:
                hub.edit(hub.puppets.edit(2, quick))
                recording.edit(quick)
                self.assertEqual(game.unasked, [{"jsonrpc": "2.0", "method": "edited", "params": {
                    "puppet": quick.name, "made_of": made_of(quick)}}])
            down = ["attack"] if number in (10, 11) else []
            found = game.ask("tick", tick=number, down=down, senses={"grounded": True})["result"]
            record = recording.step(Controls(frozenset(down), (("grounded", True),)))
            self.assertEqual(found["layers"][0]["clip_time"], record.report.layers[0].clip_time)
            self.assertEqual(found["tick"], number)


class InSkins(Case):
    def test_a_game_is_compared_in_the_skin_that_it_wears(self) -> None:
        puppet = demo_puppet()
        walk = puppet.clip("walk")
        assert walk is not None
        skin = Skin(name="moss", clips=(SkinClip("walk", walk.frames[:3]),))
        module = imported(hand_off(puppet, ("python",), "it", skins=(skin,)).files["it.py"])
        plain = imported(hand_off(puppet, ("python",), "it").files["it.py"])
        hub = hub_of(puppet, (skin,))
        for code, worn, told, equal, same in (
            (plain, 0, plain.MADE_OF, True, True), (module, 0, module.MADE_OF, True, True),
            (module, 1, module.made_of_in(1), True, True),
            (module, 1, module.MADE_OF, False, True), (module, 0, f"{module.MADE_OF}-2", True,
                                                       False),
        ):
            game = Speaking(hub)
            said = game.hello("follow", made_of=told)["result"]
            self.assertEqual(said["same"], same, told)
            state, answers = code.start(worn), []
            for number in range(60):
                down, senses = ["right"] if number > 5 else [], {"grounded": True, "move_x": 1,
                                                               "speed": 90.0}
                state, report = code.step(state, down, senses)
                answers.append(game.ask("tick", tick=number, down=down, senses=senses,
                                        digests=list(code.digests(report)))["result"]["equal"])
            if same:
                self.assertEqual(all(answers), equal, told)


class Following(Case):
    def digests(self, puppet: Puppet, inputs: list[Inputs]) -> list[list[int]]:
        program = compile_puppet(puppet)
        numbers, state, found = ReportNumbers(flat(program)), initial_state(program), []
        for each in inputs:
            state, report = tick(program, state, each)
            found.append(list(numbers.digests(report)))
        return found

    def test_a_game_that_runs_the_same_is_equal_and_one_that_does_not_is_said_where(self) -> None:
        for seed in some_of(range(40)):
            puppet, sent, inputs = shaken(seed, 60)
            digests = self.digests(puppet, inputs)
            game = Speaking(hub_of(puppet))
            self.assertTrue(game.hello("follow", made_of=made_of(puppet))["result"]["same"])
            for said, each in zip(sent, digests, strict=True):
                self.assertEqual(game.ask("tick", **said, digests=each)["result"],
                                 {"tick": said["tick"], "equal": True}, f"puppet {seed}")
            game.ask("begin")
            wrong = random.Random(seed).randrange(60)
            part = random.Random(seed).randrange(8)
            digests[wrong][part] ^= 1
            for said, each in zip(sent, digests, strict=True):
                self.assertIsNone(game.tell("tick", **said, digests=each))
            self.assertEqual([each["method"] for each in game.unasked], ["differs"])
            self.assertEqual(game.unasked[0]["params"], {"tick": wrong, "parts": [
                ("layers", "values", "intents", "moments", "windows", "rules", "transitions",
                 "together")[part]]})

    def test_code_of_a_puppet_before_is_followed_with_that(self) -> None:
        puppet = demo_puppet()
        hub = hub_of(puppet)
        later = state_changed(puppet, "idle_state", name="Rest")
        hub.edit(hub.puppets.edit(2, later))
        old, new, other = Speaking(hub), Speaking(hub), Speaking(hub)
        self.assertTrue(old.hello("follow", made_of=made_of(puppet))["result"]["same"])
        self.assertTrue(new.hello("follow", made_of=made_of(later))["result"]["same"])
        self.assertFalse(other.hello("follow", made_of="0" * 64)["result"]["same"])
        self.assertEqual([seat.game.revision.number for seat in hub.seats.values()], [1, 2, 2])
        self.assertEqual([row.name for row in hub.rows(0.0)], ["skyline", "skyline 2", "skyline 3"])

    @given(some.lists(some.tuples(some.integers(1, 12), some.integers(0, 15)), max_size=12))
    def test_going_back_is_as_if_what_was_taken_back_had_never_been(
        self, ways: list[tuple[int, int]]
    ) -> None:
        """Runs of some ticks, each followed by going back by some."""
        puppet = demo_puppet()
        game = Speaking(hub_of(puppet))
        game.hello("drive")
        sent: list[frozenset[str]] = []
        dice = random.Random(len(ways))
        for on, back in [*ways, (12, 0)]:
            for _ in range(on):
                down = frozenset(each for each in ("attack", "left", "guard")
                                 if dice.random() < 0.4)
                last = game.ask("tick", tick=len(sent), down=sorted(down),
                                senses={"grounded": True})["result"]
                sent.append(down)
            del sent[max(0, len(sent) - back):]
        recording = Recording(puppet, None, None)
        for down in sent:
            record = recording.step(Controls(down, (("grounded", True),)))
        self.assertEqual(last["layers"][0]["clip_time"], record.report.layers[0].clip_time)
        seat = next(iter(game.speaker.hub.seats.values()))
        self.assertEqual([control.down for control in seat.game.history.controls()], sent)
        self.assertEqual(seat.game.state, recording.state)

    def test_what_was_mispredicted_and_taken_back_does_not_count_as_another(self) -> None:
        puppet = demo_puppet()
        inputs = [Inputs((False,) * 7, set_up(puppet, None).sampler.alone(())) for _ in range(3)]
        right = self.digests(puppet, inputs)
        game = Speaking(hub_of(puppet))
        game.hello("follow")
        self.assertTrue(game.ask("tick", tick=0, down=[], senses={}, digests=right[0])["result"][
            "equal"])
        self.assertFalse(game.ask("tick", tick=1, down=["jump"], senses={}, digests=right[1])[
            "result"]["equal"])
        self.assertTrue(game.ask("tick", tick=1, down=[], senses={}, digests=right[1])["result"][
            "equal"])

    def test_a_gap_and_what_lies_too_far_back_are_refused_and_change_nothing(self) -> None:
        game = Speaking(hub_of(demo_puppet()))
        game.hello("drive")
        for number in range(200):
            game.ask("tick", tick=number, down=[], senses={})
        for odd in (201, 79, 0):
            error = game.ask("tick", tick=odd, down=[], senses={})["error"]
            self.assertEqual(error["code"], OUT_OF_ORDER)
            self.assertIn(f"found {odd}", error["message"])
        self.assertEqual(game.ask("tick", tick=200, down=[], senses={})["result"]["tick"], 200)
        self.assertEqual(game.ask("tick", tick=81, down=[], senses={})["result"]["tick"], 81)


class ComingIn(Case):
    def test_nothing_is_answered_before_the_right_key(self) -> None:
        hub = hub_of(demo_puppet())
        call = {"jsonrpc": "2.0", "id": 1, "params": {}}
        for said in (*({**call, "method": method}
                       for method in ("tick", "begin", "bye", "rpc.discover", "nothing")),
                     [{**call, "method": "hello"}], {"jsonrpc": "1.0"}, 7, []):
            stranger = Speaking(hub)
            self.assertIsNone(stranger.raw(json.dumps(said)), said)
            self.assertEqual(stranger.speaker.over, UNASKED)
            self.assertIsNone(stranger.raw(json.dumps({**call, "method": "hello"})), "it is over")
        for key in ("", "K" * 22, KEY[:-1], KEY + "k"):
            stranger = Speaking(hub)
            self.assertEqual(stranger.hello("drive", key=key)["error"]["code"], WRONG_KEY)
            self.assertIsNotNone(stranger.speaker.over, "one sentence, and no more")
        game = Speaking(hub)
        self.assertEqual(hub.rows(0.0), ())
        self.assertEqual(
            hub.refused,
            "skyline was not let in: key: expected the one that the Hand-off page shows",
        )
        self.assertIn("result", game.hello("drive"))
        self.assertEqual(hub.refused, "")
        self.assertEqual(game.hello("drive")["error"]["code"], HELLO_AGAIN)

    def test_after_five_wrong_keys_every_answer_waits_for_a_minute(self) -> None:
        hub = hub_of(demo_puppet())
        for _ in range(5):
            game = Speaking(hub)
            game.hello("drive", key="no")
            self.assertEqual(game.speaker.wait, 0.0)
        game = Speaking(hub)
        game.hello("drive", key="no")
        self.assertEqual(game.speaker.wait, WAIT)
        other = Speaking(hub)
        other.now = 200.0
        other.hello("drive")
        self.assertEqual(other.speaker.wait, 0.0)

    def test_another_protocol_is_said_ours(self) -> None:
        error = Speaking(hub_of(demo_puppet())).hello("drive", protocol=2)["error"]
        self.assertEqual(error, {"code": OTHER_PROTOCOL,
                                 "message": "protocol: expected 1, found 2"})

    def test_a_game_that_says_nothing_is_let_go(self) -> None:
        game = Speaking(hub_of(demo_puppet()))
        self.assertFalse(game.speaker.late(1.9))
        self.assertTrue(game.speaker.late(5.1))
        self.assertEqual(game.speaker.over, (1008, "hello was not said within 2 seconds"))

    def test_more_games_than_there_may_be_are_refused_and_those_that_go_make_room(self) -> None:
        hub = hub_of(demo_puppet())
        games = [Speaking(hub) for _ in range(33)]
        for game in games[:32]:
            self.assertIn("result", game.hello("drive"))
        self.assertEqual(games[32].hello("drive")["error"]["code"], TOO_MANY)
        games[0].speaker.gone()
        self.assertIn("result", Speaking(hub).hello("drive", game="late"))

    def test_one_that_comes_back_has_its_row_again(self) -> None:
        hub = hub_of(demo_puppet())
        first = Speaking(hub)
        first.hello("drive")
        first.speaker.gone()
        self.assertEqual([(row.number, row.here) for row in hub.rows(0.0)], [(1, False)])
        Speaking(hub).hello("drive")
        self.assertEqual([(row.number, row.here) for row in hub.rows(0.0)], [(1, True)])
        hub.dismiss(1)
        self.assertEqual(len(hub.rows(0.0)), 1, "one that is here is not forgotten")

    def test_names_are_said_in_one_short_line(self) -> None:
        hub = hub_of(demo_puppet())
        Speaking(hub).hello("drive", game="a\nb\x1b[31m\u202ec")
        self.assertEqual(hub.rows(0.0)[0].name, "a b [31m c")


class Refusing(Case):
    def setUp(self) -> None:
        self.hub = hub_of(demo_puppet())
        self.game = Speaking(self.hub)
        self.game.hello("drive")

    def test_what_is_wrong_is_said_with_where_and_what_was_expected(self) -> None:
        good = {"tick": 0, "down": [], "senses": {}}
        for change, said in (
            ({"senses": {"grounded": 0}}, "senses.grounded: expected true or false, found 0"),
            ({"down": ["atack"]}, "down: expected an action of the puppet (left"),
            ({"senses": {"grounded": 1.5}}, "senses.grounded: expected true or false, found 1.5"),
            ({"senses": {"speed": True}}, "senses.speed: expected a number, found True"),
            ({"senses": {"move_x": 0.5}}, "senses.move_x: expected a whole number, found 0.5"),
            ({"senses": {"sped": 1}}, "senses: expected a sense of the puppet"),
            ({"landed": [["tail", 0, 0]]}, "landed: expected a layer of the puppet"),
            ({"landed": [[5, 0, 0]]}, "landed: expected a layer of the puppet"),
            ({"tick": -1}, "tick: expected"), ({"tick": 1.5}, "tick: expected"),
            ({"down": "attack"}, "down: expected"),
            ({"digests": [1, 2]}, "digests: expected"), ({"at": [0, "x"]}, "at[1]: expected"),
            ({"more": 1}, "unknown"),
        ):
            error = self.game.ask("tick", **{**good, **change})["error"]
            self.assertEqual(error["code"], BAD_PARAMETERS, change)
            self.assertIn(said, error["message"])
        self.assertIn(
            "unknown",
            str(self.game.raw('{"jsonrpc":"2.0","id":1,"method":"begin","params":{"a":1}}')),
        )
        self.assertEqual(self.game.ask("tick", **good)["result"]["tick"], 0,
                         "none of it changed anything")

    def test_a_notification_that_cannot_be_done_is_said_of(self) -> None:
        self.assertIsNone(self.game.tell("tick", tick=0, down=["atack"], senses={}))
        self.assertEqual(self.game.unasked[0]["method"], "trouble")
        self.assertEqual(self.game.unasked[0]["params"]["code"], BAD_PARAMETERS)
        self.assertIn("atack", self.hub.rows(0.0)[0].trouble)

    def test_what_is_no_request_is_answered_as_the_standard_says(self) -> None:
        for text, code in (
            ("{", NO_JSON), ("", NO_JSON), (b"\xff\xfe", NO_JSON), ("[" * 60_000, NO_JSON),
            ("[1,", NO_JSON),
            ("{}", NO_REQUEST), ("[]", NO_REQUEST), ("1", NO_REQUEST),
            ('{"jsonrpc":"1.0","method":"begin","id":1}',
                                                                       NO_REQUEST),
            (json.dumps([{"jsonrpc": "2.0", "method": "begin"}] * 65), NO_REQUEST),
        ):
            answer = self.game.raw(text)
            self.assertEqual((answer["error"]["code"], answer["id"]), (code, None), text[:40])
        self.assertEqual(self.game.ask("end")["error"]["code"], NO_METHOD)

    def test_a_batch_is_answered_as_one_and_its_notifications_are_not(self) -> None:
        calls = [{"jsonrpc": "2.0", "method": "tick", "id": "a",
                  "params": {"tick": 0, "down": [], "senses": {}}},
                 {"jsonrpc": "2.0", "method": "tick",
                  "params": {"tick": 1, "down": [], "senses": {}}}, 5,
                 {"jsonrpc": "2.0", "method": "tick", "id": "b",
                  "params": {"tick": 2, "down": [], "senses": {}}}]
        answers = self.game.raw(json.dumps(calls))
        self.assertEqual([answer["id"] for answer in answers], ["a", None, "b"])
        self.assertEqual(answers[2]["result"]["tick"], 2)
        self.assertIsNone(self.game.raw(json.dumps([{"jsonrpc": "2.0", "method": "begin"}])))

    def test_who_floods_is_let_go(self) -> None:
        text = '{"jsonrpc":"2.0","method":"begin"}'
        for _ in range(20_000):
            self.game.raw(text)
        self.assertEqual(self.game.speaker.over, (1008, "too many messages"))
        self.assertIn("let go", self.hub.rows(0.0)[0].trouble)

    def test_a_thousand_ticks_a_second_with_eight_back_are_not_too_many(self) -> None:
        for number in range(45_000):
            self.game.now = number / 9000
            self.game.raw('{"jsonrpc":"2.0","method":"begin"}')
        self.assertIsNone(self.game.speaker.over)

    def test_hostile_messages_neither_get_in_nor_break_anything(self) -> None:
        dice = random.Random(20)
        good = [json.dumps({"jsonrpc": "2.0", "id": 1, "method": method, "params": params}).encode()
                for method, params in (
                    ("hello", {"protocol": 1, "key": "?" * 22, "game": "x", "mode": "follow"}),
                    ("tick", {"tick": 0, "down": ["attack"],
                              "senses": {"speed": 1.5, "grounded": True},
                              "landed": [["body", 0, 0]], "digests": [0] * 8}), ("begin", {}),
                              ("rpc.discover", {}))]
        stranger = Speaking(self.hub)
        pieces = [b"NaN", b"null", b"1e999", b"-1", b'"__class__"', b"9" * 400, b"[" * 500,
                  b'"\\ud800"', b"\x00",
                  b'{"a":' * 200, b"true", b"\xc3\x28", b"2e308", b'"' + b"a" * 9000 + b'"', b"-0",
                  b"{}",
                  b"1.0000000000000001", b"123456789012345678901234567890"]
        for number in range(HOSTILE):
            raw = bytearray(dice.choice(good))
            for _ in range(dice.randint(1, 6)):
                at = dice.randrange(len(raw) + 1)
                way = dice.randrange(4)
                if way == 0:
                    raw[at:at + dice.randint(1, 12)] = b""
                elif way == 1:
                    raw[at:at] = dice.choice(pieces)
                elif way == 2:
                    raw[at:at + 1] = bytes([dice.randrange(256)])
                else:
                    raw = raw[:at] + raw[at // 2:at // 2 + 40] + raw[at:]
            for who in (stranger, self.game):
                who.now = number / 10
                who.raw(bytes(raw))
        self.assertEqual(len(self.hub.seats), 1, "nobody got in without the key")
        self.assertEqual(self.game.ask("begin")["result"], {"tick": 0})
        self.assertIn("result", self.game.ask("tick", tick=0, down=["attack"],
                                              senses={"grounded": True}))
        self.assertLess(len(next(iter(self.hub.seats.values())).game.history), 1000)


    def test_numbers_beyond_all_bounds_are_clamped(self) -> None:
        seat = next(iter(self.hub.seats.values()))
        for value in (10**30, -10**30, 2**64, 1e300, 10**400):
            for sense in ("speed", "move_x") if isinstance(value, int) else ("speed",):
                self.assertIn("result", self.game.ask(
                    "tick", tick=0, down=[], senses={sense: value}), value)
                kept = dict(next(seat.game.history.controls()).forced)[sense]
                self.assertEqual(abs(kept), 2**53)
                self.game.ask("begin")


class Budgets(Case):
    def test_a_thousand_ticks_a_second_said_nine_times_are_within_the_budget_for_hours(
        self,
    ) -> None:
        """Three hours by a clock of our own, in frames that come late now and then."""
        speaker, now, dice = Speaker(hub_of(demo_puppet()), lambda text: None,
                                     0.0), 0.0, random.Random(1)
        sent = 0
        while now < 3 * 3600:
            now += 1 / 60 if dice.random() > 0.001 else dice.uniform(0.1, 1.5)
            due = int(now * 1000) * 9
            self.assertTrue(speaker._spend(due - sent, now), now)
            sent = due
        self.assertFalse(speaker._spend(20_000, now))


class Keeping(Case):
    def histories(self, seed: int, ticks: int) -> tuple[ControlsHistory, list[Controls]]:
        dice, history, sent = random.Random(seed), ControlsHistory(), []
        values: dict[str, Any] = {"grounded": True, "speed": 0.0, "ground": "stone"}
        for number in range(ticks):
            for name, value in (("grounded", dice.random() < 0.5),
                                ("speed", dice.choice((0, 1.5, 2, 1e9))),
                                ("ground", dice.choice(("stone", "straw", "é")))):
                if dice.random() < 0.3:
                    values[name] = value
            if number % 97 == 96:
                values = {"speed": 1.0}
            landed = (("body", number, 0),) if dice.random() < 0.1 else ()
            each = Controls(frozenset(dice.sample(("a", "b", "c"), dice.randrange(3))),
                            tuple(values.items()), (),
                            GameInput(landed, dice.random() < 0.1, (number * 0.1, 0.0)))
            sent.append(each)
            history.append(each)
        return history, sent

    def test_what_was_said_is_had_back_from_any_tick_on(self) -> None:
        history, sent = self.histories(1, 3 * WHOLE_EVERY + 7)
        for first in (0, 1, WHOLE_EVERY - 1, WHOLE_EVERY, WHOLE_EVERY + 1, len(sent) - 1):
            found = list(history.controls(first))
            self.assertEqual(found, sent[first:])
            self.assertEqual([[type(value) for _, value in each.forced] for each in found],
                             [[type(value) for _, value in each.forced] for each in sent[first:]])

    def test_what_is_taken_back_is_gone_and_what_follows_is_right(self) -> None:
        for cut in (0, 1, WHOLE_EVERY, WHOLE_EVERY + 3, 400):
            history, sent = self.histories(2, 500)
            history.cut(cut)
            more = self.histories(3, 60)[1]
            for each in more:
                history.append(each)
            self.assertEqual(list(history.controls()), sent[:cut] + more)

    def test_the_last_minute_is_a_take_that_runs_as_the_game_did(self) -> None:
        puppet = replace(demo_puppet(), rate=30)
        game = Speaking(hub_of(puppet))
        game.hello("drive")
        dice, reports = random.Random(5), []
        for number in range(2000):
            down = [each for each in ("attack", "guard", "left") if dice.random() < 0.2]
            sent = game.ask("tick", tick=number, down=down, at=[number * 0.5, 3.25],
                            stopped=number % 50 == 0,
                            landed=[["body", 1, 0]] if number % 60 == 3 else [],
                            senses={"grounded": number % 300 < 250, "speed": number % 90})
            reports.append((sent["result"]["layers"][0]["state"],
                            sent["result"]["layers"][0]["clip_time"]))
        take = next(iter(game.speaker.hub.seats.values())).game.history.take(30, 60.0)
        self.assertEqual((take.ticks, take.first), (2000, 200))
        names = {state.id: state.name for state in puppet.states}
        again = [(names[record.report.layers[0].state], record.report.layers[0].clip_time)
                 for record in replay(set_up(puppet, None), take)]
        self.assertEqual(again, reports)
        last = list(controls_of(take))[-1].game
        assert last is not None
        self.assertEqual(last.at, (999.5, 3.25))

    def test_what_grows_is_bounded(self) -> None:
        history = ControlsHistory()
        history._text = bytearray(64 << 20)
        history.append(Controls(frozenset()))
        self.assertTrue(history.full)
        self.assertEqual(len(history), 0)

    def test_all_runs_together_are_bounded_and_what_one_gives_back_another_has(self) -> None:
        room = Room(3000)
        one, other = ControlsHistory(room), ControlsHistory(room)
        for number in range(1000):
            one.append(Controls(frozenset({"a"} if number % 2 else ()),
                                (("speed", float(number)),)))
        self.assertTrue(one.full)
        self.assertLess(room.used, 3100)
        other.append(Controls(frozenset("b")))
        self.assertTrue(other.full)
        kept, before = len(one), list(one.controls())
        one.cut(kept // 2)
        self.assertEqual(list(one.controls()), before[:kept // 2])
        other.cut(0)
        fresh = ControlsHistory(room)
        while not fresh.full:
            fresh.append(Controls(frozenset("b")))
        self.assertLess(room.used, 3100)
        for each in (one, fresh):
            each.cut(0)
        self.assertEqual(room.used, 0)

    def test_a_game_that_is_forgotten_or_begins_again_gives_its_room_back(self) -> None:
        hub = hub_of(demo_puppet())
        for round in range(3):
            game = Speaking(hub)
            game.hello("follow")
            for number in range(50):
                game.ask("tick", tick=number, down=[], senses={})
            seat = next(iter(hub.seats.values()))
            self.assertEqual((len(hub.seats), hub._room.used > 400), (1, True))
            if round == 1:
                game.ask("begin")
                self.assertEqual(hub._room.used, 0)
            seat.here = False
        hub.dismiss(seat.game.number)
        self.assertEqual(hub._room.used, 0)

    def test_what_was_compared_is_counted_when_a_game_goes_back(self) -> None:
        game = Speaking(hub_of(demo_puppet()))
        game.hello("follow")
        digests = [0] * 8
        for number in range(20):
            game.ask("tick", tick=number, down=[], senses={},
                     **({"digests": digests} if number % 2 else {}))
        seat = next(iter(game.speaker.hub.seats.values()))
        self.assertEqual(seat.game.compared, 10)
        game.ask("tick", tick=12, down=[], senses={})
        self.assertEqual(seat.game.compared, 6)


class Document(Case):
    def test_the_file_is_what_the_code_reads(self) -> None:
        self.assertEqual((ROOT / "docs" / "live-wire.openrpc.json").read_bytes(), document_bytes())
        game = Speaking(hub_of(demo_puppet()))
        game.hello("drive")
        self.assertEqual(game.ask("rpc.discover")["result"], json.loads(document_bytes()))

    def test_the_page_says_every_method_field_and_error(self) -> None:
        page = (ROOT / "docs" / "live-wire.md").read_text()
        for name in (*METHODS, *NOTIFICATIONS):
            self.assertIn(f"`{name}", page)
        for method in DOCUMENT["methods"]:
            for error in method["errors"]:
                self.assertIn(str(error["code"]).replace("-", "−"), page)
            for parameter in method["params"]:
                self.assertIn(parameter["name"], page)
        for field in DOCUMENT["components"]["schemas"]["ReportMessage"]["properties"]:
            self.assertIn(f"`{field}`", page)

    def test_the_types_of_the_client_in_javascript_have_every_field(self) -> None:
        types = LANGUAGES["javascript"].client()["yarn_wire.d.ts"]
        schemas = DOCUMENT["components"]["schemas"]
        for name, sent in (("ReportMessage", "Report"), ("LayerMessage", "LayerReport"),
                           ("MomentMessage", "Moment"),
                           ("WindowMessage", "Window"), ("PropMessage", "Prop"),
                           ("RuleMessage", "Rule"),
                           ("Picture", "Picture"),
                           ("FadingMessage", "Fading"), ("Welcome", "Welcome")):
            body = types.split(f"export interface {sent} {{")[1].split("\nexport ")[0]
            for field in schemas[name]["properties"]:
                self.assertRegex(body, rf"\b{field}: ", f"{sent}.{field}")

    def schema(self, schema: dict[str, Any]) -> dict[str, Any]:
        return {**schema, "components": DOCUMENT["components"]}

    def test_what_is_answered_is_as_the_document_says(self) -> None:
        results = {each["name"]: self.schema(each["result"]["schema"])
                   for each in DOCUMENT["methods"]}
        unasked = {each["name"]: self.schema(each["params"])
                   for each in DOCUMENT["x-notifications"]}
        validators = {name: jsonschema.Draft202012Validator(schema)
                      for name, schema in {**results, **unasked}.items()}
        hub = hub_of(load_puppet(DEMO_PUPPET))
        drives, follows = Speaking(hub), Speaking(hub)
        validators["hello"].validate(drives.hello("drive")["result"])
        validators["hello"].validate(follows.hello("follow")["result"])
        for number in range(200):
            down = ["attack"] if number % 50 < 3 else ["guard"] if number % 50 > 40 else []
            validators["tick"].validate(drives.ask(
                "tick", tick=number, down=down, senses={"grounded": True})["result"])
            validators["tick"].validate(
                follows.ask("tick", tick=number, down=down, senses={}, digests=[0] * 8)["result"])
        follows.tell("tick", tick=900, down=[], senses={})
        hub.edit(hub.puppets.edit(2, hub.puppets.now.setup.puppet))
        validators["begin"].validate(drives.ask("begin")["result"])
        sent = drives.unasked + follows.unasked
        self.assertEqual({each["method"] for each in sent}, set(unasked))
        for each in sent:
            validators[each["method"]].validate(each["params"])

    def test_what_the_document_refuses_the_code_refuses(self) -> None:
        schema = self.schema(next(each
                                  for each in DOCUMENT["components"]["schemas"].items()
                                  if each[0] == "Tick")[1])
        validator = jsonschema.Draft202012Validator(schema)
        for odd in ({"tick": -1}, {"down": [1]}, {"digests": [1]}, {"at": [0]}, {"senses": []},
                    {"stopped": 1}):
            params = {"tick": 0, "down": [], "senses": {}, **odd}
            self.assertFalse(validator.is_valid(params), odd)
            game = Speaking(hub_of(demo_puppet()))
            game.hello("drive")
            self.assertEqual(game.ask("tick", **params)["error"]["code"], BAD_PARAMETERS, odd)


class Key(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "deep" / "wire.key"

    def test_it_is_made_once_and_only_its_user_can_read_it(self) -> None:
        key = the_key(self.path)
        self.assertRegex(key, r"^[A-Za-z0-9_-]{22}$")
        self.assertEqual(the_key(self.path), key)
        self.assertEqual(self.path.stat().st_mode & 0o777, 0o600)
        self.assertNotEqual(new_key(self.path), key)
        self.assertEqual([each.name for each in self.path.parent.iterdir()], ["wire.key"])

    def test_one_that_others_can_read_or_that_is_none_is_replaced(self) -> None:
        for spoil in (lambda: self.path.chmod(0o644), lambda: self.path.write_text("short"),
                      lambda: self.path.write_bytes(b"\xff" * 22),
                      lambda: (self.path.unlink(), self.path.symlink_to("/etc/passwd"))):
            key = the_key(self.path)
            spoil()
            self.assertNotEqual(the_key(self.path), key)
            self.assertEqual(self.path.lstat().st_mode & 0o777, 0o600)
