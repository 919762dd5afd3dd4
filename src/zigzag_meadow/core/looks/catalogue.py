"""Every bundled look, in the order in which they are offered."""

from __future__ import annotations

from zigzag_meadow.core.looks.made.base import MadeLook
from zigzag_meadow.core.looks.made.growth import BOG_MOSS, HEATHER, MOOR_GRASS, PEAT, REED, SNOW
from zigzag_meadow.core.looks.made.stone import BARE_SOIL, GRITSTONE, SAND, SCREE, SHINGLE, WATER_BED

__all__ = ["LOOKS"]

LOOKS: list[MadeLook] = [
    SCREE,
    GRITSTONE,
    SHINGLE,
    SAND,
    BARE_SOIL,
    PEAT,
    MOOR_GRASS,
    HEATHER,
    BOG_MOSS,
    REED,
    SNOW,
    WATER_BED,
]
