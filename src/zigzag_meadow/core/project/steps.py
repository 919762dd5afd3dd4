"""Preparation: what is done to the ground before anything is measured on it, in order."""

from __future__ import annotations

import math
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.formats.limits import LONGEST_SIDE, SHORTEST_SIDE
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.project.parts import Id, Metres, Part
from zigzag_meadow.core.project.recipe import Band

__all__ = [
    "STEP_TITLES", "Crop", "Erode", "FillVoids", "Flatten", "MendEdges", "Multiply", "Raise", "Refine", "Resample",
    "Slump", "Smooth", "Soften", "Step", "Turn", "UnTerrace",
]  # fmt: skip

Length = Annotated[float, Field(gt=0, le=1e6)]
Angle = Annotated[float, Field(ge=1, le=89)]
Seed = Annotated[int, Field(ge=0, le=99999)]
Side = Annotated[int, Field(ge=SHORTEST_SIDE, le=LONGEST_SIDE)]


class _Step(Part):
    """``where``: bands of readings of the ground before this step; the step acts where all of them hold."""

    heights: ClassVar[tuple[str, ...]] = ()
    """Which of its numbers are heights above zero."""

    id: Id
    muted: bool = False
    where: Annotated[tuple[Band, ...], Field(max_length=6)] = ()

    def after(self, grid: Grid) -> Grid:
        """The grid that the step makes of ``grid``."""
        return grid


class FillVoids(_Step):
    """Missing samples from what surrounds them."""

    kind: Literal["fill_voids"] = "fill_voids"


class MendEdges(_Step):
    """Border rows and columns that jump, from the ground inside them."""

    kind: Literal["mend_edges"] = "mend_edges"
    samples: Annotated[int, Field(ge=1, le=16)] = 1


class Crop(_Step):
    """A part of the ground: metres from its west and north border, width and length; cut at samples."""

    kind: Literal["crop"] = "crop"
    west: Annotated[float, Field(ge=0, le=1e7)] = 0.0
    north: Annotated[float, Field(ge=0, le=1e7)] = 0.0
    width: Length
    length: Length

    def cut(self, grid: Grid) -> tuple[int, int, int, int]:
        """First and end row, first and end column; at least the shortest side that a ground can have."""

        def ends(start: float, span: float, spacing: float, count: int) -> tuple[int, int]:
            low = min(max(math.floor(start / spacing + 0.5), 0), count - SHORTEST_SIDE)
            wide = max(math.floor(span / spacing + 0.5) + 1, SHORTEST_SIDE)
            return low, min(low + wide, count)

        return (*ends(self.north, self.length, grid.dy, grid.rows), *ends(self.west, self.width, grid.dx, grid.cols))

    def after(self, grid: Grid) -> Grid:
        r0, r1, c0, c1 = self.cut(grid)
        return Grid(r1 - r0, c1 - c0, grid.dy, grid.dx, grid.registration)


class Resample(_Step):
    """Other counts over the same extent."""

    kind: Literal["resample"] = "resample"
    rows: Side
    cols: Side

    def after(self, grid: Grid) -> Grid:
        return grid.resized(self.rows, self.cols)


class Refine(_Step):
    """A coarse ground made larger, with fine relief by noise where ``detail`` is above 0 (metres on rough ground)."""

    kind: Literal["refine"] = "refine"
    times: Literal[2, 4, 8] = 2
    detail: Annotated[float, Field(ge=0, le=200)] = 0.0
    seed: Seed = 1

    def after(self, grid: Grid) -> Grid:
        longest = max(grid.rows, grid.cols)
        times = max(min(self.times, (LONGEST_SIDE - 1) // (longest - 1)), 1)
        return grid.resized((grid.rows - 1) * times + 1, (grid.cols - 1) * times + 1)


class UnTerrace(_Step):
    """Stair steps taken out, cliffs kept. ``step``: metres a stair is high; None: as found."""

    kind: Literal["un_terrace"] = "un_terrace"
    step: Annotated[float, Field(gt=0, le=1000)] | None = None


class Smooth(_Step):
    """``keep``: metres of height difference that are kept as edges; None: nothing is."""

    kind: Literal["smooth"] = "smooth"
    radius: Length = 10.0
    keep: Annotated[float, Field(gt=0, le=10000)] | None = None


class Soften(_Step):
    kind: Literal["soften"] = "soften"
    angle: Angle = 55.0


class Slump(_Step):
    kind: Literal["slump"] = "slump"
    angle: Angle = 38.0


class Erode(_Step):
    kind: Literal["erode"] = "erode"
    rain: Annotated[float, Field(ge=0.01, le=4)] = 0.2
    strength: Annotated[float, Field(ge=0.02, le=2)] = 0.5
    seed: Seed = 1


class Flatten(_Step):
    """Everything below (or above) a height becomes that height, within ``blend`` metres softly."""

    heights = ("height",)
    kind: Literal["flatten"] = "flatten"
    side: Literal["below", "above"] = "below"
    height: Metres = 0.0
    blend: Annotated[float, Field(ge=0, le=1000)] = 0.0


class Raise(_Step):
    kind: Literal["raise"] = "raise"
    by: Metres = 0.0


class Multiply(_Step):
    """Heights above and below ``about`` grow by ``factor``."""

    heights = ("about",)
    kind: Literal["multiply"] = "multiply"
    factor: Annotated[float, Field(gt=0, le=20)] = 1.0
    about: Metres = 0.0


class Turn(_Step):
    """A quarter turn clockwise, a half turn, a mirror image, or rows for columns."""

    kind: Literal["turn"] = "turn"
    how: Literal["right", "half", "left", "north_south", "east_west", "transpose"] = "right"

    def after(self, grid: Grid) -> Grid:
        if self.how in ("right", "left", "transpose"):
            return Grid(grid.cols, grid.rows, grid.dx, grid.dy, grid.registration)
        return grid


Step = Annotated[
    FillVoids | MendEdges | Crop | Resample | Refine | UnTerrace | Smooth | Soften | Slump | Erode | Flatten | Raise
    | Multiply | Turn,
    Field(discriminator="kind"),
]  # fmt: skip

STEP_TITLES = {
    "fill_voids": "Fill", "mend_edges": "Mend the border", "crop": "Crop", "resample": "Resample", "refine": "Refine",
    "un_terrace": "Un-terrace", "smooth": "Smooth", "soften": "Soften", "slump": "Slump", "erode": "Erode",
    "flatten": "Flatten", "raise": "Raise", "multiply": "Multiply", "turn": "Turn",
}  # fmt: skip

CHANGES_GRID = ("crop", "resample", "refine", "turn")
"""Steps that make another grid: they act on all of the ground."""


def legal_where(step: _Step) -> bool:
    """Whether the step may be limited to a part of the ground."""
    kind: str = getattr(step, "kind", "")
    return not step.where or kind not in CHANGES_GRID
