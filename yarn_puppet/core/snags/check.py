"""Every check, in the order in which people should read what they find."""

from __future__ import annotations

from ..engine.compiling.collecting import collector_held
from ..engine.compiling.puppets import compile_puppet
from ..engine.program import Program
from ..model.puppet import Puppet
from .blends import blends_without_effect
from .chances import weights_that_pick_nothing
from .dead_ends import dead_ends
from .gestures import gestures_that_never_come
from .handing_over import handing_over
from .hitless import hitless_windows
from .lost_bones import lost_bones
from .names import misleading_names
from .never_first import never_first
from .off_the_frames import events_off_the_frames
from .references import unresolved_references
from .rings import rings_that_play_nothing
from .snag import SEVERITIES, Snag
from .unlike_drawn import mover_unlike_drawn
from .unreachable import unreachable_states
from .waiting_states import waiting_states
from .waits_in_vain import waits_in_vain
from .without_effect import without_effect

CHECKS = (
    unresolved_references, misleading_names, never_first, rings_that_play_nothing, handing_over,
    unreachable_states, hitless_windows, events_off_the_frames,
    weights_that_pick_nothing,
    mover_unlike_drawn, waiting_states, waits_in_vain, gestures_that_never_come,
    dead_ends, blends_without_effect, without_effect, lost_bones,
)


def check(puppet: Puppet, program: Program | None = None) -> tuple[Snag, ...]:
    """All snags of a puppet, errors first, notes last. `program` is the puppet's, where it has been
    compiled already."""
    with collector_held():
        program = program or compile_puppet(puppet)
        found = [snag for each in CHECKS for snag in each(puppet, program)]
    return tuple(sorted(found, key=lambda snag: SEVERITIES.index(snag.severity)))
