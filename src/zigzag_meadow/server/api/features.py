"""What is drawn and scattered: GeoJSON in and out, points."""

from __future__ import annotations

import uuid

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import File, Router
from ninja.files import UploadedFile

from zigzag_meadow.core.delivery.scattering import points_file
from zigzag_meadow.core.errors import Cancelled, NotFound, TooLarge
from zigzag_meadow.core.evaluate.scattered import Scattered, scatter_points
from zigzag_meadow.core.formats.names import file_stem, safe_file_name
from zigzag_meadow.core.project.model.features import Feature
from zigzag_meadow.core.project.travel.geojson import features_as_geojson, features_from_geojson
from zigzag_meadow.server import projects
from zigzag_meadow.server.api.mask_schemas import FeaturesOut, PointsPreviewIn
from zigzag_meadow.server.api.schemas import ProblemOut
from zigzag_meadow.server.engine import engine, latest
from zigzag_meadow.server.gone import gone

router = Router(tags=["features"])
Refused = {404: ProblemOut, 409: ProblemOut, 413: ProblemOut, 422: ProblemOut}
MOST_GEOJSON = 20 * 2**20


def _file(data: bytes, name: str, kind: str) -> HttpResponse:
    response = HttpResponse(data, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@router.get("/projects/{project_id}/features.geojson", operation_id="get_features")
def get_features(request: HttpRequest, project_id: str) -> HttpResponse:
    """Everything drawn, as GeoJSON in metres."""
    document = projects.newest(project_id)
    data = features_as_geojson(document.features, document.ground.home.length)
    return _file(data, f"{file_stem(document.name)}_drawn.geojson", "application/geo+json")


@router.post("/projects/{project_id}/features", response={200: FeaturesOut, **Refused}, operation_id="read_features")
def read_features(request: HttpRequest, project_id: str, file: File[UploadedFile]) -> dict[str, list[Feature]]:
    """Lines and areas of a GeoJSON file, with names that are free; nothing is changed until they are added."""
    document = projects.newest(project_id)
    name = safe_file_name(file.name or "", "file")
    if (file.size or 0) > MOST_GEOJSON:
        raise TooLarge(f"{name} is over {MOST_GEOJSON // 2**20} MiB. Bring in a part of it.")
    home = document.ground.home
    features = features_from_geojson(file.read(), name, home.width, home.length, f"drawn-{uuid.uuid4().hex[:6]}-")
    taken = {feature.name.casefold() for feature in document.features}
    fresh = []
    for feature in features:
        title, number = feature.name, 2
        while title.casefold() in taken:
            title, number = f"{feature.name[:54]} {number}", number + 1
        taken.add(title.casefold())
        fresh.append(feature.model_copy(update={"name": title}))
    return {"features": fresh}


def _raw_points(scattered: Scattered) -> HttpResponse:
    response = HttpResponse(scattered.points.astype(np.float32).tobytes(), content_type="application/octet-stream")
    response["X-Points"] = str(len(scattered.points))
    response["X-Crowded"] = "" if scattered.crowded is None else f"{scattered.crowded:.4g}"
    response["Cache-Control"] = "private, no-cache"
    return response


@router.post("/projects/{project_id}/scatters/{scatter_id}/preview", operation_id="preview_scatter_points")
def preview_points(request: HttpRequest, project_id: str, scatter_id: str, wanted: PointsPreviewIn) -> HttpResponse:
    """Points as they would be after operations that are not saved; an older request of a slot stops for a newer one."""
    latest.enter(wanted.tab, wanted.slot, wanted.sequence)
    left = gone(request)

    def superseded() -> bool:
        return latest.is_old(wanted.tab, wanted.slot, wanted.sequence) or left()

    if superseded():
        raise Cancelled("A newer preview was asked for.")
    document, _ = projects.changed(project_id, projects.newest(project_id), wanted.operations)
    evaluation = engine().evaluation(document, cancel=superseded, keep=False, owner=project_id)
    return _raw_points(scatter_points(evaluation, scatter_id))


@router.get("/projects/{project_id}/scatters/{scatter_id}/points", operation_id="get_scatter_points")
def get_scatter_points(request: HttpRequest, project_id: str, scatter_id: str, form: str = "raw") -> HttpResponse:
    """Points as float32 rows of east, south, height, size, turn; or a file: ``csv``, ``geojson``, ``ply``."""
    document = projects.newest(project_id)
    evaluation = engine().evaluation(document, cancel=gone(request), owner=project_id)
    scattered = scatter_points(evaluation, scatter_id)
    scatter = document.scatter(scatter_id)
    if form in ("csv", "geojson", "ply") and scatter is not None:
        data = points_file(form, scattered.points, evaluation.home.length, scatter.name)
        return _file(data, f"{file_stem(document.name)}_{file_stem(scatter.name)}.{form}", "application/octet-stream")
    if form != "raw":
        raise NotFound(f"Points come as csv, geojson or ply, not {form!r}.", field="form")
    return _raw_points(scattered)
