"""What is seen of heights while they are written: their ends, and check points as they will be read back."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from numpy.typing import NDArray

from zigzag_meadow.core.delivery.manifest import HeightSeen
from zigzag_meadow.core.delivery.plan import Plan, PlannedFile, PlannedItem

__all__ = ["HIGHEST", "LOWEST", "HeightLooker", "check_places"]

HIGHEST, LOWEST = "Highest sample", "Lowest sample"


def check_places(plan: Plan) -> dict[str, tuple[int, int]]:
    """Places by title, as (row, column) of the whole height, north up."""
    w = plan.part
    return {
        "North-west corner": (w.row0, w.col0),
        "South-east corner": (w.row1 - 1, w.col1 - 1),
        "Middle": ((w.row0 + w.row1) // 2, (w.col0 + w.col1) // 2),
    }


@dataclass
class HeightLooker:
    """Looks at stored heights, north up, on their way."""

    wanted: dict[str, tuple[int, int]]
    plan: Plan
    item: PlannedItem
    file: PlannedFile
    clipped: int = 0
    _found: dict[str, tuple[int, int, float]] = field(default_factory=dict)

    def add(self, row0: int, stored: NDArray[Any], clipped: int) -> None:
        """Rows from ``row0`` of the whole map on, as they are stored."""
        # Of a band that is cut into tiles the count is of all of it: it is told once.
        self.clipped = self.clipped + clipped if self.file.tile.x == 0 else 0
        col0 = self.file.tile.window.col0
        for title, (row, col) in self.wanted.items():
            inside = row0 <= row < row0 + len(stored) and col0 <= col < col0 + stored.shape[1]
            if inside:
                self._found[title] = (row, col, float(stored[row - row0, col - col0]))
        for title, at, sign in ((HIGHEST, int(stored.argmax()), 1), (LOWEST, int(stored.argmin()), -1)):
            value = float(stored.flat[at])
            if title not in self._found or sign * value > sign * self._found[title][2]:
                row, col = divmod(at, stored.shape[1])
                self._found[title] = (row0 + row, col0 + col, value)

    def seen(self) -> HeightSeen:
        """In metres there, by the scale that is written."""
        scale = self.item.scale
        points = {
            title: (row, col, value if scale is None else scale.at_zero + value * scale.step)
            for title, (row, col, value) in self._found.items()
        }
        return HeightSeen(low=points[LOWEST][2], high=points[HIGHEST][2], clipped=self.clipped, points=points)
