"""A part of the ground for a quick trial: a region moved onto samples and to a size that the target takes."""

from __future__ import annotations

import math

from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.targets.map_sizes import FewerCells
from zigzag_meadow.core.targets.sizes import SizeRule

__all__ = ["trial_extent", "window_over"]

_TRIED = 12


def _legal(
    rule: SizeRule, rows: int, cols: int, most: tuple[int, int], even: tuple[int, int] = (1, 0)
) -> tuple[int, int]:
    """The legal pair nearest to a wanted one, ``most`` (rows, columns) at most; the wanted one where there is none.
    ``even``: cells must be a multiple of the first number, where samples are one more by the second."""
    step, less = even
    near = [
        sorted(
            (n for n in {*rule.lengths(), wanted} if n <= top and (n - less) % step == 0),
            key=lambda n: (abs(n - wanted), n),
        )[:_TRIED]
        for wanted, top in ((rows, most[0]), (cols, most[1]))
    ]
    pairs = [(r, c) for r in near[0] for c in near[1] if rule.fits(r, c)]
    return min(pairs, key=lambda pair: abs(pair[0] - rows) + abs(pair[1] - cols), default=(rows, cols))


def trial_extent(project: Project, grid: Grid) -> Window:
    """The window of the height grid that a chosen region becomes, at the delivered spacing."""
    region, chosen = project.delivery.region, project.target
    assert region is not None  # asked only where there is one
    less = 1 if grid.registration == "vertex" else 0
    into = region.into
    most_tall, most_wide = ((n - less) // into + less for n in grid.shape)
    tall = min(max(round(region.length / grid.dy / into) + less, 8), most_tall)
    wide = min(max(round(region.width / grid.dx / into) + less, 8), most_wide)
    sizes = [chosen.masks.size, chosen.colour.size, chosen.detail.size, *(own.size for own in chosen.sizes_of)]
    step = math.lcm(*(size.over for size in sizes if isinstance(size, FewerCells)), 1)
    rows, cols = _legal(chosen.sizes, tall, wide, (most_tall, most_wide), (step, less) if into > 1 else (1, 0))
    rows, cols = ((n - less) * into + less for n in (rows, cols))
    starts = []
    for at, spacing, many, most in ((region.south, grid.dy, rows, grid.rows), (region.east, grid.dx, cols, grid.cols)):
        starts.append(max(min(round(at / spacing / step) * step, (most - many) // step * step), 0))
    return Window(starts[0], starts[0] + rows, starts[1], starts[1] + cols)


def window_over(grid: Grid, height: Grid, part: Window) -> Window:
    """The samples of another grid over the same ground that lie on (or, where they do not meet, around) a part."""
    more = 1 if height.registration == "vertex" else 0
    ends = []
    for first, last, spacing, own, most in (
        (part.row0, part.row1 - more, height.dy, grid.dy, grid.rows),
        (part.col0, part.col1 - more, height.dx, grid.dx, grid.cols),
    ):
        a, b = first * spacing / own, last * spacing / own
        start, end = math.floor(a + 1e-6), math.ceil(b - 1e-6)
        ends.append((start, min(end + (1 if grid.registration == "vertex" else 0), most)))
    return Window(*ends[0], *ends[1])
