"""The ground step by step: from the file to the prepared ground on which everything is measured."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from zigzag_meadow.core.formats.limits import SHORTEST_SIDE
from zigzag_meadow.core.grid import Grid, grid_numbers
from zigzag_meadow.core.ground.left import run_of
from zigzag_meadow.core.ground.prepare import MIX, PREPARE, SHRINK, SOURCE
from zigzag_meadow.core.nodes.ground_nodes import SOLID, Stage
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.steps import Step

__all__ = ["DRAFT_SIDE", "first_stage", "next_stage"]

DRAFT_SIDE = 257
"""Longer side of the ground on which a first picture is made while the real one is computed."""


def _stage(ground: Node, true_home: Grid, voids: bool) -> Stage:
    return Stage(ground, Node(SOLID, {}, (ground,)) if voids else ground, true_home)


def first_stage(project: Project, draft: int) -> Stage:
    """The heightmap as it came, in metres; as a ``draft`` shrunk to so many samples on its longer side."""
    ground = project.ground
    grid = ground.file_grid
    step, at_zero = ground.coding
    by_code = {"step": step, "at_zero": at_zero} if ground.by_code else {}
    ends = (None, None) if ground.heights == "stored" or by_code else ground.file_ends
    node = Node(
        SOURCE,
        {
            "asset": ground.asset,
            "name": ground.file_name,
            "order": ground.byte_order,
            "header": ground.header,
            "sample": ground.sample,
            "channel": ground.channel,
            "code": ground.code,
            "nodata": ground.nodata,
            "rows": ground.rows,
            "cols": ground.cols,
            "low": ends[0],
            "high": ends[1],
            "base": ground.base,
            **by_code,
        },
        home=grid,
    )
    if draft and max(grid.rows, grid.cols) > draft:
        small = grid.with_longer_side(draft, SHORTEST_SIDE)
        node = Node(SHRINK, {"to": small.key, "from": grid_numbers(grid)}, (node,), home=small)
    return _stage(node, grid, ground.may_have_voids)


def next_stage(stage: Stage, step: Step, draft: int, base: float, where: Callable[[], Node | None]) -> Stage:
    """The ground after one more step. A draft skips steps that only change the number of samples.

    ``base``: metres that heights are held above; heights among a step's numbers become relative to it. ``where``: asks
    for the map of where the step acts, None for everywhere.
    """
    count = stage.steps + 1
    if step.muted:
        return replace(stage, steps=count)
    true_home = step.after(stage.true_home)
    if draft and step.skipped_in_draft:
        return Stage(stage.ground, stage.solid, true_home, count)
    numbers = step.numbers
    # What is added to the ground stays as it is; heights of its own lie above the same base.
    numbers |= {name: numbers[name] - base for name in step.lifted}
    grid = step.after(stage.home)
    run = (run_of(step, stage, base),) if step.leaves else ()
    node = Node(PREPARE, {**numbers, "to": grid.key, "from": grid_numbers(stage.home)}, (stage.ground, *run), home=grid)
    limit = where()
    if limit is not None or step.amount < 1:
        within = () if limit is None else (limit,)
        node = Node(MIX, {"amount": step.amount}, (stage.ground, node, *within), home=grid)
    return replace(_stage(node, true_home, stage.has_voids and not (step.fills and limit is None)), steps=count)
