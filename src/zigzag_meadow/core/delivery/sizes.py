"""Which sizes a target takes for a ground of given proportions."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from zigzag_meadow.core.formats.limits import LONGEST_SIDE, SHORTEST_SIDE
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.steps.resampling import Resample
from zigzag_meadow.core.targets.rules import Target

__all__ = ["FitsSize", "fits_size", "legal_pairs", "nearest_pair"]


def legal_pairs(chosen: Target, home: Grid) -> list[tuple[int, int]]:
    """(rows, columns) the target takes for a ground of these proportions, smallest first.

    Both sides share their patches. Pairs within 2 % of the proportions, or, where there are none, the nearest of
    every size: spacing then differs a little between the axes, which the import note says.
    """
    tall = home.rows > home.cols
    ratio = (min(home.rows, home.cols) - 1) / (max(home.rows, home.cols) - 1)
    near: list[tuple[int, int]] = []
    rough: list[tuple[int, int]] = []
    for long in chosen.legal_sizes():
        if not 64 <= long <= LONGEST_SIDE:
            continue
        ideal = (long - 1) * ratio
        cells = {layout.patch * layout.patches for layout in chosen.layouts(long)}
        shorts = [c * min(max(round(ideal / c), 1), chosen.most_blocks) for c in sorted(cells)]
        short = min(shorts, key=lambda n: abs(n - ideal)) + 1
        if short < SHORTEST_SIDE:
            continue
        pair = (long, short) if tall else (short, long)
        rough.append(pair)
        if abs(short - 1 - ideal) <= 0.02 * ideal:
            near.append(pair)
    return near or rough


def nearest_pair(chosen: Target, home: Grid) -> tuple[int, int]:
    """The legal (rows, columns) nearest to the ground's own size."""
    return min(legal_pairs(chosen, home), key=lambda p: abs(p[0] - home.rows) + abs(p[1] - home.cols))


@dataclass(frozen=True, slots=True)
class FitsSize:
    """Whether a target takes the ground's own size; ``mend``: the step that makes the nearest size it takes."""

    target: str
    legal: bool
    message: str
    mend: dict[str, Any] | None


def fits_size(chosen: Target, home: Grid) -> FitsSize:
    """What a target says to the ground's own size."""
    legal = chosen.is_legal(home.rows) and chosen.is_legal(home.cols)
    pairs = sorted(legal_pairs(chosen, home), key=lambda p: abs(p[0] - home.rows) + abs(p[1] - home.cols))[:3]
    near = ", ".join(f"{cols} × {rows}" for rows, cols in pairs if (rows, cols) != home.shape)
    text = f"takes {home.cols} × {home.rows}. Also near: {near}." if legal else f"takes {near}; delivered resampled."
    mend = None if legal else Resample(id="new", rows=pairs[0][0], cols=pairs[0][1]).numbers
    return FitsSize(chosen.title, legal, text, mend)
