"""What a map made for a ground may have been made from: traits of the height, and of the map itself."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.registering import resized, sampled, softened
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.terrain.flow import flow

__all__ = ["height_traits", "independent", "map_traits"]

F64 = NDArray[np.float64]
MOST_PARTS = 3
_BANDS = (0.1, 0.3, 0.5, 0.7, 0.9)


def _standard(planes: F64) -> F64:
    about = planes - planes.mean(axis=(0, 1))
    spread = about.std(axis=(0, 1))
    made: F64 = about / np.where(spread > 1e-12, spread, 1.0)
    return made


def _calmed(z: F64, share: float) -> F64:
    """Means around every place, over about such a share of the longer side."""
    rows, cols = z.shape
    h, w = (max(round(0.4 * n / (share * max(rows, cols))), 2) for n in (rows, cols))
    if min(rows / h, cols / w) < 2:
        return softened(z[:, :, None], max(max(rows, cols) * share, 0.7))[:, :, 0]
    y, x = ((np.arange(n) + 0.5) * (k / n) - 0.5 for n, k in ((rows, h), (cols, w)))
    return sampled(resized(z[:, :, None], h, w), y, x, "cubic")[:, :, 0]


def _banded(values: F64) -> list[F64]:
    """How near values are to some of those that occur: what masks cut out of a reading."""
    marks = np.quantile(values, _BANDS)
    wide = max(float(np.median(np.diff(marks))), 1e-9)
    return [np.exp(-0.5 * ((values - mark) / wide) ** 2) for mark in marks]


def height_traits(heights: F64) -> F64:
    """Heights (rows, columns; any unit, no gaps) as (rows, columns, traits), each about 0 with a spread of 1: height
    and slope with their bands, both ways the ground falls, how it bends, how it lies in its surroundings, and flow."""
    z = _standard(heights[:, :, None])[:, :, 0]
    south, east = (np.asarray(g) for g in np.gradient(z))
    slope = np.hypot(south, east)
    n = max(heights.shape)
    planes = [z, south, east, slope, np.sqrt(slope), *_banded(z), *_banded(np.log(slope + 1e-3 * slope.mean() + 1e-12))]
    for share in (1 / 96, 1 / 32, 1 / 12):
        apart = z - _calmed(z, share)
        planes += [apart, np.tanh(2 * apart / (apart.std() + 1e-12))]
    grid = Grid(heights.shape[0], heights.shape[1], 1.0, 1.0)
    high = (heights - heights.min()) / max(float(np.ptp(heights)), 1e-12) * n * 0.2
    drained, _ = flow(high.astype(np.float32), grid)
    wet = np.log2(np.maximum(drained.astype(np.float64), 1.0))
    planes += [wet, softened(wet[:, :, None], 1.0)[:, :, 0], np.maximum(wet - 0.5 * wet.max(), 0)]
    return _standard(np.stack(planes, axis=-1))


def map_traits(values: F64) -> F64:
    """Channels of a map (rows, columns, channels) as at most three that say something of their own."""
    rows, cols = values.shape[:2]
    flat = _standard(values).reshape(-1, values.shape[2])
    there = flat.std(axis=0) > 1e-6
    if not there.any():
        return np.zeros((rows, cols, 0))
    flat = flat[:, there]
    power, ways = np.linalg.eigh(flat.T @ flat / len(flat))
    order = np.argsort(-power)[:MOST_PARTS]
    # What varies little may be what follows the ground: shading on a picture of forest and sea.
    kept = [k for k in order if power[k] > 5e-4 * power[order[0]]]
    return _standard((flat @ ways[:, kept]).reshape(rows, cols, len(kept)))


def independent(planes: F64) -> F64:
    """The same traits turned so that none says what another does: mean products are 1 and 0; what varies
    most comes first."""
    flat = planes.reshape(-1, planes.shape[2])
    flat = flat - flat.mean(axis=0)
    power, ways = np.linalg.eigh(flat.T @ flat / len(flat))
    order = np.argsort(-power)
    kept = order[power[order] > 1e-3 * power.max()]
    made: F64 = (flat @ (ways[:, kept] / np.sqrt(power[kept]))).reshape(*planes.shape[:2], -1)
    return made
