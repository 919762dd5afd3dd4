"""Masks that go out and come back, finished masks from elsewhere, and level ground for them."""

from __future__ import annotations

import re
import tempfile
from contextlib import suppress
from pathlib import Path
from typing import Annotated, Any, Literal

import imagecodecs
import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import File, Query, Router
from ninja.files import UploadedFile

from zigzag_meadow.core.errors import MeadowError, NotFound
from zigzag_meadow.core.formats.catalogue import format_named
from zigzag_meadow.core.formats.names import file_stem, safe_file_name
from zigzag_meadow.core.formats.sized import told_its_size
from zigzag_meadow.core.formats.write import mask_form, write_map
from zigzag_meadow.core.formats.writing.png_stream import PngWriter
from zigzag_meadow.core.map_name import MaskName
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.travel.from_elsewhere import (
    level_ground,
    lie_as,
    mask_named_like,
    size_remark,
    title_from,
)
from zigzag_meadow.core.readings.picture import check_picture
from zigzag_meadow.core.reports.returned import changed_part, look_at_returned
from zigzag_meadow.core.stripes import Cancel
from zigzag_meadow.server import projects
from zigzag_meadow.server.api.mask_schemas import CameBack, ChangedOut, FinishedOut, FlatGround, TakenBackOut
from zigzag_meadow.server.api.schemas import ProblemOut
from zigzag_meadow.server.api.state import shown
from zigzag_meadow.server.api.state_schemas import StateOut
from zigzag_meadow.server.assets import asset_path, incoming, keep, taken_in
from zigzag_meadow.server.engine import engine, file_reader
from zigzag_meadow.server.gone import gone
from zigzag_meadow.server.uploads import store_upload

router = Router(tags=["outside"])
Refused = {404: ProblemOut, 409: ProblemOut, 413: ProblemOut, 422: ProblemOut}


@router.get("/projects/{project_id}/send-out/{mask_id}", operation_id="send_out_mask")
def send_out(
    request: HttpRequest,
    project_id: str,
    mask_id: str,
    form: Annotated[str, Query(max_length=20)] = "png16",
    size: Literal["home", "final"] = "home",
) -> HttpResponse:
    """A mask as an image to paint in, grey, in any form that comes back as it is; on the ground's grid or as
    delivered."""
    chosen = mask_form(form)
    head = projects.head(project_id)
    document, state = head.document, head.revision
    mask = document.mask(mask_id)
    if mask is None:
        raise NotFound("That mask is no longer there.", field="mask")
    evaluation = engine().evaluation(document, cancel=gone(request), owner=project_id)
    grid = evaluation.home if size == "home" else document.final
    values = evaluation.map(MaskName(mask_id), grid)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"mask.{chosen.ending}"
        write_map(path, values, grid, chosen, engine().stripes)
        data = path.read_bytes()
    response = HttpResponse(data, content_type=format_named(chosen.reads).media)
    # The revision comes back with the name: what was changed outside is what differs from the mask of that one.
    name = f"{file_stem(document.name)}_{file_stem(mask.name)}_r{state.number}.{chosen.ending}"
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


def _kept_picture(
    file: UploadedFile, project_id: str, document: Project, cancel: Cancel
) -> tuple[str, str, tuple[int, int, int]]:
    """(asset, name, shape) of an uploaded picture that can be a mask; nothing stays when it cannot. Raw ones have the
    size of the ground, or that which is delivered, and are kept with it."""
    name = safe_file_name(file.name or "", "picture")
    shapes = (document.ground.home.shape, document.final.shape)
    with taken_in(store_upload(file, name)) as came, taken_in(incoming()) as sized:
        told = file_reader()(told_its_size, came, name, shapes, sized, cancel=cancel)
        path = sized if told else came
        shape = file_reader()(check_picture, path, "picture" if told else name, cancel=cancel)
        return keep(path, project_id), name, shape


