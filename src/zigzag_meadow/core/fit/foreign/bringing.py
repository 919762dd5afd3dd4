"""A map from elsewhere brought onto a ground: read, aligned, looked at, and written again where it belongs."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.fit.alignment import ORIENTATIONS, Orientation
from zigzag_meadow.core.fit.foreign.align import Alignment, laid_out, lean
from zigzag_meadow.core.fit.registering import Fitting, resized, sampled
from zigzag_meadow.core.formats.limits import LONGEST_SIDE, check_memory
from zigzag_meadow.core.formats.read import read_stored
from zigzag_meadow.core.paper import address
from zigzag_meadow.core.readings.picture import read_pixels

__all__ = ["height_of", "laid_picture", "orientation_of", "pictures", "planes_of"]

F64 = NDArray[np.float64]
SIDE = 420
WHOLE = 0.03
"""Samples: so near to a whole number of them a map is moved without being read between its samples."""


def planes_of(path: Path, name: str) -> NDArray[Any]:
    """A picture as it is stored, (rows, columns, channels). Raises what its reader raises."""
    pixels = read_pixels(path, name)
    return pixels if pixels.ndim == 3 else pixels[:, :, None]


def height_of(path: Path, name: str) -> NDArray[Any]:
    """A heightmap's samples (rows, columns), NaN where there is none. Raises what its reader raises."""
    return read_stored(path, name).samples


def orientation_of(name: str) -> Orientation:
    """An orientation by its id. Raises :class:`BadFile`."""
    found = next((turn for turn in ORIENTATIONS if turn.id == name), None)
    if found is None:
        raise BadFile(f"There is no orientation called {name[:40]!r}.")
    return found


def laid_picture(pixels: NDArray[Any], turn: Orientation, found: Fitting) -> tuple[NDArray[Any], bool]:
    """(a map put right and laid on a canvas as large as the height, whether no sample was changed).

    ``pixels``: (rows, columns, channels). Where the map does not reach is 0. Raises :class:`TooLarge`.
    """
    upright = np.ascontiguousarray(turn.mend(pixels))
    if found.is_plain:
        return upright, True
    h, w = upright.shape[:2]
    rows, cols = (min(max(round(n), 2), LONGEST_SIDE) for n in (h / found.down, w / found.across))
    check_memory(rows * cols * (upright.shape[2] * upright.dtype.itemsize + 24), "The map on its ground")
    top, left = found.top * rows, found.left * cols
    even = abs(h / rows - found.down) * rows < 0.5 and abs(w / cols - found.across) * cols < 0.5
    out = np.zeros((rows, cols, upright.shape[2]), upright.dtype)
    if even and max(abs(top - round(top)), abs(left - round(left))) < WHOLE:
        r, c = round(top), round(left)
        part = upright[max(-r, 0) : max(rows - r, 0), max(-c, 0) : max(cols - c, 0)]
        if part.size:
            out[max(r, 0) : max(r, 0) + part.shape[0], max(c, 0) : max(c, 0) + part.shape[1]] = part
        return out, True
    y = ((np.arange(rows) + 0.5) / rows - found.top) / found.down * h - 0.5
    x = ((np.arange(cols) + 0.5) / cols - found.left) / found.across * w - 0.5
    inside = ((x >= -0.5) & (x <= w - 0.5))[None, :]
    whole = upright.dtype.kind != "f"
    for at in range(0, rows, 128):
        part_y = y[at : at + 128]
        made = sampled(upright, part_y, x)
        there = inside & ((part_y >= -0.5) & (part_y <= h - 0.5))[:, None]
        made = np.where(there[:, :, None], made, 0)
        out[at : at + 128] = np.floor(made + 0.5) if whole else made
    return out, False


def pictures(heights: NDArray[Any], pixels: NDArray[Any], found: Alignment) -> tuple[str, str]:
    """(the height lit from the north-west, the map as it lies on it with alpha) as data addresses, same size."""
    z = lean(heights[:, :, None])[:, :, 0]
    z = np.nan_to_num(z, nan=float(np.nanmean(z)))
    most = max(z.shape)
    rows, cols = (max(round(n * min(SIDE / most, 1)), 2) for n in z.shape)
    small = resized(z[:, :, None], rows, cols)[:, :, 0]
    upright = orientation_of(found.orientation).mend(lean(pixels))
    low, high = float(np.nanmin(upright)), float(np.nanmax(upright))
    upright = np.nan_to_num((upright - low) / max(high - low, 1e-12))
    planes = [
        laid_out(small[:, :, None], upright[:, :, k : k + 1], found.fitting)[1] for k in range(min(upright.shape[2], 3))
    ]
    there = np.isfinite(planes[0])
    if len(planes) < 3:
        planes = [planes[0]] * 3
    rgba = np.stack([*(np.nan_to_num(p) for p in planes), there.astype(np.float64)], axis=-1)
    return _png(_lit(small)), _png(np.floor(np.clip(rgba, 0, 1) * 255 + 0.5).astype(np.uint8))


def _lit(z: F64) -> NDArray[np.uint8]:
    """Hill shade by differences alone: to look at, in no unit."""
    south, east = (np.asarray(g) for g in np.gradient(z))
    steep = float(np.hypot(south, east).mean()) or 1.0
    light = (1 + 0.7 * (south + east) / steep) / np.sqrt(1 + (south / steep) ** 2 + (east / steep) ** 2)
    made: NDArray[np.uint8] = np.floor(np.clip(0.5 * light, 0, 1) * 255 + 0.5).astype(np.uint8)
    return made


def _png(pixels: NDArray[np.uint8]) -> str:
    return address(bytes(imagecodecs.png_encode(pixels)), "image/png")
