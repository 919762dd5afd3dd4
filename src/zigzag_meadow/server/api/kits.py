"""Kits: list, save, bring in, send out, use."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import orjson
from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Status
from ninja.files import UploadedFile

from zigzag_meadow.core.errors import TooLarge, WrongFormat
from zigzag_meadow.core.formats.names import file_stem, safe_file_name
from zigzag_meadow.core.project.travel.kit import Kit, moved_ranges, parse_kit, rescaled
from zigzag_meadow.core.project.travel.kit_painting import Wanted
from zigzag_meadow.server import kits, projects
from zigzag_meadow.server.api.mask_schemas import KitIn, KitOut, KitPlanOut, SavedKitOut, UseKit
from zigzag_meadow.server.api.schemas import ProblemOut
from zigzag_meadow.server.api.state import shown
from zigzag_meadow.server.api.state_schemas import StateOut
from zigzag_meadow.server.engine import engine

router = Router(tags=["kits"])
Refused = {404: ProblemOut, 409: ProblemOut, 413: ProblemOut, 422: ProblemOut}
MOST_BYTES = 4 * 2**20


def _told(kit_id: str, kit: Kit, own: bool) -> dict[str, Any]:
    return {
        "id": kit_id,
        "name": kit.name,
        "note": kit.note,
        "own": own,
        "masks": [m.name for m in kit.masks],
        "pieces": [p.name for p in kit.pieces],
        "low": kit.heights.low,
        "high": kit.heights.high,
        "water": kit.heights.water,
        "layers": [x.name for x in kit.painting.layers],
        "coats": [x.title for x in kit.painting.coats],
        "sheets": [x.name for x in kit.painting.sheets],
    }


@router.get("/kits", response=list[KitOut], operation_id="list_kits")
def list_kits(request: HttpRequest) -> list[dict[str, Any]]:
    return [_told(*entry) for entry in kits.all_kits()]


@router.post("/kits", response={201: SavedKitOut, **Refused}, operation_id="save_kit")
def save_kit(request: HttpRequest, wanted: KitIn) -> Status[Any]:
    """Save masks and pieces of a project as a kit; says what could not come along."""
    evaluation = engine().evaluation(projects.newest(wanted.project), owner=wanted.project)
    painting = Wanted(layers=wanted.layers, coats=wanted.coats, sheets=wanted.sheets)
    kit_id, kit, left = kits.save(evaluation, wanted.name, wanted.note, wanted.masks, wanted.pieces, painting)
    return Status(201, {"kit": _told(kit_id, kit, False), "left": left})


@router.post("/kits/bring-in", response={201: KitOut, **Refused}, operation_id="bring_in_kit")
def bring_in_kit(request: HttpRequest, file: File[UploadedFile]) -> Status[Any]:
    """A kit from a file that was sent out."""
    name = safe_file_name(file.name or "", "kit")
    if (file.size or 0) > MOST_BYTES:
        raise TooLarge(f"{name} is over {MOST_BYTES // 2**20} MiB: that is no kit.")
    try:
        data = orjson.loads(file.read())
    except orjson.JSONDecodeError:
        raise WrongFormat(f"{name} is no kit: it cannot be read as JSON.") from None
    kit = parse_kit(data)
    return Status(201, _told(kits.store(kit), kit, False))


@router.get("/kits/{kit_id}/file", operation_id="get_kit_file")
def get_kit_file(request: HttpRequest, kit_id: str) -> HttpResponse:
    kit = kits.find(kit_id)
    data = orjson.dumps(kit.model_dump(mode="json"), option=orjson.OPT_INDENT_2)
    response = HttpResponse(data, content_type="application/json")
    response["Content-Disposition"] = f'attachment; filename="{file_stem(kit.name)}.kit.json"'
    return response


@router.delete("/kits/{kit_id}", response={204: None, **Refused}, operation_id="delete_kit")
def delete_kit(request: HttpRequest, kit_id: str) -> Status[None]:
    kits.delete(kit_id)
    return Status(204, None)


@router.get("/projects/{project_id}/kits/{kit_id}/plan", response={200: KitPlanOut, **Refused}, operation_id="plan_kit")
def plan_kit(request: HttpRequest, project_id: str, kit_id: str) -> dict[str, Any]:
    """Which ranges in metres of a kit would be moved to this ground's own heights, and where to."""
    document = projects.newest(project_id)
    heights = kits.heights_of(engine().evaluation(document, owner=project_id))
    kit = kits.find(kit_id)
    changes = [asdict(change) for change in moved_ranges(kit, rescaled(kit, heights))]
    return {"low": heights.low, "high": heights.high, "water": heights.water, "changes": changes}


@router.post("/projects/{project_id}/kits/{kit_id}", response={200: StateOut, **Refused}, operation_id="use_kit")
def use_kit(request: HttpRequest, project_id: str, kit_id: str, wanted: UseKit) -> HttpResponse:
    """Bring the masks, pieces, readings, layers, coats and sheets of a kit into a project, as one edit."""
    kit = kits.find(kit_id)
    heights = None
    if wanted.rescale:
        heights = kits.heights_of(engine().evaluation(projects.newest(project_id), owner=project_id))
    return shown(projects.edit(project_id, wanted.base, [kits.application(kit, heights)], projects.Made(wanted.tab)))
