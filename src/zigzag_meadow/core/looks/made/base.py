"""What all bundled textures are made of: a relief, colours by tone, roughness."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

__all__ = ["Made", "MadeLook", "between", "eased", "painted"]

F32 = NDArray[np.float32]


@dataclass(frozen=True, slots=True)
class Made:
    """A texture: ``tone`` sRGB-coded (n, n, 3), ``roughness`` and ``relief`` (n, n), all float32 0–1."""

    tone: F32
    roughness: F32
    relief: F32


@dataclass(frozen=True, slots=True)
class MadeLook:
    """A bundled look. ``size``: metres a side; ``depth``: metres from the lowest to the highest of its relief;
    ``mean``: its mean colour in linear light, with 1024 samples a side; ``make(n)``: the texture with n samples a
    side. ``version`` is raised whenever its pixels change."""

    id: str
    title: str
    size: float
    depth: float
    mean: str
    make: Callable[[int], Made]
    version: int = 1


def between(values: F32, low: float, high: float) -> F32:
    """0 at ``low``, 1 at ``high``, clamped."""
    made: F32 = np.clip((values - np.float32(low)) * np.float32(1 / (high - low)), 0, 1)
    return made


def eased(values: F32, low: float, high: float) -> F32:
    """As :func:`between`, slow at both ends."""
    t = between(values, low, high)
    made: F32 = t * t * (3 - 2 * t)
    return made


def painted(tone: F32, colours: Sequence[str]) -> F32:
    """``tone`` (n, n) 0–1 along evenly spaced sRGB colours: float32 (n, n, 3)."""
    stops = np.array([[int(c[k : k + 2], 16) for k in (1, 3, 5)] for c in colours], np.float32) / np.float32(255)
    at = np.clip(tone, 0, 1) * np.float32(len(colours) - 1)
    i = np.minimum(at.astype(np.int64), len(colours) - 2)
    f = (at - i)[..., None].astype(np.float32)
    made: F32 = stops[i] * (1 - f) + stops[i + 1] * f
    return made
