"""Draft against final: where a mask looks different at the size that is delivered, how much, and why."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.evaluate.cache import raise_if
from zigzag_meadow.core.evaluate.nodes import Node
from zigzag_meadow.core.grid import TILE, Grid, Window, reference_grid
from zigzag_meadow.core.project.readings import resolve
from zigzag_meadow.core.project.recipe import Blur, Cut, Equalise, Fray, Line, Narrow, Stretch, Trickle, Widen
from zigzag_meadow.core.project.sources import Band, MaskUse
from zigzag_meadow.core.resample import Resampling

if TYPE_CHECKING:
    from zigzag_meadow.core.evaluate.engine import Evaluation

__all__ = ["FinalCheck", "check_final", "final_gap"]

F32 = NDArray[np.float32]
FINAL_TITLE = "Making the mask at final size"
SEEN = 0.1
"""Differences above this are seen on the ground."""


@dataclass(frozen=True, slots=True)
class FinalCheck:
    """``worst``, ``mean``: largest and mean difference (0–1); ``share``: of the ground that differs by more than
    :data:`SEEN`; ``east``, ``south``: metres, where it is worst; ``line``: the first line (from 1) at which it shows,
    and ``reason``, a sentence, when there is anything to explain."""

    rows: int
    cols: int
    worst: float
    mean: float
    share: float
    east: float
    south: float
    line: int | None
    reason: str | None


def _gap(ev: Evaluation, node: Node, final: Grid, window: Window) -> F32:
    """|final − draft| on a window of the final grid."""
    draft = reference_grid(node.grid)
    plan = Resampling(draft, final, window, "mask")
    return np.abs(ev.window(node, final, window) - plan.apply(ev.window(node, draft, plan.needs)))


def _pooled(values: F32, window: Window, final: Grid, coarse: Grid, out: F32) -> None:
    """The largest of the values that lie nearest to each sample of a coarser grid."""
    rows, cols = (
        np.round(np.arange(a, b) * (n - 1) / (m - 1)).astype(np.int64)
        for a, b, n, m in (
            (window.row0, window.row1, coarse.rows, final.rows), (window.col0, window.col1, coarse.cols, final.cols),
        )
    )  # fmt: skip
    starts = [np.flatnonzero(np.diff(index, prepend=-1)) for index in (rows, cols)]
    pooled = np.maximum.reduceat(np.maximum.reduceat(values, starts[0], axis=0), starts[1], axis=1)
    at = np.ix_(rows[starts[0]], cols[starts[1]])
    out[at] = np.maximum(out[at], pooled)


def _measured(ev: Evaluation, node: Node, final: Grid) -> F32:
    """The difference about each sample of the reference grid, row by row, then its mean and the share that is seen.

    Tile by tile: no final map is held whole.
    """

    def make() -> F32:
        coarse = reference_grid(node.grid)
        out = np.zeros(coarse.shape, np.float32)
        total, seen = 0.0, 0
        tiles = [(i, j) for i in range(-(-final.rows // TILE)) for j in range(-(-final.cols // TILE))]
        with ev.task(f"{node.key}-final", FINAL_TITLE) as (task, cancel):
            for done, (i, j) in enumerate(tiles):
                raise_if(cancel)
                window = final.tile_window(i, j)
                gap = _gap(ev, node, final, window)
                total += float(gap.sum(dtype=np.float64))
                seen += int((gap > SEEN).sum())
                _pooled(gap, window, final, coarse, out)
                task.tell((done + 1) / len(tiles))
        count = final.rows * final.cols
        return np.append(out.ravel(), np.array([total / count, seen / count], np.float32))

    return ev.held(node, final, "final", make)


def final_gap(ev: Evaluation, node: Node, final: Grid) -> F32:
    """What differs between draft and final, the largest about each sample of the reference grid; float32, 0–1."""
    return _measured(ev, node, final)[:-2].reshape(reference_grid(node.grid).shape)


def check_final(ev: Evaluation, mask_id: str) -> FinalCheck:
    """Make a mask at the size that is delivered and say where and why it differs from what was looked at.

    Raises :class:`Cancelled` when somebody stops it.
    """
    final, node = ev.project.final, ev.graph.mask(mask_id)
    measured = _measured(ev, node, final)
    coarse = reference_grid(node.grid)
    gap = final_gap(ev, node, final)
    row, col = divmod(int(gap.argmax()), gap.shape[1])
    worst = float(gap.max())
    line, reason = (None, None) if worst <= SEEN / 4 else _blame(ev, mask_id, (row * coarse.dy, col * coarse.dx), worst)
    return FinalCheck(
        final.rows, final.cols, worst, float(measured[-2]), float(measured[-1]), col * coarse.dx, row * coarse.dy,
        line, reason,
    )  # fmt: skip


def _blame(ev: Evaluation, mask_id: str, place: tuple[float, float], worst: float) -> tuple[int | None, str | None]:
    """The first line after which half of the worst difference is there, and what about it differs between sizes."""
    final = ev.project.final
    row, col = round(place[0] / final.dy), round(place[1] / final.dx)
    around = Window(row - 48, row + 49, col - 48, col + 49).clipped(*final.shape)
    mask = ev.project.mask(mask_id)
    lines = mask.lines if mask is not None else ()
    for number, line in enumerate(lines, 1):
        if not line.muted and float(_gap(ev, ev.graph.mask(mask_id, number), final, around).max()) >= worst / 2:
            return number, _reason(ev, line)
    return None, None


def _reason(ev: Evaluation, line: Line) -> str:
    draft = reference_grid(ev.home)
    spacing, final = max(draft.dy, draft.dx), max(ev.project.final.dy, ev.project.final.dx)
    if isinstance(line, Stretch | Equalise) or (isinstance(line, Cut) and line.how == "quantiles"):
        return "Its numbers are measured once, on the draft; what the final size shows beyond them is clamped."
    if isinstance(line, Cut):
        return "Bands have hard edges: an edge may lie up to one sample of the draft away."
    if isinstance(line, Trickle):
        return "Flow runs once on the ground's own grid; the final size is sampled from it."
    if isinstance(line, Fray) and line.size < 4 * spacing:
        return f"Patches of {line.size:g} m are finer than the draft shows ({spacing:.3g} m a sample)."
    if isinstance(line, Blur) and line.radius < 2 * spacing:
        return f"A blur of {line.radius:g} m is finer than the draft shows ({spacing:.3g} m a sample)."
    if isinstance(line, Widen | Narrow) and line.by + line.fade < 2 * spacing:
        return f"{line.by + line.fade:g} m are finer than the draft shows ({spacing:.3g} m a sample)."
    source = getattr(line, "source", None)
    if isinstance(source, MaskUse):
        return "The mask it reads differs: look at the final size of that mask."
    if isinstance(source, Band):
        return _band_reason(ev, source, spacing, final)
    return f"Detail finer than a sample of the draft ({spacing:.3g} m) shows at the final size ({final:.3g} m)."


def _band_reason(ev: Evaluation, band: Band, spacing: float, final: float) -> str:
    found = resolve(ev.project, band.reading)
    width = found.numbers.get("width")
    if isinstance(width, float) and width < final * (1 - 1e-6):
        return f"{found.title} is measured over {width:g} m, less than the {final:.3g} m between final samples."
    if found.kind.at_other_sizes == "home":
        return f"{found.title} is measured once on the ground's own grid; finer maps are sampled from it."
    if found.kind.at_other_sizes == "fine":
        return f"{found.title} has detail finer than the draft's {spacing:.3g} m a sample."
    if band.fade_low == 0 or band.fade_high == 0:
        return f"A hard edge moves by up to one sample of the draft ({spacing:.3g} m): give it a fade."
    return f"{found.title} changes within one sample of the draft ({spacing:.3g} m)."
