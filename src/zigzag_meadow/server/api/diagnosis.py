"""What is odd about a project's ground, and long computations under way."""

from __future__ import annotations

import math
from dataclasses import asdict
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router, Status

from zigzag_meadow.core.delivery.sizes import fits_size
from zigzag_meadow.core.errors import BadNumber, NotFound
from zigzag_meadow.core.reports.ground_report import ground_report
from zigzag_meadow.core.targets.catalogue import built_in
from zigzag_meadow.server import projects
from zigzag_meadow.server.api.diagnosis_schemas import DiagnosisOut, FileSampleOut
from zigzag_meadow.server.api.schemas import ProblemOut, TaskOut
from zigzag_meadow.server.engine import engine
from zigzag_meadow.server.gone import gone

router = Router(tags=["ground"])
Refused = {404: ProblemOut, 409: ProblemOut, 422: ProblemOut}
TELL_AFTER = 0.3


@router.get("/projects/{project_id}/diagnosis", response={200: DiagnosisOut, **Refused}, operation_id="diagnosis")
def diagnosis(request: HttpRequest, project_id: str) -> dict[str, Any]:
    """What is odd about the prepared ground, which targets take its size, and what each step did."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    report = ground_report(evaluation)
    plain = [
        {
            "code": f.code,
            "severity": f.severity,
            "title": f.title,
            "message": f.message,
            "mend": f.mend,
            "where": f.where is not None,
            "edit": f.edit,
            "offers": f.offers,
        }
        for f in report.oddities
    ]
    return {
        "low": report.low,
        "high": report.high,
        "findings": plain,
        "steps": [asdict(step) for step in report.steps],
        "legal": [asdict(fits_size(item, evaluation.home)) for item in (*evaluation.project.targets, *built_in())],
    }


@router.get("/projects/{project_id}/file-sample", response={200: FileSampleOut, **Refused}, operation_id="file_sample")
def file_sample(
    request: HttpRequest, project_id: str, row: Annotated[int, Query(ge=0)], col: Annotated[int, Query(ge=0)]
) -> dict[str, Any]:
    """What the heightmap's file holds at one of its samples, and the metres that stands for now."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    ground = evaluation.project.ground
    if row >= ground.rows or col >= ground.cols:
        raise BadNumber(f"The file has {ground.rows} rows and {ground.cols} columns, got {row}, {col}.", field="row")
    metres = float(evaluation.whole(evaluation.graph.stage(0).ground)[row, col]) + ground.base
    if not math.isfinite(metres):
        raise BadNumber("The file has no height there. Choose another place.", field="row")
    step, at_zero = ground.coding
    stored = (metres - at_zero) / step
    return {"row": row, "col": col, "stored": stored, "metres": metres}


@router.get("/projects/{project_id}/working", response={200: list[TaskOut], **Refused}, operation_id="working")
def working(request: HttpRequest, project_id: str) -> list[dict[str, Any]]:
    """Long computations under way for the pages of a project."""
    return [
        {
            "key": task.key,
            "title": task.title,
            "share": task.share,
            "seconds": seconds,
            "bytes": task.need,
            "seconds_left": seconds * (1 - task.share) / task.share if task.share > 0.03 else None,
        }
        for task, seconds in engine().board.of(project_id)
        if seconds >= TELL_AFTER
    ]


@router.post("/projects/{project_id}/working/{key}/stop", response={204: None, **Refused}, operation_id="stop_working")
def stop_working(request: HttpRequest, project_id: str, key: str) -> Status[None]:
    """Stop a long computation; whoever waits for it is told."""
    if not engine().board.stop(project_id, key):
        raise NotFound("That computation is over already.")
    return Status(204, None)
