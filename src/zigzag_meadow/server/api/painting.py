"""Layers, looks and colour: what is offered, what they come to, textures in, colour maps out."""

from __future__ import annotations

import tempfile
import uuid
from dataclasses import asdict
from pathlib import Path
from typing import Annotated, Any

from django.http import FileResponse, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from ninja import File, Form, Query, Router
from ninja.files import UploadedFile

from zigzag_meadow.core.errors import MeadowError, TooLarge
from zigzag_meadow.core.evaluate.painted_file import DEPTHS, painted_grid, write_painted
from zigzag_meadow.core.evaluate.stops import ramp_stops
from zigzag_meadow.core.evaluate.texture_picture import texture_picture
from zigzag_meadow.core.formats.catalogue import form, format_named
from zigzag_meadow.core.formats.names import file_stem, safe_file_name
from zigzag_meadow.core.looks.files import inspect_texture
from zigzag_meadow.core.looks.grouping import Brought, grouped, look_of
from zigzag_meadow.core.map_name import map_name
from zigzag_meadow.core.project.travel.layer_proposals import free_name, layer_named_like, layers_of
from zigzag_meadow.core.reports.detail import FINEST, detail_beside_plain, enlarged_beside_plain
from zigzag_meadow.core.reports.layer_report import adds_up, layer_report, why_here
from zigzag_meadow.server import projects
from zigzag_meadow.server.api.catalogues import painting_of
from zigzag_meadow.server.api.maps import raw_response
from zigzag_meadow.server.api.painting_schemas import (
    LayerReportOut,
    LayersOfIn,
    LayersOfOut,
    PaintedQuery,
    PaintingOut,
    StopOut,
    StopsIn,
    TextureSetOut,
    WhyOut,
)
from zigzag_meadow.server.api.schemas import ProblemOut
from zigzag_meadow.server.assets import asset_path, keep, taken_in
from zigzag_meadow.server.engine import engine, file_reader
from zigzag_meadow.server.gone import gone
from zigzag_meadow.server.uploads import store_upload

router = Router(tags=["painting"])
Refused = {404: ProblemOut, 409: ProblemOut, 413: ProblemOut, 422: ProblemOut}
MOST_FILES = 200
TWICE = "The set has such a map already: this one is left out."


@router.get("/projects/{project_id}/painting", response={200: PaintingOut, **Refused}, operation_id="get_painting")
def get_painting(request: HttpRequest, project_id: str) -> dict[str, Any]:
    """Kinds of coats, looks, sizes, and what stands in the way of layers and coats."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    return painting_of(evaluation, asset_path)


@router.get(
    "/projects/{project_id}/layers/report", response={200: LayerReportOut, **Refused}, operation_id="layer_report"
)
def report(request: HttpRequest, project_id: str) -> dict[str, Any]:
    """Shares before and after sharing, who is strongest, overlap, and the target's budgets."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    return asdict(layer_report(evaluation))


@router.get("/projects/{project_id}/why", response={200: WhyOut, **Refused}, operation_id="why_here")
def why(request: HttpRequest, project_id: str, row: int, col: int) -> dict[str, Any]:
    """Why a place of the home grid is the ground and the colour that it is."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    return asdict(why_here(evaluation, row, col))


@router.post(
    "/projects/{project_id}/layers/propose", response={200: LayersOfOut, **Refused}, operation_id="propose_layers"
)
def propose(request: HttpRequest, project_id: str, wanted: LayersOfIn) -> dict[str, Any]:
    """Layers made of masks in one go; nothing is changed until they are added."""
    document = projects.newest(project_id)
    layers = layers_of(document, wanted.masks, f"layer-{uuid.uuid4().hex[:6]}")
    evaluation = engine().evaluation(document, cancel=gone(request), owner=project_id)
    sums = adds_up(evaluation, wanted.masks)
    says = (
        "These masks add up to 1 already: they are weights, and will be shared by strength."
        if sums
        else "These masks do not add up to 1: they will be shared as the layers are now."
    )
    return {"layers": layers, "adds_up": sums, "says": says}


@router.get("/projects/{project_id}/looks/{look_id}/{part}", operation_id="get_look_picture")
def look_picture(
    request: HttpRequest, project_id: str, look_id: str, part: str, side: Annotated[int, Query(ge=16, le=1024)] = 256
) -> HttpResponse:
    """A look's ``albedo`` (sRGB) or ``normal`` as a square picture, raw bytes of three channels."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    pixels, grid, key = texture_picture(evaluation, look_id, part, side)
    if request.headers.get("If-None-Match") == f'"{key}"':
        return HttpResponse(status=304)
    return raw_response(pixels, grid, key)


def _brought(file: UploadedFile, path_name: str, project_id: str, request: HttpRequest) -> Brought:
    name = safe_file_name(Path(path_name).name, "texture")
    with taken_in(store_upload(file, name)) as path:
        told = file_reader()(inspect_texture, path, name, cancel=gone(request))
        return Brought(path_name, keep(path, project_id), told)


