"""Projects, edits and heightmaps."""

from __future__ import annotations

from contextlib import ExitStack
from dataclasses import asdict
from typing import IO, Annotated, Any, cast

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from ninja import File, Query, Router, Status
from ninja.files import UploadedFile

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.formats.codes import code_ends
from zigzag_meadow.core.formats.layout import Layout, RgbCode, SampleType
from zigzag_meadow.core.formats.names import file_stem, safe_file_name
from zigzag_meadow.core.formats.tiles import assemble
from zigzag_meadow.core.ground.diagnose import Inspection, inspect_file
from zigzag_meadow.core.packing.apart import apart
from zigzag_meadow.core.project.edits.ops_ground import HeightmapFile, ReplaceHeightmap
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.readings import resolve
from zigzag_meadow.core.project.travel.adopt import file_fields
from zigzag_meadow.core.project.travel.from_elsewhere import lie_as, lying
from zigzag_meadow.core.readings.picture import PICTURE, Samples, check_picture
from zigzag_meadow.server import projects
from zigzag_meadow.server.api.schemas import (
    ApartOut,
    ChangeIn,
    EditIn,
    FileLayout,
    InspectionOut,
    NewProject,
    PictureOut,
    ProblemOut,
    ProjectCard,
    ReplaceIn,
    StepIn,
)
from zigzag_meadow.server.api.sending import sent
from zigzag_meadow.server.api.state import changed, shown
from zigzag_meadow.server.api.state_schemas import StateChange, StateOut
from zigzag_meadow.server.assets import asset_path, incoming, keep, taken_in
from zigzag_meadow.server.engine import file_reader
from zigzag_meadow.server.gone import gone
from zigzag_meadow.server.models import Asset
from zigzag_meadow.server.uploads import store_upload

router = Router(tags=["projects"])
Refused = {404: ProblemOut, 409: ProblemOut, 413: ProblemOut, 422: ProblemOut}


@router.get("/projects", response=list[ProjectCard], operation_id="list_projects")
def list_projects(request: HttpRequest) -> list[dict[str, Any]]:
    """The shelf, newest first; ``trouble`` says why one cannot be opened."""
    sizes = dict(Asset.objects.values_list("sha256", "size"))
    return [
        {
            **{name: told[name] for name in ("rows", "cols", "width", "length", "layers", "trouble")},
            "id": row.id,
            "name": row.name,
            "revision": row.head,
            "updated_at": row.updated_at,
            "bytes": sum(sizes.get(asset, 0) for asset in told["assets"]),
        }
        for row, told in projects.shelf()
    ]


_TOLD_APART = ("asset", "sizes", "code_ends")


def inspected(asset: str, inspection: Inspection) -> dict[str, Any]:
    plain = {name: getattr(inspection, name) for name in InspectionOut.model_fields if name not in _TOLD_APART}
    return {
        **plain,
        "channels": list(inspection.channels),
        "asset": asset,
        "placement": None if inspection.placement is None else asdict(inspection.placement),
        "code_ends": code_ends(inspection.depth),
        "sizes": [{"rows": rows, "columns": cols} for rows, cols in inspection.sizes],
    }


@router.post("/heightmaps", response={200: InspectionOut, **Refused}, operation_id="bring_heightmap")
def bring_heightmap(
    request: HttpRequest,
    file: File[UploadedFile],
    rows: int | None = None,
    columns: int | None = None,
    header: Annotated[int, Query(ge=0, le=2**31)] = 0,
    sample: SampleType | None = None,
    code: RgbCode | None = None,
    channel: Annotated[str | None, Query(max_length=60)] = None,
) -> dict[str, Any]:
    """Look at a heightmap file; it is kept aside until a project is made of it."""
    name = safe_file_name(file.name or "")
    layout = Layout(rows=rows, cols=columns, header=header, sample=sample, code=code, channel=channel)
    with taken_in(store_upload(file, name)) as path:
        inspection = file_reader()(inspect_file, path, name, layout, cancel=gone(request))
        return inspected(keep(path), inspection)


