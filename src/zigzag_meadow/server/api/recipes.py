"""Recipes: the catalogue of lines, brush strokes, judging, pointing, following the ground."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any

import orjson
from django.http import HttpRequest
from ninja import Query, Router, Status

from zigzag_meadow.core.map_name import PreparedName, ReadingName
from zigzag_meadow.core.masks.draft_final import SEEN
from zigzag_meadow.core.masks.strokes import parse_strokes, read_strokes, strokes_as_bytes
from zigzag_meadow.core.project.edits.ops_masks import mask_of
from zigzag_meadow.core.project.model.kinds import line_kinds, step_kinds
from zigzag_meadow.core.project.travel.recipe_text import lines_as_text, lines_of_text
from zigzag_meadow.core.reports import mask_report
from zigzag_meadow.core.reports.finals import check_final
from zigzag_meadow.core.reports.fitting import fitted
from zigzag_meadow.core.reports.pointed import proposals
from zigzag_meadow.core.reports.traced import traced
from zigzag_meadow.core.reports.why_mask import why_mask
from zigzag_meadow.server import projects
from zigzag_meadow.server.api.catalogues import slots_out
from zigzag_meadow.server.api.deliveries import job_out
from zigzag_meadow.server.api.delivery_schemas import JobOut
from zigzag_meadow.server.api.mask_schemas import (
    BandsOut,
    FinalOut,
    FinalsIn,
    FinalsOut,
    FitBandIn,
    FittedOut,
    LineKindOut,
    MarksIn,
    MaskHereOut,
    ProposalOut,
    RecipeLines,
    RecipeText,
    StepKindOut,
    StrokesIn,
    StrokesOut,
    TogetherOut,
    TraceIn,
    TraceOut,
)
from zigzag_meadow.server.api.schemas import ProblemOut
from zigzag_meadow.server.assets import asset_path, check_held, incoming, keep, taken_in
from zigzag_meadow.server.engine import engine
from zigzag_meadow.server.gone import gone
from zigzag_meadow.server.jobs import finals_file, request_finals
from zigzag_meadow.server.models import Job

router = Router(tags=["recipes"])
Refused = {404: ProblemOut, 409: ProblemOut, 413: ProblemOut, 422: ProblemOut}


@router.get("/projects/{project_id}/lines", response={200: list[LineKindOut], **Refused}, operation_id="list_lines")
def list_lines(request: HttpRequest, project_id: str) -> list[dict[str, Any]]:
    """Every kind of line, with the numbers a new one begins with on this ground."""
    kinds = line_kinds(projects.newest(project_id).ground.home)
    return [{**asdict(kind), "slots": slots_out(kind.slots)} for kind in kinds]


@router.get("/projects/{project_id}/steps", response={200: list[StepKindOut], **Refused}, operation_id="list_steps")
def list_steps(request: HttpRequest, project_id: str) -> list[dict[str, Any]]:
    """Every kind of step, with the numbers a new one begins with on this ground."""
    ground = projects.newest(project_id).ground
    return [{**asdict(kind), "slots": slots_out(kind.slots)} for kind in step_kinds(ground.home, ground.file_ends[0])]


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
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    return asdict(check_final(evaluation, mask_id))


@router.get("/projects/{project_id}/bands/{mask_id}", response={200: BandsOut, **Refused}, operation_id="get_bands")
def bands_of(request: HttpRequest, project_id: str, mask_id: str) -> dict[str, Any]:
    """The bands a mask is cut into: inner edges, and the share of the ground in each."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    return asdict(mask_report.bands_of(evaluation, mask_id))


