"""What is odd about a ground, as it now is: each finding with where it is and the step that mends it."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.rows import odd_rows
from zigzag_meadow.core.ground.terraces import stair_steps
from zigzag_meadow.core.stripes import Stripes

__all__ = ["CODES", "FINDINGS", "HIGHEST", "Oddity", "find", "find_all"]

F32 = NDArray[np.float32]
Mask = NDArray[np.bool_]

HIGHEST = 1e6
"""Numbers further from zero than this are no heights, in metres or in any other unit."""


@dataclass(frozen=True, slots=True)
class Oddity:
    """One oddity: a stable code, a headline, a sentence, and what mends it: a preparation step (plain data), or an
    ``edit`` of the document and what it ``offers`` to do."""

    code: str
    severity: Literal["note", "attention"]
    title: str
    message: str
    mend: dict[str, Any] | None = None
    where: Mask | None = field(default=None, repr=False)
    edit: dict[str, Any] | None = None
    offers: str = ""


def _voids(z: F32, grid: Grid, stripes: Stripes) -> Oddity | None:
    where = np.isnan(z)
    count = int(where.sum())
    if not count:
        return None
    text = f"{count} samples ({count / z.size:.2%}) are missing. They can be filled from what surrounds them."
    return Oddity("voids", "attention", "Samples without a height", text, {"kind": "fill_voids"}, where)


def _impossible(z: F32, grid: Grid, stripes: Stripes) -> Oddity | None:
    where = np.abs(z) > HIGHEST
    count = int(where.sum())
    if not count:
        return None
    furthest = z.flat[int(np.nanargmax(np.abs(z)))]
    text = (
        f"{count} samples ({count / z.size:.2%}) lie further than {HIGHEST:,.0f} m from zero, at {furthest:.3g} m for "
        "one: mostly a number that marks missing samples. Bring the heightmap in again and say which value stands "
        "for no height."
    )
    return Oddity("impossible", "attention", "Heights that no ground has", text, None, where)


def _stairs(z: F32, grid: Grid, stripes: Stripes) -> Oddity | None:
    share, where, gap = stair_steps(z, grid, stripes)
    if share < 0.05:
        return None
    levels = int(np.unique(z[np.isfinite(z)]).size)
    text = f"Only {levels} heights are used, {gap:.3g} m apart: heights of 8 bits, stretched."
    return Oddity(
        "stairs",
        "attention",
        f"Stair steps on {share:.0%} of the slopes",
        text,
        {"kind": "un_terrace", "step": round(gap, 6)},
        where,
    )


_SIDES = (("north", 0, 0), ("south", 0, -1), ("west", 1, 0), ("east", 1, -1))


def _edge_jump(z: F32, axis: int, at: int) -> tuple[float, float]:
    """(median step from the border line to the next, median step between the lines after it)."""
    lines = np.moveaxis(z, axis, 0)
    lines = lines if at == 0 else lines[::-1]
    first = float(np.nanmedian(np.abs(lines[0] - lines[1])))
    inner = float(np.nanmedian(np.abs(np.diff(lines[1 : min(8, lines.shape[0])], axis=0))))
    return first, inner


def _spikes(z: F32, grid: Grid, stripes: Stripes) -> Oddity | None:
    if np.isnan(z).all():
        return None
    where = np.zeros(z.shape, np.bool_)
    said: list[str] = []
    for side, axis, at in _SIDES:
        first, inner = _edge_jump(z, axis, at)
        if first > 6 * inner + 1e-3 * float(np.nanmax(z) - np.nanmin(z)):
            said.append(f"the {side} border jumps {first:.3g} m where the next rows change by {inner:.2g} m")
            np.moveaxis(where, axis, 0)[at] = True
    if not said:
        return None
    text = said[0][0].upper() + "; ".join(said)[1:] + "."
    mend = {"kind": "mend_edges", "samples": 1}
    return Oddity("spikes", "attention", "A border that jumps", text, mend, where)


def _clipped(z: F32, grid: Grid, stripes: Stripes, top: bool) -> Oddity | None:
    edge = np.nanmax(z) if top else np.nanmin(z)
    where = z == edge
    share = float(where.mean())
    if share < 0.01:
        return None
    word, code = ("highest", "clipped-top") if top else ("lowest", "clipped-bottom")
    title = f"{share:.1%} of the ground at its {word} value"
    text = (
        f"All of it lies at {edge:.6g} m: level ground or water, or heights that were cut off. If they were, ask for "
        "the file again with its whole range; rounding off guesses what was lost from the slopes beside it."
    )
    return Oddity(code, "note", title, text, {"kind": "round_off", "side": "top" if top else "bottom"}, where)


def _flat(z: F32, grid: Grid, stripes: Stripes) -> Oddity | None:
    level = np.zeros(z.shape, np.bool_)
    m = z[1:-1, 1:-1]
    level[1:-1, 1:-1] = (z[:-2, 1:-1] == m) & (z[2:, 1:-1] == m) & (z[1:-1, :-2] == m) & (z[1:-1, 2:] == m)
    share = float(level.mean())
    if share < 0.03 or share > 0.999:
        return None
    text = (
        "Neighbouring samples are exactly equal there: no slope, no flow, no curvature can be read. If it is no water, "
        "no step can know what is missing: ask for the file again with more bits."
    )
    return Oddity("flat", "note", f"{share:.0%} is exactly level", text, None, level)


def _noisy(z: F32, grid: Grid, stripes: Stripes) -> Oddity | None:
    """Sample-to-sample noise by second differences: Immerkær 1996, doi:10.1006/cviu.1996.0060."""
    if min(z.shape) < 16:
        return None
    d = np.abs(z[:-2, 1:-1] - 2 * z[1:-1, 1:-1] + z[2:, 1:-1])
    with np.errstate(invalid="ignore"):
        e = d[:, 1:-1] - (d[:, :-2] + d[:, 2:]) / 2
    noise = float(np.nanmedian(d)) / 0.6745 / math.sqrt(6)
    relief = float(np.nanmedian(np.abs(z[8:, 8:] - z[:-8, :-8])))
    if noise < 0.02 * max(relief, 1e-6) or float(np.nanmean(np.abs(e))) == 0 or noise * 12 < relief:
        return None
    spacing = max(grid.dy, grid.dx)
    text = f"Neighbouring samples scatter by about {noise:.2g} m. Smoothing with edges kept calms them."
    mend = {"kind": "smooth", "radius": round(1.5 * spacing, 3), "keep": round(4 * noise, 4)}
    where = np.zeros(z.shape, np.bool_)
    where[1:-1, 1:-1] = d > 3 * np.nanmedian(d)
    return Oddity("noise", "attention", "Heights scatter from sample to sample", text, mend, where)


def _slant(z: F32) -> tuple[int, float]:
    """(samples by which each row is shifted against the last, how much better they fit so)."""
    step = max(1, z.shape[0] // 48)
    some = np.arange(0, z.shape[0] - 1, step)
    reach = min(48, z.shape[1] // 4)
    a = z[some][:, reach:-reach]
    fits = [
        float(np.nanmean(np.abs(z[some + 1][:, reach + s : z.shape[1] - reach + s] - a)))
        for s in range(-reach, reach + 1)
    ]
    best = int(np.argmin(fits))
    return best - reach, fits[reach] / max(fits[best], 1e-9)


def _jumps(z: F32, grid: Grid, stripes: Stripes) -> Oddity | None:
    """Rows that do not fit their neighbours: a wrong width, or bytes in the wrong order."""
    down = np.nanmedian(np.abs(np.diff(z, axis=0)), axis=1)
    along = float(np.nanmedian(np.abs(np.diff(z, axis=1))))
    spread = float(np.nanmax(z) - np.nanmin(z))
    if along > 0.12 * spread:
        text = (
            "Neighbouring samples have nothing to do with each other, and no step can put them in order. Replace the "
            "heightmap, choosing another byte order or sample type; if none makes ground, ask for the file again."
        )
        return Oddity("scrambled", "attention", "This looks like noise, not ground", text)
    if min(z.shape) >= 32:
        shift, better = _slant(z)
        if shift and better > 2.5:
            text = (
                f"Each row lies {abs(shift)} samples beside the last: the file may have {z.shape[1] + shift} columns. "
                "Replace the heightmap, saying so."
            )
            return Oddity("slanted", "attention", "Rows do not fit together", text)
    odd = odd_rows(z)
    if not odd.any():
        return None
    rows = np.nonzero(odd)[0]
    where = np.zeros(z.shape, np.bool_)
    where[rows] = where[rows + 1] = True
    text = f"Row {int(rows[0]) + 2} jumps by {float(down[rows[0]]):.3g} m all along ({rows.size} such rows)."
    return Oddity("row-jumps", "attention", "Whole rows jump", text, {"kind": "fit_rows"}, where)


_Detector = Callable[[F32, Grid, Stripes], Oddity | None]
FINDINGS: dict[str, _Detector] = {
    "impossible": _impossible,
    "voids": _voids,
    "scrambled": _jumps,
    "stairs": _stairs,
    "spikes": _spikes,
    "noise": _noisy,
    "clipped-top": lambda z, g, s: _clipped(z, g, s, True),
    "clipped-bottom": lambda z, g, s: _clipped(z, g, s, False),
    "flat": _flat,
}
_SAME = {"slanted": "scrambled", "row-jumps": "scrambled"}
CODES = frozenset(FINDINGS) | frozenset(_SAME)
"""Every code that a finding can have; one detector may give several."""


def find(code: str, heights: F32, grid: Grid, stripes: Stripes) -> Oddity | None:
    """The finding with this code on ``heights`` (float32 metres, NaN where missing), or None where there is none.

    Raises :class:`NotFound` for an unknown code.
    """
    detector = FINDINGS.get(_SAME.get(code, code))
    if detector is None:
        raise NotFound(f"There is no finding called {code!r}.", field="name")
    return detector(heights, grid, stripes)


def find_all(heights: F32, grid: Grid, stripes: Stripes) -> list[Oddity]:
    """Everything that is odd about a ground, what matters most first."""
    impossible = _impossible(heights, grid, stripes)
    if impossible is not None:
        # Beside such numbers every real height looks level, and their squares are not finite.
        return [impossible]
    findings = [finding for code in FINDINGS if (finding := find(code, heights, grid, stripes)) is not None]
    if any(f.code in ("scrambled", "slanted") for f in findings):
        # Nothing else can be said of samples in the wrong order.
        return [f for f in findings if f.code in ("scrambled", "slanted")]
    if any(f.code == "stairs" for f in findings):
        # Treads are level ground and their edges scatter: one finding says it.
        findings = [f for f in findings if f.code not in ("flat", "noise")]
    return sorted(findings, key=lambda f: f.severity != "attention")
