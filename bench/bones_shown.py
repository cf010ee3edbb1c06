"""What bones cost at the desk: `python -m bench.bones_shown`.

Harrow's picture in the booth, as limbs and as his mesh, drawn by software where there is no card;
two hundred clips scrolled; ten minutes of play in memory; a take run again beside one of sprites;
a file of 100 MB read with the desk live. Each is in milliseconds of this run, with what a fixed
loop of Python takes just then before it: machines that are shared change their speed by the minute.
"""

from __future__ import annotations

import os
import resource
import tempfile
from pathlib import Path
from statistics import median
from time import perf_counter, thread_time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from msgspec.structs import replace
from PyQt6.QtGui import QPainter, QPixmap
from PyQt6.QtWidgets import QApplication

from bench.yardstick import yardstick
from yarn_puppet.core.formats.bones.gltf_writing import save_gltf
from yarn_puppet.core.formats.bones.puppet_bones import bones_in
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.bones import BoneClip, Channel
from yarn_puppet.core.takes.controls import NO_CONTROLS, Controls
from yarn_puppet.core.takes.recording import run_again
from yarn_puppet.core.takes.run import set_up
from yarn_puppet.demo import DEMO_FOLDER
from yarn_puppet.desk.shell.application import make_application
from yarn_puppet.desk.shell.window import Window

TICKS = 240


def told(what: str, times: list[float]) -> None:
    """Print the middle and the slow end of times in milliseconds."""
    times = sorted(times)
    print(f"{what}: median {median(times):.1f} ms, p95 {times[int(len(times) * 0.95)]:.1f} ms "
          f"(the loop: {yardstick():.1f} ms)", flush=True)


def opened(path: Path) -> Window:
    """The desk with a puppet of bones, all read."""
    window = Window()
    window.resize(1280, 800)
    window.show()
    window.document.open(path)
    window.player.pause()
    while window.art.busy or window.art.bones.busy:
        QApplication.processEvents()
    return window


def in_the_booth(window: Window) -> None:
    """A picture of every tick of a walk with strikes, each of a pose that was not drawn before."""
    player, booth = window.player, window.booth
    player.press("right")
    for tick in range(TICKS):
        if tick % 60 == 20:
            player.press("attack")
        if tick % 60 == 24:
            player.release("attack")
        player.run_tick()
    meshes = window.art.bones.meshes
    for name in ("limbs", "mesh"):
        meshes.want(name == "mesh")
        if name == "mesh" and not meshes.renderer.begin().result():
            print("mesh: there is no OpenGL here")
            continue
        booth.bones_figure.forget()
        picture, times = QPixmap(booth.size()), []
        for tick in range(TICKS):
            player.head = tick
            began = perf_counter()
            painter = QPainter(picture)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            booth.draw(painter)
            painter.end()
            times.append((perf_counter() - began) * 1000)
        told(f"the booth, {booth.width()} by {booth.height()}, {name}", times)
    meshes.want(False)


def scrolled(window: Window) -> None:
    """Two hundred clips of bones, scrolled by a row a picture from the top to the end and back."""
    clips = window.document.puppet.clips
    made = tuple([replace(clip, id=f"{clip.id}_{number}", name=f"{clip.name} {number}",
                          motion=replace(clip.motion, speed=1 + number / 100))
                  for number in range(25) for clip in clips])
    window.document.edit("many clips", lambda now: replace(now, clips=(*now.clips, *made)))
    window.show_page("Clips")
    ribbons = window.page("Clips").ribbons
    while window.art.bones.busy:
        QApplication.processEvents()
    area = ribbons.parent().parent()
    bar = area.verticalScrollBar()
    for which in ("first", "again"):
        times = []
        for number in range(120):
            bar.setValue(number * 40 if which == "first" else (120 - number) * 40)
            began = perf_counter()
            ribbons.repaint()
            times.append((perf_counter() - began) * 1000)
            # What was put off to the next turns of the loop, which are pictures of their own.
            QApplication.processEvents()
        told(f"{len(window.document.puppet.clips)} clips scrolled, {which}", times)
    window.document.undo()


def run_again_beside_sprites() -> None:
    """A take run again without showing, a tick."""
    took = {}
    for name in ("harrow", "lamplighter"):
        puppet = load_puppet(DEMO_FOLDER / f"{name}.puppet.json")
        setup = set_up(replace(puppet, bone_boxes=()), None)
        held = Controls(frozenset({action.id for action in puppet.actions[:1]}))
        controls = [NO_CONTROLS if number % 60 < 30 else held for number in range(20_000)]
        began = thread_time()
        for _ in run_again(setup, controls):
            pass
        took[name] = (thread_time() - began) / len(controls) * 1e6
    print(f"a tick run again: bones {took['harrow']:.1f} µs, sprites {took['lamplighter']:.1f} µs: "
          f"{took['harrow'] / took['lamplighter']:.2f} times", flush=True)


def ten_minutes(window: Window) -> None:
    """What 36,000 ticks of play keep."""
    player = window.player
    player.restart()
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    for tick in range(36_000):
        if tick % 90 == 0:
            (player.press if tick % 180 == 0 else player.release)("right")
        if tick % 50 in (0, 4):
            (player.press if tick % 50 == 0 else player.release)("attack")
        player.run_tick()
    after = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    print(f"ten minutes: {player.recording.weight / 1e6:.0f} MB by its own count, "
          f"{(after - before) / 1e3:.0f} MB more of the process", flush=True)


def large_file(folder: Path) -> Path:
    """A file of 100 MB: Harrow with clips of an hour."""
    art = bones_in(DEMO_FOLDER / "harrow.glb")
    bones, keys = len(art.skeleton.names), 20_000
    numbers = np.random.default_rng(3)
    times = np.arange(keys) / 30
    clips = []
    for number in range(9):
        turns = numbers.normal(size=(bones, keys, 4))
        turns /= np.linalg.norm(turns, axis=2, keepdims=True)
        clips.append(BoneClip(f"long {number}", float(times[-1]), tuple([
            Channel(bone, "turn", "LINEAR", times, turns[bone]) for bone in range(bones)])))
    path = folder / "large.glb"
    save_gltf(art._replace(clips=tuple(clips)), path)
    return path


def read_live(window: Window, path: Path) -> None:
    """Bring a large file in; the longest that the window's thread was away meanwhile."""
    window.document.start_new()
    window.show_page("Clips")
    page = window.page("Clips")
    page.bringing.bones.read([path])
    began, longest, own = perf_counter(), 0.0, 0.0
    while page.bringing.busy or window.art.bones.busy:
        turn, mine = perf_counter(), thread_time()
        QApplication.processEvents()
        longest, own = max(longest, perf_counter() - turn), max(own, thread_time() - mine)
    QApplication.processEvents()
    print(f"a file of {path.stat().st_size / 1e6:.0f} MB: {perf_counter() - began:.1f} s; the "
          f"longest turn of the window {longest * 1000:.0f} ms, {own * 1000:.0f} ms its own; "
          f"{len(window.document.puppet.clips)} clips", flush=True)


def main() -> None:
    """All of it, one after the other."""
    app = make_application()
    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_CONFIG_HOME"] = os.environ["XDG_STATE_HOME"] = folder
        window = opened(DEMO_FOLDER / "harrow.puppet.json")
        in_the_booth(window)
        scrolled(window)
        read_live(window, large_file(Path(folder)))
        window = opened(DEMO_FOLDER / "harrow.puppet.json")
        ten_minutes(window)
        window.files.drop_edits()
        window.close()
    run_again_beside_sprites()
    del app


if __name__ == "__main__":
    main()
