"""Files of folders that may be looked into: the heightmap of a project watched in one of them, and what it changes."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any, Literal

from django.conf import settings
from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from zigzag_meadow.core.formats.names import safe_file_name
from zigzag_meadow.core.ground.diagnose import inspect_file
from zigzag_meadow.core.project.edits.ops_ground import held_heights
from zigzag_meadow.core.reports.height_change import height_change
from zigzag_meadow.server import folders, projects
from zigzag_meadow.server.api.projects import inspected, replacing
from zigzag_meadow.server.api.schemas import ChangeIn, InspectionOut, ProblemOut
from zigzag_meadow.server.assets import incoming, keep, taken_in
from zigzag_meadow.server.engine import engine, file_reader
from zigzag_meadow.server.gone import gone

router = Router(tags=["folders"])
Refused = {404: ProblemOut, 409: ProblemOut, 413: ProblemOut, 422: ProblemOut}


class FolderFile(Schema):
    """A file below one of the folders that may be looked into, by the folder's number."""

    folder: Annotated[int, Field(ge=0)]
    name: Annotated[str, Field(min_length=1, max_length=400)]


class FolderFileOut(FolderFile):
    bytes: int


class WatchOut(Schema):
    """``allowed``: whether there is a folder to look into. ``file``: what is watched; ``state``: whether it changed
    since it was last seen."""

    allowed: bool
    file: FolderFile | None
    state: Literal["same", "changed", "writing", "gone"] | None


class HeightChangeOut(Schema):
    """What another heightmap changes: the share of the ground, metres in the mean and at most, and where; ``says``:
    what its stored numbers stand for."""

    share: float
    mean: float
    largest: float
    east: float
    south: float
    low: float
    high: float
    says: str


def _told(project_id: str) -> dict[str, Any]:
    projects.find(project_id)
    seen = folders.look(project_id)
    file = None if seen is None else {"folder": seen.folder, "name": seen.name}
    return {"allowed": bool(settings.MEADOW_FOLDERS), "file": file, "state": None if seen is None else seen.state}


@router.get("/folder-files", response=list[FolderFileOut], operation_id="list_folder_files")
def list_files(request: HttpRequest) -> list[dict[str, Any]]:
    """Files that may be watched, newest first."""
    return folders.files_there()


@router.get("/projects/{project_id}/watch", response={200: WatchOut, **Refused}, operation_id="get_watch")
def get_watch(request: HttpRequest, project_id: str) -> dict[str, Any]:
    """Which file is watched as the heightmap of a project, and whether it changed."""
    return _told(project_id)


@router.post("/projects/{project_id}/watch", response={200: WatchOut, **Refused}, operation_id="start_watch")
def start_watch(request: HttpRequest, project_id: str, file: FolderFile) -> dict[str, Any]:
    """Watch a file from now on."""
    projects.find(project_id)
    folders.watch(project_id, file.folder, file.name)
    return _told(project_id)


@router.delete("/projects/{project_id}/watch", response={204: None, **Refused}, operation_id="stop_watch")
def stop_watch(request: HttpRequest, project_id: str) -> Status[None]:
    """Watch nothing any more."""
    projects.find(project_id)
    folders.forget(project_id)
    return Status(204, None)


@router.post("/projects/{project_id}/watch/seen", response={200: WatchOut, **Refused}, operation_id="watch_seen")
def seen(request: HttpRequest, project_id: str) -> dict[str, Any]:
    """The file is known as it is now: it was taken over, or is to be left."""
    projects.find(project_id)
    folders.mark_seen(project_id)
    return _told(project_id)


@router.post("/folder-files/look", response={200: InspectionOut, **Refused}, operation_id="look_at_folder_file")
def look_at_file(request: HttpRequest, file: FolderFile) -> dict[str, Any]:
    """Look at a file of a folder as at one that is brought in; a copy is kept aside."""
    with taken_in(incoming()) as path:
        name = safe_file_name(folders.copied(file.folder, file.name, path))
        inspection = file_reader()(inspect_file, path, name, cancel=gone(request))
        return inspected(keep(path), inspection)


@router.post(
    "/projects/{project_id}/height-change", response={200: HeightChangeOut, **Refused}, operation_id="height_change"
)
def change(request: HttpRequest, project_id: str, wanted: ChangeIn) -> dict[str, Any]:
    """What another heightmap would change, before it is taken over."""
    document = projects.newest(project_id)
    operation = replacing(wanted)
    held = held_heights(document.ground, operation.file, operation.hold or document.ground.holds)
    after, _ = projects.changed(project_id, document, [operation])
    stop = gone(request)
    before = engine().evaluation(document, cancel=stop, owner=project_id)
    made = engine().evaluation(after, cancel=stop, keep=False, owner=project_id)
    return {**asdict(height_change(before, made)), "says": held.says}
