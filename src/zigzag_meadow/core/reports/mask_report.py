"""Numbers of masks that several maps go into: bands, and masks looked at together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import reference_grid
from zigzag_meadow.core.map_name import CountName
from zigzag_meadow.core.masks import tone
from zigzag_meadow.core.masks.lines.cut import edges_of, inner_edges

__all__ = ["Bands", "Together", "bands_of", "together"]


@dataclass(frozen=True, slots=True)
class Bands:
    """Inner edges of the bands a mask is cut into, 0–1, and the share of the ground in each band."""

    edges: list[float]
    shares: list[float]


@dataclass(frozen=True, slots=True)
class Together:
    """Shares of the ground where none, one or more of some masks are strong."""

    none: float
    one: float
    more: float


def bands_of(evaluation: Evaluation, mask_id: str) -> Bands:
    """The bands a mask is cut into. Raises :class:`NotFound` where it is cut into none."""
    before, line, _ = evaluation.graph.recipes.cut_of(mask_id)
    band = line.in_band(before, 0)
    need = edges_of(band)
    edges = inner_edges(band.params, None if need is None else evaluation.whole(need.node))
    grid = reference_grid(evaluation.home)
    shares = tone.shares_of(evaluation.window(before, grid, grid.whole), edges)
    return Bands([float(edge) for edge in edges], shares)


def together(evaluation: Evaluation, mask_ids: Sequence[str]) -> Together:
    """How 2 to 12 masks meet. Raises :class:`BadNumber` for fewer or more of them."""
    if not 2 <= len(mask_ids) <= 12:
        raise BadNumber(f"Choose 2 to 12 masks to look at together, got {len(mask_ids)}.", field="masks")
    count = evaluation.map(CountName(tuple(mask_ids)), reference_grid(evaluation.home))
    return Together(float((count == 0).mean()), float((count == 1).mean()), float((count > 1).mean()))
