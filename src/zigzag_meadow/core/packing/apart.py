"""A packed image taken apart: what each of its channels holds, and what alpha does to it."""

from __future__ import annotations

import base64
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.readings.picture import read_pixels, unit_ends

__all__ = ["Apart", "ChannelSeen", "apart"]

_SIDE = 128
_LETTERS = {1: "r", 2: "ra", 3: "rgb", 4: "rgba"}


@dataclass(frozen=True, slots=True)
class ChannelSeen:
    """``low``, ``high``, ``mean``: 0–1; ``same``: the earlier channel that holds the same; ``picture``: a small PNG as
    a data address."""

    channel: str
    low: float
    high: float
    mean: float
    same: str
    picture: str


@dataclass(frozen=True, slots=True)
class Apart:
    """``alpha``: what it does to the others, in a sentence; empty without one."""

    rows: int
    cols: int
    bits: int
    channels: tuple[ChannelSeen, ...]
    alpha: str


def apart(path: Path, name: str) -> Apart:
    """What a PNG, TIFF, TGA, BMP or EXR holds, channel by channel.

    Raises :class:`BadFile`, :class:`WrongFormat` or :class:`TooLarge`.
    """
    pixels = read_pixels(path, name)
    pixels = pixels[..., None] if pixels.ndim == 2 else pixels
    low, high = unit_ends(pixels)
    letters = _LETTERS[min(pixels.shape[2], 4)]
    seen: list[ChannelSeen] = []
    for at, letter in enumerate(letters):
        plane = pixels[..., at]
        same = next((o.channel for k, o in enumerate(seen) if np.array_equal(pixels[..., k], plane)), "")
        told = [(float(v) - low) / (high - low) for v in (np.nanmin(plane), np.nanmax(plane), np.nanmean(plane))]
        seen.append(ChannelSeen(letter, told[0], told[1], told[2], same, _small(plane, low, high)))
    alpha = _alpha(pixels, low, high) if letters[-1] == "a" else ""
    return Apart(pixels.shape[0], pixels.shape[1], pixels.dtype.itemsize * 8, tuple(seen), alpha)


def _alpha(pixels: NDArray[Any], low: float, high: float) -> str:
    """What a program that shows alpha as holes would hide."""
    alpha = pixels[..., -1]
    none, full = alpha <= low, alpha >= high
    if bool(full.all()):
        return "Alpha is full everywhere: it holds nothing, and hides nothing."
    under = none & (pixels[..., :-1] > low).any(axis=-1)
    holes, hidden = float(none.mean()), float(under.mean())
    if hidden == 0 and holes > 0:
        return (
            f"Alpha is 0 on {holes:.0%} of the picture, and the other channels are 0 there too: a program may have "
            "multiplied them by it."
        )
    return (
        f"Alpha is data here: it is 0 on {holes:.0%} of the picture, and the other channels hold something under "
        f"{hidden:.0%}, which a program that shows alpha as holes hides."
    )


def _small(plane: NDArray[Any], low: float, high: float) -> str:
    step = max(1, -(-max(plane.shape) // _SIDE))
    few = np.nan_to_num(plane[::step, ::step].astype(np.float64))
    grey = np.clip((few - low) / (high - low) * 255 + 0.5, 0, 255).astype(np.uint8)
    return "data:image/png;base64," + base64.b64encode(imagecodecs.png_encode(np.ascontiguousarray(grey))).decode()
