"""Recipes: the catalogue of lines, brush strokes, judging, pointing, following the ground."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any

import numpy as np
from django.http import HttpRequest
from ninja import Query, Router

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.evaluate.finals import check_final
from zigzag_meadow.core.evaluate.op_recipes import cut_edges_of
from zigzag_meadow.core.evaluate.pointed import proposals
from zigzag_meadow.core.grid import reference_grid, whole_ground_grid
from zigzag_meadow.core.masks import tone
from zigzag_meadow.core.masks.strokes import parse_strokes, read_strokes, strokes_as_bytes
from zigzag_meadow.core.masks.tracing import along_contour, down_flow
from zigzag_meadow.core.project.verbs import verbs
from zigzag_meadow.server import projects
from zigzag_meadow.server.api.mask_schemas import (
    BandsOut,
    FinalOut,
    MarksIn,
    ProposalOut,
    StrokesIn,
    StrokesOut,
    TogetherOut,
    TraceIn,
    TraceOut,
    VerbOut,
)
from zigzag_meadow.server.api.schemas import ProblemOut
from zigzag_meadow.server.assets import asset_path, check_held, incoming, keep, taken_in
from zigzag_meadow.server.engine import engine
from zigzag_meadow.server.gone import gone

router = Router(tags=["recipes"])
Refused = {404: ProblemOut, 409: ProblemOut, 413: ProblemOut, 422: ProblemOut}


@router.get("/projects/{project_id}/verbs", response={200: list[VerbOut], **Refused}, operation_id="list_verbs")
def list_verbs(request: HttpRequest, project_id: str) -> list[dict[str, Any]]:
    """Every kind of line, with the numbers a new one begins with on this ground."""
    found = []
    for verb in verbs(projects.head(project_id).document.ground.home):
        plain = asdict(verb)
        for param in plain["params"]:
            param["choices"] = [{"value": value, "label": label} for value, label in param["choices"]]
        found.append(plain)
    return found


@router.post("/projects/{project_id}/strokes", response={200: StrokesOut, **Refused}, operation_id="add_strokes")
def add_strokes(request: HttpRequest, project_id: str, wanted: StrokesIn) -> dict[str, Any]:
    """A touch-up's strokes with more of them, or with only the first ``keep``; they are kept as a file of their own."""
    projects.find(project_id)
    if wanted.asset:
        check_held(project_id, [wanted.asset])
    before = read_strokes(asset_path(wanted.asset)) if wanted.asset else ()
    kept = before if wanted.keep is None else before[: wanted.keep]
    strokes = parse_strokes([stroke.model_dump() for stroke in (*kept, *wanted.strokes)])
    with taken_in(incoming()) as path:
        path.write_bytes(strokes_as_bytes(strokes))
        return {"asset": keep(path, project_id), "count": len(strokes)}


@router.post("/projects/{project_id}/finals/{mask_id}", response={200: FinalOut, **Refused}, operation_id="check_final")
def final_of(request: HttpRequest, project_id: str, mask_id: str) -> dict[str, Any]:
    """Make a mask at the delivered size and say where it differs from the draft; the map is ``final:MASK``."""
    evaluation = engine().evaluation(projects.head(project_id).document, cancel=gone(request), owner=project_id)
    return asdict(check_final(evaluation, mask_id))


@router.get("/projects/{project_id}/bands/{mask_id}", response={200: BandsOut, **Refused}, operation_id="get_bands")
def bands_of(request: HttpRequest, project_id: str, mask_id: str) -> dict[str, Any]:
    """The bands a mask is cut into: inner edges, and the share of the ground in each."""
    evaluation = engine().evaluation(projects.head(project_id).document, cancel=gone(request), owner=project_id)
    before, _ = evaluation.graph.recipes.cut_of(mask_id)
    edges = cut_edges_of(evaluation, evaluation.graph.recipes.band(mask_id, 0))
    grid = reference_grid(evaluation.home)
    shares = tone.shares_of(evaluation.window(before, grid, grid.whole), edges)
    return {"edges": [float(e) for e in edges], "shares": shares}


@router.get("/projects/{project_id}/together", response={200: TogetherOut, **Refused}, operation_id="get_together")
def together(request: HttpRequest, project_id: str, masks: Annotated[str, Query(max_length=2000)]) -> dict[str, Any]:
    """Where none, one or more than one of some masks (ids with commas) is strong, as shares of the ground."""
    evaluation = engine().evaluation(projects.head(project_id).document, cancel=gone(request), owner=project_id)
    names = [item for item in masks.split(",") if item]
    if not 2 <= len(names) <= 12:
        raise BadNumber(f"Choose 2 to 12 masks to look at together, got {len(names)}.", field="masks")
    count = evaluation.map("count:" + "+".join(names), reference_grid(evaluation.home))
    return {"none": float((count == 0).mean()), "one": float((count == 1).mean()), "more": float((count > 1).mean())}


@router.post("/projects/{project_id}/point", response={200: list[ProposalOut], **Refused}, operation_id="point")
def point(request: HttpRequest, project_id: str, marks: MarksIn) -> list[dict[str, Any]]:
    """Recipes that hold the places marked in and not those marked out, best first."""
    evaluation = engine().evaluation(projects.head(project_id).document, cancel=gone(request), owner=project_id)
    return [
        asdict(found) | {"lines": list(found.lines)} for found in proposals(evaluation, marks.inside, marks.outside)
    ]


@router.post("/projects/{project_id}/trace", response={200: TraceOut, **Refused}, operation_id="trace")
def trace(request: HttpRequest, project_id: str, wanted: TraceIn) -> dict[str, Any]:
    """A line from a place that follows the ground: along its contour, or down with the water."""
    evaluation = engine().evaluation(projects.head(project_id).document, cancel=gone(request), owner=project_id)
    start, grid = (wanted.east, wanted.south), whole_ground_grid(evaluation.home)
    closed = False
    if wanted.way == "contour":
        heights = np.nan_to_num(evaluation.map("reading:height", grid))
        points, closed = along_contour(heights, grid, start, wanted.length)
    else:
        drain = evaluation.graph.reading("flow").inputs[0]
        code, own = evaluation.plane(drain, "code")
        points = down_flow(code, own, start, wanted.length)
    if len(points) < 2:
        raise BadNumber("The line would have no length. Start elsewhere or ask for more metres.", field="length")
    return {"points": [(round(x, 2), round(y, 2)) for x, y in points.tolist()], "closed": closed}
