"""Fill depressions: the lowest surface at or above the ground from which everything drains to the border."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable

__all__ = ["fill_depressions"]

F32 = NDArray[np.float32]


@njit(nogil=True, cache=True)
def _push(heap: NDArray[np.uint64], size: int, item: np.uint64) -> int:
    """Put an item on a four-way heap; returns the new size."""
    at = size
    while at > 0:
        parent = (at - 1) >> 2
        if heap[parent] <= item:
            break
        heap[at] = heap[parent]
        at = parent
    heap[at] = item
    return size + 1


@njit(nogil=True, cache=True)
def _pop(heap: NDArray[np.uint64], size: int) -> int:
    """Take the least item (it is ``heap[0]`` before the call) off; returns the new size."""
    size -= 1
    item = heap[size]
    at = 0
    while True:
        child = 4 * at + 1
        if child >= size:
            break
        least = child
        for k in range(child + 1, min(child + 4, size)):
            if heap[k] < heap[least]:
                least = k
        if heap[least] >= item:
            break
        heap[at] = heap[least]
        at = least
    heap[at] = item
    return size


@njit(nogil=True, cache=True)
def _may_spill(flat: F32, out: F32, closed: NDArray[np.bool_], step: NDArray[np.int64], j: int) -> bool:
    """Whether water may have to pass over ``j``: it has a lower open neighbour that nobody else will reach.

    A neighbour that has another closed sample beside it, no higher than itself, is reached from there at its own
    height (Wei, Zhou & Fu 2019).
    """
    for k in range(8):
        n = j + step[k]
        if closed[n] or flat[n] > flat[j]:
            continue
        reached = False
        for m in range(8):
            w = n + step[m]
            if w != j and closed[w] and out[w] <= flat[n]:
                reached = True
                break
        if not reached:
            return True
    return False


@njit(nogil=True, cache=True)
def _flood(z: F32, order: NDArray[np.uint32], shut: NDArray[np.bool_], has_gaps: bool, filled: F32) -> None:
    """Priority flood in which only samples that water may spill over are sorted.

    ``z`` and ``filled`` have a rim of one sample; it is ``shut`` and so are gaps (``filled`` is +∞ there): water
    leaves by what lies beside them. ``order`` holds the heights as integers that sort the same way. Flooded samples
    wait in ``pit``, dry slopes in ``slope``.
    """
    rows, cols = z.shape
    flat = z.ravel()
    out = filled.ravel()
    rank = order.ravel()
    outside = shut.ravel()
    closed = outside.copy()
    step = np.array([-cols - 1, -cols, -cols + 1, -1, 1, cols - 1, cols, cols + 1])
    heap = np.empty(flat.size, np.uint64)
    pit = np.empty(flat.size, np.int32)
    slope = np.empty(flat.size, np.int32)
    size, pits, head, tail = 0, 0, 0, 0
    low = np.uint64(0xFFFFFFFF)
    shift = np.uint64(32)
    for r in range(1, rows - 1):
        for c in range(1, cols - 1):
            i = r * cols + c
            if has_gaps and outside[i]:
                continue
            leaves = r == 1 or c == 1 or r == rows - 2 or c == cols - 2
            if has_gaps:
                for k in range(8):
                    leaves = leaves or outside[i + step[k]]
            if leaves:
                closed[i] = True
                out[i] = flat[i]
                size = _push(heap, size, (np.uint64(rank[i]) << shift) | np.uint64(i))
    while size > 0 or pits > 0 or head < tail:
        dry = False
        if pits > 0:
            pits -= 1
            i = np.int64(pit[pits])
        elif head < tail:
            i = np.int64(slope[head])
            head += 1
            dry = True
        else:
            head, tail = 0, 0
            i = np.int64(heap[0] & low)
            size = _pop(heap, size)
        level = out[i]
        for k in range(8):
            j = i + step[k]
            if closed[j]:
                continue
            if dry:
                # What lies lower is reached by somebody lower: that is why this one was not sorted.
                if flat[j] < level:
                    continue
            elif flat[j] <= level:
                closed[j] = True
                out[j] = level
                pit[pits] = j
                pits += 1
                continue
            closed[j] = True
            out[j] = flat[j]
            if _may_spill(flat, out, closed, step, j):
                size = _push(heap, size, (np.uint64(rank[j]) << shift) | np.uint64(j))
            else:
                slope[tail] = j
                tail += 1


def fill_depressions(heights: F32, gaps: NDArray[np.bool_] | None = None) -> F32:
    """Heights (float32 metres, any shape ≥ 2 × 2) with every depression filled to its lowest way out.

    The result is unique: no two algorithms may differ. ``gaps`` (bool, same shape): where there is no ground; they
    are ways out like the border. Samples beside either keep their height, and so do gaps. Returns float32 metres.

    References: Barnes, Lehman & Mulla 2014, Priority-flood, doi:10.1016/j.cageo.2013.04.024; Wei, Zhou & Fu
    2019, doi:10.1109/JSTARS.2018.2889063.
    """
    rimmed = np.zeros((heights.shape[0] + 2, heights.shape[1] + 2), np.float32)
    rimmed[1:-1, 1:-1] = heights
    bits = rimmed.view(np.uint32)
    order = np.where(bits >> 31 == 1, ~bits, bits | np.uint32(0x80000000)).astype(np.uint32)
    filled = np.full_like(rimmed, np.inf)
    shut = np.ones(rimmed.shape, np.bool_)
    shut[1:-1, 1:-1] = False if gaps is None else gaps
    _flood(rimmed, order, readable(shut), gaps is not None, filled)
    out = np.ascontiguousarray(filled[1:-1, 1:-1])
    if gaps is not None:
        out[gaps] = heights[gaps]
    return out
