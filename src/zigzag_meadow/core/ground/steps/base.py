"""What all steps of preparation have in common."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.limits import LONGEST_SIDE, SHORTEST_SIDE
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.masks.lines.line import Line
from zigzag_meadow.core.nodes.operation import Numbers, Tell
from zigzag_meadow.core.parts import Id, Part, Told, Unit
from zigzag_meadow.core.readings.declare import Reading
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["ANGLE", "LENGTH", "MOST_WHERE", "SEED", "SIDE", "BaseStep", "Left", "Planes", "Work"]

F32 = NDArray[np.float32]
Mask = NDArray[np.bool_]
LENGTH = Annotated[float, Field(gt=0, le=1e6)]
ANGLE = Annotated[float, Field(ge=1, le=89)]
SEED = Annotated[int, Field(ge=0, le=99999), Told("Seed", step=1, decimals=0)]
SIDE = Annotated[int, Field(ge=SHORTEST_SIDE, le=LONGEST_SIDE)]
MOST_WHERE = 40
Planes = dict[str, F32]


@dataclass(frozen=True, slots=True)
class Work:
    """One step at work: from the grid ``src`` to ``dst``, with the step's ``numbers``. ``gaps``: where there is no
    ground, bool of the shape of ``src``; None where it is everywhere. ``other``: heights of a file that it
    reads, on ``src`` and in the same measure, NaN where it has none."""

    src: Grid
    dst: Grid
    numbers: Numbers
    gaps: Mask | None
    stripes: Stripes
    cancel: Cancel | None
    tell: Tell
    other: F32 | None = None


@dataclass(frozen=True, slots=True)
class Left:
    """A map that a step leaves: the plane ``name`` of its run, told as a reading of the kind ``like`` is. ``sign``: of
    metres that were laid down (1) or taken (−1), which together are how the height changed; 0 for anything else."""

    name: str
    like: Reading
    sign: int = 0


class BaseStep(Part):
    """A step of preparation. ``amount``: how far the ground goes from before it (0) to after it (1). ``where``: a
    recipe over the ground before it; it acts where that is strong, everywhere without one.

    ``title`` and ``hint`` are for choosing; ``sentence`` is how it reads, with its numbers in braces. Each kind says
    in its own file what it is called, which numbers it takes and what it does; what it is to the rest of the
    application is told by the class variables.
    """

    title: ClassVar[str]
    hint: ClassVar[str]
    sentence: ClassVar[str]
    heights: ClassVar[tuple[str, ...]] = ()
    """Which of its numbers are heights above zero."""
    makes_grid: ClassVar[bool] = False
    """It makes another grid and so acts on all of the ground."""
    as_is: ClassVar[bool] = False
    """It moves samples, gaps and all; any other gets the ground with its gaps filled, and they are put back."""
    fills: ClassVar[bool] = False
    """It leaves no gaps where it acts."""
    skipped_in_draft: ClassVar[bool] = False
    """It only changes the number of samples."""
    moves: ClassVar[bool] = False
    """The ground lies elsewhere after it: before and after cannot be laid one on the other."""
    slow: ClassVar[str] = ""
    """What to say while it runs; such steps can be stopped, and what they make is kept on disk."""
    bytes_each: ClassVar[int] = 12
    """Bytes a sample that it needs beyond the ground it starts from, its result included."""
    graded: ClassVar[bool] = True
    """There is something between before and after it."""
    leaves: ClassVar[tuple[Left, ...]] = ()
    """The maps that it leaves. Such a step says what it does in :meth:`run` and not in :meth:`shape`."""
    tool: ClassVar[Literal["", "rectangle", "heightmap"]] = ""
    """What is drawn, or brought in, before it is added."""
    reads_file: ClassVar[bool] = False
    """It combines the ground with a file of its own, which it tells of in :meth:`layout`."""
    shows: ClassVar[str] = ""
    """A reading whose histograms before and after tell what it did."""
    kind: str

    id: Id
    muted: bool = False
    amount: Annotated[Unit, Told("Strength of the step", "%")] = 1.0
    where: Annotated[tuple[Line, ...], Field(max_length=MOST_WHERE)] = ()

    @property
    def lifted(self) -> tuple[str, ...]:
        """Which of its numbers count from the ground's base inside."""
        return self.heights

    @property
    def assets(self) -> tuple[str, ...]:
        """Stored files that it reads."""
        return ()

    @staticmethod
    def layout(numbers: Numbers) -> tuple[str, str, Layout]:
        """(asset, name, how it is read) of the file that a step with these numbers reads."""
        raise NotImplementedError

    @property
    def swaps(self) -> bool:
        """Whether rows become columns."""
        return False

    def after(self, grid: Grid) -> Grid:
        """The grid that the step makes of ``grid``."""
        return grid

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        """Heights after the step, on the grid ``work.dst``; float32 metres above the ground's base."""
        raise NotImplementedError

    @staticmethod
    def run(heights: F32, work: Work) -> Planes:
        """What a step that leaves maps does on at most so many samples as whole-ground runs are held to: by how many
        metres it changes the heights as ``change``, and every map by its name; all float32 on ``work.src``."""
        raise NotImplementedError

    def back(self, east: float, south: float, before: Grid) -> tuple[float, float]:
        """Where a place of the ground after it (metres from the north-west corner) lay on the grid ``before`` it."""
        return east, south

    def says(self, heights: F32, grid: Grid) -> str | None:
        """What to tell of the ground after it, beyond its size and ends; ``heights``: float32, NaN in gaps."""
        return None

    @property
    def limited(self) -> bool:
        """Whether it acts on a part of the ground only."""
        return any(not line.muted for line in self.where)

    @property
    def numbers(self) -> dict[str, Any]:
        """Everything that its result depends on, but the ground and where it acts."""
        return self.model_dump(exclude={"id", "muted", "amount", "where"})
