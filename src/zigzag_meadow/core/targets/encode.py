"""Write heights in a target's coding (the reading half lives with the rehearsal and shares nothing with this)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber

__all__ = ["MIDDLE", "SignedStep", "signed_step"]

MIDDLE = 32768


@dataclass(frozen=True, slots=True)
class SignedStep:
    """Heights as (value − 32768) · step + position, in metres.

    ``scale`` is what the step is of the target's own base step; ``position`` is the vertical position of the
    terrain.
    """

    step: float
    scale: float
    position: float

    def encode(self, heights: NDArray[np.float32], base: float = 0.0) -> tuple[NDArray[np.uint16], int]:
        """(uint16 values, how many samples had to be clipped) of float32 metres above ``base``, of any shape."""
        exact = (heights.astype(np.float64) + (base - self.position)) / self.step + MIDDLE
        rounded = np.floor(exact + 0.5)
        clipped = int(((rounded < 0) | (rounded > 65535)).sum())
        return np.clip(rounded, 0, 65535).astype(np.uint16), clipped


def signed_step(low: float, high: float, base_step: float) -> SignedStep:
    """The coding that maps ``low`` to 0 and ``high`` to 65535 exactly, in metres.

    step = range / 65535; scale = step / base_step; position = low + 32768 · step. Raises :class:`BadNumber` when
    the range is empty.
    """
    if not high > low:
        raise BadNumber(f"The highest height must be above the lowest, got {low:g} to {high:g} m.")
    step = (high - low) / 65535
    return SignedStep(step, step / base_step, low + MIDDLE * step)
