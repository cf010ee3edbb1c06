"""What handed-off code says of the figure, in each language, as lines of numbers; and what
`core/pose` says of the same ticks. Floats are told by their bits, so that equal is equal."""

from __future__ import annotations

import json
import struct
import subprocess
from collections.abc import Iterator, Sequence
from pathlib import Path
from types import ModuleType

from tests.c_engine import DRIVER, FLAGS, READS, Case, input_lines
from tests.js_engine import input_rows
from yarn_puppet.core.engine.state import Report
from yarn_puppet.core.generate.flat import flat
from yarn_puppet.core.handoff.frames import geometry
from yarn_puppet.core.languages.c.source import c_source
from yarn_puppet.core.languages.c.source import input_names as c_names
from yarn_puppet.core.languages.javascript.source import javascript_source
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.pose.clip_shown import shown
from yarn_puppet.core.pose.figure import anchor_in, figure, place_of, standing
from yarn_puppet.core.pose.place import PlacedFrame, placed
from yarn_puppet.core.pose.ruled import HeldProp, body_boxes, held_props, tint_of

Line = list[int]


def bits(value: float) -> int:
    """A float by its bits. Zero of either sign is the same place."""
    return int(struct.unpack("<q", struct.pack("<d", value + 0.0))[0])


class Model:
    """What `core/pose` says of a report, by the numbers that handed-off code has for things."""

    def __init__(self, puppet: Puppet, case: Case) -> None:
        self.puppet = puppet
        self.layers = {each.id: index for index, each in enumerate(case.program.layers)}
        self.sheets = {each.id: index for index, each in enumerate(puppet.sheets)}

    def line(self, report: Report) -> Line:
        """All of a tick."""
        stands = standing(self.puppet, report, 0.0, 0.0)
        props = held_props(self.puppet, report, stands)
        found: list[Line] = [self._prop(prop, report) for prop in props if prop.under]
        tint = tint_of(report)
        tints = [bits(float(each)) for each in tint or (0, 0, 0, 0.0)]
        for drawn in figure(self.puppet, report, 0.0, 0.0):
            for piece in drawn.pieces:
                found.append([self.layers[drawn.layer], 0, *self._picture(piece.placed),
                              bits(piece.share),
                              bits(drawn.weight), *tints, 0])
        found += [self._prop(prop, report) for prop in props if not prop.under]
        line = [number for piece in found if piece for number in piece]
        for anchor in self.puppet.anchors:
            at = anchor_in(stands, anchor.id)
            line += [-7] if at is None else [bits(each) for each in at[0]]
        for fired in report.moments:
            frame = placed(self.puppet, fired.clip, fired.frame, report.facing,
                           *place_of(self.puppet, stands, fired.layer, 0.0, 0.0))
            spot = frame.anchor(fired.moment.anchor) if frame is not None else None
            line += [-8] if spot is None else [bits(each) for each in spot]
        for opened in report.windows:
            frame = placed(self.puppet, opened.clip, opened.frame, report.facing,
                           *place_of(self.puppet, stands, opened.layer, 0.0, 0.0))
            for box in frame.hit_boxes(opened.window.name) if frame is not None else ():
                line += [bits(each) for each in box]
        for _, body in body_boxes(report, stands):
            line += [bits(each) for each in body]
        return line

    def _prop(self, prop: HeldProp, report: Report) -> Line:
        frame = shown(self.puppet, prop.clip, prop.seconds * 1000, prop.round, (prop.x, prop.y),
                      prop.flipped, True)
        if frame is not None:
            picture, file = self._picture(frame), 0
        elif prop.shows:
            picture, file = [-1, 0, 0, 0, 0, 0, bits(prop.x), bits(prop.y), int(prop.flipped),
                             bits(self.puppet.mover.scale)], len(prop.shows)
        else:
            return []
        return [-1, 1, *picture, bits(1.0), bits(1.0), *[bits(0.0)] * 4, file]

    def _picture(self, frame: PlacedFrame) -> Line:
        cell, (rectangle, flipped) = frame.frame.cell, frame.picture()
        return [self.sheets.get(cell.sheet, -1), cell.page, cell.x, cell.y, cell.width, cell.height,
                bits(rectangle.x), bits(rectangle.y), int(flipped),
                bits(rectangle.width / cell.width)]


def in_python(module: ModuleType, case: Case) -> Iterator[Line]:
    """What the handed-off Python says of each tick."""
    places = {id: index for index, id in enumerate(module.LAYER_IDS)}
    state = module.START
    for inputs in case.inputs:
        state, report = module.tick(module.PROGRAM, state, module.Inputs(*inputs))
        line: Line = []
        for piece in module.figure(report):
            line += [-1 if piece.prop else places[piece.layer], int(piece.prop), piece.sheet,
                     piece.page, *piece.cell,
                     bits(piece.left), bits(piece.top), int(piece.flipped), bits(piece.scale),
                     bits(piece.share),
                     bits(piece.weight),
                     *[bits(float(each)) for each in piece.tint or (0, 0, 0, 0)],
                     len(piece.file or "")]
        for anchor in module.ANCHORS.values():
            at = module.anchor_at(report, anchor)
            line += [-7] if at is None else [bits(each) for each in at]
        for fired in report.moments:
            at = module.moment_at(report, fired)
            line += [-8] if at is None else [bits(each) for each in at]
        boxes = [box for opened in report.windows for box in module.hit_boxes(report, opened)]
        boxes += [box for layer in module.LAYER_IDS for box in module.body_boxes(report, layer)]
        yield line + [bits(each) for box in boxes for each in box]


