"""The words of JavaScript for choosing as straight code."""

from __future__ import annotations

from ...generate.choosing import ChoosingWords

CHOOSING = ChoosingWords(
    "function {name}(p, senses, l, u) {{\n  const layer = p.layers[l];\n{lines}  return -1;\n}}\n",
    "function firstOpen(p, senses, l, u) {{\n  const layer = p.layers[l];\n  let found;\n"
    "  if (u.length) u.length = 0;\n  switch (layer.state) {{\n{cases}    default: break;\n  }}\n  "
    "return -1;\n}}\n",
    "    case {state}:\n{lines}      break;\n",
    "      if ((found = {name}(p, senses, l, u)) >= 0) return found;\n",
    "      {ask}return {place};\n",
    ("javascript", "choosing_by_tables.js"),
    "!isDeaf(STATES[layer.state], {})",
    (
        "",
        "layer.ticks * TICK >= {}",
        "(layer.ended || isSilent(layer.clip))",
        "layer.open.length && mayLeave(layer, TRANSITIONS[{}])",
    ),
    "CONDITION_{}(p, senses, l, u)",
    "destination(p, {}) !== layer.state",
    "layer.state !== {}",
    "NOWHERE",
)
