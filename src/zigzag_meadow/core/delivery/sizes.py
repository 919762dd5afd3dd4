"""Sizes on offer for a delivery: what each costs, near ones first, and what a target says to the ground's own."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.core.grid import Grid, Registration
from zigzag_meadow.core.ground.steps.resampling import Resample
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.items import deliverables
from zigzag_meadow.core.targets.map_sizes import SIZE_KINDS, SizeKind
from zigzag_meadow.core.targets.model import Target
from zigzag_meadow.core.targets.sizes import size_pairs

__all__ = ["FitsSize", "Offer", "SizeOfKind", "fits_size", "offers", "sizes_by_kind"]


@dataclass(frozen=True, slots=True)
class Offer:
    """A size: metres between samples on both axes, bytes on disk of all files at most, and whether it is the ground's
    own."""

    rows: int
    cols: int
    spacing_x: float
    spacing_y: float
    bytes: int
    own: bool


def offers(project: Project, around: int | None = None) -> list[Offer]:
    """Legal sizes, nearest to the ground's own first; of very many those near ``around`` samples on the longer side."""
    chosen, home = project.target, project.ground.home
    each = _bytes_a_sample(project)
    made = []
    for rows, cols in size_pairs(chosen.sizes, home, around):
        grid = chosen.height_grid(home, rows, cols)
        made.append(Offer(rows, cols, grid.dx, grid.dy, int(rows * cols * each), (rows, cols) == home.shape))
    return sorted(made, key=lambda o: abs(o.rows - home.rows) + abs(o.cols - home.cols))


@dataclass(frozen=True, slots=True)
class SizeOfKind:
    """How large one kind of map is; ``free``: whether another size can be chosen, ``own``: whether one was; ``says``:
    the target's rule."""

    kind: SizeKind
    title: str
    rows: int
    cols: int
    registration: Registration
    free: bool
    own: bool
    says: str


def sizes_by_kind(project: Project) -> list[SizeOfKind]:
    """The sizes of all kinds of maps that can be delivered, in the order in which they are told."""
    chosen, final = project.target, project.final
    groups = {item.size_kind: item.rule for item in deliverables(project) if item.size_kind and item.rule}
    made = []
    for kind, title in SIZE_KINDS.items():
        group = groups.get(kind)
        if group is None:
            continue
        rule, grid = chosen.size_of(kind, group), chosen.map_grid(final, kind, group)
        own = next((size for size in project.delivery.sizes if size.kind == kind), None)
        rows, cols = grid.shape if own is None else (own.rows, own.cols)
        free = rule.kind == "free"
        made.append(SizeOfKind(kind, title, rows, cols, grid.registration, free, own is not None, rule.read()))
    return made


def _bytes_a_sample(project: Project) -> float:
    """Bytes of all files for a sample of the height, from what is planned now; of the height alone where nothing is."""
    try:
        plan = make_plan(project)
    except MeadowError:
        return 2.0
    return plan.bytes_needed / (plan.grid.rows * plan.grid.cols)


@dataclass(frozen=True, slots=True)
class FitsSize:
    """Whether a target takes the ground's own size; ``mend``: the step that makes the nearest size it takes."""

    target: str
    legal: bool
    message: str
    mend: dict[str, Any] | None


def fits_size(chosen: Target, home: Grid) -> FitsSize:
    """What a target says to the ground's own size."""
    legal = chosen.sizes.fits(*home.shape)
    pairs = sorted(size_pairs(chosen.sizes, home), key=lambda p: abs(p[0] - home.rows) + abs(p[1] - home.cols))[:3]
    near = ", ".join(f"{cols} × {rows}" for rows, cols in pairs if (rows, cols) != home.shape)
    if not legal and not pairs:
        return FitsSize(chosen.title, False, "takes no size that a ground can have: its rule must be changed.", None)
    text = f"takes {home.cols} × {home.rows}. Also near: {near}." if legal else f"takes {near}; delivered resampled."
    mend = None if legal or not pairs else Resample(id="new", rows=pairs[0][0], cols=pairs[0][1]).numbers
    return FitsSize(chosen.title, legal, text, mend)
