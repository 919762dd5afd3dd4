"""Masks that come back: whether they still lie the way they went out, and what was changed in them."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import Grid, reference_grid
from zigzag_meadow.core.readings.picture import Flip, Samples, picture, read_channel
from zigzag_meadow.core.resample import resample

__all__ = ["Returned", "look_at_returned"]

F32 = NDArray[np.float32]
_SIDE = 257
_CLEARLY = 0.05
"""How much more alike another orientation must be before it is believed."""


@dataclass(frozen=True, slots=True)
class Returned:
    """``alike``: correlation with the mask as it is now, −1 to 1; ``turn`` and ``flip``: the orientation in which the
    file is most like it. ``changed``: share of the ground that differs by more than a twentieth, in that orientation;
    ``mean``: mean difference."""

    alike: float
    turn: float
    flip: Flip
    changed: float
    mean: float

    def says(self, remark: str | None) -> str:
        """What came back, in sentences; ``remark``: on its size."""
        turned = self.turn or self.flip != "none"
        way = {"none": "", "east_west": "flipped east–west", "north_south": "flipped north–south"}[self.flip]
        told = [remark] if remark else []
        if turned:
            how = " and ".join(part for part in (way, f"turned by {360 - self.turn:g}°" if self.turn else "") if part)
            told.append(f"It came back {how}; it is laid right.")
        if self.alike < 0.2 and not turned:
            told.append("It hardly resembles the mask that it is to replace: is it the right file?")
        told.append(f"{self.changed:.1%} of the ground was changed.")
        return " ".join(told)


def _alike(a: F32, b: F32) -> float:
    if a.std() < 1e-6 or b.std() < 1e-6:
        return 0.0
    return float(np.corrcoef(a.ravel(), b.ravel())[0, 1])


def _small(grid: Grid) -> Grid:
    share = (_SIDE - 1) / max(max(grid.rows, grid.cols) - 1, _SIDE - 1)
    return grid.resized(max(round((grid.rows - 1) * share), 1) + 1, max(round((grid.cols - 1) * share), 1) + 1)


def look_at_returned(ev: Evaluation, mask_id: str, path: Path, samples: Samples = "border") -> Returned:
    """Compare a picture that came back with the mask it was sent out as, in all orientations that fit the ground.

    Raises what reading the picture raises.
    """
    home, whole = ev.home, reference_grid(ev.home)
    small = _small(whole)
    mask = ev.map(f"mask:{mask_id}", whole)
    shrunk = resample(mask, whole, small, "mask")
    square = abs(home.width - home.length) < 1e-6 * home.width
    ways: list[tuple[float, Flip]] = [(0.0, "none"), (180.0, "none"), (0.0, "east_west"), (0.0, "north_south")]
    if square:
        ways += [(90.0, "none"), (270.0, "none"), (90.0, "east_west"), (90.0, "north_south")]
    pixels = ev.engine.desk(read_channel, path, "luma", cancel=ev.cancel)
    seen = {way: picture(pixels, home, small, small.whole, turn=way[0], flip=way[1], samples=samples) for way in ways}
    alike = {way: _alike(shrunk, values) for way, values in seen.items()}
    best = max(ways, key=lambda way: (alike[way], -ways.index(way)))
    upright = ways[0]
    if alike[best] < alike[upright] + _CLEARLY:
        best = upright
    # What was changed is counted sample by sample: small pictures of fine masks differ everywhere.
    came = picture(pixels, home, whole, whole.whole, turn=best[0], flip=best[1], samples=samples)
    difference = np.abs(came - mask)
    return Returned(
        alike[upright], best[0], best[1], float((difference > 0.05).mean()), float(difference.mean())
    )  # fmt: skip
