"""Two faults of one file: an orientation hides whatever else there is from all that looks for it place by place."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.alignment import ORIENTATIONS, Orientation
from zigzag_meadow.core.fit.case import Case, Pair
from zigzag_meadow.core.fit.faults.base import Explained, Fault
from zigzag_meadow.core.fit.faults.blurred import Blurred
from zigzag_meadow.core.fit.faults.eight_bits import EightBits
from zigzag_meadow.core.fit.faults.gamma import Gamma
from zigzag_meadow.core.fit.faults.levels import Levels
from zigzag_meadow.core.fit.faults.permuted import Permuted
from zigzag_meadow.core.fit.faults.premultiplied import Premultiplied
from zigzag_meadow.core.fit.faults.scaled import Scaled
from zigzag_meadow.core.fit.faults.shifted import Shifted
from zigzag_meadow.core.fit.faults.turned_over import TurnedOver

__all__ = ["Named", "both_faults"]

F64 = NDArray[np.float64]
LIKE = 0.6
"""How like a file must be to itself turned, before anything else is looked for."""
SECOND: tuple[Fault, ...] = (
    TurnedOver(),
    EightBits(),
    Permuted(),
    Levels(),
    Premultiplied(),
    Shifted(),
    Scaled(),
    Gamma(),
    Blurred(),
)


@dataclass(frozen=True, slots=True)
class Named:
    """What a file suffers from. ``kind`` and ``title`` of the hypothesis; ``explained``: what it says."""

    kind: str
    title: str
    severity: str
    explained: Explained
    second: Named | None = None
    """Another fault of the same file, where only both together explain it."""

    @property
    def together(self) -> float:
        """The share that all which is named explains."""
        return (self.second or self).explained.share


def both_faults(case: Case) -> Named | None:
    """The orientation and what else is wrong with a file whose samples are known; None where not both are sure.

    The share of the first is what it explains alone, that of the second what both explain together.
    """
    if not (case.in_full and case.whole.by_sample):
        return None
    turn = _likest(case.whole)
    if turn is None:
        return None
    whole = Pair(case.whole.seen, turn.harm(case.whole.meant), tolerance=case.whole.tolerance)
    told = tuple(replace(sign, means=turn.harm(sign.means)) for sign in case.meant)
    turned = replace(case, whole=whole, close=(whole,), meant=told, scratch={}, others=())
    found: list[tuple[float, Fault, Explained]] = []
    for fault in SECOND if whole.before > 0 else ():
        made = fault.explain(turned)
        if made is not None and made.share >= fault.enough:
            found.append((made.share, fault, made))
    if not found:
        return None
    # Of what explains as much the one that takes least for granted.
    best = max(share for share, _, _ in found)
    share, fault, made = min((it for it in found if it[0] >= best - 0.001), key=lambda it: it[1].cost)
    together = 1 - whole.before * (1 - share) / case.whole.before
    if together < fault.enough:
        return None
    alone = max(1 - whole.before / case.whole.before, 0.0)
    cure = f"Write it again, or {turn.cure}."
    first = Explained(alone, f"{case.file} is {turn.happened}, and that is not all.", cure)
    second = Named(fault.kind, fault.title, fault.severity, replace(made, share=together))
    return Named("orientation", "Another orientation", "error", first, second)


def _likest(pair: Pair) -> Orientation | None:
    """The orientation that a file is most like, if any is clearly more than where it should be."""
    found = [(_like(pair.seen, turn.harm(pair.meant)), k) for k, turn in enumerate(ORIENTATIONS)]
    best, k = max(found)
    return ORIENTATIONS[k] if k and best >= LIKE and best > found[0][0] + 0.05 else None


def _like(seen: F64, meant: F64) -> float:
    """Correlation, of either sign, of what all channels amount to or of the channels one by one; the larger."""
    if seen.shape != meant.shape:
        return 0.0
    pairs = [(seen[:, :, c], meant[:, :, c]) for c in range(seen.shape[2])]
    single = [abs(_correlation(a, b)) for a, b in pairs if b.std() > 1e-4]
    together = abs(_correlation((seen**2).sum(axis=2), (meant**2).sum(axis=2)))
    return max(together, float(np.mean(single)) if single else 0.0)


def _correlation(a: F64, b: F64) -> float:
    u, v = a - a.mean(), b - b.mean()
    size = float(np.sqrt((u**2).sum() * (v**2).sum()))
    return float((u * v).sum()) / size if size > 0 else 0.0
