"""How a reading is declared: what it measures, in which unit, and which numbers it can be given."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.readings.asked import Asked
from zigzag_meadow.core.readings.param import Param, Value

__all__ = ["Param", "Reading", "Value"]

Family = Literal["relief", "light", "water", "erosion", "breakup", "picture"]
Scale = Literal["linear", "log"]
Agrees = Literal["agrees", "home", "fine"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """One kind of reading.

    ``build`` makes the node that measures it. ``scale`` *log*: bands, histograms and fades work on the logarithm.
    ``whole_ground``: runs once on the home grid and is sampled. ``low`` and ``high`` are fixed ends of its range; None:
    as measured. ``wraps``: the end meets the beginning (compass directions). ``signed``: below and above 0 mean
    opposite things. ``numbers_of``: shares the numbers of another reading. ``at_other_sizes``: *agrees* up to
    sampling, comes from the *home* grid whatever the size, or shows *fine* detail only where samples are dense
    enough.
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
    less: str = "less"
    """What ground with a lower value is: "20° or gentler"."""
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
