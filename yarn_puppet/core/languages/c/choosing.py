"""The words of C for choosing as straight code."""

from __future__ import annotations

from ...generate.choosing import ChoosingWords

CHOOSING = ChoosingWords(
    "static int32_t {name}(const work *w, int l, int16_t *u, int *n) {{\n"
    "    const @_layer_now *layer = &w->p->layers[l];\n    (void)layer;\n    (void)u;\n    "
    "(void)n;\n{lines}"
    "    return -1;\n}}\n",
    "static int32_t first_open(const work *w, int l, int16_t *u, int *n) {{\n"
    "    const @_layer_now *layer = &w->p->layers[l];\n    int32_t found;\n    (void)found;\n    "
    "(void)u;\n"
    "    *n = 0;\n    switch (layer->state) {{\n{cases}    default: break;\n    }}\n    return "
    "-1;\n}}\n",
    "    case {state}:\n{lines}        break;\n",
    "        if ((found = {name}(w, l, u, n)) >= 0) return found;\n",
    "        {ask}return {place};\n",
    ("c", "choosing_by_tables.c"),
    "!is_deaf(&STATES[layer->state], {})",
    (
        "",
        "layer->ticks * TICK >= INT64_C({})",
        "(layer->ended || is_silent(layer->clip))",
        "any_open(layer) && may_leave(layer, &TRANSITIONS[{}])",
    ),
    "condition_{}(w, l, u, n)",
    "destination(w->p, {}) != layer->state",
    "layer->state != {}",
    "NOWHERE",
)
