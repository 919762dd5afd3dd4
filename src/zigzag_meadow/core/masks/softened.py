"""A mask and the same blurred, on any window."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.blur import blur, mirrored, pyramid_step
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Here, OnWindow
from zigzag_meadow.core.nodes.windows import cut

__all__ = ["blur_need", "blur_window", "blurred"]

F32 = NDArray[np.float32]


def blur_window(grid: Grid, window: Window, sigma: float) -> Window:
    """The window that a blur of ``sigma`` metres looks at; it may reach beyond the grid.

    Wide blurs work on halved maps: windows begin where the whole map would be halved, so that tiles agree.
    """
    step = pyramid_step(min(sigma / grid.dy, sigma / grid.dx))
    wide = window.grown(*(math.ceil(4.2 * sigma / d) + 4 * step for d in (grid.dy, grid.dx)))
    return Window(wide.row0 // step * step, wide.row1, wide.col0 // step * step, wide.col1)


def blur_need(mask: Node, grid: Grid, window: Window, sigma: float) -> OnWindow:
    """What :func:`blurred` needs of a mask."""
    return OnWindow(mask, grid, blur_window(grid, window, sigma).clipped(*grid.shape))


def blurred(here: Here, mask: F32, sigma: float) -> tuple[F32, F32]:
    """(the mask, the same blurred) on the window; float32, 0–1."""
    wide = blur_window(here.grid, here.window, sigma)
    whole = mirrored(mask, wide.clipped(*here.grid.shape), wide, here.grid.registration)
    soft = blur(whole, here.grid, sigma, here.stripes, here.cancel)
    return cut(whole, wide, here.window), np.clip(cut(soft, wide, here.window), 0, 1)
