"""Textures of stone and of loose ground: scree, gritstone, shingle, sand, bare soil, water bed."""

from __future__ import annotations

import numpy as np

from zigzag_meadow.core.looks.made.base import Made, MadeLook, between, eased, painted
from zigzag_meadow.core.looks.periodic import cells, clouds

__all__ = ["BARE_SOIL", "GRITSTONE", "SAND", "SCREE", "SHINGLE", "WATER_BED"]

F = np.float32


def _scree(n: int) -> Made:
    large, small = cells(n, 9, 11, 1.7), cells(n, 26, 12, 1.5)
    grain = clouds(n, 24, 4, 13)
    slab = eased(large[1] - large[0], 0.04, 0.4)
    chip = eased(small[1] - small[0], 0.02, 0.4) * F(0.55)
    there = large[2] > F(0.35)
    relief = np.where(there, slab * (F(0.55) + F(0.45) * large[2]), 0)
    relief = np.maximum(relief, chip * (F(0.5) + F(0.5) * small[2])) + grain * F(0.035)
    own = np.where(there & (slab > F(0.25)), large[2], small[2])
    tone = F(0.16) + F(0.5) * own + F(0.3) * between(relief, 0, 1) + grain * F(0.1)
    colour = painted(tone, ("#3b3a38", "#77746d", "#98958c", "#b9b4a7"))
    return Made(colour, F(0.88) - F(0.1) * between(relief, 0, 1), between(relief, -0.05, 1.05))


def _gritstone(n: int) -> Made:
    warp = clouds(n, 3, 5, 21)
    beds = np.sin((np.arange(n, dtype=np.float32)[:, None] / F(n) * F(5) + warp * F(0.22)) * F(2 * np.pi))
    blocks, grain = cells(n, 5, 22, 2.2), clouds(n, 48, 4, 23)
    crack = eased(blocks[1] - blocks[0] + warp * F(0.03), 0.0, 0.1)
    relief = (F(0.55) + F(0.2) * warp + F(0.14) * beds) * (F(0.35) + F(0.65) * crack) + grain * F(0.06)
    lichen = eased(clouds(n, 7, 5, 24), 0.28, 0.5)
    tone = (
        F(0.45)
        + F(0.22) * warp
        + F(0.14) * beds
        + F(0.16) * grain
        + F(0.12) * (blocks[2] - F(0.5))
        - F(0.35) * (1 - crack)
    )
    colour = painted(tone, ("#2f2a26", "#6a6058", "#8b8074", "#ab9f8d"))
    colour += (painted(grain * F(0.5) + F(0.5), ("#9fa287", "#c9c9ad")) - colour) * (lichen * crack * F(0.6))[..., None]
    return Made(colour, F(0.8) + F(0.1) * grain, between(relief, 0, 1))


def _shingle(n: int) -> Made:
    pebble, fine = cells(n, 20, 31, 1.35), cells(n, 52, 32, 1.2)
    dome = np.sqrt(np.clip(1 - (pebble[0] / F(0.62)) ** 2, 0, 1)) * eased(pebble[1] - pebble[0], 0.0, 0.16)
    bed = np.sqrt(np.clip(1 - (fine[0] / F(0.7)) ** 2, 0, 1)) * F(0.3)
    there = dome > bed
    relief = np.maximum(dome * (F(0.6) + F(0.4) * pebble[2]), bed)
    speck = clouds(n, 64, 3, 33)
    own = np.where(there, pebble[2], fine[2])
    tone = F(0.2) + F(0.62) * own + F(0.09) * speck + F(0.2) * (relief - F(0.5))
    colour = painted(tone, ("#4c4b4c", "#7d766c", "#a39a8b", "#c9c2b3"))
    colour *= (F(0.55) + F(0.45) * eased(relief, 0, 0.3))[..., None]
    return Made(colour, np.where(there, F(0.5), F(0.8)) + F(0.08) * speck, between(relief, 0, 1))


def _sand(n: int) -> Made:
    warp, grain = clouds(n, 3, 4, 41), clouds(n, 128, 2, 42)
    phase = np.arange(n, dtype=np.float32)[:, None] / F(n) * F(14) + warp * F(0.8)
    wave = F(0.5) + F(0.5) * np.sin(phase * F(2 * np.pi))
    relief = F(0.7) * wave ** F(1.6) + F(0.12) * warp + F(0.06) * grain + F(0.1)
    tone = F(0.42) + F(0.22) * wave + F(0.16) * warp + F(0.16) * grain
    return Made(
        painted(tone, ("#8f7c5c", "#b7a27c", "#d3c199", "#e2d4b2")), F(0.9) + F(0.06) * grain, between(relief, 0, 1)
    )


def _bare_soil(n: int) -> Made:
    clod, stone = clouds(n, 10, 6, 51, gain=0.6), cells(n, 30, 52, 1.4)
    lump = F(0.5) + F(0.5) * clod
    there = (stone[2] > F(0.82)) * eased(F(0.42) - stone[0], 0, 0.12)
    relief = between(lump * F(0.75) + there * F(0.35), 0, 1)
    damp = clouds(n, 3, 3, 53)
    tone = F(0.45) + F(0.4) * clod + F(0.16) * damp
    colour = painted(tone, ("#33261b", "#5b4632", "#7a6147", "#94795a"))
    colour += (painted(stone[2], ("#6f685c", "#9a9281")) - colour) * there[..., None]
    return Made(colour, F(0.92) - F(0.1) * between(damp, 0, 1), relief)


def _water_bed(n: int) -> Made:
    pebble, silt = cells(n, 13, 61, 1.5), clouds(n, 4, 5, 62)
    dome = np.sqrt(np.clip(1 - (pebble[0] / F(0.6)) ** 2, 0, 1)) * eased(pebble[1] - pebble[0], 0.0, 0.2)
    buried = eased(silt, -0.25, 0.35)
    relief = dome * (1 - F(0.85) * buried) * F(0.9) + F(0.15) * buried + F(0.05) * silt
    tone = F(0.25) + F(0.5) * pebble[2] + F(0.15) * silt
    colour = painted(tone, ("#2d302a", "#555447", "#7a735c", "#958c71"))
    colour += (painted(F(0.5) + F(0.5) * silt, ("#4a4a37", "#6d684d")) - colour) * (buried * F(0.8))[..., None]
    return Made(colour, F(0.35) + F(0.2) * buried, between(relief, 0, 1))


SCREE = MadeLook("scree", "Scree", 5.0, 0.35, "#908d84", _scree)
GRITSTONE = MadeLook("gritstone", "Gritstone", 8.0, 0.5, "#766d62", _gritstone)
SHINGLE = MadeLook("shingle", "Shingle", 2.5, 0.08, "#90887c", _shingle)
SAND = MadeLook("sand", "Sand", 3.0, 0.04, "#c8b48d", _sand)
BARE_SOIL = MadeLook("bare_soil", "Bare soil", 3.0, 0.08, "#6b5742", _bare_soil)
WATER_BED = MadeLook("water_bed", "Water bed", 4.0, 0.12, "#64604c", _water_bed)
