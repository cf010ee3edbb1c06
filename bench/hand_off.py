"""The C that a game gets beside C written by hand with the same behaviour: `python -m
bench.hand_off`.

Both are given the inputs of the demo's takes, and must see the same in every tick before they are
timed, in turns, in one program; the ratio of the medians is the figure. Also: bytes of a character,
characters ticked within a frame's time on one core, and how long a puppet of a thousand states
takes to be made and compiled, beside one of a hundred.
"""

from __future__ import annotations

import subprocess
import tempfile
from pathlib import Path
from statistics import median
from time import perf_counter

from bench.large import large_puppet
from bench.ticks import inputs_of_takes
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.languages.c.source import c_source
from yarn_puppet.core.takes.run import set_up
from yarn_puppet.demo import DEMO_BOOTH, DEMO_FOLDER, FIRST_STEPS

HERE = Path(__file__).parent
ROUNDS = 15
MAIN = """#include "hand_written.h"
#include "pell.h"
#include "full.h"
#include <stdio.h>
#include <string.h>
#include <time.h>

typedef struct {
    int attack, jump, guard, crouch, grounded, landed_layer, stopped, move_x;
    double speed, vy;
    int first, visit, pass;
} row;
static const row ROWS[] = {
@ROWS@
};
enum { COUNT = sizeof ROWS / sizeof ROWS[0], ROUNDS = @ROUNDS@, REPEATS = 20 };
static const char *const MOMENTS[] = {
    "soft_step", "jump", "dust", "cloth_whip", "spark", "pole_hit", "cloth_heave", "thud", "embers", "canopy"
};
static const char *const WINDOWS[] = {"pole", "cancel", "umbrella"};
static const char *const MOMENT_NAMES[] = {@MOMENTS@};
static const char *const WINDOW_NAMES[] = {@WINDOWS@};
static const int CLIPS[] = {@CLIPS@};
static const int CLIPS_OF[] = {@CLIPS_OF@}; /* by state */
enum { TAP = @TAP@, HOLD = @HOLD@, JUMPS = @JUMPS@ };
static pell character;
static pell_report report;
static chain by_hand;
static chain_seen seen;

static void tell(const row *r, pell_inputs *in, chain_inputs *hand, pell_landed *landed) {
    pell_nothing(in);
    memset(hand, 0, sizeof *hand);
    in->attack = hand->attack = r->attack != 0;
    in->jump = hand->jump = r->jump != 0;
    in->guard = hand->guard = r->guard != 0;
    in->down = hand->crouch = r->crouch != 0;
    in->grounded = hand->grounded = r->grounded != 0;
    in->speed = hand->speed = r->speed;
    in->vy = hand->vy = r->vy;
    in->move_x = r->move_x;
    hand->move_x = r->move_x;
    in->stopped = hand->stopped = r->stopped != 0;
    hand->landed = r->landed_layer >= 0;
    landed->layer = r->landed_layer;
    landed->visit = r->visit;
    landed->pass = r->pass;
    in->landed = landed;
    in->landed_count = r->landed_layer >= 0 ? 1 : 0;
}

static double now(void) {
    struct timespec t;
    clock_gettime(CLOCK_MONOTONIC, &t);
    return (double)t.tv_sec * 1e9 + (double)t.tv_nsec;
}

int main(void) {
    static pell_inputs ins[COUNT];
    static chain_inputs hands[COUNT];
    static pell_landed landed[COUNT];
    static full many[10000];
    static full_report full_out;
    full_inputs full_in;
    double start;
    int at, number, round, repeat;
    for (at = 0; at < COUNT; at++) tell(&ROWS[at], &ins[at], &hands[at], &landed[at]);
    for (at = 0; at < COUNT; at++) {
        unsigned open = 0;
        if (ROWS[at].first) { pell_start(&character); chain_start(&by_hand); }
        pell_tick(&character, &ins[at], &report);
        chain_step(&by_hand, &hands[at], &seen);
        for (number = 0; number < report.window_count; number++) {
            int name;
            for (name = 0; name < 3; name++) {
                if (!strcmp(WINDOWS[name], WINDOW_NAMES[report.windows[number].window])) open |= 1u << name;
            }
        }
        if (CLIPS[report.layers[0].clip] != seen.state || report.layers[0].frame != seen.frame
            || (report.facing == 0) != seen.right || report.move_speed != seen.move_speed
            || report.lock_movement != seen.locked || report.moment_count != seen.moments || open != seen.open
            || report.layers[0].clip_time != seen.clip_time || report.layers[0].pass != seen.pass
            || report.layers[0].visit != seen.visit || report.layers[0].done != seen.done
            || report.layers[0].elapsed != seen.elapsed || report.taken_count != (seen.entered >= 0)
            || (seen.entered >= 0 && (CLIPS_OF[report.taken[0].entered] != seen.entered
                || CLIPS_OF[report.taken[0].left] != seen.left))
            || report.armed[TAP] != seen.tap_armed || report.armed[HOLD] != seen.hold_armed
            || report.armed[JUMPS] != seen.jump_armed) {
            printf("differs %d\\n", at);
            return 1;
        }
        for (number = 0; number < seen.moments; number++) {
            if (strcmp(MOMENTS[seen.moment[number]], MOMENT_NAMES[report.moments[number].moment])) {
                printf("differs %d\\n", at);
                return 1;
            }
        }
    }
    printf("same %d\\n", (int)COUNT);
    for (round = 0; round < ROUNDS; round++) {
        start = now();
        for (repeat = 0; repeat < REPEATS; repeat++) {
            for (at = 0; at < COUNT; at++) {
                if (ROWS[at].first) pell_start(&character);
                pell_tick(&character, &ins[at], &report);
            }
        }
        printf("made %f\\n", (now() - start) / COUNT / REPEATS);
        start = now();
        for (repeat = 0; repeat < REPEATS; repeat++) {
            for (at = 0; at < COUNT; at++) {
                if (ROWS[at].first) chain_start(&by_hand);
                chain_step(&by_hand, &hands[at], &seen);
            }
        }
        printf("hand %f\\n", (now() - start) / COUNT / REPEATS);
    }
    printf("bytes %d %d\\n", (int)sizeof(pell), (int)sizeof(full));
    full_nothing(&full_in);
    full_in.grounded = true;
    full_in.move_x = 1;
    full_in.speed = 60;
    for (at = 0; at < 10000; at++) full_start(&many[at]);
    for (round = 0; round < ROUNDS; round++) {
        start = now();
        for (at = 0; at < 10000; at++) full_tick(&many[at], &full_in, &full_out);
        printf("crowd %f\\n", (now() - start) / 10000);
    }
    return 0;
}
"""  # noqa: E501


