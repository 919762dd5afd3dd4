"""What a reading is built from: the ground, its numbers, and ways to other maps on the same ground."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from zigzag_meadow.core.nodes.ground_nodes import Stage
from zigzag_meadow.core.nodes.node import Node, Operation
from zigzag_meadow.core.nodes.operation import WholeGround
from zigzag_meadow.core.readings.param import Param, Value
from zigzag_meadow.core.readings.planes import plane

__all__ = ["Asked", "of_run", "on_ground", "over_width"]


@dataclass(frozen=True, slots=True)
class Asked:
    """One reading that is asked for. ``given``: the names of numbers that are no defaults; ``water``: metres above
    zero; ``base``: metres above zero that heights are held above; ``other`` and ``named`` make the node of another
    reading (by id) and of any map (by name) on the same ground; ``pictured``: the colours of the picture that a reading
    (by id) lays, None where there is none; ``outer``: metres (y, x) by which the ground is longer and wider than its
    outermost samples."""

    stage: Stage
    params: tuple[Param, ...]
    numbers: Mapping[str, Value]
    given: frozenset[str]
    water: float | None
    base: float
    other: Callable[[str], Node]
    named: Callable[[str], Node]
    pictured: Callable[[str], Node | None]
    outer: tuple[float, float] = (0.0, 0.0)

    @property
    def solid(self) -> Node:
        """Heights with all gaps filled."""
        return self.stage.solid

    def number(self, name: str) -> float:
        return float(self.numbers[name])

    def some(self, *names: str) -> dict[str, float]:
        """Several of its numbers by name."""
        return {name: self.number(name) for name in names}

    @property
    def spacing(self) -> list[float]:
        """Metres between samples (y, x) of the ground at hand."""
        return [self.stage.home.dy, self.stage.home.dx]

    @property
    def width(self) -> list[float]:
        """±width in metres (y, x), never below the spacing of the ground at hand (a draft's is wider).

        A default counts spacings, on each axis its own: between samples nothing need be interpolated.
        """
        home, true_home = self.stage.home, self.stage.true_home
        times = next(p.default for p in self.params if p.name == "width")
        if "width" in self.given or isinstance(times, str):
            wy = wx = self.number("width")
        else:
            wy, wx = times * true_home.dy, times * true_home.dx
        return [max(wy, home.dy), max(wx, home.dx)]

    @property
    def radius(self) -> float:
        home = self.stage.home
        return max(self.number("radius"), home.dy, home.dx)


def on_ground(op: Operation, **numbers: Any) -> Callable[[Asked], Node]:
    """A reading that is one operation on the ground, with fixed numbers."""
    return lambda asked: Node(op, numbers, (asked.solid,))


def over_width(op: Operation, **numbers: Any) -> Callable[[Asked], Node]:
    """A reading that differences at ±width."""
    return lambda asked: Node(op, {"width": asked.width, **numbers}, (asked.solid,))


def of_run(run: WholeGround, name: str, how: str) -> Callable[[Asked], Node]:
    """A result of a run that needs nothing but the ground."""
    return lambda asked: plane(Node(run, {}, (asked.solid,)), name, how)