@router.post("/heightmaps/again", response={200: InspectionOut, **Refused}, operation_id="inspect_again")
def inspect_again(request: HttpRequest, layout: FileLayout) -> dict[str, Any]:
    """Read a heightmap that was brought in another way: size, byte order, sample type, channel, no-data value."""
    return inspected(layout.asset, _found(layout))


def _found(layout: FileLayout) -> Inspection:
    told = Layout(
        rows=layout.rows,
        cols=layout.columns,
        byte_order=layout.byte_order,
        header=layout.header,
        sample=layout.sample,
        channel=layout.channel,
        code=layout.code,
        nodata=layout.nodata,
    )
    inspection: Inspection = file_reader()(inspect_file, asset_path(layout.asset), layout.name, told)
    return inspection


@router.post("/heightmaps/tiles", response={200: InspectionOut, **Refused}, operation_id="bring_tiles")
def bring_tiles(request: HttpRequest, files: File[list[UploadedFile]]) -> dict[str, Any]:
    """Several files as one heightmap: a set of tiles, put together by the numbers in their names or by a manifest among
    them; or raw heights and the header file that tells how they lie."""
    with ExitStack() as kept:
        tiles = [
            (name, kept.enter_context(taken_in(store_upload(file, name))))
            for file in files
            if (name := safe_file_name(file.name or ""))
        ]
        headers = [(name, path) for name, path in tiles if name.lower().endswith(".hdr")]
        if len(tiles) == 2 and len(headers) == 1:
            name, path = next(tile for tile in tiles if tile != headers[0])
            inspection = file_reader()(inspect_file, path, name, None, headers[0][1], cancel=gone(request))
            return inspected(keep(path), inspection)
        out = kept.enter_context(taken_in(incoming()))
        name = file_reader()(assemble, tiles, out, cancel=gone(request))
        inspection = file_reader()(inspect_file, out, name, cancel=gone(request))
        return inspected(keep(out), inspection)


def replacing(wanted: ChangeIn) -> ReplaceHeightmap:
    """The edit that takes a heightmap over that was brought in."""
    file = HeightmapFile.model_validate(file_fields(wanted.source.asset, _found(wanted.source)))
    return ReplaceHeightmap(file=file, keep=wanted.keep, hold=wanted.hold)


@router.post("/projects/{project_id}/replace", response={200: StateOut, **Refused}, operation_id="replace_heightmap")
def replace_heightmap(request: HttpRequest, project_id: str, wanted: ReplaceIn) -> HttpResponse:
    """Another heightmap under the project; what is downstream is made anew from it."""
    operation = replacing(wanted)
    return shown(projects.edit(project_id, wanted.base, [operation], projects.Made(wanted.tab)))


@router.post("/projects/{project_id}/pictures", response={200: PictureOut, **Refused}, operation_id="bring_picture")
def bring_picture(request: HttpRequest, project_id: str, file: File[UploadedFile]) -> dict[str, Any]:
    """A picture to lay over the ground; it is kept aside until a reading uses it."""
    document = projects.newest(project_id)
    name = safe_file_name(file.name or "", "picture")
    with taken_in(store_upload(file, name)) as path:
        found = file_reader()(check_picture, path, name, cancel=gone(request))
        asset = keep(path, project_id)
    samples = lie_as(document.ground.home, document.final, found[0], found[1])
    return _picture_told(document, asset, name, found, samples)


@router.post("/projects/{project_id}/take-apart", response={200: ApartOut, **Refused}, operation_id="take_apart")
def take_apart(request: HttpRequest, project_id: str, file: File[UploadedFile]) -> dict[str, Any]:
    """A packed image, channel by channel; it is kept aside until readings use its channels."""
    document = projects.newest(project_id)
    name = safe_file_name(file.name or "", "picture")
    with taken_in(store_upload(file, name)) as path:
        found = file_reader()(apart, path, name, cancel=gone(request))
        asset = keep(path, project_id)
    samples = lie_as(document.ground.home, document.final, found.rows, found.cols)
    return {**asdict(found), "asset": asset, "name": name, "samples": samples}


def _picture_told(
    document: Project, asset: str, name: str, found: tuple[int, int, int], samples: Samples
) -> dict[str, Any]:
    rows, columns, channels = found
    return {
        "asset": asset,
        "name": name,
        "rows": rows,
        "columns": columns,
        "channels": channels,
        "kind": PICTURE.name,
        "samples": samples,
        "says": lying(document.ground.home, rows, columns, samples),
    }