def main() -> None:
    """Measure and print."""
    setup = set_up(load_puppet(FIRST_STEPS), load_booth(DEMO_FOLDER / DEMO_BOOTH))
    program = setup.program
    places = {id: index for index, id in enumerate(program.actions)}
    senses = {sense.id: index for index, sense in enumerate(program.senses)}
    rows = []
    for take in inputs_of_takes(setup):
        for number, each in enumerate(take):
            news = each.landed[0] if each.landed else (-1, 0, 0)
            values = [int(each.down[places[id]]) for id in ("attack", "jump", "guard", "down")]
            values += [int(each.senses[senses["grounded"]]), news[0], int(each.stopped),
                       each.senses[senses["move_x"]]]
            lines = (float(each.senses[senses[id]]) for id in ("speed", "vy"))
            rows.append("    {" + ", ".join(map(
                str, (*values, *lines, int(not number), *news[1:]))) + "}")
    order = ["idle", "walk", "rise", "fall", "light_swing", "heavy_slam", "guard", "crouch"]
    text = MAIN.replace("@ROWS@", ",\n".join(rows)).replace("@ROUNDS@", str(ROUNDS))
    text = text.replace("@CLIPS@", ", ".join(str(order.index(id)) for id in program.clips))
    text = text.replace("@CLIPS_OF@", ", ".join(
        str(order.index(state.clip.id)) for state in program.states if state.clip is not None))
    gestures = [(intent.gesture, program.actions[intent.action]) for intent in program.intents]
    for key, gesture in (("@TAP@", ("tap", "attack")), ("@HOLD@", ("hold", "attack")),
                         ("@JUMPS@", ("press", "jump"))):
        text = text.replace(key, str(gestures.index(gesture)))
    for key, kind in (("@MOMENTS@", "moments"), ("@WINDOWS@", "windows")):
        names = [each.name for clip in program.clips.values() for each in getattr(clip, kind)]
        text = text.replace(key, ", ".join(f'"{name}"' for name in names))
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        full = compile_puppet(load_puppet(DEMO_FOLDER / "lamplighter.puppet.json"))
        for made, called in ((program, "pell"), (full, "full")):
            source = c_source(made, called)
            (folder / f"{called}.h").write_text(source.header)
            (folder / f"{called}.c").write_text(source.code)
        (folder / "main.c").write_text(text)
        subprocess.run(["gcc", "-std=gnu99", "-O2", f"-I{HERE}", "-o", "all", "main.c", "pell.c",
                        "full.c",
                        str(HERE / "hand_written.c"), "-lm"], cwd=folder, check=True)
        lines = subprocess.run([folder / "all"], capture_output=True, text=True,
                               check=False).stdout.splitlines()
        assert lines[0].startswith("same"), lines[:1]
        found: dict[str, list[float]] = {}
        for line in lines[1:]:
            key, *numbers = line.split()
            found.setdefault(key, []).extend(map(float, numbers))
        made, hand, crowd = (median(found[key]) for key in ("made", "hand", "crowd"))
        print(f"{lines[0].split()[1]} ticks seen the same")
        print(f"a tick in C: {made:.0f} ns, by hand {hand:.0f} ns: {made / hand:.2f} times")
        print(f"a character: {found['bytes'][0]:.0f} bytes, Pell in full {found['bytes'][1]:.0f}")
        print(
            f"Pell in full, 10,000 of them: {crowd:.0f} ns a tick, {1e9 / 60 / crowd:.0f} in a "
            "sixtieth of a second"
        )
        sizes = [_large(states, folder) for states in (100, 1000)]
        (small, _, _), (large, making, compiling) = sizes
        print(
            f"a thousand states: made in {making:.2f} s, compiled at -O2 in {compiling:.1f} s, "
            f"{large / 1e6:.2f} MB, "
            f"{large / small:.1f} times that of a hundred"
        )


def _large(states: int, folder: Path) -> tuple[int, float, float]:
    """The bytes of a large puppet's C, and the seconds it takes to be made and to be compiled."""
    program = compile_puppet(large_puppet(states))
    began = perf_counter()
    source = c_source(program, "large")
    making = perf_counter() - began
    (folder / "large.h").write_text(source.header)
    (folder / "large.c").write_text(source.code)
    began = perf_counter()
    subprocess.run(["gcc", "-std=c99", "-O2", "-c", "large.c"], cwd=folder, check=True)
    return len(source.code), making, perf_counter() - began


if __name__ == "__main__":
    main()