@router.post(
    "/projects/{project_id}/take-back/{mask_id}", response={200: TakenBackOut, **Refused}, operation_id="take_back_mask"
)
def take_back(request: HttpRequest, project_id: str, mask_id: str, file: File[UploadedFile]) -> dict[str, Any]:
    """Look at an edited mask that came back: its size, its orientation, what was changed. It is kept aside."""
    document = projects.newest(project_id)
    if document.mask(mask_id) is None:
        raise NotFound("That mask is no longer there.", field="mask")
    asset, name, (rows, cols, _) = _kept_picture(file, project_id, document, gone(request))
    samples = lie_as(document.ground.home, document.final, rows, cols)
    sent, since = _as_sent(project_id, document, mask_id, name)
    evaluation = engine().evaluation(sent, cancel=gone(request), owner=project_id)
    returned = look_at_returned(evaluation, mask_id, asset_path(asset), samples)
    remark = size_remark(evaluation.home, document.final, rows, cols)
    return {
        "asset": asset,
        "name": name,
        "rows": rows,
        "columns": cols,
        "samples": samples,
        "sized": remark is None,
        "alike": returned.alike,
        "turn": returned.turn,
        "flip": returned.flip,
        "changed": returned.changed,
        "mean": returned.mean,
        "says": returned.says(remark),
        "since": since,
    }


def _as_sent(project_id: str, document: Project, mask_id: str, name: str) -> tuple[Project, int | None]:
    """The project as it was when a mask was sent out, as the file's name tells (``…_r12.png``), and that revision; the
    project as it is, where the name tells of none with that mask."""
    told = re.search(r"_r(\d{1,9})(?:\D[^.]*)?(?:\.[^.]*)?$", name)
    if told is not None:
        with suppress(NotFound):
            before = projects.at_revision(project_id, int(told.group(1)))
            same = before.ground.home == document.ground.home
            if before.mask(mask_id) is not None and same:
                return before, int(told.group(1))
    return document, None


@router.post(
    "/projects/{project_id}/take-back/{mask_id}/changed",
    response={200: ChangedOut, **Refused},
    operation_id="keep_changed_part",
)
def keep_changed_part(request: HttpRequest, project_id: str, mask_id: str, back: CameBack) -> dict[str, Any]:
    """What was changed in a mask that came back, as a picture of its own, kept aside until a line lays it over."""
    document = projects.newest(project_id)
    if document.mask(mask_id) is None:
        raise NotFound("That mask is no longer there.", field="mask")
    sent, since = _as_sent(project_id, document, mask_id, back.name)
    evaluation = engine().evaluation(sent, cancel=gone(request), owner=project_id)
    path = asset_path(back.asset)
    rows, cols, _ = file_reader()(check_picture, path, back.name, cancel=gone(request))
    sized = (rows, cols) in (evaluation.home.shape, sent.final.shape)
    made = changed_part(evaluation, mask_id, path, turn=back.turn, flip=back.flip, samples=back.samples, sized=sized)
    with taken_in(incoming()) as out:
        with PngWriter(out, made.samples.shape[0], made.samples.shape[1], 3, 16, engine().stripes) as png:
            png.write(made.samples)
        asset = keep(out, project_id)
    return {"asset": asset, "added": made.added, "removed": made.removed, "since": since}


@router.post(
    "/projects/{project_id}/finished", response={200: list[FinishedOut], **Refused}, operation_id="bring_finished"
)
def bring_finished(request: HttpRequest, project_id: str, files: File[list[UploadedFile]]) -> list[dict[str, Any]]:
    """Finished masks, many at once: each is read, kept aside and matched with a mask by name."""
    document = projects.newest(project_id)
    home, final = document.ground.home, document.final
    entries: list[dict[str, Any]] = []
    for file in files[:200]:
        name = safe_file_name(file.name or "", "picture")
        entry: dict[str, Any] = {
            "file": name,
            "asset": None,
            "title": title_from(name),
            "rows": 0,
            "columns": 0,
            "mask": None,
            "samples": "border",
            "problem": None,
            "remark": None,
        }
        try:
            asset, _, (rows, cols, _) = _kept_picture(file, project_id, document, gone(request))
        except MeadowError as error:
            entries.append({**entry, "problem": error.message})
            continue
        entries.append(
            {
                **entry,
                "asset": asset,
                "rows": rows,
                "columns": cols,
                "mask": mask_named_like(document, Path(name).stem),
                "remark": size_remark(home, final, rows, cols),
                "samples": lie_as(home, final, rows, cols),
            }
        )
    return entries


@router.post("/flat-projects", response={201: StateOut, **Refused}, operation_id="create_flat_project")
def create_flat(request: HttpRequest, new: FlatGround) -> HttpResponse:
    """A project on level ground of typed width and length, for masks without a heightmap."""
    ground = level_ground(new.width, new.length, new.samples)
    with taken_in(incoming()) as path:
        path.write_bytes(imagecodecs.png_encode(np.zeros((ground["rows"], ground["cols"]), np.uint16)))
        asset = keep(path)
    return shown(projects.create_on(new.name, {**ground, "asset": asset}), 201)
