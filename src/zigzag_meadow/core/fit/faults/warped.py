"""Bent from place to place: every sample lies off by a little, elsewhere by something else."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Case
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault
from zigzag_meadow.core.fit.registering import resized

__all__ = ["Warped"]

F64 = NDArray[np.float64]
WAVES = 5
"""Half waves along a side that a bend may have, from 0 on."""
SIDES = (48, 96, 192)
STEPS = 8
FARTHEST = 0.08
"""Of each side: what lies farther off is no bend."""
LEAST = 0.3
"""Samples: by how much the way off must differ over the map."""


class Warped(Fault):
    kind = "warped"
    title = "Bent"
    cost = 3.6
    enough = 0.85
    last = True

    def explain(self, case: Case) -> Explained | None:
        pair = case.whole
        if not pair.by_sample or min(pair.meant.shape[:2]) < SIDES[0]:
            return None
        telling = [c for c in range(pair.meant.shape[2]) if pair.textured(c)]
        if not telling:
            return None
        field = _field(pair.seen[:, :, telling], pair.meant[:, :, telling])
        rows, cols = pair.meant.shape[:2]
        off = _offsets(field, rows, cols)
        if np.ptp(off[0]) < LEAST and np.ptp(off[1]) < LEAST:
            return None
        south, east = (float(np.abs(part).max()) for part in off)
        margin = (int(south) + 3, int(east) + 3)
        share = max(pair.share(_bent(pair.meant, off[0], off[1], order), margin) for order in (1, 3))
        far = float(np.hypot(*off).max())
        says = (
            f"{case.file} is bent: its samples lie up to {far:.1f} samples off, elsewhere less or in another direction."
        )
        return Explained(share, says, AGAIN, (("farthest", round(far, 2)),))


def _bent(planes: F64, south: F64, east: F64, order: int) -> F64:
    """What lies ``south`` and ``east`` (rows, columns; in samples) of every sample, by splines of an order."""
    from scipy import ndimage  # only here: it is slow to load

    rows, cols = planes.shape[:2]
    at = np.stack([np.arange(rows)[:, None] + south, np.arange(cols)[None] + east])
    parts = [ndimage.map_coordinates(planes[:, :, c], at, order=order, mode="nearest") for c in range(planes.shape[2])]
    return np.stack(parts, axis=-1)


def _waves(many: int) -> F64:
    """(many, WAVES): half waves along an axis."""
    at = (np.arange(many) + 0.5) / many
    made: F64 = np.cos(np.pi * at[:, None] * np.arange(WAVES))
    return made


def _offsets(field: F64, rows: int, cols: int) -> F64:
    """(2, rows, columns): samples south and east that are read, by ``field`` (2, WAVES, WAVES) as shares of a side."""
    down, across = _waves(rows), _waves(cols)
    made: F64 = np.stack([down @ part @ across.T * n for part, n in zip(field, (rows, cols), strict=True)])
    return made


def _field(seen: F64, meant: F64) -> F64:
    """The bend that leaves least, found from coarse to fine by Gauss and Newton (Lucas and Kanade 1981) over waves."""
    field = np.zeros((2, WAVES, WAVES))
    for side in SIDES:
        rows, cols = (min(side, n) for n in meant.shape[:2])
        a, b = resized(seen, rows, cols), resized(meant, rows, cols)
        for _ in range(STEPS):
            step = _step(a, b, field)
            field = np.clip(field + step, -FARTHEST, FARTHEST)
            if np.abs(step).max() * side < 0.01:
                break
    return field


def _step(a: F64, b: F64, field: F64) -> F64:
    rows, cols = a.shape[:2]
    south, east = _offsets(field, rows, cols)
    made = _bent(b, south, east, 1)
    down, across = _waves(rows), _waves(cols)
    m = np.zeros((2 * WAVES**2, 2 * WAVES**2))
    v = np.zeros(2 * WAVES**2)
    for c in range(a.shape[2]):
        slopes = [g * n for g, n in zip(np.gradient(made[:, :, c]), (rows, cols), strict=True)]
        terms = [np.einsum("rc,rk,cl->rckl", g, down, across).reshape(rows * cols, -1) for g in slopes]
        jac = np.concatenate(terms, axis=1)
        m += jac.T @ jac
        v += jac.T @ (a - made)[:, :, c].ravel()
    m[np.diag_indices_from(m)] += 1e-3 * np.trace(m) / len(m)
    step: F64 = np.clip(np.linalg.solve(m, v), -0.02, 0.02).reshape(field.shape).astype(np.float64)
    return step
