"""Textures of what grows, and of what lies on it: moor grass, heather, bog moss, reed, peat, snow."""

from __future__ import annotations

import numpy as np

from zigzag_meadow.core.looks.made.base import Made, MadeLook, between, eased, painted
from zigzag_meadow.core.looks.periodic import cells, clouds, strands

__all__ = ["BOG_MOSS", "HEATHER", "MOOR_GRASS", "PEAT", "REED", "SNOW"]

F = np.float32


def _moor_grass(n: int) -> Made:
    blade = strands(n, n * 12, n / 14, n / 700, 1.6, 101)
    tuft, patch = cells(n, 7, 102, 1.2), clouds(n, 3, 4, 103)
    clump = eased(F(0.75) - tuft[0], 0, 0.6)
    relief = blade[0] * (F(0.35) + F(0.65) * clump)
    tone = F(0.18) + F(0.34) * blade[1] + F(0.22) * blade[2] + F(0.14) * patch + F(0.2) * relief
    straw = between(patch + blade[1], 0.75, 1.4)
    colour = painted(tone, ("#2b3019", "#5b6330", "#84894a", "#a8a566"))
    colour += (painted(tone, ("#4d4124", "#a08d55", "#c9b77d")) - colour) * (straw * F(0.6))[..., None]
    colour *= (F(0.5) + F(0.5) * eased(relief, 0.0, 0.45))[..., None]
    return Made(colour, F(0.9) - F(0.08) * blade[1], between(relief, 0, 0.95))


def _heather(n: int) -> Made:
    sprig = strands(n, n * 14, n / 34, n / 420, 1.0, 111)
    bush, patch = cells(n, 6, 112, 1.1), clouds(n, 4, 4, 113)
    dome = np.sqrt(np.clip(1 - (bush[0] / F(0.8)) ** 2, 0, 1))
    relief = dome * F(0.6) + sprig[0] * F(0.4) * (F(0.4) + F(0.6) * dome)
    bloom = eased(sprig[2] + patch * F(0.35) + sprig[1] * F(0.3), 0.62, 1.0) * eased(dome, 0.2, 0.6)
    tone = F(0.2) + F(0.4) * sprig[1] + F(0.3) * relief
    colour = painted(tone, ("#1f1b14", "#3f3a22", "#5f5a33", "#7b7444"))
    colour += (painted(sprig[1], ("#6b3f5e", "#94648a", "#b48aa8")) - colour) * bloom[..., None]
    colour *= (F(0.45) + F(0.55) * eased(relief, 0.05, 0.55))[..., None]
    return Made(colour, F(0.93) - F(0.05) * bloom, between(relief, 0, 1))


def _bog_moss(n: int) -> Made:
    head, hummock = cells(n, 44, 121, 1.15), cells(n, 4, 122, 1.2)
    star = eased(F(0.62) - head[0], 0, 0.5)
    cushion = eased(F(0.8) - hummock[0], 0, 0.7)
    wet = clouds(n, 4, 5, 123)
    relief = cushion * F(0.65) + star * F(0.3) + wet * F(0.06)
    red = eased(hummock[2] + wet * F(0.4), 0.55, 0.9) * cushion
    tone = F(0.25) + F(0.35) * star + F(0.2) * head[2] + F(0.15) * cushion
    colour = painted(tone, ("#343c17", "#66732a", "#93994a", "#b6b56e"))
    colour += (painted(tone, ("#3d1f17", "#84463a", "#a86d55")) - colour) * (red * F(0.75))[..., None]
    return Made(colour, F(0.62) + F(0.25) * cushion, between(relief, 0, 1))


def _reed(n: int) -> Made:
    stalk = strands(n, n * 5, n / 4, n / 380, 0.5, 131)
    litter = strands(n, n * 8, n / 16, n / 640, 1.5, 132)
    patch = clouds(n, 3, 4, 133)
    relief = np.maximum(stalk[0], litter[0] * F(0.35))
    up = stalk[0] > litter[0] * F(0.35)
    own = np.where(up, stalk[1], litter[1] * F(0.6))
    tone = F(0.12) + F(0.55) * own + F(0.16) * stalk[2] + F(0.14) * patch
    colour = painted(tone, ("#2a2716", "#6f6634", "#a4955a", "#cdbd86"))
    colour *= (F(0.4) + F(0.6) * eased(relief, 0.0, 0.5))[..., None]
    return Made(colour, np.where(up, F(0.7), F(0.9)).astype(np.float32), between(relief, 0, 1))


def _peat(n: int) -> Made:
    lump, crumb = clouds(n, 4, 6, 141, gain=0.55), clouds(n, 40, 4, 142)
    crack = cells(n, 6, 143, 1.2)
    dry = eased(crack[1] - crack[0] + lump * F(0.06), 0.0, 0.09)
    fibre = strands(n, n * 2, n / 22, 0.6, 2.0, 144)
    relief = (F(0.5) + F(0.4) * lump) * (F(0.55) + F(0.45) * dry) + F(0.06) * crumb + F(0.05) * fibre[0]
    tone = F(0.4) + F(0.3) * lump + F(0.22) * crumb - F(0.25) * (1 - dry)
    colour = painted(tone, ("#17110c", "#2f231a", "#4a382a", "#614b39"))
    colour += (painted(fibre[1], ("#5f4b34", "#8b7350")) - colour) * (F(0.35) * (fibre[0] > 0))[..., None]
    return Made(colour, F(0.72) + F(0.2) * dry, between(relief, 0, 1))


def _snow(n: int) -> Made:
    drift, crust = clouds(n, 3, 5, 151, down=5), clouds(n, 96, 3, 152)
    relief = F(0.5) + F(0.4) * drift + F(0.05) * crust
    tone = F(0.6) + F(0.3) * drift + F(0.12) * crust
    return Made(
        painted(tone, ("#c3ccd6", "#dde3e9", "#eef1f3", "#fafaf8")), F(0.55) + F(0.12) * crust, between(relief, 0, 1)
    )


MOOR_GRASS = MadeLook("moor_grass", "Moor grass", 3.0, 0.3, "#6f723e", _moor_grass)
HEATHER = MadeLook("heather", "Heather", 3.5, 0.45, "#66564b", _heather)
BOG_MOSS = MadeLook("bog_moss", "Bog moss", 2.5, 0.15, "#888b43", _bog_moss)
REED = MadeLook("reed", "Reed", 3.0, 0.8, "#877b47", _reed)
PEAT = MadeLook("peat", "Peat", 4.0, 0.12, "#382a1f", _peat)
SNOW = MadeLook("snow", "Snow", 6.0, 0.15, "#eaeef1", _snow)