@router.post(
    "/projects/{project_id}/textures", response={200: list[TextureSetOut], **Refused}, operation_id="bring_textures"
)
def bring_textures(
    request: HttpRequest,
    project_id: str,
    files: File[list[UploadedFile]],
    paths: Form[str] = "",
) -> list[dict[str, Any]]:
    """Textures, single or a folder: each is read and kept aside, sets are put together and matched with layers by name.

    ``paths``: names with the folders they lay in, one a line, where the names of the files do not tell them.
    """
    document = projects.newest(project_id)
    if len(files) > MOST_FILES:
        raise TooLarge(
            f"At most {MOST_FILES} textures come in at once, these are {len(files)}: choose a folder with fewer.",
            field="files",
        )
    names = paths.split("\n") if paths else []
    brought: list[Brought] = []
    broken: list[dict[str, Any]] = []
    for number, file in enumerate(files):
        name = names[number] if number < len(names) else file.name or "texture"
        try:
            brought.append(_brought(file, name, project_id, request))
        except MeadowError as error:
            told = [_not_taken(name, error.message)]
            broken.append({"name": Path(name).name, "look": None, "layer": None, "files": told})
    taken = [look.name for look in document.looks]
    sets = []
    for made in grouped(brought):
        title = free_name(made.name.replace("_", " ").capitalize(), taken)
        taken.append(title)
        look = look_of(made, f"look-{uuid.uuid4().hex[:8]}", title)
        entries = [_file_told(item) for item in made.maps.values()] + [_not_taken(file, TWICE) for file in made.left]
        layer = layer_named_like(document, made.name)
        sets.append(
            {
                "name": title,
                "look": look,
                "layer": layer,
                "files": entries,
            }
        )
    return sets + broken


def _file_told(item: Brought) -> dict[str, Any]:
    told = item.told
    return {
        "file": item.file,
        "asset": item.asset,
        "kind": told.kind,
        "rows": told.rows,
        "cols": told.cols,
        "mean": told.mean,
        "seam": told.seam,
        "told": list(told.told),
        "problem": None,
    }


def _not_taken(file: str, problem: str) -> dict[str, Any]:
    return {
        "file": file,
        "asset": None,
        "kind": None,
        "rows": 0,
        "cols": 0,
        "mean": "#808080",
        "seam": 1.0,
        "told": [],
        "problem": problem,
    }


@router.post("/projects/{project_id}/stops", response={200: list[StopOut], **Refused}, operation_id="ramp_stops")
def stops(request: HttpRequest, project_id: str, wanted: StopsIn) -> list[dict[str, Any]]:
    """Colours of a ramp, taken from a picture or from the colour map: along a line, or its main colours."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    made = ramp_stops(evaluation, wanted.picture, wanted.line, wanted.count)
    return [{"at": at, "colour": colour} for at, colour in made]


@router.get("/projects/{project_id}/detail", operation_id="get_detail")
def detail(
    request: HttpRequest, project_id: str, name: str, row: int, col: int, finer: Annotated[int, Query(ge=2, le=16)] = 4
) -> HttpResponse:
    """A part of a colour or surface map made at a finer size (left) beside the same merely enlarged (right)."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    pixels, grid = detail_beside_plain(evaluation, name, row, col, finer)
    return raw_response(pixels, grid, f"{evaluation.key(name, grid)}-beside")


@router.get("/projects/{project_id}/coats/{coat_id}/beside", operation_id="get_beside")
def beside(
    request: HttpRequest,
    project_id: str,
    coat_id: str,
    row: int,
    col: int,
    finer: Annotated[int | None, Query(ge=1, le=FINEST)] = None,
) -> HttpResponse:
    """An aerial image as it is laid (left) beside the same enlarged plainly (right), ``finer`` times as fine as the
    ground or fine enough to see between its own samples, whose size on the ground is said (X-Picture-Sample, m)."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    made = enlarged_beside_plain(evaluation, coat_id, row, col, finer)
    return raw_response(made.pixels, made.grid, made.key, X_Picture_Sample=f"{made.sample:.6g}")


@router.get("/projects/{project_id}/painted/{name}", operation_id="get_painted")
def painted(request: HttpRequest, project_id: str, name: str, wanted: Query[PaintedQuery]) -> HttpResponseBase:
    """A colour or surface map as a file, at any size over the ground's extent."""
    document = projects.newest(project_id)
    evaluation = engine().evaluation(document, cancel=gone(request), owner=project_id)
    grid = painted_grid(evaluation.home, wanted.rows, wanted.cols, wanted.registration)
    chosen = form(DEPTHS[wanted.depth][0])
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"painted.{chosen.ending}"
        dither = wanted.depth == "8d"
        write_painted(evaluation, map_name(name), grid, path, chosen, engine().stripes, dither=dither)
        stem = f"{file_stem(document.name)}_{file_stem(name.replace(':', '_'))}_{grid.cols}x{grid.rows}"
        # Sent piece by piece from the open file, whose name may go: floats of a large map are hundreds of megabytes.
        return FileResponse(
            path.open("rb"),
            as_attachment=True,
            filename=f"{stem}.{chosen.ending}",
            content_type=format_named(chosen.reads).media,
        )
