"""What can be read off the ground, as data: unit, range, scale and what each is good for.

API, screens and documentation derive from these declarations.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from zigzag_meadow.core.errors import NotFound

__all__ = ["READINGS", "Reading", "reading"]


@dataclass(frozen=True, slots=True)
class Reading:
    """One kind of reading.

    ``scale`` *log* means that bands, histograms and fades work on the logarithm. ``whole_ground`` readings run
    once on the home grid and are sampled. ``low`` and ``high`` are fixed ends of its range; None: as measured.
    """

    name: str
    title: str
    family: Literal["relief", "light", "water"]
    unit: str
    scale: Literal["linear", "log"]
    decimals: int
    low: float | None
    high: float | None
    whole_ground: bool
    sentence: str
    good_for: str


READINGS: tuple[Reading, ...] = (
    Reading(
        "height", "Height", "relief", "m", "linear", 1, None, None, False,
        "Metres above the same zero as the water level.",
        "Snow lines, shore margins, anything that starts or stops at a height.",
    ),
    Reading(
        "slope", "Slope", "relief", "°", "linear", 1, 0.0, 90.0, False,
        "How steep the ground is, from flat to upright.",
        "Rock shows where nothing can settle; grass and peat stay where it is gentle.",
    ),
    Reading(
        "shade", "Shade", "light", "", "linear", 0, 1.0, 255.0, False,
        "Light from the north-west, half way up the sky, without cast shadows.",
        "Judging shape; bleaching faces that see the sun.",
    ),
    Reading(
        "flow", "Flow", "water", "m²", "log", 0, None, None, True,
        "How much ground drains through each place, every hollow filled to its brim first.",
        "Stream beds, wet runs, worn lines. Thin channels are as wide as one sample of the ground.",
    ),
    Reading(
        "standing_water", "Standing water", "water", "m", "linear", 2, 0.0, None, True,
        "How deep water would stand in hollows that have no way out.",
        "Bog pools, lochans, reed margins.",
    ),
)  # fmt: skip

_BY_NAME = {r.name: r for r in READINGS}


def reading(name: str) -> Reading:
    """The declaration of a reading. Raises :class:`NotFound` with the names there are."""
    try:
        return _BY_NAME[name]
    except KeyError:
        known = ", ".join(_BY_NAME)
        raise NotFound(f"There is no reading called {name!r}. There are: {known}.") from None
