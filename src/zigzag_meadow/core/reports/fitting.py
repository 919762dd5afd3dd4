"""Numbers that fit the ground: a band moved from one reading to another so that it keeps its share, and first
ranges."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import reference_grid
from zigzag_meadow.core.map_name import PreparedName, ReadingName
from zigzag_meadow.core.project.model.readings import kind_of
from zigzag_meadow.core.readings.declare import Reading
from zigzag_meadow.core.readings.uses import Band

__all__ = ["Fitted", "fitted"]

F64 = NDArray[np.float64]
OPEN_LOG = 1e9
"""The upper edge of a band that is open there, on readings that know no end."""
_FADES_IN = 0.08
"""The share of the ground over which a first band fades in."""
_FEW = 1e-3


@dataclass(frozen=True, slots=True)
class Fitted:
    """A band of a reading (see :class:`Band`), and its ends for a mapping: ``black`` where almost nothing lies below,
    ``white`` where almost nothing lies above. ``share``: of the ground that the band holds."""

    low: float
    high: float
    fade_low: float
    fade_high: float
    black: float
    white: float
    share: float


class _Spread:
    """How a reading is spread over the ground."""

    def __init__(self, ev: Evaluation, name: ReadingName | PreparedName) -> None:
        self.kind = kind_of(ev.project, name.reading)
        node = ev.graph.named(name)
        # What would take long is measured on a much smaller ground: a spread differs little there.
        rough = ev if ev.is_quick(node) else ev.as_draft()
        values = rough.map(name, reference_grid(ev.graph.home_of(name)))
        there = values[np.isfinite(values)].astype(np.float64)
        self.values: F64 = np.sort(there) if there.size else np.zeros(1)
        digits = 3 - math.floor(math.log10(max(self.values[-1] - self.values[0], 1e-9)))
        self._digits = min(max(digits, 0), 9)

    def below(self, value: float, ends: bool = False) -> float:
        """The share of the ground below a value; with ``ends`` also at it."""
        return float(np.searchsorted(self.values, value, "right" if ends else "left")) / self.values.size

    def at(self, share: float) -> float:
        """The value below which such a share of the ground lies; where much lies at the lowest, of what lies above."""
        some = self.values
        if share > 0 and some[min(int(share * some.size), some.size - 1)] <= some[0] < some[-1]:
            some = some[np.searchsorted(some, some[0], "right") :]
        return float(np.quantile(some, min(max(share, 0.0), 1.0)))

    def edge(self, share: float, up: bool) -> float:
        """:meth:`at`, but off the values that much of the ground has in common: midway to the next ones below (``up``:
        above), so that the edge does not depend on how those were rounded.
        """
        value = self.at(share)
        near = (self.values[-1] - self.values[0]) * 1e-3
        beyond = (
            np.searchsorted(self.values, value + near, "right") if up else np.searchsorted(self.values, value - near)
        )
        at = int(beyond) if up else int(beyond) - 1
        if not 0 <= at < self.values.size or abs(self.values[at] - value) < 5 * near:
            return value
        return float(self.values[at] + value) / 2

    def tidy(self, value: float) -> float:
        return float(f"{value:.3g}") if self.kind.scale == "log" else round(value, self._digits)

    @property
    def least(self) -> float:
        return self.tidy(float(self.values[0]))

    @property
    def open_end(self) -> float:
        if self.kind.high is not None:
            return self.kind.high
        return OPEN_LOG if self.kind.scale == "log" else math.ceil(self.values[-1])


def _positions(old: _Spread, band: Band) -> tuple[float, float, float, float]:
    """Where a band fades in, begins, ends, and has faded out: shares of the ground that lie below."""
    if old.kind.wraps:
        wide = (band.high - band.low) % 360 / 360
        return max(1 - wide - 0.08, 0.0), 1 - wide, 1.0, 1.0
    log = old.kind.scale == "log"
    first = band.low / 2**band.fade_low if log else band.low - band.fade_low
    last = band.high * 2**band.fade_high if log else band.high + band.fade_high
    return old.below(first), old.below(band.low), old.below(band.high, True), old.below(last, True)


def _fades(new: _Spread, first: float, low: float, high: float, last: float) -> tuple[float, float]:
    if new.kind.scale == "log":
        into = math.log2(max(low, 1e-9) / max(first, 1e-9))
        out = math.log2(max(last, 1e-9) / max(high, 1e-9))
        return round(max(into, 0.0), 2), round(max(out, 0.0), 2)
    return new.tidy(max(low - first, 0.0)), new.tidy(max(last - high, 0.0))


def _mapping(new: _Spread) -> tuple[float, float]:
    kind: Reading = new.kind
    if kind.scale == "log":
        black, white = float(new.values[0]), float(new.values[-1])
        return max(new.tidy(black), 1e-3), max(new.tidy(white), new.tidy(black) * 2)
    if kind.low is not None and kind.high is not None and not kind.open_end:
        return kind.low, kind.high
    black = kind.low if kind.low is not None else new.tidy(new.at(0.02))
    white = new.tidy(new.at(0.98))
    return black, white if white > black else black + 1


def fitted(ev: Evaluation, name: ReadingName | PreparedName, before: Band | None = None, holds: float = 0.3) -> Fitted:
    """A band of the reading called ``name`` that holds as much of the ground, at the same end of what there is, as the
    band ``before`` held of its reading (on the same ground); without one as much of the upper end as ``holds`` says (a
    share of the ground).

    Raises :class:`NotFound` for a reading that is not there.
    """
    new = _Spread(ev, name)
    if before is None:
        first, begin, end, last = max(1 - holds - _FADES_IN, (1 - holds) / 2), 1 - holds, 1.0, 1.0
    else:
        first, begin, end, last = _positions(_Spread(ev, replace(name, reading=before.reading)), before)
    black, white = _mapping(new)
    if new.kind.wraps:
        half = round(180 * max(end - begin, 0.05))
        return Fitted((360 - half) % 360, half % 360, 15.0, 15.0, black, white, half / 180)
    low = new.least if begin <= _FEW else new.tidy(new.edge(begin, False))
    high = new.open_end if end >= 1 - _FEW else new.tidy(new.edge(end, True))
    if new.kind.scale == "log":
        low = max(low, 1e-3)
    low, high = min(low, high), max(low, high)
    into, out = _fades(new, new.at(first) if begin > _FEW else low, low, high, new.at(last) if end < 1 - _FEW else high)
    share = new.below(high, True) - new.below(low)
    return Fitted(low, high, into, out, black, white, share)
