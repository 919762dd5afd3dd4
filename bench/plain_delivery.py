"""A delivery in plain NumPy, SciPy and Pillow, the way one would script it: what a delivery is measured against.

The same files of the same project: a 16-bit height, two RGBA sheets of weights, colour, normals, occlusion and flow.
"""

from __future__ import annotations

import heapq
import sys
import time
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from scipy import ndimage

from delivery_project import BANDS, COLOURS, FLOW, HIGH, LOW, SPACING, heights
from plain import band, shares, slope

F32 = NDArray[np.float32]


def shared(z: F32, steep: F32) -> F32:
    """Cover sharing from the top down: float32 (layers + 1, rows, columns), base first."""
    masks = [band(steep if reading == "slope" else z, low, high, fade, fade) for reading, low, high, fade in BANDS]
    left = np.ones_like(z)
    out = np.empty((len(masks) + 1, *z.shape), np.float32)
    for k in range(len(masks) - 1, -1, -1):
        out[k + 1] = masks[k] * left
        left = left * (1 - masks[k])
    out[0] = left
    return out


def _colour(weights: F32) -> NDArray[np.uint8]:
    coded = np.array([[int(c[i : i + 2], 16) / 255 for i in (1, 3, 5)] for c in COLOURS])
    light = np.where(coded <= 0.04045, coded / 12.92, ((coded + 0.055) / 1.055) ** 2.4)
    mixed = np.tensordot(weights, light.astype(np.float32), axes=(0, 0))
    back = np.where(mixed <= 0.0031308, 12.92 * mixed, 1.055 * np.maximum(mixed, 0) ** (1 / 2.4) - 0.055)
    return np.floor(back * 255 + 0.5).astype(np.uint8)


def _normal(z: F32) -> NDArray[np.uint8]:
    gy, gx = np.gradient(z, SPACING)
    length = 1 / np.sqrt(gx * gx + gy * gy + 1)
    n = np.stack([-gx * length, gy * length, length], axis=2)
    return np.floor((n * 0.5 + 0.5) * 255 + 0.5).astype(np.uint8)


def _occlusion(z: F32, directions: int = 16, reaches: tuple[int, ...] = (1, 2, 3, 5, 8, 12, 18, 27, 40)) -> F32:
    """The share of the sky that is hidden, from the horizon along some directions."""
    total = np.zeros_like(z)
    for k in range(directions):
        angle = 2 * np.pi * k / directions
        horizon = np.zeros_like(z)
        for reach in reaches:
            shift = (round(reach * np.cos(angle)), round(reach * np.sin(angle)))
            away = max(float(np.hypot(*shift)) * SPACING, SPACING)
            there = ndimage.shift(z, shift, order=0, mode="nearest")
            np.maximum(horizon, (there - z) / np.float32(away), out=horizon)
        total += horizon / np.sqrt(1 + horizon * horizon)
    return total / directions


def _filled(z: F32) -> F32:
    """Depressions filled by priority flood (Barnes, Lehman & Mulla 2014)."""
    rows, cols = z.shape
    filled = z.copy()
    done = np.zeros(z.shape, bool)
    heap: list[tuple[float, int, int]] = []
    for r in range(rows):
        for c in (0, cols - 1):
            heap.append((float(z[r, c]), r, c))
            done[r, c] = True
    for c in range(1, cols - 1):
        for r in (0, rows - 1):
            heap.append((float(z[r, c]), r, c))
            done[r, c] = True
    heapq.heapify(heap)
    while heap:
        level, r, c = heapq.heappop(heap)
        for dr, dc in ((-1, -1), (-1, 0), (-1, 1), (0, -1), (0, 1), (1, -1), (1, 0), (1, 1)):
            i, j = r + dr, c + dc
            if 0 <= i < rows and 0 <= j < cols and not done[i, j]:
                done[i, j] = True
                height = max(float(z[i, j]), level)
                filled[i, j] = height
                heapq.heappush(heap, (height, i, j))
    return filled


def _flow(z: F32) -> F32:
    """Area above each sample by the steepest of eight neighbours, in square metres."""
    filled = _filled(z)
    rows, cols = z.shape
    best, to = np.zeros_like(z), np.full(z.size, -1, np.int64)
    index = np.arange(z.size).reshape(z.shape)
    for dr, dc in ((-1, -1), (-1, 0), (-1, 1), (0, -1), (0, 1), (1, -1), (1, 0), (1, 1)):
        here = (slice(max(-dr, 0), rows - max(dr, 0)), slice(max(-dc, 0), cols - max(dc, 0)))
        there = (slice(max(dr, 0), rows - max(-dr, 0)), slice(max(dc, 0), cols - max(-dc, 0)))
        drop = (filled[here] - filled[there]) / np.float32(np.hypot(dr, dc) * SPACING)
        better = drop > best[here]
        best[here] = np.where(better, drop, best[here])
        flat = index[here][better]
        to[flat] = index[there][better]
    area = [SPACING * SPACING] * z.size
    target = to.tolist()
    for at in np.argsort(-filled, axis=None, kind="stable").tolist():
        if target[at] >= 0:
            area[target[at]] += area[at]
    return np.array(area, np.float32).reshape(z.shape)


def _log_words(flow: F32) -> NDArray[np.uint16]:
    low, high = np.log2(FLOW[0]), np.log2(2e4)
    return np.floor(np.clip((np.log2(flow) - low) / (high - low), 0, 1) * 65535 + 0.5).astype(np.uint16)


def deliver(side: int, out: Path) -> float:
    """Write all files; seconds taken."""
    stored = heights(side)
    start = time.perf_counter()
    z = (stored.astype(np.float32) / 65535 * np.float32(HIGH - LOW) + np.float32(LOW)).astype(np.float32)
    Image.fromarray(stored).save(out / "height.png")
    weights = shared(z, slope(z, SPACING, SPACING))
    whole = shares(weights)
    for n, planes in enumerate(((1, 2, 3, 4), (5, 6, 7, 0))):
        Image.fromarray(np.stack([whole[k] for k in planes], axis=2)).save(out / f"splat_{n}.png")
    Image.fromarray(_colour(weights)).save(out / "colour.png")
    Image.fromarray(_normal(z)).save(out / "normal.png")
    Image.fromarray(np.floor((1 - _occlusion(z)) * 255 + 0.5).astype(np.uint8)).save(out / "occlusion.png")
    Image.fromarray(_log_words(_flow(z))).save(out / "flow.png")
    return time.perf_counter() - start


if __name__ == "__main__":
    print(deliver(int(sys.argv[1]), Path(sys.argv[2])))