PRINTED_IN_C = """{
    static @_piece pieces[128];
    static @_box boxes[256];
    int32_t count = @_figure(&out, pieces, 128), each;
    double x, y;
    for (each = 0; each < count; each++) {
        const @_piece *piece = &pieces[each];
        whole(piece->prop ? -1 : piece->layer); whole(piece->prop); whole(piece->picture.sheet);
        whole(piece->picture.page); whole(piece->picture.x); whole(piece->picture.y); whole(piece->picture.width);
        whole(piece->picture.height); real(piece->picture.left + 0.0); real(piece->picture.top + 0.0);
        whole(piece->picture.flipped); real(piece->picture.scale); real(piece->share); real(piece->weight); real(piece->tint.red);
        real(piece->tint.green); real(piece->tint.blue); real(piece->tint.strength);
        whole(piece->file ? (long long)strlen(piece->file) : 0);
    }
    for (each = 0; each < @ANCHORS@; each++) {
        if (@_anchor_at(&out, each, &x, &y)) { real(x + 0.0); real(y + 0.0); } else whole(-7);
    }
    for (each = 0; each < out.moment_count; each++) {
        if (@_moment_at(&out, &out.moments[each], &x, &y)) { real(x + 0.0); real(y + 0.0); } else whole(-8);
    }
    for (each = 0; each < out.window_count; each++) {
        count = @_hit_boxes(&out, &out.windows[each], boxes, 256);
        for (at = 0; at < count; at++) {
            real(boxes[at].x + 0.0); real(boxes[at].y + 0.0); real(boxes[at].width); real(boxes[at].height);
        }
    }
    for (l = 0; l < @UPPER@_LAYERS; l++) {
        count = @_body_boxes(&out, l, boxes, 256);
        for (at = 0; at < count; at++) {
            real(boxes[at].x + 0.0); real(boxes[at].y + 0.0); real(boxes[at].width); real(boxes[at].height);
        }
    }
    }
    puts("");
    }
}
"""  # noqa: E501


def in_c(puppet: Puppet, case: Case, folder: Path, more: Sequence[str] = ()) -> list[Line]:
    """What the C says of each tick."""
    source = c_source(case.program, "it", geometry(puppet, case.program))
    actions, names = c_names(case.program)
    reads = [
        f'        if (fscanf(from, "%d", &number) != 1) return;\n        in.{action} = number != 0;'
        for action in actions
    ]
    for sense, name in zip(case.program.senses, names, strict=True):
        form, variable, text = READS[sense.type]
        reads.append(
            f'        if (fscanf(from, "{form}", &{variable}) != 1) return;\n        in.{name} = '
            f'{text};'
        )
    driver = DRIVER[:DRIVER.index("        whole(out.tick);")] + PRINTED_IN_C
    driver = driver.replace("@READ@", "\n".join(reads)).replace(
        "@ANCHORS@", str(len(puppet.anchors))).replace(
        "@UPPER@", "IT").replace("@", "it")
    (folder / "it.h").write_text(source.header)
    (folder / "it.c").write_text(source.code)
    (folder / "main.c").write_text(
        f"{driver}\nint main(void) {{\n    it_run(stdin);\n    return 0;\n}}\n"
    )
    subprocess.run(["gcc", *FLAGS, "-O0", *more, "-o", "all", "main.c", "it.c", "-lm"], cwd=folder,
                   check=True)
    done = subprocess.run([folder / "all"],
                          input="\n".join(input_lines(case, flat(case.program))) + "\n",
                          capture_output=True, text=True, check=True)
    return [[int(each) for each in line.split()] for line in done.stdout.splitlines()]


MAIN_JS = """import {readFileSync} from "node:fs";
import * as it from "./it.mjs";
const view = new DataView(new ArrayBuffer(8));
const bits = value => { view.setFloat64(0, value + 0); return String(view.getBigInt64(0)); };
const sides = box => [box.x, box.y, box.width, box.height].map(bits);
const puppet = it.start();
for (const input of JSON.parse(readFileSync("inputs.json", "utf8"))) {
  const out = it.tick(puppet, input), line = [];
  for (const {layer, prop, picture: p, share, weight, tint, file} of it.figure(out)) {
    const {red, green, blue, strength} = tint ?? {red: 0, green: 0, blue: 0, strength: 0};
    line.push(prop ? -1 : layer, Number(prop), p.sheet, p.page, p.x, p.y, p.width, p.height, bits(p.left), bits(p.top),
      Number(p.flipped), bits(p.scale), ...[share, weight, red, green, blue, strength].map(bits),
      new TextEncoder().encode(file ?? "").length);
  }
  for (const anchor of Object.values(it.Anchor)) {
    const at = it.anchorAt(out, anchor);
    line.push(...at ? [bits(at.x), bits(at.y)] : [-7]);
  }
  for (const fired of out.moments) {
    const at = it.momentAt(out, fired);
    line.push(...at ? [bits(at.x), bits(at.y)] : [-8]);
  }
  for (const open of out.windows) line.push(...it.hitBoxes(out, open).flatMap(sides));
  out.layers.forEach((_, layer) => line.push(...it.bodyBoxes(out, layer).flatMap(sides)));
  console.log(line.join(" "));
}
"""  # noqa: E501


def in_javascript(puppet: Puppet, case: Case, folder: Path) -> list[Line]:
    """What the JavaScript says of each tick."""
    source = javascript_source(case.program, geometry(puppet, case.program))
    (folder / "it.mjs").write_text(source.module)
    (folder / "inputs.json").write_text(json.dumps(input_rows(case)))
    (folder / "main.mjs").write_text(MAIN_JS)
    done = subprocess.run(["node", "main.mjs"], cwd=folder, capture_output=True, text=True,
                          check=False)
    if done.returncode:
        raise AssertionError(done.stderr[-2000:])
    return [[int(each) for each in line.split()] for line in done.stdout.splitlines()]
