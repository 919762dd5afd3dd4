"""Draft against final: where a mask looks different at the size that is delivered, how much, and why."""

from __future__ import annotations

from dataclasses import dataclass

from zigzag_meadow.core.evaluate.coarser import coarser_words
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import Window, reference_grid
from zigzag_meadow.core.map_name import ReadingName
from zigzag_meadow.core.masks.draft_final import SEEN, difference, split, summed
from zigzag_meadow.core.masks.sources import Band, MaskUse
from zigzag_meadow.core.project.model.readings import resolve
from zigzag_meadow.core.project.model.recipe import Line
from zigzag_meadow.core.reports.places import WorstPlace, worst_places

__all__ = ["FinalCheck", "check_final"]


@dataclass(frozen=True, slots=True)
class FinalCheck:
    """``worst``, ``mean``: largest and mean difference (0–1); ``share``: of the ground where it is seen
    (:data:`~zigzag_meadow.core.masks.draft_final.SEEN`); ``east``, ``south``: metres, where it is worst; ``line``: the
    first line (from 1) at which it shows, and ``reason``, a sentence, when there is anything to explain; ``places``:
    where it differs by more than was asked for, the worst first."""

    rows: int
    cols: int
    worst: float
    mean: float
    share: float
    east: float
    south: float
    line: int | None
    reason: str | None
    places: tuple[WorstPlace, ...] = ()


def check_final(ev: Evaluation, mask_id: str, least: float = SEEN) -> FinalCheck:
    """Make a mask at the size that is delivered and say where and why it differs from what was looked at; places
    where it differs by more than ``least`` (0–1) are listed.

    Raises :class:`Cancelled` when somebody stops it.
    """
    final, node = ev.project.final, ev.graph.mask(mask_id)
    coarse = reference_grid(node.grid)
    gap, mean, share = split(ev.whole(summed(node, final)), node.grid)
    row, col = divmod(int(gap.argmax()), gap.shape[1])
    worst = float(gap.max())
    east, south = coarse.place_of(row, col)
    line, reason = (None, None) if worst <= SEEN / 4 else _blame(ev, mask_id, (east, south), worst)
    return FinalCheck(
        final.rows,
        final.cols,
        worst,
        mean,
        share,
        east,
        south,
        line,
        reason,
        worst_places(gap, coarse, least),
    )


def _blame(ev: Evaluation, mask_id: str, place: tuple[float, float], worst: float) -> tuple[int | None, str | None]:
    """The first line after which half of the worst difference is there, and what about it differs between sizes."""
    final = ev.project.final
    row, col = final.nearest_to(*place)
    around = Window(row - 48, row + 49, col - 48, col + 49).clipped(*final.shape)
    mask = ev.project.mask(mask_id)
    lines = mask.lines if mask is not None else ()
    for number, line in enumerate(lines, 1):
        gap = difference(ev.graph.mask(mask_id, number))
        if not line.muted and float(ev.window(gap, final, around).max()) >= worst / 2:
            return number, _reason(ev, line)
    return None, None


def _reason(ev: Evaluation, line: Line) -> str:
    draft = reference_grid(ev.home)
    spacing, final = max(draft.dy, draft.dx), max(ev.project.final.dy, ev.project.final.dx)
    own = line.at_final(spacing)
    if own is not None:
        return own
    source = next((read for name, read in line.sources() if name == "source"), None)
    if isinstance(source, MaskUse):
        return "The mask it reads differs: look at the final size of that mask."
    if isinstance(source, Band):
        return _band_reason(ev, source, spacing, final)
    return f"Detail finer than a sample of the draft ({spacing:.3g} m) shows at the final size ({final:.3g} m)."


def _band_reason(ev: Evaluation, band: Band, spacing: float, final: float) -> str:
    reading = resolve(ev.project, band.reading)
    width = reading.numbers.get("width")
    if isinstance(width, float) and width < final * (1 - 1e-6):
        return f"{reading.title} is measured over {width:g} m, less than the {final:.3g} m between final samples."
    coarser = coarser_words(ev.graph, ReadingName(band.reading))
    if coarser is not None:
        return f"{reading.title}: {coarser[0].lower()}{coarser[1:]}"
    if reading.kind.at_other_sizes == "home":
        return f"{reading.title} is measured once on the ground's own grid; finer maps are sampled from it."
    if reading.kind.at_other_sizes == "fine":
        return f"{reading.title} has detail finer than the draft's {spacing:.3g} m a sample."
    if band.fade_low == 0 or band.fade_high == 0:
        return f"A hard edge moves by up to one sample of the draft ({spacing:.3g} m): give it a fade."
    return f"{reading.title} changes within one sample of the draft ({spacing:.3g} m)."
