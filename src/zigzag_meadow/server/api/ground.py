"""What is odd about a project's ground, and long computations under way."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.http import HttpRequest
from ninja import Router, Status

from zigzag_meadow.core.delivery.plan import legal_pairs
from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import Grid, reference_grid
from zigzag_meadow.core.ground.findings import find_all
from zigzag_meadow.core.readings.slumping import steepest_face
from zigzag_meadow.core.targets.rules import TARGETS, Target
from zigzag_meadow.server import projects
from zigzag_meadow.server.api.schemas import DiagnosisOut, ProblemOut, TaskOut
from zigzag_meadow.server.engine import engine
from zigzag_meadow.server.gone import gone

router = Router(tags=["ground"])
Refused = {404: ProblemOut, 409: ProblemOut, 422: ProblemOut}
TELL_AFTER = 0.3


def _legal(chosen: Target, home: Grid) -> dict[str, Any]:
    legal = chosen.is_legal(home.rows) and chosen.is_legal(home.cols)
    pairs = sorted(legal_pairs(chosen, home), key=lambda p: abs(p[0] - home.rows) + abs(p[1] - home.cols))[:3]
    near = ", ".join(f"{cols} × {rows}" for rows, cols in pairs if (rows, cols) != home.shape)
    text = f"takes {home.cols} × {home.rows}. Also near: {near}." if legal else f"takes {near}; delivered resampled."
    nearest = {"rows": pairs[0][0], "columns": pairs[0][1]}
    return {"target": chosen.title, "legal": legal, "message": text, "nearest": nearest}


def _stretched(evaluation: Evaluation, steps: int) -> float:
    """Share of the ground on which textures are pulled to more than twice their length."""
    stage = evaluation.graph.stage(steps)
    node = evaluation.graph.reading("slope", stage)
    grid = reference_grid(stage.home)
    return float((evaluation.window(node, grid, grid.whole) > 60).mean())


def _effects(evaluation: Evaluation) -> list[dict[str, Any]]:
    found = []
    for number, step in enumerate(evaluation.project.ground.steps):
        stage = evaluation.graph.stage(number + 1)
        heights, base = evaluation.ground(stage.ground), evaluation.project.ground.base
        slid = step.kind == "slump" and not step.muted
        found.append({
            "id": step.id, "stretched_before": _stretched(evaluation, number),
            "stretched_after": _stretched(evaluation, number + 1), "low": float(np.nanmin(heights)) + base,
            "high": float(np.nanmax(heights)) + base, "rests_at": steepest_face(heights, stage.home) if slid else None,
            "rows": stage.home.rows, "cols": stage.home.cols,
        })  # fmt: skip
    return found


@router.get("/projects/{project_id}/diagnosis", response={200: DiagnosisOut, **Refused}, operation_id="diagnosis")
def diagnosis(request: HttpRequest, project_id: str) -> dict[str, Any]:
    """What is odd about the prepared ground, which targets take its size, and what each step did."""
    evaluation = engine().evaluation(projects.head(project_id).document, cancel=gone(request), owner=project_id)
    ground = evaluation.graph.stage().ground
    heights, base = evaluation.ground(ground), evaluation.project.ground.base
    findings = find_all(heights + np.float32(base) if base else heights, ground.grid, engine().stripes)
    low, high = evaluation.ends()
    plain = [
        {"code": f.code, "severity": f.severity, "title": f.title, "message": f.message, "mend": f.mend,
         "where": f.where is not None}
        for f in findings
    ]  # fmt: skip
    return {
        "low": low, "high": high, "findings": plain, "steps": _effects(evaluation),
        "legal": [_legal(item, evaluation.home) for item in TARGETS],
    }  # fmt: skip


@router.get("/projects/{project_id}/working", response={200: list[TaskOut], **Refused}, operation_id="working")
def working(request: HttpRequest, project_id: str) -> list[dict[str, Any]]:
    """Long computations under way for the pages of a project."""
    return [
        {
            "key": task.key, "title": task.title, "share": task.share, "seconds": seconds,
            "bytes": task.need, "seconds_left": seconds * (1 - task.share) / task.share if task.share > 0.03 else None,
        }
        for task, seconds in engine().board.of(project_id)
        if seconds >= TELL_AFTER
    ]  # fmt: skip


@router.post("/projects/{project_id}/working/{key}/stop", response={204: None, **Refused}, operation_id="stop_working")
def stop_working(request: HttpRequest, project_id: str, key: str) -> Status[None]:
    """Stop a long computation; whoever waits for it is told."""
    if not engine().board.stop(project_id, key):
        raise NotFound("That computation is over already.")
    return Status(204, None)
