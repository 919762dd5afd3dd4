"""Drawn shapes: lines and areas in metres as masks, sharp at every size."""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid, Window

__all__ = ["cover_of", "metres_from", "shape_mask", "simplified"]

F32 = NDArray[np.float32]
F64 = NDArray[np.float64]


@njit(nogil=True, cache=True, error_model="numpy")
def _along(points: F64, half: float, fade: float, place: F64, out: F32) -> None:
    """Along every piece of a line: 1 within ``half`` metres, fading beyond; the third column of points scales both."""
    y0, x0, dy, dx = place
    rows, cols = out.shape
    for k in range(max(points.shape[0] - 1, 1)):
        ax, ay, ap = points[k]
        bx, by, bp = points[min(k + 1, points.shape[0] - 1)]
        ux, uy = bx - ax, by - ay
        length = ux * ux + uy * uy
        far = half * max(ap, bp) + fade
        r0 = max(int(np.floor((min(ay, by) - far - y0) / dy)), 0)
        r1 = min(int(np.ceil((max(ay, by) + far - y0) / dy)) + 1, rows)
        c0 = max(int(np.floor((min(ax, bx) - far - x0) / dx)), 0)
        c1 = min(int(np.ceil((max(ax, bx) + far - x0) / dx)) + 1, cols)
        for r in range(r0, r1):
            py = y0 + r * dy - ay
            for c in range(c0, c1):
                px = x0 + c * dx - ax
                t = min(max((px * ux + py * uy) / length, 0.0), 1.0) if length > 0 else 0.0
                d = np.sqrt((px - t * ux) ** 2 + (py - t * uy) ** 2)
                over = d - half * (ap + t * (bp - ap))
                if over <= 0:
                    out[r, c] = np.float32(1)
                elif over < fade:
                    out[r, c] = max(out[r, c], np.float32(1 - over / fade))


@njit(nogil=True, cache=True, error_model="numpy")
def _inside(points: F64, place: F64, out: F32) -> None:
    """Fill what a closed line goes round (even–odd), row by row."""
    y0, x0, dy, dx = place
    n = points.shape[0]
    crossing = np.empty(n, np.float64)
    for r in range(out.shape[0]):
        y = y0 + r * dy
        count = 0
        for k in range(n):
            ax, ay = points[k, 0], points[k, 1]
            bx, by = points[(k + 1) % n, 0], points[(k + 1) % n, 1]
            if (ay <= y) != (by <= y):
                crossing[count] = ax + (y - ay) / (by - ay) * (bx - ax)
                count += 1
        crossing[:count].sort()
        for k in range(0, count - 1, 2):
            c0 = max(int(np.ceil((crossing[k] - x0) / dx)), 0)
            c1 = min(int(np.floor((crossing[k + 1] - x0) / dx)), out.shape[1] - 1)
            for c in range(c0, c1 + 1):
                out[r, c] = np.float32(1)


def cover_of(points: F64, grid: Grid, window: Window, half: float, fade: float, closed: bool) -> F32:
    """1 on a line of ``half`` metres to either side, falling to 0 over ``fade`` metres; float32 of the window.

    ``points``: float64 (n, 3): metres east and south of the extent's north-west corner, and a share (a pen's
    pressure) of ``half``. ``closed``: a line back to the first point, and everything inside. A line thinner than a
    sample is widened to one, or it would break up; a dot reaches as far as the farthest place between four samples.
    """
    y0, x0 = grid.first
    place = np.array([y0 + window.row0 * grid.dy, x0 + window.col0 * grid.dx, grid.dy, grid.dx])
    ring = np.vstack([points, points[:1]]) if closed else points
    out = np.zeros(window.shape, np.float32)
    apart = max(grid.dy, grid.dx)
    dot = bool((np.ptp(points[:, :2], axis=0) < apart).all())
    least = 0.0 if closed else 0.5 * (math.hypot(grid.dy, grid.dx) * (1 + 1e-9) if dot else apart) - fade / 2
    _along(readable(ring), max(half, least, 0.0), fade, readable(place), out)
    if closed:
        _inside(readable(points), readable(place), out)
    return out


def shape_mask(
    points: F64, grid: Grid, window: Window, *, width: float, fade: float, closed: bool, smooth: bool
) -> F32:
    """A drawn line ``width`` metres wide, or an area that much wider, fading outside; float32 0–1 of the window."""
    flat = np.column_stack([points, np.ones(len(points))])
    mask = cover_of(flat, grid, window, width if closed else width / 2, fade, closed)
    return mask * mask * (3 - 2 * mask) if smooth else mask


def metres_from(points: F64, closed: bool, places: F64) -> F64:
    """Metres from each of ``places`` (n, 2) to a drawn line, or to an area where ``closed`` (0 inside); float64 (n,).

    ``points`` (m, 2) and ``places``: metres east and south.
    """
    ring = np.vstack([points, points[:1]]) if closed else points
    near = np.full(len(places), np.inf)
    for (ax, ay), (bx, by) in pairwise(ring):
        dx, dy = bx - ax, by - ay
        along = ((places[:, 0] - ax) * dx + (places[:, 1] - ay) * dy) / max(dx * dx + dy * dy, 1e-12)
        t = np.clip(along, 0, 1)
        near = np.minimum(near, np.hypot(places[:, 0] - ax - t * dx, places[:, 1] - ay - t * dy))
    if closed:
        inside = np.zeros(len(places), bool)
        for (ax, ay), (bx, by) in pairwise(ring):
            crosses = (ay > places[:, 1]) != (by > places[:, 1])
            slope = (bx - ax) / (by - ay) if by != ay else 0.0
            inside ^= crosses & (places[:, 0] < ax + (places[:, 1] - ay) * slope)
        near[inside] = 0
    return near


def simplified(points: F64, tolerance: float) -> F64:
    """``points`` (n, 2) without those that lie within ``tolerance`` of the line through their neighbours.

    Douglas & Peucker 1973, doi:10.3138/FM57-6770-U75U-7727. First and last stay.
    """
    keep = np.zeros(len(points), bool)
    keep[[0, -1]] = True
    spans = [(0, len(points) - 1)]
    while spans:
        a, b = spans.pop()
        if b - a < 2:
            continue
        way = points[b] - points[a]
        off = points[a + 1 : b] - points[a]
        length = float(np.hypot(*way))
        far = np.abs(off[:, 0] * way[1] - off[:, 1] * way[0]) / length if length > 0 else np.hypot(off[:, 0], off[:, 1])
        worst = int(far.argmax())
        if far[worst] > tolerance:
            keep[a + 1 + worst] = True
            spans += [(a, a + 1 + worst), (a + 1 + worst, b)]
    return points[keep]
