"""A picture laid over the ground: moved, turned, flipped, resized, and stretched between black and white."""

from __future__ import annotations

import math
import threading
from functools import lru_cache
from pathlib import Path
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from zigzag_meadow.core.errors import BadFile, WrongFormat
from zigzag_meadow.core.formats.limits import check_bytes, check_size
from zigzag_meadow.core.formats.png import PNG_SIGNATURE, read_png
from zigzag_meadow.core.formats.read import read_stored
from zigzag_meadow.core.grid import Grid, Window

__all__ = ["check_picture", "picture", "read_picture"]

F32 = NDArray[np.float32]
Flip = Literal["none", "east_west", "north_south"]
_lock = threading.Lock()


def read_picture(path: Path, name: str = "The picture") -> F32:
    """A picture as float32 (rows, columns, channels), 0–1: PNG 8/16, JPEG, BMP, or any heightmap.

    Raises :class:`BadFile`, :class:`WrongFormat` or :class:`TooLarge`.
    """
    check_bytes(path.stat().st_size, name)
    with path.open("rb") as file:
        head = file.read(16)
    if head.startswith(PNG_SIGNATURE):
        pixels: NDArray[Any] = read_png(path, name)
        values = pixels.astype(np.float32) / np.float32(np.iinfo(pixels.dtype).max)
    elif head.startswith((b"\xff\xd8\xff", b"BM")):
        values = _by_pillow(path, name)
    else:
        values = _whole_range(read_stored(path, name).samples)
    return values[..., None] if values.ndim == 2 else values


def _whole_range(samples: NDArray[Any]) -> F32:
    """Whole numbers over what their type holds, floats from 0 to 1 as they are, other floats over their own range."""
    if np.issubdtype(samples.dtype, np.unsignedinteger):
        return samples.astype(np.float32) / np.float32(np.iinfo(samples.dtype).max)
    low, high = float(np.nanmin(samples)), float(np.nanmax(samples))
    if (low >= 0 and high <= 1) or low == high:
        low, high = 0.0, 1.0
    values: F32 = np.nan_to_num((samples.astype(np.float32) - np.float32(low)) / np.float32(high - low))
    return values


def _by_pillow(path: Path, name: str) -> F32:
    try:
        with Image.open(path) as image:
            check_size(image.height, image.width, name)
            plain = image.convert("L" if image.mode in ("1", "L") else "RGB")
            return np.asarray(plain, np.float32) / np.float32(255)
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise BadFile(f"{name} cannot be read: it is damaged or cut short. Save it again.") from error


def check_picture(path: Path, name: str) -> tuple[int, int, int]:
    """(rows, columns, channels) of a picture that can be laid over the ground. Raises what reading it raises."""
    return read_picture(path, name).shape


@lru_cache(maxsize=4)
def _kept(path: Path, channel: str) -> F32:
    pixels = read_picture(path)
    count = pixels.shape[2]
    if channel == "luma":
        if count < 3:
            return np.ascontiguousarray(pixels[..., 0])
        # Rec. 709 weights on the stored values: what the eye takes for brightness in the file.
        luma: F32 = (pixels[..., :3] @ np.array([0.2126, 0.7152, 0.0722], np.float32)).astype(np.float32)
        return luma
    index = {"r": 0, "g": 1, "b": 2, "a": 3}[channel]
    if channel == "a" and count in (2, 4):
        index = count - 1
    if index >= count:
        raise WrongFormat(f"The picture has {count} channels, no {channel.upper()}.", field="channel")
    return np.ascontiguousarray(pixels[..., index])


def picture(
    path: Path,
    home: Grid,
    grid: Grid,
    window: Window,
    *,
    channel: str = "luma",
    black: float = 0.0,
    white: float = 1.0,
    east: float = 0.0,
    north: float = 0.0,
    wide: float = 1.0,
    turn: float = 0.0,
    flip: Flip = "none",
) -> F32:
    """A picture's channel on a window of ``grid``, 0–1 between its ``black`` and ``white``; float32.

    As it is the picture covers the ground exactly, its outermost samples on the border. ``wide`` enlarges it about
    the middle of the ground, ``turn`` turns it clockwise by degrees, then it moves by ``east`` and ``north`` metres.
    Outside the picture: 0. Bilinear.
    """
    with _lock:
        pixels = _kept(path, channel)
    y0, x0 = grid.first
    y = (y0 + np.arange(window.row0, window.row1) * grid.dy)[:, None] + north - home.length / 2
    x = (x0 + np.arange(window.col0, window.col1) * grid.dx)[None, :] - east - home.width / 2
    angle = math.radians(turn)
    c, s = math.cos(angle), math.sin(angle)
    # Turning clockwise on the map (south down) by the inverse: back to where the picture was drawn.
    u = (x * c + y * s) / (wide * home.width) + 0.5
    v = (-x * s + y * c) / (wide * home.length) + 0.5
    u = 1 - u if flip == "east_west" else u
    v = 1 - v if flip == "north_south" else v
    rows, cols = pixels.shape
    inside = (u >= -1e-9) & (u <= 1 + 1e-9) & (v >= -1e-9) & (v <= 1 + 1e-9)
    px, py = np.clip(u, 0, 1) * (cols - 1), np.clip(v, 0, 1) * (rows - 1)
    i, j = np.minimum(py.astype(np.int64), max(rows - 2, 0)), np.minimum(px.astype(np.int64), max(cols - 2, 0))
    fy, fx = (py - i).astype(np.float32), (px - j).astype(np.float32)
    i1, j1 = np.minimum(i + 1, rows - 1), np.minimum(j + 1, cols - 1)
    top = pixels[i, j] * (1 - fx) + pixels[i, j1] * fx
    low = pixels[i1, j] * (1 - fx) + pixels[i1, j1] * fx
    value = top * (1 - fy) + low * fy
    span = white - black if white != black else 1e-6
    return np.where(inside, np.clip((value - np.float32(black)) / np.float32(span), 0, 1), 0).astype(np.float32)
