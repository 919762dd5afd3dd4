"""The kinds of operations. Each says what it needs of other maps apart from its arithmetic, which gets arrays and
numbers and nothing of whoever calls it: so tiles can be made in any process."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from numpy.typing import NDArray

from zigzag_meadow.core.grid import Grid, Window, whole_ground_grid
from zigzag_meadow.core.nodes.node import Node, Operation
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = [
    "ALL",
    "AllOf",
    "Array",
    "Cost",
    "EveryTile",
    "FromFile",
    "Here",
    "Local",
    "Need",
    "Numbers",
    "OnWindow",
    "Tell",
    "Tiles",
    "Unfolding",
    "WholeGround",
    "by_sample",
    "run_cost",
]

Array = NDArray[Any]
Numbers = Mapping[str, Any]
Tell = Callable[[float], None]
Tiles = Iterator[tuple[Window, Array]]
ALL = "whole"
"""The name of the one result of an operation that has only one."""


def _untold(share: float) -> None:
    pass


@dataclass(frozen=True, slots=True)
class Here:
    """Where an operation works, and with what hands. ``window`` lies inside ``grid``; ``home`` is the grid of the
    node's ground; ``tell`` gets the share done (0–1) of long work."""

    grid: Grid
    window: Window
    home: Grid | None
    stripes: Stripes
    cancel: Cancel | None = None
    tell: Tell = field(default=_untold)

    @property
    def ground(self) -> Grid:
        """The home grid; every operation that is measured on a ground has one."""
        assert self.home is not None
        return self.home


# Needs ----------------------------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class OnWindow:
    """A map on a window inside a grid. ``passing``: on the asker's own window, sample by sample; where that is quicker
    than keeping it, it is made and not kept."""

    node: Node
    grid: Grid
    window: Window
    passing: bool = False


@dataclass(frozen=True, slots=True)
class AllOf:
    """One result of a whole-ground operation, whole, on its own grid. ``passing``: as for :class:`OnWindow`."""

    node: Node
    plane: str = ALL
    passing: bool = False


@dataclass(frozen=True, slots=True)
class EveryTile:
    """A map on all of a grid, tile by tile as an iterator of (window, array): it is never whole, and not kept."""

    node: Node
    grid: Grid


@dataclass(frozen=True, slots=True)
class FromFile:
    """What ``reader(path, *arguments)`` makes of a stored file. ``foreign``: brought in from elsewhere, so that it is
    read where nothing can be harmed."""

    asset: str
    reader: Callable[..., Any]
    arguments: tuple[Any, ...] = ()
    foreign: bool = True


Need = OnWindow | AllOf | EveryTile | FromFile | None
"""What is needed; None stands for nothing, and None is what comes for it."""


# Kinds ----------------------------------------------------------------------------------------------------------


@dataclass(frozen=True, kw_only=True)
class Local(Operation):
    """Made for any window. ``needs(node, grid, window)``: of which maps which windows; ``make(here, numbers, *inputs)``
    gets what was needed in that order and returns the window's array, rows and columns first.

    ``by_sample``: made sample by sample and quickly. ``stacked``: one plane a layer, planes first.
    """

    needs: Callable[[Node, Grid, Window], Sequence[Need]]
    make: Callable[..., Array]
    by_sample: bool = False
    stacked: bool = False


@dataclass(frozen=True, slots=True)
class Cost:
    """``bytes``: memory that the work needs beyond its inputs, results included. ``long``: shown while it runs under
    ``title``, can be stopped, and its results are kept on disk. ``light``: sooner made again than held."""

    title: str = ""
    bytes: int = 0
    long: bool = False
    light: bool = False


def _no_cost(node: Node, grid: Grid) -> Cost:
    return Cost()


def _run_grid(node: Node) -> Grid:
    return whole_ground_grid(node.grid)


@dataclass(frozen=True, kw_only=True)
class MadeOnce(Operation):
    """Made once, whole, on a ``grid`` of its own.

    ``needs(node, grid)`` and ``make(here, numbers, *inputs)`` as for :class:`Local`; with several ``planes`` the
    result is a dict of them, else one array of any shape. ``lasting``: made of files and names alone, so that what an
    unsaved state makes of it serves every other. ``roughly``: while a hand moves it may be made on the coarser grid
    that is shown, and be nearly what it is.
    """

    needs: Callable[[Node, Grid], Sequence[Need]]
    make: Callable[..., Array | dict[str, Array]]
    planes: tuple[str, ...] = (ALL,)
    grid: Callable[[Node], Grid]
    cost: Callable[[Node, Grid], Cost] = _no_cost
    lasting: bool = False
    roughly: bool = False


@dataclass(frozen=True, kw_only=True)
class WholeGround(MadeOnce):
    """What is made once of the whole ground: on the home grid, its long side capped, unless it says otherwise."""

    grid: Callable[[Node], Grid] = _run_grid


@dataclass(frozen=True, kw_only=True)
class Unfolding(Operation):
    """Stands for another node that is known only once ``needs(node)`` is there: ``unfold(node, *inputs)``."""

    needs: Callable[[Node], Sequence[Need]]
    unfold: Callable[..., Node]


def run_cost(title: str, each: int) -> Callable[[Node, Grid], Cost]:
    """The cost of a long run that needs ``each`` bytes a sample."""
    return lambda node, grid: Cost(title, each * grid.rows * grid.cols, long=True)


def by_sample(
    name: str, make: Callable[..., Array], *, version: int = 1, quick: bool = True, stacked: bool = False
) -> Local:
    """An operation on the same window of all its inputs: ``make(here, numbers, *arrays)``."""

    def needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
        return [OnWindow(n, grid, window, passing=True) for n in node.inputs]

    return Local(name=name, version=version, needs=needs, make=make, by_sample=quick, stacked=stacked)
