"""Fill depressions: the lowest surface at or above the ground from which everything drains to the border."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

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
def _flood(z: F32, order: NDArray[np.uint32], filled: F32) -> None:
    """Priority flood with a plain queue for everything that needs no sorting.

    ``z`` and ``filled`` are flat arrays with a one-sample rim whose cells are closed; ``order`` holds the heights
    as integers that sort the same way.
    """
    rows, cols = z.shape
    flat = z.ravel()
    out = filled.ravel()
    rank = order.ravel()
    closed = np.zeros(flat.size, np.bool_)
    closed[:cols] = True
    closed[flat.size - cols :] = True
    for r in range(rows):
        closed[r * cols] = True
        closed[r * cols + cols - 1] = True
    step = np.array([-cols - 1, -cols, -cols + 1, -1, 1, cols - 1, cols, cols + 1])
    heap = np.empty(flat.size, np.uint64)
    queue = np.empty(flat.size, np.int64)
    size, head, tail = 0, 0, 0
    low = np.uint64(0xFFFFFFFF)
    shift = np.uint64(32)
    for r in range(1, rows - 1):
        for c in range(1, cols - 1):
            if r == 1 or c == 1 or r == rows - 2 or c == cols - 2:
                i = r * cols + c
                closed[i] = True
                out[i] = flat[i]
                size = _push(heap, size, (np.uint64(rank[i]) << shift) | np.uint64(i))
    while size > 0 or head < tail:
        if head < tail:
            i = queue[head]
            head += 1
        else:
            head, tail = 0, 0
            i = np.int64(heap[0] & low)
            size = _pop(heap, size)
        level = out[i]
        for k in range(8):
            j = i + step[k]
            if closed[j]:
                continue
            closed[j] = True
            if flat[j] <= level:
                out[j] = level
                queue[tail] = j
                tail += 1
                continue
            out[j] = flat[j]
            # A cell all of whose open neighbours are higher can never be where water spills over: it needs
            # no place in the heap (Zhou, Sun & Fu 2016).
            uphill = True
            for m in range(8):
                n = j + step[m]
                if not closed[n] and flat[n] <= flat[j]:
                    uphill = False
                    break
            if uphill:
                queue[tail] = j
                tail += 1
            else:
                size = _push(heap, size, (np.uint64(rank[j]) << shift) | np.uint64(j))


def fill_depressions(heights: F32) -> F32:
    """Heights (float32 metres, any shape ≥ 2 × 2) with every depression filled to its lowest way out.

    The result is unique: no two algorithms may differ. Border samples keep their height. Returns float32 metres.

    References: Barnes, Lehman & Mulla 2014, Priority-flood, doi:10.1016/j.cageo.2013.04.024; Zhou, Sun & Fu
    2016, doi:10.1016/j.cageo.2016.02.021.
    """
    rimmed = np.zeros((heights.shape[0] + 2, heights.shape[1] + 2), np.float32)
    rimmed[1:-1, 1:-1] = heights
    bits = rimmed.view(np.uint32)
    order = np.where(bits >> 31 == 1, ~bits, bits | np.uint32(0x80000000)).astype(np.uint32)
    filled = np.zeros_like(rimmed)
    _flood(rimmed, order, filled)
    return np.ascontiguousarray(filled[1:-1, 1:-1])
