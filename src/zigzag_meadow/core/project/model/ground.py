"""The ground in the document: the heightmap file, how it is read, what it measures and how it is prepared."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from zigzag_meadow.core.formats.catalogue import FORMATS
from zigzag_meadow.core.formats.codes import code_ends
from zigzag_meadow.core.formats.layout import RgbCode, SampleType
from zigzag_meadow.core.formats.raw import ByteOrder
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.masks.turning import UNTURNED, Turning
from zigzag_meadow.core.parts import AssetId, Metres, Name, Part
from zigzag_meadow.core.project.model.steps import Step

__all__ = ["Ground", "KnownPoint", "KnownPoints", "coded_between", "turning_back"]


def _known(format_id: str) -> str:
    there = [kind.id for kind in FORMATS if kind.heights is not None]
    if format_id not in there:
        raise ValueError(f"heights come in {', '.join(there)}")
    return format_id


FileFormat = Annotated[str, Field(pattern=r"^[a-z0-9]{1,20}$"), AfterValidator(_known)]
"""The id of a format of the register that holds heights."""


class KnownPoint(Part):
    """A place whose true height is known: the stored value there and the metres it stands for."""

    row: Annotated[int, Field(ge=0, le=8192)]
    col: Annotated[int, Field(ge=0, le=8192)]
    stored: float
    metres: Metres


class KnownPoints(Part):
    """Two places that fix all heights between and beyond them."""

    first: KnownPoint
    second: KnownPoint


class Ground(Part):
    """The heightmap and its real-world measures.

    ``heights`` *stored*: samples are metres. *range*: the file's lowest and highest samples stand for ``low`` and
    ``high``. *points*: two known points fix the heights. *step*: one stored number more is ``metres_a_step`` more and
    stored 0 is ``at_zero``. *ends*: black and white of the file's format are ``at_black`` and ``at_white``. The last
    three do not depend on what a file happens to hold. ``on_replace``: what keeps its metres when another file takes
    its place, the *codes* (all stored numbers) or the *ends* (the lowest and highest sample).

    ``spacing_x`` and ``spacing_y`` are metres between neighbouring samples of the file. ``voids``: samples of the file
    without a height. ``samples``: whether the outermost lie on the *border* of the ground, or each stands for a *cell*
    around it; ``cells_reach``: cells are laid out as such. Where they do not, as in documents before the sixth version,
    the ground ends at the middles of the outermost.
    """

    asset: AssetId
    file_name: Name
    file_format: FileFormat
    depth: str
    byte_order: ByteOrder | None = None
    header: Annotated[int, Field(ge=0, le=2**31)] = 0
    sample: SampleType | None = None
    channel: Annotated[str, Field(max_length=60)] | None = None
    code: RgbCode | None = None
    nodata: float | None = None
    rows: Annotated[int, Field(ge=8, le=8193)]
    cols: Annotated[int, Field(ge=8, le=8193)]
    stored_low: float
    stored_high: float
    voids: Annotated[int, Field(ge=0)] = 0
    heights: Literal["stored", "range", "points", "step", "ends"] = "range"
    low: Metres = 0.0
    high: Metres = 100.0
    points: KnownPoints | None = None
    metres_a_step: Annotated[float, Field(gt=0, le=20000)] = 1.0
    at_zero: Annotated[float, Field(ge=-1e9, le=1e9)] = 0.0
    at_black: Annotated[float, Field(ge=-1e9, le=1e9)] = 0.0
    at_white: Annotated[float, Field(ge=-1e9, le=1e9)] = 100.0
    on_replace: Literal["codes", "ends"] = "codes"
    spacing_x: Annotated[float, Field(gt=0, le=10000)] = 1.0
    spacing_y: Annotated[float, Field(gt=0, le=10000)] = 1.0
    ratio_locked: bool = True
    samples: Literal["border", "cells"] = "border"
    cells_reach: bool = True
    water: Metres | None = None
    steps: Annotated[tuple[Step, ...], Field(max_length=40)] = ()

    @property
    def file_grid(self) -> Grid:
        """The grid of the file, before any preparation."""
        return self.grid_of(self.rows, self.cols)

    def grid_of(self, rows: int, cols: int) -> Grid:
        """The grid of a file with so many samples, as far apart and understood as this one's."""
        cells = self.samples == "cells" and self.cells_reach
        return Grid(rows, cols, self.spacing_y, self.spacing_x, "area" if cells else "vertex")

    @property
    def active(self) -> tuple[Step, ...]:
        return tuple(step for step in self.steps if not step.muted)

    @property
    def home(self) -> Grid:
        """The grid of the prepared ground."""
        return self.grid_after(len(self.steps))

    def grid_after(self, count: int) -> Grid:
        """The grid after the first ``count`` steps."""
        grid = self.file_grid
        for step in self.steps[:count]:
            grid = grid if step.muted else step.after(grid)
        return grid

    @property
    def outer(self) -> tuple[float, float]:
        """Metres (y, x) by which the prepared ground is longer and wider than its outermost samples are apart."""
        if self.samples == "border" or self.cells_reach:
            return 0.0, 0.0
        swapped = sum(1 for step in self.active if step.swaps) % 2
        return (self.spacing_x, self.spacing_y) if swapped else (self.spacing_y, self.spacing_x)

    @property
    def coding(self) -> tuple[float, float]:
        """(metres that one stored number more is, metres at stored 0)."""
        if self.heights == "step":
            return self.metres_a_step, self.at_zero
        if self.heights == "points" and self.points is not None:
            a, b = self.points.first, self.points.second
            per = (b.metres - a.metres) / (b.stored - a.stored) if b.stored != a.stored else 0.0
            return per, a.metres - a.stored * per
        if self.heights == "ends":
            return coded_between(code_ends(self.depth) or (0.0, 1.0), (self.at_black, self.at_white))
        if self.heights == "range":
            return coded_between((self.stored_low, self.stored_high), (self.low, self.high))
        return 1.0, 0.0

    @property
    def format_ends(self) -> tuple[float, float] | None:
        """Metres at black and at white of the file's format; None where heights are stored as metres, or the format has
        neither."""
        stored = code_ends(self.depth)
        if stored is None or self.heights == "stored":
            return None
        if self.heights == "ends":
            return self.at_black, self.at_white
        per, zero = self.coding
        return zero + stored[0] * per, zero + stored[1] * per

    @property
    def holds(self) -> Literal["codes", "ends"]:
        """What keeps its metres under another file unless somebody says otherwise: codes that are typed stay."""
        return "codes" if self.heights in ("step", "ends") else self.on_replace

    @property
    def by_code(self) -> bool:
        """Whether what a stored number stands for outlasts another file."""
        return self.heights != "stored" and self.holds == "codes"

    @property
    def file_ends(self) -> tuple[float, float]:
        """Metres at the file's lowest and highest sample, before any preparation."""
        if self.heights == "range":
            return self.low, self.high
        if self.heights == "stored":
            return self.stored_low, self.stored_high
        if self.heights == "points" and self.points is not None:
            # As known points have always been followed out: to the last bit.
            a, b = self.points.first, self.points.second
            per = (b.metres - a.metres) / (b.stored - a.stored) if b.stored != a.stored else 0.0
            return a.metres + (self.stored_low - a.stored) * per, a.metres + (self.stored_high - a.stored) * per
        per, zero = self.coding
        return zero + self.stored_low * per, zero + self.stored_high * per

    @property
    def base(self) -> float:
        """Whole metres that heights are held above inside: 0 unless the ground lies higher than it is tall.

        There 32 bits would lose digits of every difference; above the base they lose none.
        """
        low, high = self.file_ends
        tall = high - low
        return float(round((low + high) / 2)) if min(abs(low), abs(high)) > tall and low * high > 0 else 0.0

    @property
    def in_place(self) -> bool:
        """Whether the prepared ground lies where the file did and differs: both can be laid one on the other."""
        whole = abs(self.home.width - self.file_grid.width) < 1e-6 * self.home.width
        return bool(self.active) and whole and not any(step.moves for step in self.active)

    @property
    def may_have_voids(self) -> bool:
        """Whether the file has samples without a height."""
        return self.voids > 0

    @property
    def keeps_voids(self) -> bool:
        """Whether gaps are left after the preparation: none of its steps fills all of them."""
        filled = any(step.fills and not step.limited for step in self.active)
        return self.may_have_voids and not filled


def coded_between(stored: tuple[float, float], metres: tuple[float, float]) -> tuple[float, float]:
    """(metres a stored number, metres at stored 0) where two ``stored`` numbers stand for two heights in ``metres``."""
    span = stored[1] - stored[0]
    per = (metres[1] - metres[0]) / span if span else 0.0
    return per, metres[0] - stored[0] * per


def turning_back(ground: Ground, count: int) -> Turning:
    """From places of the prepared ground to places of the ground after its first ``count`` steps."""
    later = [(step, ground.grid_after(at)) for at, step in enumerate(ground.steps[count:], count) if not step.muted]
    if not any(step.moves for step, _ in later):
        return UNTURNED

    def back(east: float, south: float) -> tuple[float, float]:
        for step, before in reversed(later):
            east, south = step.back(east, south, before)
        return east, south

    (c, f), (a, d), (b, e) = back(0, 0), back(1, 0), back(0, 1)
    return Turning((a - c, b - c, c), (d - f, e - f, f))
