"""Maps as raw bytes, their numbers, and the probe."""

from __future__ import annotations

import math
from dataclasses import asdict
from typing import Annotated, Any

import numpy as np
import orjson
from django.http import HttpRequest, HttpResponse
from ninja import Query, Router
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber, Cancelled
from zigzag_meadow.core.grid import Grid, Window, reference_grid
from zigzag_meadow.core.map_name import (
    map_name,
)
from zigzag_meadow.core.reports.profile import profile_line
from zigzag_meadow.core.reports.seen_map import SeenMap, seen_map
from zigzag_meadow.core.reports.stats import map_stats
from zigzag_meadow.core.resample import resample
from zigzag_meadow.server import projects
from zigzag_meadow.server.api.schemas import PreviewIn, ProbeOut, ProblemOut, ProfileOut, StatsOut
from zigzag_meadow.server.engine import engine, latest
from zigzag_meadow.server.gone import gone

router = Router(tags=["maps"])
MOST_SAMPLES = 1025 * 1025
TRIAL_SIDE = 513
"""Samples on the longer side of the ground on which seeds of long runs are tried."""
Refused = {404: ProblemOut, 409: ProblemOut, 422: ProblemOut}


def raw_response(values: NDArray[Any], grid: Grid, key: str, **headers: str) -> HttpResponse:
    """Typed bytes with their grid in headers and their key as ETag."""
    response = HttpResponse(np.ascontiguousarray(values).tobytes(), content_type="application/octet-stream")
    shape = {"rows": values.shape[0], "cols": values.shape[1], "channels": values.shape[2] if values.ndim == 3 else 1}
    response["X-Map-Shape"] = orjson.dumps(shape).decode()
    response["X-Map-Type"] = {"float32": "f32", "uint8": "u8"}[str(values.dtype)]
    response["X-Map-Grid"] = orjson.dumps(grid.as_json()).decode()
    response["ETag"] = f'"{key}"'
    response["Cache-Control"] = "private, no-cache"
    for name, value in headers.items():
        response[name.replace("_", "-")] = value
    return response


def view_grid(home: Grid, size: int | None) -> Grid:
    """The grid to look at: the reference grid, or a smaller one with ``size`` samples on the longer side."""
    grid = reference_grid(home)
    return grid if size is None else grid.with_longer_side(size)


@router.get("/projects/{project_id}/maps/{name}", operation_id="get_map")
def get_map(
    request: HttpRequest,
    project_id: str,
    name: str,
    size: Annotated[int | None, Query(ge=16, le=1025)] = None,
    window: Annotated[str | None, Query(max_length=60)] = None,
    draft: bool = False,
    final: bool = False,
) -> HttpResponse:
    """A map's overview, or with ``window`` = row0,row1,col0,col1 single samples of the home grid, or with ``final``
    of the grid that is delivered.

    ``draft``: rather at once than right. Where something long has to be computed first, the answer is measured on a
    much smaller ground and says so (X-Map-Draft).
    """
    wanted = map_name(name)
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    seen = seen_map(evaluation, wanted)
    full = evaluation.project.final if final and seen.home == evaluation.home else seen.home
    grid = full if window else view_grid(seen.home, size)
    if draft and not seen.is_quick:
        rough = seen.as_draft()
        return raw_response(rough.bytes(grid, grid.whole), grid, f"draft-{rough.key(grid)}", X_Map_Draft="1")
    if size is not None and seen.thin and not window:
        return _small(request, seen, grid)
    part = _window(window, grid) if window else grid.whole
    # From the numbers, never from the text: a tag is a header.
    corners = "_".join(str(n) for n in (part.row0, part.row1, part.col0, part.col1))
    tail = "" if window is None else f"-{corners}{'-final' if final else ''}"
    key = seen.key(grid) + tail
    if request.headers.get("If-None-Match") == f'"{key}"':
        return HttpResponse(status=304)
    return raw_response(seen.bytes(grid, part), grid, key, **_coarser(seen))


def _coarser(seen: SeenMap) -> dict[str, str]:
    """The header that says on how many samples it was made, where these are fewer than the ground's."""
    grid = seen.coarser
    return {} if grid is None else {"X_Map_Coarser": f"{grid.cols}x{grid.rows}"}


def _small(request: HttpRequest, seen: SeenMap, grid: Grid) -> HttpResponse:
    """A small picture of what may be thin, from the overview."""
    full = view_grid(seen.evaluation.home, None)
    key = f"{seen.key(full)}-{grid.key}"
    if request.headers.get("If-None-Match") == f'"{key}"':
        return HttpResponse(status=304)
    values = resample(seen.values(full).astype(np.float32), full, grid, "mask")
    return raw_response(seen.encoded(values), grid, key)


