"""Every check, in the order in which people should read what they find."""

from __future__ import annotations

from ..model.puppet import Puppet
from .hitless import hitless_windows
from .never_first import never_first
from .references import unresolved_references
from .snag import Snag
from .unreachable import unreachable_states
from .waits_in_vain import waits_in_vain

CHECKS = (unresolved_references, never_first, unreachable_states, hitless_windows, waits_in_vain)


def check(puppet: Puppet) -> tuple[Snag, ...]:
    """All snags of a puppet, errors first."""
    found = [snag for each in CHECKS for snag in each(puppet)]
    return tuple(sorted(found, key=lambda snag: snag.severity != "error"))
