"""Why a mask comes out empty, full, or the same everywhere."""

from __future__ import annotations

import numpy as np

from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import reference_grid
from zigzag_meadow.core.map_name import MaskName, ReadingName
from zigzag_meadow.core.masks.sources import Band, MaskUse
from zigzag_meadow.core.project.model.readings import resolve
from zigzag_meadow.core.project.model.recipe import Line

__all__ = ["verdict"]

_LEAST = 0.5 / 255


def _state(ev: Evaluation, mask_id: str, lines: int | None) -> tuple[float, float]:
    values = ev.map(MaskName(mask_id, lines), reference_grid(ev.home))
    return float(values.min()), float(values.max())


def _word(low: float, high: float) -> str | None:
    if high < _LEAST:
        return "empty"
    if low > 1 - _LEAST:
        return "full"
    return f"{low:.2f} everywhere" if high - low < _LEAST else None


def verdict(ev: Evaluation, mask_id: str) -> str | None:
    """A sentence on why a mask has no shape, naming the line that makes it so; None when it has one."""
    mask = ev.project.mask(mask_id)
    word = _word(*_state(ev, mask_id, None))
    if mask is None or word is None:
        return None
    active = [(number, line) for number, line in enumerate(mask.lines, 1) if not line.muted]
    if not active:
        return f"{mask.name} is {word}: it has no lines that are not muted." if mask.lines else None
    # The last line before which it still had a shape, or the first of all.
    at = len(active) - 1
    while at > 0 and _word(*_state(ev, mask_id, active[at][0] - 1)) is not None:
        at -= 1
    number, line = active[at]
    return f"{mask.name} is {word}, from line {number} ({line.title.lower()}) on: {_because(ev, line)}"


def _because(ev: Evaluation, line: Line) -> str:
    source = next((read for name, read in line.sources() if name == "source"), None)
    if isinstance(source, Band):
        reading = resolve(ev.project, source.reading)
        values = ev.map(ReadingName(source.reading), reference_grid(ev.home))
        low, high = float(np.nanmin(values)), float(np.nanmax(values))
        unit = "°" if reading.kind.unit == "°" else f" {reading.kind.unit}".rstrip()
        ends = f"{reading.title} goes from {low:.4g}{unit} to {high:.4g}{unit} here"
        if source.low > high or source.high < low:
            return f"{ends}, and its band lies outside of that."
        if source.low <= low and source.high >= high:
            return f"{ends}, and its band holds all of that."
        return f"{ends}; nothing of its band is left together with what came before."
    if isinstance(source, MaskUse) and line.keeps:
        used = ev.project.mask(source.mask)
        return f"nothing lies both in {used.name if used else 'the mask'} and in what came before."
    if isinstance(source, MaskUse):
        used = ev.project.mask(source.mask)
        return f"the mask {used.name if used else ''} has no shape of its own, or covers all that was there."
    return "no sample is left between its numbers. Try before | after on that line."
