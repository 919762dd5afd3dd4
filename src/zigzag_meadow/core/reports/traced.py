"""Lines that follow the ground from a place: along its contour, or down with the water."""

from __future__ import annotations

from typing import Literal

import numpy as np

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import whole_ground_grid
from zigzag_meadow.core.map_name import ReadingName
from zigzag_meadow.core.masks.tracing import along_contour, down_flow
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.readings.flow import DRAIN

__all__ = ["traced"]


def traced(
    evaluation: Evaluation, way: Literal["contour", "flow"], start: tuple[float, float], length: float
) -> tuple[list[tuple[float, float]], bool]:
    """(points, whether they close): metres east and south of the north-west corner, from ``start``, at most
    ``length`` metres. Raises :class:`BadNumber` where the line would have no length."""
    grid, closed = whole_ground_grid(evaluation.home), False
    if way == "contour":
        heights = np.nan_to_num(evaluation.map(ReadingName("height"), grid))
        points, closed = along_contour(heights, grid, start, length)
    else:
        drain = Node(DRAIN, {}, (evaluation.graph.stage().solid,))
        points = down_flow(evaluation.whole(drain, "code"), grid, start, length)
    if len(points) < 2:
        raise BadNumber("The line would have no length. Start elsewhere or ask for more metres.", field="length")
    return [(round(x, 2), round(y, 2)) for x, y in points.tolist()], closed
