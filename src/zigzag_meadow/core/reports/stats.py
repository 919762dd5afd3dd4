"""The numbers of a map on the reference grid."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.grid import reference_grid
from zigzag_meadow.core.map_name import MaskName
from zigzag_meadow.core.readings.declare import Reading
from zigzag_meadow.core.readings.statistics import Summary, summary
from zigzag_meadow.core.reports.seen_map import SeenMap
from zigzag_meadow.core.reports.verdict import verdict

__all__ = ["MapStats", "map_stats"]


@dataclass(frozen=True, slots=True)
class MapStats:
    """``summary``; ``bin_low``, ``bin_high``: ends of its histogram; ``area``: of the ground in m²; ``beyond``: a
    sentence on the share of the ground that passes a value the reading names; ``why``: why a mask has no shape."""

    summary: Summary
    bin_low: float
    bin_high: float
    area: float
    beyond: str | None = None
    why: str | None = None


def map_stats(seen: SeenMap) -> MapStats:
    """Ends, mean and histogram of a map with one channel; for 0–1 maps the mean is the coverage.

    Raises :class:`BadNumber` for a map with several channels, :class:`NotFound` for one that is not there.
    """
    grid, name, kind = reference_grid(seen.home), seen.name, seen.reading
    values = seen.values(grid)
    values = (values / 257).astype(np.float32) if values.dtype == np.uint16 else values
    if values.ndim != 2:
        raise BadNumber(f"{name} has several channels; ask for one of them.", field="name")
    area = grid.width * grid.length
    if kind is not None:
        high = float(np.nanmax(values)) if kind.open_end else kind.high
        told = summary(values, low=kind.low, high=high, scale=kind.scale)
        ends = (told.low if kind.low is None else kind.low, told.high if high is None else high)
        return MapStats(told, *ends, area, beyond=_beyond(kind, values))
    top = 255.0 if values.dtype == np.uint8 else 1.0
    told = summary(values.astype(np.float32), low=0.0, high=top)
    flat = isinstance(name, MaskName) and name.lines is None and told.high - told.low < 1 / 255
    why = verdict(seen.evaluation, name.mask) if flat and isinstance(name, MaskName) else None
    return MapStats(told, 0.0, top, area, why=why)


def _beyond(kind: Reading, values: NDArray[np.float32]) -> str | None:
    if kind.beyond is None:
        return None
    return kind.beyond_says.format(share=f"**{float((values > kind.beyond).mean()) * 100:.1f} %**")
