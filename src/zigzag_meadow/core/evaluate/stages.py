"""The ground step by step: from the file to the prepared ground on which everything is measured."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from zigzag_meadow.core.evaluate.nodes import Node
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.project.document import Project
from zigzag_meadow.core.project.steps import FillVoids, Refine, Resample, Step

__all__ = ["DRAFT_SIDE", "Stage", "first_stage", "next_stage"]

DRAFT_SIDE = 257
"""Longer side of the ground on which a first picture is made while the real one is computed."""


@dataclass(frozen=True)
class Stage:
    """The ground at one point of its preparation.

    ``ground``: heights in metres, NaN where there is none. ``solid``: the same with all gaps filled, which readings
    are made of; the same node where there are no gaps. ``true_home``: its grid were it not a draft.
    """

    ground: Node
    solid: Node
    true_home: Grid

    @property
    def home(self) -> Grid:
        return self.ground.grid

    @property
    def has_voids(self) -> bool:
        return self.ground is not self.solid


def _stage(ground: Node, true_home: Grid, voids: bool) -> Stage:
    return Stage(ground, Node("solid", {}, (ground,)) if voids else ground, true_home)


def first_stage(project: Project, draft: bool) -> Stage:
    """The heightmap as it came, in metres; as a ``draft`` shrunk to :data:`DRAFT_SIDE`."""
    ground = project.ground
    grid = ground.file_grid
    ends = (None, None) if ground.heights == "stored" else ground.file_ends
    node = Node(
        "source",
        {
            "asset": ground.asset, "name": ground.file_name, "order": ground.byte_order, "header": ground.header,
            "sample": ground.sample, "channel": ground.channel, "code": ground.code, "nodata": ground.nodata,
            "rows": ground.rows, "cols": ground.cols, "low": ends[0], "high": ends[1], "base": ground.base,
        },
        home=grid,
    )  # fmt: skip
    longest = max(grid.rows, grid.cols)
    if draft and longest > DRAFT_SIDE:
        share = (DRAFT_SIDE - 1) / (longest - 1)
        small = grid.resized(max(round((grid.rows - 1) * share), 7) + 1, max(round((grid.cols - 1) * share), 7) + 1)
        node = Node("shrink", {"to": small.key}, (node,), home=small)
    return _stage(node, grid, ground.may_have_voids)


def next_stage(
    stage: Stage, step: Step, draft: bool, base: float, where: Callable[[Stage, Step], Node | None]
) -> Stage:
    """The ground after one more step. A draft skips steps that only change the number of samples.

    ``base``: metres that heights are held above; heights among a step's numbers become relative to it.
    """
    if step.muted:
        return stage
    true_home = step.after(stage.true_home)
    if draft and isinstance(step, Resample | Refine):
        return Stage(stage.ground, stage.solid, true_home)
    numbers = step.model_dump(exclude={"id", "muted", "where"})
    numbers |= {name: numbers[name] - base for name in step.heights}
    limit = where(stage, step)
    inputs = (stage.ground,) if limit is None else (stage.ground, limit)
    grid = step.after(stage.home)
    node = Node("prepare", {**numbers, "to": grid.key}, inputs, home=grid)
    voids = stage.has_voids and not (isinstance(step, FillVoids) and limit is None)
    return _stage(node, true_home, voids)
