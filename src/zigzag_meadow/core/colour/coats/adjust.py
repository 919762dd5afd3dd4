"""Adjust: hue, saturation, brightness, contrast, gamma and warmth of what is below."""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from numba import njit
from numpy.typing import NDArray
from pydantic import Field

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.colour.coats.base import Around, BaseCoat, Change, changing
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers
from zigzag_meadow.core.parts import Told
from zigzag_meadow.core.srgb import lab_row, rgb_row

__all__ = ["Adjust", "adjusted"]

F32 = NDArray[np.float32]
MIDDLE = np.float32(0.57)
"""Lightness about which contrast turns: that of middle grey (0.18 of full light)."""
WARM = (0.0, 0.03, 0.06)
"""What full warmth adds to OKLab at full lightness: towards amber."""
_TWICE = Annotated[float, Field(ge=0, le=4)]


@njit(nogil=True, cache=True)
def _adjust(
    rgb: F32, c: np.float32, s: np.float32, contrast: np.float32, first: np.float32, second: np.float32, out: F32
) -> None:
    many, one = rgb.shape[1], np.float32(1)
    lab, row, grown = np.empty((3, many), np.float32), np.empty((many, 3), np.float32), np.empty(many, np.float32)
    for r in range(rgb.shape[0]):
        for q in range(many):
            # Light beyond full is brought below it and taken up again: OKLab grows with the cube root of light.
            peak = max(one, rgb[r, q, 0], rgb[r, q, 1], rgb[r, q, 2])
            grown[q] = np.cbrt(peak) if peak > one else one
            for k in range(3):
                row[q, k] = rgb[r, q, k] / peak
        lab_row(row, lab)
        for q in range(many):
            light, a, b = (
                MIDDLE + (lab[0, q] * grown[q] - MIDDLE) * contrast,
                lab[1, q] * grown[q],
                lab[2, q] * grown[q],
            )
            lab[0, q] = light
            lab[1, q] = a * c - b * s + light * first
            lab[2, q] = a * s + b * c + light * second
        rgb_row(lab, out[r])


def adjusted(
    rgb: F32,
    *,
    hue: float = 0.0,
    saturation: float = 1.0,
    brightness: float = 1.0,
    contrast: float = 1.0,
    gamma: float = 1.0,
    warmth: float = 0.0,
) -> F32:
    """Linear colours (rows, columns, 3) changed; float32 of the same shape.

    ``brightness`` multiplies light, ``gamma`` bends it (above 1 lightens the middle). In OKLab: ``hue`` turns by
    degrees, ``saturation`` multiplies chroma, ``contrast`` draws lightness away from middle grey, ``warmth`` (−1 to 1)
    goes towards amber or blue. With the numbers as they are nothing changes. Light is clamped at the very end.
    """
    light = rgb * np.float32(brightness) if brightness != 1 else rgb
    if gamma != 1:
        light = np.power(np.maximum(light, 0), np.float32(1 / gamma))
    if hue == 0 and saturation == 1 and contrast == 1 and warmth == 0:
        return np.clip(light, 0, 1).astype(np.float32, copy=False)
    turn = math.radians(hue)
    c, s = np.float32(math.cos(turn) * saturation), np.float32(math.sin(turn) * saturation)
    first, second = np.float32(WARM[1] * warmth), np.float32(WARM[2] * warmth)
    out = np.empty(light.shape, np.float32)
    _adjust(readable(light.astype(np.float32, copy=False)), c, s, np.float32(contrast), first, second, out)
    return out


def _made(here: Here, numbers: Numbers, below: Array) -> Array:
    return adjusted(below, **{name: value for name, value in numbers.items() if name not in ("strength", "masked")})


ADJUST = changing("adjust", _made, version=2)


class Adjust(BaseCoat):
    title, family, hint = "Adjust", "change", "hue, saturation, brightness, contrast, gamma, warmth"
    sentence = (
        "**Adjust** hue by {hue}, saturation {saturation}, brightness {brightness}, contrast {contrast}, gamma "
        "{gamma}, warmth {warmth}, at {strength}, {within}"
    )
    kind: Literal["adjust"] = "adjust"
    hue: Annotated[float, Field(ge=-180, le=180), Told("Hue", "°", step=1, decimals=0)] = 0.0
    saturation: Annotated[_TWICE, Told("Saturation", "%", high=3)] = 1.0
    brightness: Annotated[_TWICE, Told("Brightness", "%", high=3)] = 1.0
    contrast: Annotated[_TWICE, Told("Contrast", "%", high=3)] = 1.0
    gamma: Annotated[float, Field(ge=0.2, le=5), Told("Gamma")] = 1.0
    warmth: Annotated[float, Field(ge=-1, le=1), Told("Warmth", "%")] = 0.0

    def change(self, around: Around) -> Change:
        names = ("hue", "saturation", "brightness", "contrast", "gamma", "warmth")
        return Change(ADJUST, {name: getattr(self, name) for name in names})