@router.get("/projects/{project_id}/together", response={200: TogetherOut, **Refused}, operation_id="get_together")
def together(request: HttpRequest, project_id: str, masks: Annotated[str, Query(max_length=2000)]) -> dict[str, Any]:
    """Where none, one or more than one of some masks (ids with commas) is strong, as shares of the ground."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    return asdict(mask_report.together(evaluation, [item for item in masks.split(",") if item]))


@router.post("/projects/{project_id}/point", response={200: list[ProposalOut], **Refused}, operation_id="point")
def point(request: HttpRequest, project_id: str, marks: MarksIn) -> list[dict[str, Any]]:
    """Recipes that hold the places marked in and not those marked out, best first."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    return [
        asdict(proposal) | {"lines": list(proposal.lines)}
        for proposal in proposals(evaluation, marks.inside, marks.outside)
    ]


@router.post("/projects/{project_id}/trace", response={200: TraceOut, **Refused}, operation_id="trace")
def trace(request: HttpRequest, project_id: str, wanted: TraceIn) -> dict[str, Any]:
    """A line from a place that follows the ground: along its contour, or down with the water."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    points, closed = traced(evaluation, wanted.way, (wanted.east, wanted.south), wanted.length)
    return {"points": points, "closed": closed}


@router.get("/projects/{project_id}/why/{mask_id}", response={200: MaskHereOut, **Refused}, operation_id="why_mask")
def why(request: HttpRequest, project_id: str, mask_id: str, row: int, col: int) -> dict[str, Any]:
    """Why a sample of the home grid is in a mask or out of it, line by line."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    return asdict(why_mask(evaluation, mask_id, row, col))


@router.post("/projects/{project_id}/fit-band", response={200: FittedOut, **Refused}, operation_id="fit_band")
def fit_band(request: HttpRequest, project_id: str, wanted: FitBandIn) -> dict[str, Any]:
    """Numbers of a reading that fit the ground: a band that keeps the share of another one, and ends for a mapping."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    reading, steps = wanted.reading, wanted.steps
    name = ReadingName(reading) if steps is None else PreparedName(steps, reading)
    return asdict(fitted(evaluation, name, wanted.before, wanted.holds))


@router.post("/projects/{project_id}/finals", response={202: JobOut, **Refused}, operation_id="start_finals")
def start_finals(request: HttpRequest, project_id: str, wanted: FinalsIn) -> Status[Any]:
    """Compare every mask with what it is at the delivered size, as a job."""
    return Status(202, job_out(request_finals(project_id, wanted.least)))


@router.get("/projects/{project_id}/finals", response={200: FinalsOut, **Refused}, operation_id="get_finals")
def get_finals(request: HttpRequest, project_id: str) -> dict[str, Any]:
    """What the newest comparison found; each mask with the key of what was compared."""
    document = projects.newest(project_id)
    job = Job.objects.filter(project_id=project_id, kind="finals", state__in=("waiting", "running")).first()
    file = finals_file(project_id)
    found = orjson.loads(file.read_bytes()) if file.is_file() else {"least": SEEN, "revision": None, "masks": []}
    there = {mask.id for mask in document.masks}
    size = (document.delivery.rows, document.delivery.cols)
    masks = [entry for entry in found["masks"] if entry["mask"] in there and (entry["rows"], entry["cols"]) == size]
    return {**found, "masks": masks, "job": None if job is None else job_out(job)}


@router.get(
    "/projects/{project_id}/masks/{mask_id}/text", response={200: RecipeText, **Refused}, operation_id="get_recipe_text"
)
def get_text(request: HttpRequest, project_id: str, mask_id: str) -> dict[str, str]:
    """A recipe as plain text, a sentence a line."""
    document = projects.newest(project_id)
    return {"text": lines_as_text(document, mask_of(document, mask_id).lines)}


@router.post(
    "/projects/{project_id}/masks/{mask_id}/text",
    response={200: RecipeLines, **Refused},
    operation_id="read_recipe_text",
)
def read_text(request: HttpRequest, project_id: str, mask_id: str, wanted: RecipeText) -> dict[str, Any]:
    """Lines of a recipe from plain text; nothing is changed until they are set. A mistake is told with its place."""
    document = projects.newest(project_id)
    return {"lines": lines_of_text(document, wanted.text, mask_of(document, mask_id).lines)}
