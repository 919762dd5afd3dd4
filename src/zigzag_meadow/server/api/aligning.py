"""Maps from elsewhere: how they lie on a ground, and bringing them onto it."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import numpy as np
from django.http import HttpRequest
from ninja import File, Router
from ninja.files import UploadedFile

from zigzag_meadow.core.fit.foreign.align import align
from zigzag_meadow.core.fit.foreign.bringing import height_of, laid_picture, orientation_of, pictures, planes_of
from zigzag_meadow.core.fit.registering import Fitting
from zigzag_meadow.core.formats.names import safe_file_name
from zigzag_meadow.core.formats.writing.png_stream import PngWriter
from zigzag_meadow.core.grid import reference_grid
from zigzag_meadow.core.map_name import ReadingName, WeightName
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.server import projects
from zigzag_meadow.server.api.delivery_schemas import AlignedOut, LaidOut, LayIn
from zigzag_meadow.server.api.schemas import ProblemOut
from zigzag_meadow.server.assets import asset_path, incoming, keep, taken_in
from zigzag_meadow.server.engine import engine, file_reader
from zigzag_meadow.server.gone import gone
from zigzag_meadow.server.uploads import store_upload

router = Router(tags=["aligning"])
Refused = {404: ProblemOut, 409: ProblemOut, 413: ProblemOut, 422: ProblemOut}


@router.post("/projects/{project_id}/align", response={200: AlignedOut, **Refused}, operation_id="align_map")
def align_map(
    request: HttpRequest, project_id: str, file: File[UploadedFile], height: File[UploadedFile] | None = None
) -> dict[str, Any]:
    """How a map lies on the project's ground, or on a ``height`` that comes with it. The map is kept aside until it is
    laid."""
    document = projects.newest(project_id)
    name = safe_file_name(file.name or "", "picture")
    with taken_in(store_upload(file, name)) as path:
        pixels = file_reader()(planes_of, path, name, cancel=gone(request))
        asset = keep(path, project_id)
    further = None
    if height is not None:
        title = safe_file_name(height.name or "", "heightmap")
        with taken_in(store_upload(height, title)) as path:
            z = file_reader()(height_of, path, title, cancel=gone(request))
    else:
        title = document.name
        z, further = _ground(request, project_id, document)
    found = align(z, pixels, further, stripes=engine().stripes, cancel=gone(request))
    ground, laid = pictures(z, pixels, found)
    return {
        **asdict(found),
        "asset": asset,
        "name": name,
        "height": title,
        "own": height is None,
        "rows": pixels.shape[0],
        "columns": pixels.shape[1],
        "channels": pixels.shape[2],
        "ground": ground,
        "laid": laid,
    }


def _ground(request: HttpRequest, project_id: str, document: Project) -> tuple[Any, Any]:
    """Heights of the prepared ground and the weights of its layers, which a map may have been made from."""
    evaluation = engine().evaluation(document, cancel=gone(request), owner=project_id)
    grid = reference_grid(evaluation.home)
    z = evaluation.map(ReadingName("height"), grid).astype(np.float64)
    quick = [item.id for item in document.outcomes if evaluation.is_quick(evaluation.graph.named(WeightName(item.id)))]
    planes = [evaluation.map(WeightName(item), grid) for item in quick[:6]]
    return z, np.stack(planes, axis=-1).astype(np.float64) if len(planes) > 1 else None


@router.post("/projects/{project_id}/align/lay", response={200: LaidOut, **Refused}, operation_id="lay_map")
def lay_map(request: HttpRequest, project_id: str, wanted: LayIn) -> dict[str, Any]:
    """Put a map right and lay it over the ground as it was found to lie; kept aside until a reading uses it."""
    projects.find(project_id)
    pixels = file_reader()(planes_of, asset_path(wanted.asset), wanted.name, cancel=gone(request))
    found = Fitting(wanted.top, wanted.left, wanted.down, wanted.across)
    made, exact = laid_picture(pixels, orientation_of(wanted.orientation), found)
    stored = _whole(made)
    with taken_in(incoming()) as out:
        bits = stored.dtype.itemsize * 8
        with PngWriter(out, stored.shape[0], stored.shape[1], stored.shape[2], bits, engine().stripes) as png:
            png.write(stored)
        asset = keep(out, project_id)
    return {"asset": asset, "name": wanted.name, "kind": "picture", "samples": "cells", "exact": exact}


def _whole(values: Any) -> Any:
    """Whole numbers of 8 or 16 bits; floats over all that they hold."""
    if values.dtype in (np.uint8, np.uint16):
        return np.ascontiguousarray(values[:, :, :4])
    low, high = float(np.nanmin(values)), float(np.nanmax(values))
    unit = np.nan_to_num((values[:, :, :4].astype(np.float64) - low) / max(high - low, 1e-12))
    return np.ascontiguousarray(np.floor(unit * 65535 + 0.5).astype(np.uint16))
