"""Histograms and summaries, measured once on the reference grid."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

__all__ = ["Summary", "summary"]

BINS = 96


@dataclass(frozen=True, slots=True)
class Summary:
    """What a map holds: ends, mean, the value that 90 % lie below, and a histogram over ``low``…``high``.

    ``counts`` are shares of the samples (0–1). With ``scale`` *log* the bins are even on the logarithm.
    """

    low: float
    high: float
    mean: float
    below_90: float
    scale: Literal["linear", "log"]
    counts: list[float]


def summary(
    values: NDArray[np.float32],
    *,
    low: float | None = None,
    high: float | None = None,
    scale: Literal["linear", "log"] = "linear",
) -> Summary:
    """Summarise a float32 map of any shape in its own unit (NaN where there is none).

    ``low`` and ``high`` fix the histogram's ends.
    """
    there = values[np.isfinite(values)]
    if there.size == 0:
        there = np.zeros(1, np.float32)
    least, most = float(there.min()), float(there.max())
    start = least if low is None else low
    end = most if high is None else high
    if end <= start:
        end = start + 1
    if scale == "log":
        start = max(start, 1e-6)
        edges = np.geomspace(start, max(end, start * 2), BINS + 1)
    else:
        edges = np.linspace(start, end, BINS + 1)
    counts, _ = np.histogram(there, edges)
    return Summary(
        low=least,
        high=most,
        mean=float(there.mean(dtype=np.float64)),
        below_90=float(np.percentile(there, 90)),
        scale=scale,
        counts=[float(c) for c in counts / there.size],
    )