@router.get(
    "/projects/{project_id}/pictures/{reading_id}", response={200: PictureOut, **Refused}, operation_id="get_picture"
)
def get_picture(request: HttpRequest, project_id: str, reading_id: str) -> dict[str, Any]:
    """The picture that a reading lays over the ground: its size, and what its samples are taken for."""
    document = projects.newest(project_id)
    resolved = resolve(document, reading_id)
    asset = str(resolved.numbers.get("asset") or "")
    if resolved.kind.name != PICTURE.name or not asset:
        raise NotFound("That reading lays no picture.", field="reading")
    found = file_reader()(check_picture, asset_path(asset), resolved.title, cancel=gone(request))
    samples: Samples = "cells" if resolved.numbers["samples"] == "cells" else "border"
    return _picture_told(document, asset, resolved.title, found, samples)


@router.post("/projects", response={201: StateOut, **Refused}, operation_id="create_project")
def create_project(request: HttpRequest, new: NewProject) -> HttpResponse:
    """A new project from an inspected heightmap."""
    measures = new.model_dump(exclude={"name", "source"})
    return shown(projects.create(new.name, new.source.asset, _found(new.source), measures), 201)


@router.post("/projects/bring-in", response={201: StateOut, **Refused}, operation_id="bring_in_project")
def bring_in_project(request: HttpRequest, file: File[UploadedFile]) -> HttpResponse:
    """A project from a project file that was saved out."""
    return shown(projects.bring_in(cast(IO[bytes], file), safe_file_name(file.name or "", "project file")), 201)


@router.get("/projects/{project_id}", response={200: StateOut, **Refused}, operation_id="get_project")
def get_project(request: HttpRequest, project_id: str) -> HttpResponse:
    return shown(projects.head(project_id))


@router.delete("/projects/{project_id}", response={204: None, **Refused}, operation_id="delete_project")
def delete_project(request: HttpRequest, project_id: str) -> Status[None]:
    projects.delete(project_id)
    return Status(204, None)


@router.post("/projects/{project_id}/restore", response={200: StateOut, **Refused}, operation_id="restore_project")
def restore_project(request: HttpRequest, project_id: str) -> HttpResponse:
    return shown(projects.restore(project_id))


@router.post("/projects/{project_id}/duplicate", response={201: StateOut, **Refused}, operation_id="duplicate_project")
def duplicate_project(request: HttpRequest, project_id: str) -> HttpResponse:
    return shown(projects.duplicate(project_id), 201)


@router.get("/projects/{project_id}/save-out", operation_id="save_out_project")
def save_out_project(request: HttpRequest, project_id: str) -> HttpResponseBase:
    """The open project file: JSON and heightmap in a zip. One that cannot be read goes out as it is stored."""
    name, pieces = projects.saved_out(project_id)
    return sent(pieces, f"{file_stem(name)}.meadow.zip")


@router.post("/projects/{project_id}/edits", response={200: StateChange, **Refused}, operation_id="edit_project")
def edit_project(request: HttpRequest, project_id: str, change: EditIn) -> HttpResponse:
    """One edit. 409 with code ``stale-edit`` when the base is not the newest revision. One that was made already, by
    its ``id``, is not made again."""
    made = projects.Made(change.tab, change.merge, change.joins, change.id or "")
    return changed(project_id, change.base, projects.edit(project_id, change.base, change.operations, made))


@router.post("/projects/{project_id}/undo", response={200: StateChange, **Refused}, operation_id="undo")
def undo(request: HttpRequest, project_id: str, now: StepIn) -> HttpResponse:
    """One revision back, from ``base``. Passes over revisions that cannot be read."""
    return changed(project_id, now.base, projects.step(project_id, "undo", now.base))


@router.post("/projects/{project_id}/redo", response={200: StateChange, **Refused}, operation_id="redo")
def redo(request: HttpRequest, project_id: str, now: StepIn) -> HttpResponse:
    return changed(project_id, now.base, projects.step(project_id, "redo", now.base))
