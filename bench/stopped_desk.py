"""What a frame of a game costs that looks for a desk: `python -m bench.stopped_desk`.

A game at 60 Hz follows; after two seconds its desk is stopped by a signal, for six, and goes on for
two. Then the same with another program on the desk's port, which takes all and says nothing. The
worst frame, and how many took more than a millisecond in C, three in Python. Beside it the worst of
as many frames that do nothing, which is the machine's own.
"""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import tempfile
import threading
import time
from pathlib import Path

from tests.helpers import demo_puppet
from tests.wire import KEY, WireWorker
from yarn_puppet.core.handoff.files import hand_off
from yarn_puppet.core.languages.python.client.yarn_wire import Wire
from yarn_puppet.game.puppets import imported

FRAMES, STOPPED, GOES_ON = 600, 2.0, 6.0
GAME_C = """#define _POSIX_C_SOURCE 200809L
#include "it.h"
#include "yarn_wire.h"
static it pell; static it_report out; static yarn_wire wire;
static double now(void) {
    struct timespec t;
    clock_gettime(CLOCK_MONOTONIC, &t);
    return t.tv_sec * 1e3 + t.tv_nsec / 1e6;
}
int main(int argc, char **argv) {
    static char told[8192]; it_inputs in; uint32_t digests[8]; int n, late = 0; double worst = 0.0;
    (void)argc;
    yarn_wire_open(&wire, "in C", "follow", "C", it_made_of, argv[1], NULL);
    it_start(&pell);
    for (n = 0; n < FRAMES; n++) {
        double spent, begun = now();
        struct timespec wait = {0, 16000000};
        if (yarn_wire_begins(&wire)) it_start(&pell);
        it_nothing(&in);
        it_tick(&pell, &in, &out);
        it_digests(&out, digests);
        if (it_told(&in, told, sizeof told)) yarn_wire_follow(&wire, told, digests, 0.0, 0.0);
        spent = now() - begun;
        worst = spent > worst ? spent : worst;
        late += spent > 1.0;
        nanosleep(&wait, NULL);
    }
    printf("worst frame %.2f ms, %d of %d over 1 ms; %s\\n", worst, late, n,
           wire.here ? "the desk is there" : wire.trouble);
    return 0;
}
""".replace("FRAMES", str(FRAMES))


def in_python(address: str) -> str:
    """The frames of a game in Python."""
    module = imported(hand_off(demo_puppet(), ("python",), "it").files["it.py"])
    wire = Wire("in Python", "follow", "Python", module.MADE_OF, address, KEY)
    state, spent = module.START, []
    for _ in range(FRAMES):
        begun = time.perf_counter()
        if wire.begins():
            state = module.START
        state, report = module.step(state, (), {"grounded": True})
        ticked = time.perf_counter()
        told, digests = module.told((), {"grounded": True}), module.digests(report)
        begun += time.perf_counter() - ticked
        wire.follow(told, digests)
        spent.append(time.perf_counter() - begun)
        time.sleep(0.016)
    late = sum(each > 0.003 for each in spent)
    return (f"worst frame {max(spent) * 1000:.2f} ms, {late} of {FRAMES} over 3 ms; "
            f"{'the desk is there' if wire.here else wire.trouble}")


def doing_nothing() -> str:
    """The worst of as many frames without any work."""
    worst = 0.0
    for _ in range(FRAMES):
        begun = time.perf_counter()
        worst = max(worst, time.perf_counter() - begun)
        time.sleep(0.016)
    return f"{worst * 1000:.2f} ms"


def main() -> None:
    """All figures."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for file, content in hand_off(demo_puppet(), ("c",), "it", wire=True).files.items():
            (folder / file).write_bytes(content)
        (folder / "game.c").write_text(GAME_C)
        subprocess.run(["cc", "-std=c99", "-O2", "-o", "game", "game.c", "it.c", "-lm"], cwd=folder,
                       check=True)

        def in_c(address: str) -> str:
            return subprocess.run([folder / "game", address], capture_output=True, text=True,
                                  check=True,
                                  env={**os.environ, "YARN_PUPPET_KEY": KEY}).stdout.strip()

        print(f"nothing: worst frame {doing_nothing()}")
        for language, play in (("C", in_c), ("Python", in_python)):
            worker = WireWorker(demo_puppet())
            for after, what in ((STOPPED, signal.SIGSTOP), (STOPPED + GOES_ON, signal.SIGCONT)):
                timer = threading.Timer(after, worker.process.send_signal, (what,))
                timer.start()
            drain = threading.Thread(target=lambda worker=worker: list(
                iter(worker.process.stdout.readline, b"")))
            drain.start()
            print(f"{language}, the desk stopped: {play(worker.address)}")
            worker.process.kill()
            with socket.create_server(("127.0.0.1", 0)) as silent:
                print(
                    f"{language}, another program: {play(f'127.0.0.1:{silent.getsockname()[1]}')}"
                )


if __name__ == "__main__":
    main()
