"""The simplest hypothesis that explains nearly all of a difference."""

from __future__ import annotations

from dataclasses import replace

from zigzag_meadow.core.fit.case import Case
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault
from zigzag_meadow.core.fit.faults.catalogue import FAULTS
from zigzag_meadow.core.fit.faults.patched import box_of
from zigzag_meadow.core.fit.faults.turned import Turned
from zigzag_meadow.core.fit.two import Named, both_faults

__all__ = ["named"]

CLOSE_BEHIND = 0.001
UNSURE = 0.995
"""Below this a fault explains too little to be all that is wrong."""


def named(case: Case) -> Named:
    """What explains nearly all with the least taken for granted; else that nothing known does, and where."""
    found: list[tuple[Fault, Explained]] = []
    for fault in sorted(FAULTS, key=lambda fault: (fault.last, fault.cost)):
        if fault.last and found:
            break
        # Nothing that takes more for granted could be so much better that it would win.
        if any(made.share >= 1 - CLOSE_BEHIND and other.cost < fault.cost for other, made in found):
            break
        explained = fault.explain(case)
        enough = fault.enough if case.in_full else fault.brief
        if explained is not None and explained.share >= enough:
            found.append((fault, explained))
    if found:
        near = max(made.share for _, made in found) - CLOSE_BEHIND
        fault, made = min(((f, m) for f, m in found if m.share >= near), key=lambda it: (it[0].cost, -it[1].share))
        alone = Named(fault.kind, fault.title, fault.severity, _with_rivals(fault, made, case))
        # An orientation is exact: what is left of it is another fault's.
        both = both_faults(case) if isinstance(fault, Turned) or made.share < UNSURE else None
        return both if both is not None and both.together >= made.share else alone
    both = both_faults(case)
    if both is not None:
        return both
    box = box_of(case.whole)
    where = f", most of it {box.words()}" if box is not None else ""
    text = f"{case.file} was changed, and not by anything known{where}."
    return Named("changed", "Changed", "error", Explained(0.0, text, AGAIN, (), box))


def _with_rivals(fault: Fault, made: Explained, case: Case) -> Explained:
    """What won, and what explains just as much by other means: of values that vary little nobody could tell which."""
    for other in FAULTS:
        rival = other.explain(case) if other.kind in fault.rivals else None
        if rival is not None and rival.share > made.share - 5 * CLOSE_BEHIND:
            numbers = (*made.numbers, ("also", other.kind))
            return replace(made, says=f"{made.says} Just as likely: {rival.says}", numbers=numbers)
    return made
