"""Which sizes a target takes for the height: rules of one side, and which two go together."""

from __future__ import annotations

import math
from abc import abstractmethod
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.errors import IllegalSize
from zigzag_meadow.core.formats.limits import LONGEST_SIDE, SHORTEST_SIDE
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.parts import Edited, Told
from zigzag_meadow.core.targets.rule import Rule

__all__ = [
    "AnySize",
    "BlockLayout",
    "BlockSizes",
    "Multiples",
    "PowersOfTwo",
    "SizeRule",
    "SizeRules",
    "nearest_pair",
    "pair_for",
    "size_pairs",
]

LEAST_OFFERED = 64
MOST_OFFERED = 40
MOST_TRIED = 200
Pair = tuple[int, int]
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

    @abstractmethod
    def short(self, long: int, ideal: float) -> int:
        """Of what the shorter side may be where the longer one is ``long`` (one of the lengths), the nearest to
        ``ideal`` samples, the smaller where two are as near. By arithmetic: rules may take thousands of sides."""


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

    def short(self, long: int, ideal: float) -> int:
        blocks = {cells: self._blocks(long, cells) for cells in set(self.cells)}
        near = (
            cells * min(max(n, 1), most) + 1
            for cells, most in blocks.items()
            if most
            for n in (int(ideal - 1) // cells, int(ideal - 1) // cells + 1)
        )
        return _nearest(near, ideal)

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

    def short(self, long: int, ideal: float) -> int:
        return long if self.sides == "equal" else _nearest((side for side in self.lengths() if side <= long), ideal)


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

    def short(self, long: int, ideal: float) -> int:
        least = -(-max(self.of, SHORTEST_SIDE) // self.of)
        n = int(ideal - self.plus) // self.of
        near = (min(max(k, least) * self.of + self.plus, long) for k in (n, n + 1))
        return _nearest(near, ideal)


class AnySize(_Sizes):
    title: ClassVar[str] = "Any size"
    sentence: ClassVar[str] = "Any size from {least} to {most} samples."
    kind: Literal["any"] = "any"
    least: Annotated[int, Field(ge=8, le=8193), Told("From", "samples", step=1, decimals=0)] = SHORTEST_SIDE
    most: Annotated[int, Field(ge=8, le=8193), Told("To", "samples", step=1, decimals=0)] = LONGEST_SIDE

    def legal(self, side: int) -> bool:
        return self.least <= side <= self.most

    def lengths(self) -> list[int]:
        sides = {2**k + more for k in range(3, 14) for more in (0, 1)} | {self.least, self.most}
        return sorted(side for side in sides if self.legal(side))

    def nearest(self, side: int, count: int = 3) -> list[int]:
        return [min(max(side, self.least), self.most)]

    def short(self, long: int, ideal: float) -> int:
        return min(max(math.ceil(ideal - 0.5), self.least), long)


SizeRules = (BlockSizes, PowersOfTwo, Multiples, AnySize)
SizeRule = Annotated[BlockSizes | PowersOfTwo | Multiples | AnySize, Field(discriminator="kind")]


def _nearest(sides: Iterable[int], ideal: float) -> int:
    return min(sides, key=lambda side: (abs(side - ideal), side))


def _thinned(values: Sequence[Pair], own: float, most: int) -> list[Pair]:
    """At most so many of values in rising order: half of them nearest to ``own`` (of the longer side), half spread over
    all."""
    if len(values) <= most:
        return list(values)
    near = sorted(values, key=lambda pair: abs(max(pair) - own))[: most // 2]
    rest = most - len(near)
    spread = (values[round(k * (len(values) - 1) / (rest - 1))] for k in range(rest))
    return sorted({*near, *spread}, key=lambda pair: (max(pair), min(pair)))


def size_pairs(rule: SizeRule, home: Grid, around: int | None = None) -> list[Pair]:
    """(rows, columns) that are taken for a ground of these proportions, smallest first, :data:`MOST_OFFERED` at most.

    Pairs within 2 % of the proportions, or, where there are none, the nearest of every size: spacing then differs
    between the axes, which the import note says. The ground's own size is among them where it is legal. Where there
    are too many: those near ``around`` samples on the longer side (when left out, the ground's own), and some of all
    others.
    """
    tall, own = home.rows > home.cols, max(home.shape)
    ratio = (min(home.shape) - 1) / (own - 1)
    middle = around or own
    lengths = _thinned([(0, long) for long in rule.lengths()], middle, MOST_TRIED)
    ideals = {long: (long - 1) * ratio + 1 for _, long in lengths}
    every = [(rule.short(long, ideal), long) for long, ideal in ideals.items()]
    taken = [pair for pair in every if pair[0] >= SHORTEST_SIDE]
    large = [pair for pair in taken if pair[1] >= LEAST_OFFERED] or taken
    near = [(short, long) for short, long in large if abs(short - ideals[long]) <= 0.02 * (ideals[long] - 1)]
    turned = [(long, short) if tall else (short, long) for short, long in near or large]
    mine = {home.shape} if rule.fits(*home.shape) else set()
    return sorted({*_thinned(turned, middle, MOST_OFFERED - len(mine)), *mine}, key=lambda pair: (max(pair), min(pair)))


def pair_for(rule: SizeRule, home: Grid, long: int) -> Pair | None:
    """The (rows, columns) with ``long`` samples on the longer side that suits the ground's proportions; None where the
    rule takes no such length."""
    if not rule.legal(long):
        return None
    ideal = (long - 1) * (min(home.shape) - 1) / (max(home.shape) - 1) + 1
    short = rule.short(long, ideal)
    return (long, short) if home.rows > home.cols else (short, long)


def nearest_pair(rule: SizeRule, home: Grid) -> Pair:
    """The legal (rows, columns) nearest to the ground's own size, the smaller where two are as near. Raises
    :class:`IllegalSize` for a rule that leaves none."""
    if rule.fits(*home.shape):
        return home.shape
    pairs = size_pairs(rule, home)
    if not pairs:
        raise IllegalSize(f"No ground has a size that this rule takes: {rule.read()} Change the rule.", field="sizes")
    return min(pairs, key=lambda p: abs(p[0] - home.rows) + abs(p[1] - home.cols))
