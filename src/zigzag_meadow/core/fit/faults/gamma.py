"""Bent by a gamma, or coded or decoded like a colour."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Case
from zigzag_meadow.core.fit.faults.base import Explained, Fault, by_channel, counted, subject

__all__ = ["Gamma"]

F64 = NDArray[np.float64]
Bend = Callable[[F64], F64]


def _coded(light: F64) -> F64:
    """IEC 61966-2-1, written apart from what codes the delivered colours."""
    out: F64 = np.where(light <= 0.0031308, 12.92 * light, 1.055 * np.maximum(light, 1e-12) ** (1 / 2.4) - 0.055)
    return out


def _decoded(code: F64) -> F64:
    out: F64 = np.where(code <= 0.04045, code / 12.92, ((code + 0.055) / 1.055) ** 2.4)
    return out


class Gamma(Fault):
    kind = "gamma"
    title = "Gamma or colour coding"
    cost = 2.2
    # Stripes and other curves explain up to nine tenths of counts, a gamma itself nearly all.
    brief = 0.95
    rivals = ("scaled",)

    def explain(self, case: Case) -> Explained | None:
        known: list[tuple[str, Bend]] = [
            ("was coded like a colour (sRGB): what is data was made brighter", _coded),
            ("was decoded like a colour (sRGB): what is data was made darker", _decoded),
        ]
        power = self._power(case)
        if power is not None:
            known.append((f"was bent by a gamma of {power:.3g}", lambda v: np.maximum(v, 0) ** power))
        best: Explained | None = None
        for words, bend in known:
            found = counted(case, bend) if not case.in_full else None
            shown = by_channel(case, lambda pair, c, bend=bend: bend(pair.meant[:, :, c]))  # type: ignore[misc]
            if found is not None and (shown is None or found[0] > shown[0]):
                shown = found
            if shown is not None and (best is None or shown[0] > best.share + 1e-3):
                best = Explained(
                    shown[0],
                    f"{subject(case, shown[1])} {words}.",
                    "Read it as data without a colour space, or write it again.",
                )
        return best

    @staticmethod
    def _power(case: Case) -> float | None:
        """The exponent that most samples agree on."""
        found = []
        for c in case.wrong:
            for pair in case.near:
                meant, seen = pair.meant[:, :, c], pair.seen[:, :, c]
                there = (meant > 0.05) & (meant < 0.95) & (seen > 0.005) & (seen < 0.995)
                if np.count_nonzero(there) >= 16:
                    found.append(np.log(seen[there]) / np.log(meant[there]))
        if not found:
            return None
        power = float(np.median(np.concatenate(found)))
        return power if 0.1 < power < 10 and abs(power - 1) > 0.01 else None
