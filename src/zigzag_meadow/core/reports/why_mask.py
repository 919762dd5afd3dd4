"""Why a place is in a mask or out of it: what every line of its recipe reads there, and what it makes of it."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from zigzag_meadow.core.errors import BadNumber, NotFound
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import Window
from zigzag_meadow.core.masks.sources import Band, FeatureUse, MaskUse, Plain, ReadingUse, Source
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.project.model.readings import resolve
from zigzag_meadow.core.readings.declare import Reading

__all__ = ["LineHere", "MaskHere", "Offer", "ReadHere", "why_mask"]

_STILL = 0.5 / 255
"""A line that changes less than this decides nothing."""


@dataclass(frozen=True, slots=True)
class Offer:
    """A number of what a line reads that would bring the place in or out: its field, the value, and what that does."""

    field: str
    value: float
    says: str


@dataclass(frozen=True, slots=True)
class ReadHere:
    """What a line reads at the place. ``field``: of the line; ``strength``: 0–1; ``mask``: the id, where it is another
    mask; ``says``: a sentence."""

    field: str
    strength: float
    says: str
    mask: str | None = None
    offers: tuple[Offer, ...] = ()


@dataclass(frozen=True, slots=True)
class LineHere:
    """A line at the place: the strength before and after it, 0–1; ``decides``: it is the one that made the place what
    it is."""

    id: str
    number: int
    title: str
    muted: bool
    before: float
    after: float
    decides: bool
    reads: tuple[ReadHere, ...]


@dataclass(frozen=True, slots=True)
class MaskHere:
    """A mask at a place of the home grid. ``says``: a sentence on what decided."""

    mask: str
    name: str
    strength: float
    says: str
    lines: tuple[LineHere, ...]


def _tidy(value: float, kind: Reading) -> float:
    return float(f"{value:.4g}") if kind.scale == "log" else round(value, max(kind.decimals, 1) + 1)


def _told(value: float, kind: Reading) -> str:
    if not math.isfinite(value):
        return "none"
    text = f"{value:,.0f}" if kind.scale == "log" else f"{value:.{max(kind.decimals, 1)}f}"
    return f"{text}°" if kind.unit == "°" else f"{text} {kind.unit}".rstrip()


def _faded(value: float, fade: float, kind: Reading, way: int) -> float:
    """A value and a fade further up (1) or down (−1); fades of log readings are doublings."""
    return value * 2 ** (way * fade) if kind.scale == "log" else value + way * fade


def _offers(band: Band, kind: Reading, value: float) -> Iterator[Offer]:
    """Which edge would bring the place in, or out."""
    if not math.isfinite(value) or kind.wraps:
        return
    here = _tidy(value, kind)
    if here < band.low:
        yield Offer("low", here, f"in with a lower edge of {_told(here, kind)}")
    elif here > band.high:
        yield Offer("high", here, f"in with an upper edge of {_told(here, kind)}")
    else:
        step = 10.0 ** -max(kind.decimals, 1)
        above = _tidy(_faded(here, band.fade_low, kind, 1) * (1.01 if kind.scale == "log" else 1), kind)
        above += 0 if kind.scale == "log" else step
        if above <= band.high:
            yield Offer("low", above, f"out with a lower edge of {_told(above, kind)}")
        below = _tidy(_faded(here, band.fade_high, kind, -1) / (1.01 if kind.scale == "log" else 1), kind)
        below -= 0 if kind.scale == "log" else step
        if below >= band.low and (kind.scale != "log" or below > 0):
            yield Offer("high", below, f"out with an upper edge of {_told(below, kind)}")


class _Place:
    """One place of the home grid, and values of maps there."""

    def __init__(self, ev: Evaluation, row: int, col: int) -> None:
        grid = ev.home
        if not (0 <= row < grid.rows and 0 <= col < grid.cols):
            raise BadNumber(f"Row and column must be on the ground, got {row}, {col}.", field="row")
        self.ev = ev
        self.window = Window(row, row + 1, col, col + 1)

    def value(self, node: Node) -> float:
        return float(self.ev.window(node, self.ev.home, self.window)[0, 0])

    def read(self, field: str, source: Source) -> ReadHere:
        strength = self.value(self.ev.graph.source(source))
        much = f"{strength:.2f}"
        project = self.ev.project
        if isinstance(source, MaskUse):
            used = project.mask(source.mask)
            name = used.name if used is not None else "a mask"
            band = "" if source.band is None else f", band {source.band + 1},"
            return ReadHere(field, strength, f"{name}{band} is {much} here", mask=source.mask)
        if isinstance(source, FeatureUse):
            feature = project.feature(source.feature)
            name = feature.name if feature is not None else "a drawn line"
            return ReadHere(
                field, strength, f"{name} is {much} here, {source.width:g} m wide and faded {source.fade:g} m"
            )
        if isinstance(source, Plain):
            return ReadHere(field, strength, f"the number {source.value:g}")
        resolved = resolve(project, source.reading)
        value = self.value(self.ev.graph.reading(source.reading))
        says = f"{resolved.title.lower()} is {_told(value, resolved.kind)} here: {much}"
        if isinstance(source, ReadingUse):
            return ReadHere(field, strength, says)
        return ReadHere(field, strength, says, offers=tuple(_offers(source, resolved.kind, value)))


def why_mask(ev: Evaluation, mask_id: str, row: int, col: int) -> MaskHere:
    """Every line of a mask at a sample of the home grid. Raises :class:`NotFound`, :class:`BadNumber` off the
    ground."""
    mask = ev.project.mask(mask_id)
    if mask is None:
        raise NotFound("That mask is no longer there.", field="mask")
    place = _Place(ev, row, col)
    lines: list[LineHere] = []
    before = place.value(ev.graph.mask(mask_id, 0))
    for number, line in enumerate(mask.lines, 1):
        reads = () if line.muted else tuple(place.read(field, source) for field, source in line.sources())
        after = before if line.muted else place.value(ev.graph.mask(mask_id, number))
        lines.append(LineHere(line.id, number, line.title, line.muted, before, after, False, reads))
        before = after
    # The last line that moved the place to the side where it is: what came later changed nothing of that.
    inside = before >= 0.5
    moved = [at for at, line in enumerate(lines) if (line.after >= 0.5) == inside and (line.before >= 0.5) != inside]
    most = max(range(len(lines)), key=lambda at: abs(lines[at].after - lines[at].before), default=None)
    decided = moved[-1] if moved else most
    if decided is not None and abs(lines[decided].after - lines[decided].before) > _STILL:
        lines[decided] = replace(lines[decided], decides=True)
        told = lines[decided]
        side = "In" if inside else "Out"
        says = f"{side} by line {told.number}, {told.title.lower()}: from {told.before:.2f} to {told.after:.2f}."
    else:
        says = f"No line changes anything here: it is {before:.2f} from the beginning."
    return MaskHere(mask_id, mask.name, before, says, tuple(lines))
