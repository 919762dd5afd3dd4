"""Targets, sizes, and what a delivery would write."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from django.utils.timezone import localdate
from ninja import Body, Query, Router

from zigzag_meadow.core.delivery.beyond import heights_beyond, storable
from zigzag_meadow.core.delivery.cautions import target_change
from zigzag_meadow.core.delivery.chosen_tiles import tiles_of
from zigzag_meadow.core.delivery.naming import TOKENS
from zigzag_meadow.core.delivery.note_view import Row, ground_rows, height_rows
from zigzag_meadow.core.delivery.notes import import_note
from zigzag_meadow.core.delivery.plan import Plan, make_plan
from zigzag_meadow.core.delivery.showing import planned_item, trial_place
from zigzag_meadow.core.delivery.sizes import offers, sizes_by_kind
from zigzag_meadow.core.errors import MeadowError, NotFound
from zigzag_meadow.core.formats.catalogue import forms
from zigzag_meadow.core.formats.names import file_stem
from zigzag_meadow.core.project.edits.operations import apply_operations
from zigzag_meadow.core.project.edits.ops_delivery import ChooseTarget, SetTarget
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.items import GROUPS, deliverables, delivered
from zigzag_meadow.core.project.model.propose import DATA_SHEETS
from zigzag_meadow.core.targets.catalogue import built_in, parse_target
from zigzag_meadow.core.targets.editing import rule_kinds, rule_sentences
from zigzag_meadow.core.targets.map_sizes import SIZE_KINDS
from zigzag_meadow.core.targets.model import Target
from zigzag_meadow.server import projects
from zigzag_meadow.server.api.schemas import ProblemOut
from zigzag_meadow.server.api.target_schemas import (
    BeyondOut,
    CheckOut,
    PlanOut,
    RulesOut,
    SizeOfferOut,
    TargetChangeOut,
    TargetOut,
)
from zigzag_meadow.server.engine import engine
from zigzag_meadow.server.gone import gone

router = Router(tags=["targets"])
Refused = {404: ProblemOut, 409: ProblemOut, 422: ProblemOut}


def _target(item: Target, own: bool) -> dict[str, Any]:
    return {
        "id": item.id,
        "title": item.title,
        "sentence": item.sentence,
        "own": own,
        "rules": item,
        "sentences": _sentences(item),
    }


def _sentences(item: Target) -> list[dict[str, str]]:
    return [{"title": title, "sentence": sentence} for title, sentence in rule_sentences(item)]


def _rows(rows: list[Row]) -> list[dict[str, str]]:
    return [asdict(row) for row in rows]


@router.get("/projects/{project_id}/targets", response={200: list[TargetOut], **Refused}, operation_id="list_targets")
def list_targets(request: HttpRequest, project_id: str) -> list[dict[str, Any]]:
    """Built-in targets, then the project's own."""
    document = projects.newest(project_id)
    return [_target(item, False) for item in built_in()] + [_target(item, True) for item in document.targets]


@router.get("/projects/{project_id}/targets/{target_id}/file", operation_id="get_target_file")
def get_target_file(request: HttpRequest, project_id: str, target_id: str) -> HttpResponse:
    """A target as a JSON file."""
    document = projects.newest(project_id)
    found = next((item for item in (*document.targets, *built_in()) if item.id == target_id), None)
    if found is None:
        raise NotFound("There is no such target.", field="target")
    response = HttpResponse(found.model_dump_json(indent=1), content_type="application/json")
    response["Content-Disposition"] = f'attachment; filename="{file_stem(found.title)}.target.json"'
    return response


@router.get("/projects/{project_id}/sizes", response={200: list[SizeOfferOut], **Refused}, operation_id="list_sizes")
def list_sizes(
    request: HttpRequest, project_id: str, near: Annotated[int | None, Query(ge=1, le=99999)] = None
) -> list[dict[str, Any]]:
    """Sizes that the chosen target takes for this ground, nearest to its own first; of very many those ``near`` so many
    samples on the longer side."""
    return [asdict(offer) for offer in offers(projects.newest(project_id), near)]


@router.get(
    "/projects/{project_id}/target-change", response={200: TargetChangeOut, **Refused}, operation_id="target_change"
)
def get_target_change(
    request: HttpRequest, project_id: str, target: Annotated[str, Query(pattern=r"^[a-z0-9_-]{1,40}$")]
) -> dict[str, Any]:
    """What choosing another target would change."""
    return {"sentences": target_change(projects.newest(project_id), target)}


