"""The animals: what each is drawn like, how its art is packed, and what its clips are then called.

A figure is a body with a head and two legs, and an arm that reaches out where it strikes. It looks
to the right unless it is said to look left.
"""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from PIL import Image, ImageDraw

USUAL = {"idle": 4, "walk": 6, "attack": 5, "jump": 3, "fall": 2}
"""Clips by name, with their frames."""
WAYS = {"idle": "still", "walk": "legs", "attack": "arm", "jump": "up", "fall": "down"}
"""What each shows, by its usual name."""


def figure(size: tuple[int, int], shows: str, step: int, count: int, left: bool) -> Image.Image:
    """One frame, as large as `size`: a body that takes up about a third of it."""
    wide, high = size
    picture = Image.new("RGBA", size, (0, 0, 0, 0))
    draw = ImageDraw.Draw(picture)
    unit = max(1, high // 8)
    middle, share = wide // 2, step / max(1, count - 1)
    sway = round(unit * share) if shows == "still" else 0
    top = high - 6 * unit - (unit if shows == "up" else 0)
    body = (70, 90 + 40 * (step % 3), 160, 255)
    draw.rectangle((middle - unit, top + unit, middle + unit, high - 2 * unit), fill=body)
    draw.rectangle((middle - unit // 2, top - sway // 2, middle + unit, top + unit),
                   fill=(220, 180, 140, 255))
    spread = unit * (step % 2) if shows == "legs" else 0
    for side in (-1, 1):
        x = middle + side * (unit // 2 + spread // 2)
        draw.rectangle((x - unit // 3, high - 2 * unit, x + unit // 3, high - 1),
                       fill=(60, 40, 30, 255))
    if shows == "arm":
        reach = round((wide / 2 - unit - 1) * (1 - abs(2 * share - 1)))
        draw.rectangle((middle, top + 2 * unit, middle + unit + reach, top + 2 * unit + unit // 2),
                       fill=(200, 60, 50, 255))
    return picture.transpose(Image.Transpose.FLIP_LEFT_RIGHT) if left else picture


@dataclass(frozen=True)
class Animal:
    """One character of the zoo."""

    name: str
    size: tuple[int, int] = (32, 32)
    pack: str = "strips"
    rate: int = 60
    left: bool = False
    clips: dict[str, int] = field(default_factory=lambda: dict(USUAL))
    shows: dict[str, str] = field(default_factory=lambda: dict(WAYS))
    called: Callable[[str], str] = str
    """What the file of a clip is called, without its ending."""
    cards: dict[str, str] = field(default_factory=dict)
    """By card the clip that is chosen by hand, for names that say nothing."""

    def frames(self, clip: str) -> list[Image.Image]:
        """The frames of a clip."""
        count = self.clips[clip]
        return [figure(self.size, self.shows[clip], step, count, self.left)
                for step in range(count)]

    def made(self, folder: Path) -> list[Path]:
        """The files of its art."""
        return PACKS[self.pack](self, folder)


def strips(animal: Animal, folder: Path) -> list[Path]:
    """A strip a clip."""
    paths = []
    for clip in animal.clips:
        frames = animal.frames(clip)
        strip = Image.new("RGBA", (animal.size[0] * len(frames), animal.size[1]))
        for number, frame in enumerate(frames):
            strip.paste(frame, (number * animal.size[0], 0))
        paths.append(folder / f"{animal.called(clip)}.png")
        strip.save(paths[-1])
    return paths


def rows(animal: Animal, folder: Path) -> list[Path]:
    """One sheet, a clip a row."""
    wide, high = animal.size
    sheet = Image.new("RGBA", (wide * max(animal.clips.values()), high * len(animal.clips)))
    for row, clip in enumerate(animal.clips):
        for number, frame in enumerate(animal.frames(clip)):
            sheet.paste(frame, (number * wide, row * high))
    path = folder / f"{animal.name}.png"
    sheet.save(path)
    return [path]


def unequal(animal: Animal, folder: Path) -> list[Path]:
    """A strip a clip, the cells of one half as wide again as those of the one before."""
    paths = []
    for place, clip in enumerate(animal.clips):
        frames = animal.frames(clip)
        wide, high = animal.size[0] * (2 + place % 3) // 2, animal.size[1] + 4 * (place % 2)
        strip = Image.new("RGBA", (wide * len(frames), high))
        for number, frame in enumerate(frames):
            # The figure stands in the middle of its cell, on its lower edge.
            strip.paste(frame, (number * wide + (wide - frame.width) // 2, high - frame.height))
        paths.append(folder / f"{animal.called(clip)}.png")
        strip.save(paths[-1])
    return paths


def trimmed(animal: Animal, folder: Path) -> list[Path]:
    """One sheet, a clip a row, of each frame only what is drawn, some pixels apart."""
    apart = 6
    rows = [[frame.crop(frame.getbbox()) for frame in animal.frames(clip)]
            for clip in animal.clips]
    wide = max(sum(frame.width + apart for frame in row) for row in rows) + apart
    high = max(frame.height for row in rows for frame in row) + apart
    sheet = Image.new("RGBA", (wide, high * len(rows) + apart))
    for place, row in enumerate(rows):
        left = apart
        for frame in row:
            sheet.paste(frame, (left, (place + 1) * high - frame.height))
            left += frame.width + apart
    path = folder / f"{animal.name}.png"
    sheet.save(path)
    return [path]


def moving(ending: str) -> Callable[[Animal, Path], list[Path]]:
    """A picture that moves a clip."""
    def made(animal: Animal, folder: Path) -> list[Path]:
        paths = []
        for clip in animal.clips:
            first, *rest = animal.frames(clip)
            paths.append(folder / f"{animal.called(clip)}.{ending}")
            options = {"gif": {"disposal": 2}, "apng": {"format": "PNG"},
                       "webp": {"lossless": True}}[ending]
            first.save(paths[-1], save_all=True, append_images=rest, duration=90, loop=0,
                       **options)
        return paths

    return made


def folders(animal: Animal, folder: Path) -> list[Path]:
    """A folder of numbered pictures a clip."""
    paths = []
    for clip in animal.clips:
        paths.append(folder / animal.called(clip))
        paths[-1].mkdir()
        for number, frame in enumerate(animal.frames(clip)):
            frame.save(paths[-1] / f"{clip} {number + 1}.png")
    return paths


def layers(animal: Animal, folder: Path) -> list[Path]:
    """A file of layers a clip."""
    paths = []
    for clip in animal.clips:
        frames = animal.frames(clip)
        paths.append(folder / f"{animal.called(clip)}.ora")
        with zipfile.ZipFile(paths[-1], "w") as archive:
            for number, frame in enumerate(frames):
                content = io.BytesIO()
                frame.save(content, "PNG")
                archive.writestr(f"data/{number}.png", content.getvalue())
            listed = "".join(f'<layer src="data/{number}.png"/>'
                             for number in reversed(range(len(frames))))
            archive.writestr("stack.xml", f'<image w="{animal.size[0]}" h="{animal.size[1]}">'
                                          f"<stack>{listed}</stack></image>")
    return paths


PACKS: dict[str, Callable[[Animal, Path], list[Path]]] = {
    "strips": strips, "rows": rows, "folders": folders, "layers": layers,
    "unequal": unequal, "trimmed": trimmed,
    "gif": moving("gif"), "apng": moving("apng"), "webp": moving("webp"),
}
GREEK = {"στάση": "idle", "βάδην": "walk", "χτύπημα": "attack"}
ARABIC = {"وقوف": "idle", "مشي": "walk"}
JAPANESE = {"待機 1": "idle", "歩き 2": "walk", "斬り 3": "attack"}


def foreign(names: dict[str, str]) -> dict[str, object]:
    """Clips under other names than those of the table, and the cards that they are chosen for."""
    cards = {"idle": "Idle", "walk": "Walk", "attack": "Light 1"}
    return {"clips": {name: USUAL[usual] for name, usual in names.items()},
            "shows": {name: WAYS[usual] for name, usual in names.items()},
            "cards": {cards[usual]: name for name, usual in names.items()}}


ANIMALS = (
    Animal("mite", (8, 8)),
    Animal("moth", (18, 18), rate=24),
    Animal("bear", (64, 64), "rows", rate=50),
    Animal("giant", (256, 256), rate=144),
    Animal("heron", (40, 96), "folders"),
    Animal("newt", (32, 32), "gif", rate=50),
    Animal("wasp", (48, 32), "apng"),
    Animal("hare", (64, 48), "webp", rate=30),
    Animal("crab", (56, 32), "layers"),
    Animal("padded", (96, 40), called=lambda clip: f"padded_{clip}_strip"),
    Animal("unequal", (40, 40), "unequal"),
    Animal("trimmed", (48, 40), "trimmed", rate=30),
    Animal("leftward", (48, 48), left=True, called=lambda clip: f"01 Leftward-{clip.upper()}"),
    Animal("still", (32, 48), clips={"idle": 1}),
    Animal("eel", (24, 24), clips={"idle": 120, "walk": 60}),
    Animal("greek", (32, 32), **foreign(GREEK)),  # type: ignore[arg-type]
    Animal("arabic", (32, 32), "rows", **foreign(ARABIC)),  # type: ignore[arg-type]
    Animal("japanese", (32, 40), "gif", **foreign(JAPANESE)),  # type: ignore[arg-type]
)
