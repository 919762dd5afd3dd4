"""The project's own maps on the delivered grid, for a fit check in full."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadDocument
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.fit.rehearsal import Rehearsal

__all__ = ["ProjectTruth"]


class ProjectTruth:
    """Maps of ``evaluation``'s project on the grid that the note names.

    Raises :class:`BadDocument` when the project covers another extent than the note says.
    """

    def __init__(self, evaluation: Evaluation, rehearsal: Rehearsal) -> None:
        home = evaluation.home
        self._evaluation = evaluation
        self._grid = home.resized(rehearsal.rows, rehearsal.cols, "vertex")
        off = max(abs(home.width - rehearsal.width), abs(home.length - rehearsal.length))
        if off > 1e-6 * max(home.width, home.length):
            raise BadDocument(
                f"The project is {home.width:g} × {home.length:g} m, the import note says {rehearsal.width:g} × "
                f"{rehearsal.length:g} m: this delivery is of another ground or of older measures. Deliver again."
            )

    def heights(self) -> NDArray[np.float64]:
        above = self._evaluation.above_base(self._grid, self._grid.whole).astype(np.float64)
        return above + self._evaluation.project.ground.base

    def sheet(self, sheet_id: str) -> NDArray[np.uint8]:
        sheet: NDArray[np.uint8] = self._evaluation.map(f"sheet:{sheet_id}", self._grid)
        return sheet
