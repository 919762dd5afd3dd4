"""Masks that go out and come back, finished masks from elsewhere, and level ground for them."""

from __future__ import annotations

import re
import tempfile
from pathlib import Path
from typing import Any, Literal

import imagecodecs
import numpy as np
import tifffile
from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Status
from ninja.files import UploadedFile

from zigzag_meadow.core.errors import MeadowError, NotFound
from zigzag_meadow.core.evaluate.returned import Returned, look_at_returned
from zigzag_meadow.core.formats.names import file_stem, safe_file_name
from zigzag_meadow.core.formats.png_stream import PngWriter
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.project.document import Project
from zigzag_meadow.core.readings.picture import check_picture
from zigzag_meadow.core.stripes import Cancel
from zigzag_meadow.server import projects
from zigzag_meadow.server.api.mask_schemas import FinishedOut, FlatGround, TakenBackOut
from zigzag_meadow.server.api.projects import shown
from zigzag_meadow.server.api.schemas import ProblemOut, StateOut
from zigzag_meadow.server.assets import asset_path, incoming, keep, taken_in
from zigzag_meadow.server.engine import desk, engine
from zigzag_meadow.server.gone import gone
from zigzag_meadow.server.uploads import store_upload

router = Router(tags=["outside"])
Refused = {404: ProblemOut, 409: ProblemOut, 413: ProblemOut, 422: ProblemOut}


@router.get("/projects/{project_id}/send-out/{mask_id}", operation_id="send_out_mask")
def send_out(
    request: HttpRequest,
    project_id: str,
    mask_id: str,
    form: Literal["png8", "png16", "tiff"] = "png16",
    size: Literal["home", "final"] = "home",
) -> HttpResponse:
    """A mask as an image: grey PNG of 8 or 16 bits, or a 16-bit TIFF; on the ground's grid or as delivered."""
    document = projects.head(project_id).document
    mask = document.mask(mask_id)
    if mask is None:
        raise NotFound("That mask is no longer there.", field="mask")
    evaluation = engine().evaluation(document, cancel=gone(request), owner=project_id)
    values = evaluation.map(f"mask:{mask_id}", evaluation.home if size == "home" else document.final)
    full, kind = (255, np.uint8) if form == "png8" else (65535, np.uint16)
    samples = np.floor(values * np.float32(full) + np.float32(0.5)).astype(kind)
    ending = "tif" if form == "tiff" else "png"
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"mask.{ending}"
        if form == "tiff":
            tifffile.imwrite(path, samples, software="", metadata=None)
        else:
            with PngWriter(
                path, samples.shape[0], samples.shape[1], 1, samples.dtype.itemsize * 8, engine().stripes
            ) as png:
                png.write(samples)
        data = path.read_bytes()
    response = HttpResponse(data, content_type="image/tiff" if form == "tiff" else "image/png")
    name = f"{file_stem(document.name)}_{file_stem(mask.name)}.{ending}"
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


def _kept_picture(file: UploadedFile, project_id: str, cancel: Cancel) -> tuple[str, str, tuple[int, int, int]]:
    """(asset, name, shape) of an uploaded picture that can be a mask; nothing stays when it cannot."""
    name = safe_file_name(file.name or "", "picture")
    with taken_in(store_upload(file, name)) as path:
        shape = desk()(check_picture, path, name, cancel=cancel)
        return keep(path, project_id), name, shape


def _size_remark(home: Grid, final: Grid, rows: int, cols: int) -> str | None:
    """What to know about a picture of another size than the ground."""
    if (rows, cols) in (home.shape, final.shape):
        return None
    if (cols, rows) == home.shape and rows != cols:
        return f"It is {cols} × {rows}, the ground {home.cols} × {home.rows}: rows and columns are swapped."
    proportion = (cols / rows) / (home.cols / home.rows)
    if abs(proportion - 1) > 0.02:
        return f"It is {cols} × {rows}, not of the ground's proportions ({home.cols} × {home.rows}): it is stretched."
    return f"It is {cols} × {rows}, the ground {home.cols} × {home.rows}: it is resampled onto the ground."


