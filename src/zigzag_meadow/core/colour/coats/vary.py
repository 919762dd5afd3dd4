"""Vary: patches of other hue and brightness, so that even ground is no plain colour."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from numba import njit
from numpy.typing import NDArray
from pydantic import Field

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.colour.coats.base import LENGTH, SEED, Around, BaseCoat, Change, changing
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers
from zigzag_meadow.core.parts import Told, Unit
from zigzag_meadow.core.readings.noise import NOISE_OPERATION
from zigzag_meadow.core.srgb import lab_row, rgb_row

__all__ = ["Vary", "varied"]

F32 = NDArray[np.float32]


@njit(nogil=True, cache=True)
def _vary(below: F32, hues: F32, lights: F32, hue: np.float32, light: np.float32, out: F32) -> None:
    one, half, third, sixth = np.float32(1), np.float32(0.5), np.float32(1 / 24), np.float32(1 / 6)
    lab = np.empty((3, below.shape[1]), np.float32)
    for r in range(below.shape[0]):
        lab_row(below[r], lab)
        for c in range(below.shape[1]):
            turn = (hues[r, c] - half) * hue
            # Small turns: the series is exact to a hundredth of a degree up to a right angle and far cheaper.
            q = turn * turn
            cos = one - q * (half - q * (third - q * np.float32(1 / 720)))
            sin = turn * (one - q * (sixth - q * (np.float32(1 / 120) - q * np.float32(1 / 5040))))
            a, b = lab[1, c], lab[2, c]
            lab[0, c] *= one + (lights[r, c] - half) * light
            lab[1, c], lab[2, c] = a * cos - b * sin, a * sin + b * cos
        rgb_row(lab, out[r])


def varied(below: F32, hues: F32, lights: F32, hue: float, brightness: float) -> F32:
    """Linear colours (rows, columns, 3) with hue turned by up to ±``hue`` degrees and OKLab lightness multiplied by up
    to 1 ± ``brightness``, as noise (float32 (rows, columns), 0–1, ½ changes nothing) says; float32."""
    out = np.empty_like(below)
    numbers = np.float32(2 * np.radians(hue)), np.float32(2 * brightness)
    _vary(readable(below), readable(hues), readable(lights), *numbers, out)
    return out


def _made(here: Here, numbers: Numbers, below: Array, hues: Array, lights: Array) -> Array:
    return varied(below, hues, lights, numbers["hue"], numbers["brightness"])


VARY = changing("vary", _made)


class Vary(BaseCoat):
    title, family, hint = "Vary", "change", "patches of other hue and brightness"
    sentence = (
        "**Vary** hue by {hue} and brightness by {brightness} in patches of {size}, seed {seed}, at {strength}, "
        "{within}"
    )
    kind: Literal["vary"] = "vary"
    hue: Annotated[float, Field(ge=0, le=90), Told("Hue", "°", step=1, decimals=0, high=60)] = 8.0
    brightness: Annotated[Unit, Told("Brightness", "%")] = 0.15
    size: Annotated[LENGTH, Told("Size", "m", step=5, decimals=0, of="spacing", first=25, low=1)] = 90.0
    seed: SEED = 3

    def change(self, around: Around) -> Change:
        def noise(size: float, octaves: float, seed: int) -> Node:
            shape = {"kind": "gradient", "size": size, "octaves": octaves, "stretch": 1.0, "direction": 0.0}
            return Node(NOISE_OPERATION, {**shape, "seed": seed}, (around.stage().solid,))

        hues, lights = noise(1.7 * self.size, 2.0, self.seed), noise(self.size, 4.0, self.seed + 500_000)
        return Change(VARY, {"hue": self.hue, "brightness": self.brightness}, (hues, lights))
