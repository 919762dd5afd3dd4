"""Which sizes a target takes for the height: rules of one side, and which two go together."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.formats.limits import LONGEST_SIDE, SHORTEST_SIDE
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.parts import Edited, Told
from zigzag_meadow.core.targets.rule import Rule

__all__ = [
    "AnySize", "BlockLayout", "BlockSizes", "Multiples", "PowersOfTwo", "SizeRule", "SizeRules", "nearest_pair",
    "size_pairs",
]  # fmt: skip

LEAST_OFFERED = 64
_MORE = {0: "", 1: ", and one sample more"}


@dataclass(frozen=True, slots=True)
class BlockLayout:
    """How a height grid divides: cells along a block side, and blocks across and down."""

    cells: int
    across: int
    down: int


class _Sizes(Rule):
    @abstractmethod
    def legal(self, side: int) -> bool:
        """Whether so many samples are taken on a side."""

    @abstractmethod
    def lengths(self) -> list[int]:
        """Lengths on offer, shortest first, from the shortest a ground may have to the longest."""

    def fits(self, rows: int, cols: int) -> bool:
        """Whether two sides that are legal go together."""
        return self.legal(rows) and self.legal(cols)

    def layout(self, rows: int, cols: int) -> BlockLayout | None:
        """The blocks, where there are any."""
        return None

    def nearest(self, side: int, count: int = 3) -> list[int]:
        """The lengths nearest to ``side``, nearest first (the smaller first when equally near)."""
        return sorted(self.lengths(), key=lambda legal: (abs(legal - side), legal))[:count]

    def shorts(self, long: int) -> list[int]:
        """What the shorter side may be where the longer one is ``long``."""
        return [side for side in self.lengths() if side <= long and self.fits(side, long)]


_CELLS = Edited("numbers", "Cells along a block side, each that is taken")


class BlockSizes(_Sizes):
    title: ClassVar[str] = "Equal blocks and one more"
    sentence: ClassVar[str] = (
        "Blocks of {cells} cells along a side, the same on both axes, up to {most} of them, and one sample more."
    )
    kind: Literal["blocks"] = "blocks"
    cells: Annotated[tuple[Annotated[int, Field(ge=1, le=4096)], ...], Field(min_length=1, max_length=32), _CELLS] = (
        63,
        126,
    )
    most: Annotated[int, Field(ge=1, le=128), Told("Blocks a side at most", step=1, decimals=0)] = 32

    def legal(self, side: int) -> bool:
        return any(self._blocks(side, cells) for cells in self.cells)

    def _blocks(self, side: int, cells: int) -> int:
        blocks, rest = divmod(side - 1, cells)
        return blocks if rest == 0 and 1 <= blocks <= self.most else 0

    def lengths(self) -> list[int]:
        sides = {cells * blocks + 1 for cells in self.cells for blocks in range(1, self.most + 1)}
        return sorted(side for side in sides if side <= LONGEST_SIDE)

    def fits(self, rows: int, cols: int) -> bool:
        return any(self._blocks(rows, cells) and self._blocks(cols, cells) for cells in self.cells)

    def shorts(self, long: int) -> list[int]:
        blocks = {cells: self._blocks(long, cells) for cells in self.cells}
        return sorted({cells * n + 1 for cells, most in blocks.items() for n in range(1, most + 1)})

    def layout(self, rows: int, cols: int) -> BlockLayout | None:
        """The largest blocks that divide both sides."""
        made = [BlockLayout(c, self._blocks(cols, c), self._blocks(rows, c)) for c in sorted(self.cells, reverse=True)]
        return next((item for item in made if item.across and item.down), None)


class PowersOfTwo(_Sizes):
    title: ClassVar[str] = "Powers of two"
    sentence: ClassVar[str] = "A power of two from {least} to {most}{plus}; {sides}."
    kind: Literal["powers"] = "powers"
    plus: Annotated[Literal[0, 1], Told("Samples more", choices=(("0", "none"), ("1", "one")))] = 1
    least: Annotated[int, Field(ge=8, le=8192), Told("From", "cells", step=1, decimals=0)] = 32
    most: Annotated[int, Field(ge=8, le=8192), Told("To", "cells", step=1, decimals=0)] = 8192
    sides: Annotated[
        Literal["equal", "free"], Told("Both sides", choices=(("equal", "equal"), ("free", "each its own")))
    ] = "equal"

    def words(self) -> dict[str, str]:
        sides = {"equal": "both sides equal", "free": "each side its own"}
        return {"plus": _MORE[self.plus], "sides": sides[self.sides]}

    def legal(self, side: int) -> bool:
        cells = side - self.plus
        return self.least <= cells <= self.most and cells & (cells - 1) == 0

    def lengths(self) -> list[int]:
        powers = (2**k for k in range(3, 14))
        return [p + self.plus for p in powers if self.least <= p <= self.most and p + self.plus <= LONGEST_SIDE]

    def fits(self, rows: int, cols: int) -> bool:
        return self.legal(rows) and self.legal(cols) and (rows == cols or self.sides == "free")


class Multiples(_Sizes):
    title: ClassVar[str] = "Multiples"
    sentence: ClassVar[str] = "A multiple of {of} cells{plus}."
    kind: Literal["multiples"] = "multiples"
    of: Annotated[int, Field(ge=1, le=4096), Told("Multiples of", "cells", step=1, decimals=0)] = 512
    plus: Annotated[Literal[0, 1], Told("Samples more", choices=(("0", "none"), ("1", "one")))] = 0

    def words(self) -> dict[str, str]:
        return {"plus": _MORE[self.plus]}

    def legal(self, side: int) -> bool:
        return side - self.plus >= self.of and (side - self.plus) % self.of == 0 and side <= LONGEST_SIDE

    def lengths(self) -> list[int]:
        least = max(self.of, SHORTEST_SIDE)
        return [n + self.plus for n in range(self.of, LONGEST_SIDE + 1 - self.plus, self.of) if n >= least]


class AnySize(_Sizes):
    title: ClassVar[str] = "Any size"
    sentence: ClassVar[str] = "Any size from {least} to {most} samples."
    kind: Literal["any"] = "any"
    least: Annotated[int, Field(ge=8, le=8193), Told("From", "samples", step=1, decimals=0)] = SHORTEST_SIDE
    most: Annotated[int, Field(ge=8, le=8193), Told("To", "samples", step=1, decimals=0)] = LONGEST_SIDE

    def legal(self, side: int) -> bool:
        return self.least <= side <= self.most

    def lengths(self) -> list[int]:
        sides = {2**k + more for k in range(3, 14) for more in (0, 1)}
        return sorted(side for side in sides if self.legal(side))

    def nearest(self, side: int, count: int = 3) -> list[int]:
        return [min(max(side, self.least), self.most)]

    def shorts(self, long: int) -> list[int]:
        return list(range(self.least, min(long, self.most) + 1))


SizeRules = (BlockSizes, PowersOfTwo, Multiples, AnySize)
SizeRule = Annotated[BlockSizes | PowersOfTwo | Multiples | AnySize, Field(discriminator="kind")]


def size_pairs(rule: SizeRule, home: Grid) -> list[tuple[int, int]]:
    """(rows, columns) that are taken for a ground of these proportions, smallest first.

    Pairs within 2 % of the proportions, or, where there are none, the nearest of every size: spacing then differs
    between the axes, which the import note says. The ground's own size is among them where it is legal.
    """
    tall = home.rows > home.cols
    ratio = (min(home.rows, home.cols) - 1) / (max(home.rows, home.cols) - 1)
    near: set[tuple[int, int]] = set()
    rough: set[tuple[int, int]] = set()
    for long in rule.lengths():
        ideal = (long - 1) * ratio
        short = min(rule.shorts(long), key=lambda side: (abs(side - 1 - ideal), side), default=0)
        if long < LEAST_OFFERED or short < SHORTEST_SIDE:
            continue
        pair = (long, short) if tall else (short, long)
        rough.add(pair)
        if abs(short - 1 - ideal) <= 0.02 * ideal:
            near.add(pair)
    own = {home.shape} if rule.fits(*home.shape) else set()
    return sorted((near or rough) | own, key=lambda pair: (max(pair), min(pair)))


def nearest_pair(rule: SizeRule, home: Grid) -> tuple[int, int]:
    """The legal (rows, columns) nearest to the ground's own size, the smaller where two are as near."""
    if rule.fits(*home.shape):
        return home.shape
    return min(size_pairs(rule, home), key=lambda p: abs(p[0] - home.rows) + abs(p[1] - home.cols))
