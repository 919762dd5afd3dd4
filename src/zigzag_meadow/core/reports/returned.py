"""Masks that come back: whether they still lie the way they went out, and what was changed in them."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import reference_grid, whole_ground_grid
from zigzag_meadow.core.map_name import MaskName
from zigzag_meadow.core.masks.lines.lay_over import changes
from zigzag_meadow.core.readings.picture import Flip, Samples, picture, read_channel
from zigzag_meadow.core.resample import resample

__all__ = ["Changed", "Returned", "changed_part", "look_at_returned"]

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


def look_at_returned(ev: Evaluation, mask_id: str, path: Path, samples: Samples = "border") -> Returned:
    """Compare a picture that came back with the mask it was sent out as, in all orientations that fit the ground.

    Raises what reading the picture raises.
    """
    home, whole = ev.home, reference_grid(ev.home)
    small = whole.with_longer_side(_SIDE)
    mask = ev.map(MaskName(mask_id), whole)
    shrunk = resample(mask, whole, small, "mask")
    square = abs(home.width - home.length) < 1e-6 * home.width
    ways: list[tuple[float, Flip]] = [(0.0, "none"), (180.0, "none"), (0.0, "east_west"), (0.0, "north_south")]
    if square:
        ways += [(90.0, "none"), (270.0, "none"), (90.0, "east_west"), (90.0, "north_south")]
    pixels = ev.engine.reads(read_channel, path, "luma", cancel=ev.cancel)
    seen = {way: picture(pixels, home, small, small.whole, turn=way[0], flip=way[1], samples=samples) for way in ways}
    alike = {way: _alike(shrunk, values) for way, values in seen.items()}
    best = max(ways, key=lambda way: (alike[way], -ways.index(way)))
    upright = ways[0]
    if alike[best] < alike[upright] + _CLEARLY:
        best = upright
    # What was changed is counted sample by sample: small pictures of fine masks differ everywhere.
    came = picture(pixels, home, whole, whole.whole, turn=best[0], flip=best[1], samples=samples)
    difference = np.abs(came - mask)
    return Returned(alike[upright], best[0], best[1], float((difference > 0.05).mean()), float(difference.mean()))


@dataclass(frozen=True, slots=True)
class Changed:
    """What was changed in a mask outside: uint16 (rows, columns, 3) over the whole ground, red what was added, green
    what was removed; ``added``, ``removed``: shares of the ground that it touches."""

    samples: NDArray[np.uint16]
    added: float
    removed: float


def changed_part(
    ev: Evaluation, mask_id: str, path: Path, *, turn: float, flip: Flip, samples: Samples, sized: bool
) -> Changed:
    """What was changed in a mask of ``ev`` (the project as it was when the mask was sent out) in the picture that came
    back; ``sized``: the picture has as many samples as went out, so that what is equal is equal.

    Raises :class:`BadFile` where nothing was changed.
    """
    home = ev.home
    grid = whole_ground_grid(home)
    pixels = ev.engine.reads(read_channel, path, "luma", cancel=ev.cancel)
    came = picture(pixels, home, grid, grid.whole, turn=turn, flip=flip, samples=samples)
    added, removed = changes(ev.map(MaskName(mask_id), grid), came, 0.006 if sized else 0.03)
    out = np.zeros((*grid.shape, 3), np.uint16)
    for k, part in enumerate((added, removed)):
        out[..., k] = np.floor(part * np.float32(65535) + np.float32(0.5))
    shares = [float((part > 0.02).mean()) for part in (added, removed)]
    if not out.any():
        raise BadFile("Nothing was changed in the file: it is the mask as it was sent out.")
    return Changed(out, shares[0], shares[1])
