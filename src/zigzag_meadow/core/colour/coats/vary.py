"""Vary: patches of other hue and brightness, so that even ground is no plain colour."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from zigzag_meadow.core.colour.coats.base import LENGTH, SEED, Around, BaseCoat
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers, by_sample
from zigzag_meadow.core.parts import Told, Unit
from zigzag_meadow.core.readings.noise import NOISE_OPERATION
from zigzag_meadow.core.srgb import lab_of, rgb_of_lab

__all__ = ["Vary"]


def _made(here: Here, numbers: Numbers, below: Array, hues: Array, lights: Array) -> Array:
    """Noise about ½ turns hue and multiplies lightness; both keep their mean."""
    lab = lab_of(below)
    turn = (hues - np.float32(0.5)) * np.float32(2 * np.radians(numbers["hue"]))
    c, s = np.cos(turn), np.sin(turn)
    a, b = lab[..., 1].copy(), lab[..., 2].copy()
    lab[..., 1], lab[..., 2] = a * c - b * s, a * s + b * c
    lab[..., 0] *= 1 + (lights - np.float32(0.5)) * np.float32(2 * numbers["brightness"])
    return rgb_of_lab(lab)


VARY = by_sample("vary", _made)


class Vary(BaseCoat):
    title, family, hint = "Vary", "change", "patches of other hue and brightness"
    sentence = (
        "**Vary** hue by {hue} and brightness by {brightness} in patches of {size}, seed {seed}, at {strength}, "
        "{within}"
    )
    kind: Literal["vary"] = "vary"
    hue: Annotated[float, Field(ge=0, le=180), Told("Hue", "°", step=1, decimals=0, high=60)] = 8.0
    brightness: Annotated[Unit, Told("Brightness", "%")] = 0.15
    size: Annotated[LENGTH, Told("Size", "m", step=5, decimals=0, of="spacing", first=25, low=1)] = 90.0
    seed: SEED = 3

    def changed_from(self, below: Node, around: Around) -> Node:
        def noise(seed: int) -> Node:
            numbers = {
                "kind": "gradient",
                "size": self.size,
                "octaves": 5.0,
                "stretch": 1.0,
                "direction": 0.0,
                "seed": seed,
            }
            return Node(NOISE_OPERATION, numbers, (around.stage().solid,))

        numbers = {"hue": self.hue, "brightness": self.brightness}
        return Node(VARY, numbers, (below, noise(self.seed), noise(self.seed + 500_000)))
