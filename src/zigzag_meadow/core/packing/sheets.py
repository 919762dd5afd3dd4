"""Put channels together into sheets of bytes."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber

__all__ = ["rest_of_sheet", "stretched"]

U8 = NDArray[np.uint8]


def rest_of_sheet(others: list[U8]) -> tuple[U8, int]:
    """(full scale minus the other channels of a sheet, at how many samples those exceed full scale).

    ``others``: uint8 arrays of one shape; where they exceed 255 the rest is 0. Raises :class:`BadNumber` when
    there are none.
    """
    if not others:
        raise BadNumber("The rest of a sheet needs at least one other channel in that sheet.")
    total = np.zeros(others[0].shape, np.uint16)
    for other in others:
        total += other
    over = int((total > 255).sum())
    return (255 - np.minimum(total, 255)).astype(np.uint8), over


def stretched(values: NDArray[np.float32], black: float, white: float, *, log: bool) -> NDArray[np.float32]:
    """A reading as 0–1 (float32): 0 where it is at ``black``, 1 at ``white``, clamped beyond.

    With ``log`` the stretch is even on the logarithm. ``white`` may be below ``black`` to turn it over.
    """
    if black == white:
        raise BadNumber(f"Black and white must stand for different values, got {black:g} for both.")
    if log:
        values, black, white = np.log2(values), float(np.log2(black)), float(np.log2(white))
    t = (values - np.float32(black)) * np.float32(1 / (white - black))
    return np.clip(t, 0, 1, out=t)