@router.get("/target-rules", response=RulesOut, operation_id="target_rules")
def get_rules(request: HttpRequest) -> dict[str, Any]:
    """Classes of rules, for the editor of targets."""
    places = {
        place: [
            {
                **asdict(kind),
                "fields": [
                    {**asdict(f), "choices": [{"value": v, "label": t} for v, t in f.choices]} for f in kind.fields
                ],
            }
            for kind in kinds
        ]
        for place, kinds in rule_kinds().items()
    }
    holding = [{"value": item.id, "label": item.title} for item in forms() if item.takes == "raster"]
    sheets = [{"value": value, "label": label} for value, label in DATA_SHEETS.items()]
    kinds = [{"value": value, "label": label} for value, label in SIZE_KINDS.items()]
    return {"places": places, "forms": holding, "data_sheets": sheets, "size_kinds": kinds}


@router.post("/projects/{project_id}/targets/check", response={200: CheckOut, **Refused}, operation_id="check_target")
def check(request: HttpRequest, project_id: str, data: Annotated[dict[str, Any], Body()]) -> dict[str, Any]:
    """An own target, before it is kept: what is wrong, or what it would make of this project."""
    document = projects.newest(project_id)
    nothing: dict[str, Any] = {"trouble": None, "rules": None, "sizes": [], "names": [], "numbers": [], "sentences": []}
    try:
        wanted = parse_target(data)
        nothing["rules"] = wanted
        tried, _ = apply_operations(document, [SetTarget(target=wanted), ChooseTarget(target=wanted.id)])
        nothing["sizes"] = [f"{o.cols} × {o.rows}" for o in offers(tried)[:4]]
        nothing["sentences"] = _sentences(wanted)
        plan = make_plan(tried)
    except MeadowError as error:
        return {**nothing, "trouble": error.message}
    names = [file.name for item in plan.items for file in item.files[:2]]
    return {**nothing, "names": names[:8], "numbers": _numbers(tried, plan, request)}


def _numbers(document: Project, plan: Plan, request: HttpRequest) -> list[dict[str, str]]:
    note = import_note(engine().evaluation(document, cancel=gone(request)), plan, {})
    return _rows([*ground_rows(note), *height_rows(note)])


@router.get("/projects/{project_id}/plan", response={200: PlanOut, **Refused}, operation_id="get_plan")
def get_plan(request: HttpRequest, project_id: str) -> dict[str, Any]:
    """What a delivery would write now, or why it is refused."""
    document = projects.newest(project_id)
    evaluation = engine().evaluation(document, cancel=gone(request), owner=project_id)
    others = [
        {"of": item.of, "title": item.title, "group": GROUPS[item.group], "choice": document.delivery.choice(item.of)}
        for item in deliverables(document)
        if not delivered(document, item)
    ]
    nothing: dict[str, Any] = {
        "refused": None,
        "groups": [],
        "others": others,
        "bytes": 0,
        "files": 0,
        "numbers": [],
        "trial": None,
        "height_tiles": [1, 1],
        "tokens": TOKENS,
        "kinds": sizes_by_kind(document),
        "tile_names": document.delivery.tile_names or document.target.tile_names,
        "pattern": document.delivery.pattern or document.target.names,
        "beyond": None,
    }
    try:
        make_plan(document)
        plan = make_plan(document, evaluation.heights(), today=localdate().isoformat())
    except MeadowError as error:
        return {**nothing, "refused": error.message}
    items = [planned_item(evaluation, plan, item) for item in plan.items]
    groups = [
        {"id": group, "title": title, "items": [item for item in items if item["group"] == group]}
        for group, title in GROUPS.items()
    ]
    return {
        **nothing,
        "groups": [group for group in groups if group["items"]],
        "bytes": plan.bytes_needed,
        "files": sum(item["files"] for item in items),
        "numbers": _numbers(document, plan, request),
        "trial": trial_place(plan),
        "height_tiles": list(tiles_of(plan)),
        "beyond": storable(plan),
    }


@router.get("/projects/{project_id}/beyond", response={200: BeyondOut | None, **Refused}, operation_id="get_beyond")
def get_beyond(request: HttpRequest, project_id: str) -> dict[str, Any] | None:
    """Which heights cannot be stored, how many and where; nothing where all can."""
    document = projects.newest(project_id)
    evaluation = engine().evaluation(document, cancel=gone(request), owner=project_id)
    found = heights_beyond(evaluation, make_plan(document, evaluation.heights()))
    return None if found is None else asdict(found)