def _window(text: str, grid: Grid) -> Window:
    try:
        row0, row1, col0, col1 = (int(part) for part in text.split(","))
    except ValueError:
        raise BadNumber(f"A window is row0,row1,col0,col1, got {text[:60]!r}.", field="window") from None
    window = Window(row0, row1, col0, col1).clipped(grid.rows, grid.cols)
    if window.rows < 1 or window.cols < 1 or window.rows * window.cols > MOST_SAMPLES:
        raise BadNumber(f"A window holds 1 to {MOST_SAMPLES} samples of the ground, got {text}.", field="window")
    return window


def _part(shares: list[float], grid: Grid) -> Window:
    """The samples that lie in a rectangle, at least one, whose sides are shares of the ground."""
    west, north, east, south = shares
    row, col = min(int(north * grid.rows), grid.rows - 1), min(int(west * grid.cols), grid.cols - 1)
    return Window(row, max(math.ceil(south * grid.rows), row + 1), col, max(math.ceil(east * grid.cols), col + 1))


@router.post("/projects/{project_id}/preview", operation_id="preview_map")
def preview_map(request: HttpRequest, project_id: str, wanted: PreviewIn) -> HttpResponse:
    """A map after unsaved operations; answers 409 ``cancelled`` when a newer request of the slot came in."""
    latest.enter(wanted.tab, wanted.slot, wanted.sequence)

    left = gone(request)

    def superseded() -> bool:
        return latest.is_old(wanted.tab, wanted.slot, wanted.sequence) or left()

    if superseded():
        raise Cancelled("A newer preview was asked for.")
    document, _ = projects.changed(project_id, projects.newest(project_id), wanted.operations)
    side = TRIAL_SIDE if wanted.draft else 0
    evaluation = engine().evaluation(document, cancel=superseded, keep=False, owner=project_id, draft=side)
    seen = seen_map(evaluation, map_name(wanted.map))
    grid = view_grid(seen.home, wanted.shown or wanted.size)
    window = _part(wanted.part, grid) if wanted.part else grid.whole
    values, mean = (seen.moving if wanted.shown else seen.measured)(grid, window)
    # What is nearly right has no name under which what is right could be looked for.
    key = f"shown-{wanted.sequence}" if wanted.shown else seen.key(grid)
    corners = orjson.dumps([window.row0, window.row1, window.col0, window.col1]).decode()
    told = {} if wanted.shown else _coarser(seen)
    return raw_response(values, grid, key, X_Map_Mean=f"{mean:.6f}", X_Map_Window=corners, **told)


@router.get("/projects/{project_id}/stats", response={200: StatsOut, **Refused}, operation_id="get_stats")
def get_stats(request: HttpRequest, project_id: str, name: str) -> dict[str, Any]:
    """Ends, mean and histogram on the reference grid; for 0–1 maps the mean is the coverage."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    told = map_stats(seen_map(evaluation, map_name(name)))
    plain = asdict(told)
    return {**plain.pop("summary"), **plain, "name": name}


@router.get("/projects/{project_id}/probe", response={200: ProbeOut, **Refused}, operation_id="probe")
def probe(
    request: HttpRequest, project_id: str, row: int, col: int, names: Annotated[str, Query(max_length=2000)]
) -> dict[str, Any]:
    """Values of maps (comma-separated names) at one home sample, from the arrays."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request))
    grid = evaluation.home
    if not (0 <= row < grid.rows and 0 <= col < grid.cols):
        raise BadNumber(f"Row and column must be on the ground, got {row}, {col}.", field="row")
    here = Window(row, row + 1, col, col + 1)
    east, south = grid.place_of(row, col)
    values = {name: evaluation.map(name, grid, here) for name in names.split(",") if name}
    numbers = {name: float(v[0, 0]) for name, v in values.items() if v.ndim == 2}
    return {
        "row": row,
        "col": col,
        "east": east,
        "north": grid.length - south,
        "values": {name: v if math.isfinite(v) else None for name, v in numbers.items()},
    }


@router.get("/projects/{project_id}/profile", response={200: ProfileOut, **Refused}, operation_id="profile")
def profile(
    request: HttpRequest, project_id: str, name: str, row0: float, col0: float, row1: float, col1: float
) -> dict[str, Any]:
    """A map and the height along a straight line between two places of the home grid, a value a sample."""
    evaluation = engine().evaluation(projects.newest(project_id), cancel=gone(request), owner=project_id)
    line = profile_line(evaluation, map_name(name), (row0, col0), (row1, col1))
    return {"name": name, **{part: [_number(v) for v in values] for part, values in line.items()}}


def _number(value: float) -> float | None:
    return float(value) if math.isfinite(value) else None