def _says(found: Returned, remark: str | None) -> str:
    turned = found.turn or found.flip != "none"
    way = {"none": "", "east_west": "flipped east–west", "north_south": "flipped north–south"}[found.flip]
    parts = [remark] if remark else []
    if turned:
        how = " and ".join(part for part in (way, f"turned by {360 - found.turn:g}°" if found.turn else "") if part)
        parts.append(f"It came back {how}; it is laid right.")
    if found.alike < 0.2 and not turned:
        parts.append("It hardly resembles the mask that it is to replace: is it the right file?")
    parts.append(f"{found.changed:.1%} of the ground was changed.")
    return " ".join(parts)


@router.post("/projects/{project_id}/take-back/{mask_id}", response={200: TakenBackOut, **Refused},
             operation_id="take_back_mask")  # fmt: skip
def take_back(request: HttpRequest, project_id: str, mask_id: str, file: File[UploadedFile]) -> dict[str, Any]:
    """Look at an edited mask that came back: its size, its orientation, what was changed. It is kept aside."""
    document = projects.head(project_id).document
    if document.mask(mask_id) is None:
        raise NotFound("That mask is no longer there.", field="mask")
    asset, name, (rows, cols, _) = _kept_picture(file, project_id, gone(request))
    evaluation = engine().evaluation(document, cancel=gone(request), owner=project_id)
    found = look_at_returned(evaluation, mask_id, asset_path(asset))
    remark = _size_remark(evaluation.home, document.final, rows, cols)
    return {
        "asset": asset, "name": name, "rows": rows, "columns": cols, "sized": remark is None, "alike": found.alike,
        "turn": found.turn, "flip": found.flip, "changed": found.changed, "mean": found.mean,
        "says": _says(found, remark),
    }  # fmt: skip


def _plain(text: str) -> str:
    return re.sub(r"[^a-z0-9]+", "", text.casefold())


def _matching(document: Project, stem: str) -> str | None:
    """The mask a file is named like: as it is called, with the project's name before it or more behind it."""
    plain = _plain(stem).removeprefix(_plain(document.name))
    exact = next((m.id for m in document.masks if _plain(m.name) == plain), None)
    longest = sorted(document.masks, key=lambda m: -len(m.name))
    return exact or next((m.id for m in longest if len(_plain(m.name)) > 3 and _plain(m.name) in plain), None)


@router.post("/projects/{project_id}/finished", response={200: list[FinishedOut], **Refused},
             operation_id="bring_finished")  # fmt: skip
def bring_finished(request: HttpRequest, project_id: str, files: File[list[UploadedFile]]) -> list[dict[str, Any]]:
    """Finished masks, many at once: each is read, kept aside and matched with a mask by name."""
    document = projects.head(project_id).document
    home, final = document.ground.home, document.final
    found: list[dict[str, Any]] = []
    for file in files[:200]:
        name = safe_file_name(file.name or "", "picture")
        title = re.sub(r"[_\-\s]+", " ", Path(name).stem).strip()[:60] or "Mask"
        entry: dict[str, Any] = {
            "file": name, "asset": None, "title": title[:1].upper() + title[1:], "rows": 0, "columns": 0, "mask": None,
            "problem": None, "remark": None,
        }  # fmt: skip
        try:
            asset, _, (rows, cols, _) = _kept_picture(file, project_id, gone(request))
        except MeadowError as error:
            found.append({**entry, "problem": error.message})
            continue
        found.append(
            {**entry, "asset": asset, "rows": rows, "columns": cols, "mask": _matching(document, Path(name).stem),
             "remark": _size_remark(home, final, rows, cols)}
        )  # fmt: skip
    return found


@router.post("/flat-projects", response={201: StateOut, **Refused}, operation_id="create_flat_project")
def create_flat(request: HttpRequest, new: FlatGround) -> Status[Any]:
    """A project on level ground of typed width and length, for masks without a heightmap."""
    longest = max(new.width, new.length)
    rows, cols = (max(round((new.samples - 1) * side / longest), 64) + 1 for side in (new.length, new.width))
    with taken_in(incoming()) as path:
        path.write_bytes(imagecodecs.png_encode(np.zeros((rows, cols), np.uint16)))
        asset = keep(path)
    ground = {
        "asset": asset, "file_name": "level_ground.png", "file_format": "png", "depth": "16", "rows": rows,
        "cols": cols, "heights": "stored", "stored_low": 0, "stored_high": 1,
        "spacing_x": new.width / (cols - 1), "spacing_y": new.length / (rows - 1), "water": None,
    }  # fmt: skip
    return Status(201, shown(projects.create_on(new.name, ground)))
