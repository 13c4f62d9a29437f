"""Plans for a plain folder, without server and without database."""

from __future__ import annotations

import os
from collections.abc import Sequence
from pathlib import Path

from ..core.naming.checks import CHECKS, run_checks
from ..core.naming.convention import Convention
from ..core.naming.plan import Plan, as_it_should_be, make_plan
from ..core.phrase import phrase
from ..disk.journal import Journal, PlannedMove
from ..errors import IndiceError
from .check_folder import list_folder

__all__ = ["draft_for_folder", "journal_for_folder"]


def draft_for_folder(root: bytes, library: str, convention: Convention, checks: Sequence[str]) -> Plan:
    """What these checks would mend, or, when none is named, everything as the convention wants it."""
    unknown = sorted(set(checks) - {rule.slug for rule in CHECKS})
    if unknown:
        raise IndiceError(
            phrase("There is no check called {unknown}.", unknown=unknown[0]), hint="docs/checks.md lists them all."
        )
    inside = any(rule.content for rule in CHECKS if rule.slug in checks)
    listing = list_folder(root, library, look_inside=inside, convention=convention)
    if checks:
        findings = run_checks(listing, only=frozenset(checks))
        moves = [move for finding in findings for move in finding.moves]
    else:
        moves = list(as_it_should_be(listing))
    return make_plan(moves, [item.path for item in listing.items], listing.all_folders)


def journal_for_folder(root: bytes, plan: Plan, folder: Path) -> Journal:
    """The journal of a plan, written to the data folder and not begun."""
    steps = [
        PlannedMove(os.path.join(root, os.fsencode(step.before)), os.path.join(root, os.fsencode(step.after)))
        for step in plan.steps
    ]
    return Journal.create(folder, steps, title=os.fsdecode(root), roots=[root])
