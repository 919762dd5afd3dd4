"""The eight orientations of a map, and how alike two maps are."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

__all__ = ["ORIENTATIONS", "Orientation"]

Turn = Callable[[NDArray[Any]], NDArray[Any]]


def _transposed(a: NDArray[Any]) -> NDArray[Any]:
    return np.swapaxes(a, 0, 1)


@dataclass(frozen=True, slots=True)
class Orientation:
    """One of eight. ``happened``: what happened to a map, ``cure``: what mends it, in words; ``harm`` does the one and
    ``mend`` the other to (rows, columns, …)."""

    id: str
    happened: str
    cure: str
    harm: Turn
    mend: Turn

    @property
    def swaps(self) -> bool:
        """Whether rows become columns."""
        return self.id in ("transposed", "turned_90", "turned_270", "transposed_back")


ORIENTATIONS: tuple[Orientation, ...] = (
    Orientation("plain", "as it is", "nothing", lambda a: a, lambda a: a),
    Orientation("flipped", "flipped north–south", "flip it north–south", lambda a: a[::-1], lambda a: a[::-1]),
    Orientation("mirrored", "mirrored east–west", "mirror it east–west", lambda a: a[:, ::-1], lambda a: a[:, ::-1]),
    Orientation("turned_180", "turned by 180°", "turn it by 180°", lambda a: a[::-1, ::-1], lambda a: a[::-1, ::-1]),
    Orientation(
        "transposed", "transposed (rows and columns swapped)", "swap its rows and columns", _transposed, _transposed
    ),
    Orientation(
        "turned_90",
        "turned by 90° clockwise",
        "turn it by 90° counter-clockwise",
        lambda a: np.rot90(a, -1, (0, 1)),
        lambda a: np.rot90(a, 1, (0, 1)),
    ),
    Orientation(
        "turned_270",
        "turned by 90° counter-clockwise",
        "turn it by 90° clockwise",
        lambda a: np.rot90(a, 1, (0, 1)),
        lambda a: np.rot90(a, -1, (0, 1)),
    ),
    Orientation(
        "transposed_back",
        "transposed about the other diagonal",
        "swap rows and columns, then turn by 180°",
        lambda a: _transposed(a[::-1, ::-1]),
        lambda a: _transposed(a[::-1, ::-1]),
    ),
)
"""What happened to a map, as it is first."""
