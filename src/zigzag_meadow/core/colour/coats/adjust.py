"""Adjust: hue, saturation, brightness, contrast, gamma and warmth of what is below."""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from zigzag_meadow.core.colour.coats.base import Around, BaseCoat, Change, changing
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers
from zigzag_meadow.core.parts import Told
from zigzag_meadow.core.srgb import lab_of, rgb_of_lab

__all__ = ["Adjust", "adjusted"]

F32 = NDArray[np.float32]
MIDDLE = np.float32(0.57)
"""Lightness about which contrast turns: that of middle grey (0.18 of full light)."""
WARM = (0.0, 0.03, 0.06)
"""What full warmth adds to OKLab at full lightness: towards amber."""
_TWICE = Annotated[float, Field(ge=0, le=4)]


def adjusted(
    rgb: F32, *, hue: float = 0.0, saturation: float = 1.0, brightness: float = 1.0, contrast: float = 1.0,
    gamma: float = 1.0, warmth: float = 0.0,
) -> F32:  # fmt: skip
    """Linear colours (rows, columns, 3) changed; float32 of the same shape.

    ``brightness`` multiplies light, ``gamma`` bends it (above 1 lightens the middle). In OKLab: ``hue`` turns by
    degrees, ``saturation`` multiplies chroma, ``contrast`` draws lightness away from middle grey, ``warmth`` (−1 to 1)
    goes towards amber or blue. With the numbers as they are nothing changes.
    """
    light = rgb * np.float32(brightness) if brightness != 1 else rgb
    if gamma != 1:
        light = np.power(np.maximum(light, 0), np.float32(1 / gamma))
    if hue == 0 and saturation == 1 and contrast == 1 and warmth == 0:
        return np.clip(light, 0, 1).astype(np.float32, copy=False)
    lab = lab_of(light)
    c, s = math.cos(math.radians(hue)) * saturation, math.sin(math.radians(hue)) * saturation
    a, b = lab[..., 1].copy(), lab[..., 2].copy()
    lab[..., 0] = MIDDLE + (lab[..., 0] - MIDDLE) * np.float32(contrast)
    lab[..., 1] = a * np.float32(c) - b * np.float32(s) + lab[..., 0] * np.float32(WARM[1] * warmth)
    lab[..., 2] = a * np.float32(s) + b * np.float32(c) + lab[..., 0] * np.float32(WARM[2] * warmth)
    return rgb_of_lab(lab)


def _made(here: Here, numbers: Numbers, below: Array) -> Array:
    return adjusted(below, **{name: value for name, value in numbers.items() if name not in ("strength", "masked")})


ADJUST = changing("adjust", _made)


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
