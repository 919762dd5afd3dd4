"""How a reading is declared: what it measures, in which unit, and which numbers it can be given."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.formats.names import is_checksum
from zigzag_meadow.core.grid import Grid

if TYPE_CHECKING:
    from zigzag_meadow.core.nodes.node import Node
    from zigzag_meadow.core.readings.asked import Asked

__all__ = ["Param", "Reading", "Value"]

Value = float | str
Family = Literal["relief", "light", "water", "erosion", "breakup", "picture"]
Scale = Literal["linear", "log"]
Agrees = Literal["agrees", "home", "fine"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Param:
    """A number or a choice that a reading takes.

    ``of`` says what ``default`` counts: itself, home spacings, or the ground's longer side; so that a default means
    the same on every ground. ``choices`` are (value, title); a parameter that has them is no number. *map*: the name
    of a mask or reading, or empty. *file*: the SHA-256 of a stored file, or empty.
    """

    name: str
    title: str
    unit: str = ""
    default: Value = 0.0
    low: float = 0.0
    high: float = 0.0
    step: float = 1.0
    decimals: int = 0
    of: Literal["", "spacing", "extent", "area"] = ""
    kind: Literal["number", "choice", "map", "file"] = "number"
    choices: tuple[tuple[str, str], ...] = ()

    def default_on(self, home: Grid) -> Value:
        """The default on a ground with this home grid, rounded to two digits where it is measured."""
        if isinstance(self.default, str) or self.of == "":
            return self.default
        low, high = self.bounds(home)
        raw = self.default * {"spacing": max(home.dy, home.dx), "extent": max(home.width, home.length),
                              "area": home.width * home.length}[self.of]  # fmt: skip
        return min(max(raw if self.of == "spacing" else float(f"{raw:.2g}"), low), high)

    def checked(self, value: object, home: Grid, where: str) -> Value:
        """``value`` if it can be taken. Raises :class:`BadNumber` naming the value and what it must be."""
        if self.kind == "choice":
            known = [v for v, _ in self.choices]
            if value not in known:
                raise BadNumber(
                    f"{where}: {self.title} must be one of {', '.join(known)}, got {value}.", field=self.name
                )
            return str(value)
        if self.kind == "map":
            if not isinstance(value, str):
                raise BadNumber(f"{where}: {self.title} must name a map, got {value}.", field=self.name)
            return value
        if self.kind == "file":
            if not isinstance(value, str) or (value and not is_checksum(value)):
                raise BadNumber(f"{where}: {self.title} must name a stored file by its checksum.", field=self.name)
            return value
        if isinstance(value, bool) or not isinstance(value, int | float):
            raise BadNumber(f"{where}: {self.title} must be a number, got {value}.", field=self.name)
        low, high = self.bounds(home)
        if not low * (1 - 1e-6) <= value <= high * (1 + 1e-6):
            raise BadNumber(
                f"{where}: {self.title} must be {low:g} to {high:g} {self.unit}".rstrip() + f", got {value:g}.",
                field=self.name,
            )
        return float(value)

    def bounds(self, home: Grid) -> tuple[float, float]:
        """Least and most; lengths counted in spacings begin at the home spacing."""
        if self.of in ("spacing", "extent"):
            spacing = max(home.dy, home.dx)
            return spacing, max(self.high, 4 * spacing)
        return self.low, self.high


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """One kind of reading.

    ``build`` makes the node that measures it. ``scale`` *log*: bands, histograms and fades work on the logarithm.
    ``whole_ground``: runs once on the home grid and is sampled. ``low`` and ``high`` are fixed ends of its range; None:
    as measured. ``wraps``: the end meets the beginning (compass directions). ``signed``: below and above 0 mean
    opposite things. ``numbers_of``: shares the numbers of another reading. ``at_other_sizes``: *agrees* ``within`` a
    measured bound (95 % of a rough ground, in its unit: at half as many samples a side, at twice as many), comes from
    the *home* grid whatever the size, or shows *fine* detail only where samples are dense enough.
    """

    name: str
    title: str
    family: Family
    unit: str = ""
    sentence: str
    good_for: str
    build: Callable[[Asked], Node]
    scale: Scale = "linear"
    decimals: int = 2
    low: float | None = None
    high: float | None = None
    whole_ground: bool = False
    params: tuple[Param, ...] = ()
    wraps: bool = False
    signed: bool = False
    numbers_of: str = ""
    at_other_sizes: Agrees = "agrees"
    within: tuple[float, float] | None = None

    ramp: str = "plain"
    """Names its colours."""
    ramp_high: tuple[float, float] | None = None
    """Least and most that the upper end of its colours can stand for; it lies at what is measured in between."""
    ramp_all: bool = False
    """Its colours reach to the extremes; otherwise to what all but a hundredth of the ground lies between."""
    open_end: bool = False
    """Few grounds come near its fixed end: its histogram ends at the most that is measured."""
    more: str = "more"
    """What ground with a higher value is, in a sentence: "30° or steeper"."""
    above: bool = False
    """Whether it is told what share of the ground lies above each value."""
    beyond: float | None = None
    """A value of which it is told on what share of the ground it is passed; ``beyond_says`` is the sentence."""
    beyond_says: str = ""
    light: bool = False
    """It is light to look at, 0 to 255: drawn as it is, and nothing is laid over it."""
    first: bool = False
    """What is read first where nothing was chosen yet."""
    probed: bool = False
    """Shown under the pointer whatever map is looked at."""
    steers: bool = False
    """Goes from 0 to 1 and is offered where a map steers something else."""
    pointing: float | None = None
    """Whether recipes are proposed with it from places pointed at, and by how much it must be better than plainer
    ones."""
    moves: Literal["", "place", "rise"] = ""
    """How its values move with a kit to another ground: as heights above the sea, or with the range of heights."""
    ready: bool = True
    """There is one to look at on every ground; else only what somebody brings in."""

    def numbers(self, given: Mapping[str, object], home: Grid) -> dict[str, Value]:
        """All numbers: those given, checked, and defaults for the rest. Raises :class:`BadNumber`."""
        known = {param.name for param in self.params}
        for name in given:
            if name not in known:
                raise BadNumber(f"{self.title} has no number called {name}.", field=name)
        return {
            param.name: param.checked(given[param.name], home, self.title)
            if param.name in given
            else param.default_on(home)
            for param in self.params
        }
