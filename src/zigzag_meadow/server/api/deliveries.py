"""Deliveries, fit checks and the jobs that make them."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import orjson
from django.conf import settings
from django.db.models import OuterRef, QuerySet, Subquery
from django.http import FileResponse, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from ninja import Router, Status

from zigzag_meadow.core.delivery.run import delivery_pieces
from zigzag_meadow.core.errors import BadNumber, Conflict, NotFound
from zigzag_meadow.core.fit.page import fit_page
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.fit.seen_maps import shown_map
from zigzag_meadow.core.fit.typed import typed_numbers
from zigzag_meadow.core.formats.names import file_stem, safe_file_name
from zigzag_meadow.server import clearing, destinations, projects
from zigzag_meadow.server.api.delivery_schemas import (
    DeliverIn,
    DeliveryName,
    DeliveryOut,
    DestinationOut,
    FitIn,
    JobOut,
    PlacedOut,
    PlaceIn,
    PlaceName,
    TypedOut,
)
from zigzag_meadow.server.api.maps import raw_response
from zigzag_meadow.server.api.schemas import ProblemOut
from zigzag_meadow.server.api.sending import sent
from zigzag_meadow.server.jobs import Tiles, ask_cancel, delivery_folder, request_delivery, request_fit
from zigzag_meadow.server.models import Delivery, Job

router = Router(tags=["deliveries"])
PLAIN_PAGE = "default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:"
Refused = {404: ProblemOut, 409: ProblemOut, 413: ProblemOut, 422: ProblemOut}
TYPES = {
    ".html": "text/html; charset=utf-8",
    ".json": "application/json",
    ".txt": "text/plain; charset=utf-8",
    ".png": "image/png",
    ".glsl": "text/plain; charset=utf-8",
    ".mtlx": "text/plain; charset=utf-8",
}


def job_out(job: Job) -> dict[str, Any]:
    number = job.params.get("number")
    if job.kind == "delivery":
        number = Delivery.objects.filter(job=job).values_list("number", flat=True).first()
    names = [name for name in JobOut.model_fields if name != "number"]
    return {**{name: getattr(job, name) for name in names}, "number": number}


def _shown(delivery: Delivery, kept: dict[int, str]) -> dict[str, Any]:
    folder = delivery_folder(delivery)
    files = [{**item, "key": delivery.keys.get(item["file"], "")} for item in delivery.files]
    return {
        "number": delivery.number,
        "name": delivery.name,
        "kept": clearing.KEPT[kept.get(delivery.number, "newest")],
        "revision": delivery.revision,
        "job": job_out(delivery.job),
        "files": files,
        "maps": len(delivery.keys),
        "placed": delivery.placed,
        "only": delivery.job.params.get("only", []),
        "tiles": delivery.job.params.get("tiles", []),
        "again": delivery.job.params.get("again", False),
        "folder": str(folder / "files"),
        "fit": delivery.fit,
        "fit_at": delivery.fit_at,
        "check": _check(delivery),
    }


def _deliveries(project_id: str) -> QuerySet[Delivery]:
    """Deliveries with their job and their newest fit check, as of one moment: a check that just ended is there with
    what it found, or not at all."""
    checks = Job.objects.filter(project=OuterRef("project"), kind="fit", params__number=OuterRef("number"))
    newest = checks.order_by("-created_at")
    rows = Delivery.objects.filter(project_id=project_id).select_related("job")
    return rows.annotate(check_id=Subquery(newest.values("id")[:1]), check_state=Subquery(newest.values("state")[:1]))


def _check(delivery: Any) -> dict[str, Any] | None:
    if delivery.check_state not in ("waiting", "running", "failed"):
        return None
    return {**job_out(Job.objects.get(id=delivery.check_id)), "state": delivery.check_state}


def _find(project_id: str, number: int) -> Delivery:
    projects.find(project_id)
    delivery = _deliveries(project_id).filter(number=number).first()
    if delivery is None:
        raise NotFound(f"There is no delivery {number} of this project.")
    return delivery


@router.get(
    "/projects/{project_id}/deliveries", response={200: list[DeliveryOut], **Refused}, operation_id="list_deliveries"
)
def list_deliveries(request: HttpRequest, project_id: str) -> list[dict[str, Any]]:
    """The newest twenty deliveries, newest first. A file whose key is not among what the project writes now (see
    the project's ``writes``) needs delivering again."""
    projects.find(project_id)
    kept = clearing.kept_of(project_id)
    return [_shown(row, kept) for row in _deliveries(project_id)[:20]]


@router.post("/projects/{project_id}/deliveries", response={202: JobOut, **Refused}, operation_id="start_delivery")
def start_delivery(request: HttpRequest, project_id: str, wanted: DeliverIn | None = None) -> Status[Any]:
    """All that is chosen, or only some of it: ``["height"]`` to look at the ground first."""
    chosen = wanted or DeliverIn()
    if chosen.again and chosen.tiles is None:
        raise BadNumber("Which tiles are written again is not said. Choose at least one.", field="tiles")
    tiles = None if chosen.tiles is None else Tiles(chosen.tiles, chosen.again)
    return Status(202, job_out(request_delivery(project_id, chosen.only, chosen.then_fit, tiles)))


@router.delete(
    "/projects/{project_id}/deliveries/{number}", response={204: None, **Refused}, operation_id="delete_delivery"
)
def delete_delivery(request: HttpRequest, project_id: str, number: int) -> Status[None]:
    """Delete a delivery and its files; what was put into a folder stays there."""
    projects.find(project_id)
    clearing.delete(project_id, number)
    return Status(204, None)


@router.post(
    "/projects/{project_id}/deliveries/{number}/name", response={204: None, **Refused}, operation_id="name_delivery"
)
def name_delivery(request: HttpRequest, project_id: str, number: int, wanted: DeliveryName) -> Status[None]:
    """Call a delivery by a name: it is kept until it is deleted."""
    projects.find(project_id)
    clearing.rename(project_id, number, wanted.name)
    return Status(204, None)


@router.post(
    "/projects/{project_id}/deliveries/{number}/place",
    response={200: PlacedOut, **Refused},
    operation_id="place_delivery",
)
def place(request: HttpRequest, project_id: str, number: int, wanted: PlaceIn) -> dict[str, Any]:
    """Put the files of a delivery into the project's folder (again); ``over``: these although they are not ours."""
    delivery = _find(project_id, number)
    if delivery.job.state != "done":
        raise Conflict(f"Delivery {number} is not finished: there are no files to put anywhere yet.")
    told = destinations.put_into_place(project_id, number, wanted.over)
    if told is None:
        raise NotFound("This project has no folder to deliver into. Choose one first.")
    return told


def _destination(project_id: str) -> dict[str, Any]:
    chosen = destinations.destination(project_id)
    there = None if chosen is None else {"folder": destinations.folder_number(chosen), "name": chosen.name}
    return {"allowed": bool(settings.MEADOW_FOLDERS), "chosen": there, "places": destinations.places()}


@router.get(
    "/projects/{project_id}/destination", response={200: DestinationOut, **Refused}, operation_id="get_destination"
)
def get_destination(request: HttpRequest, project_id: str) -> dict[str, Any]:
    """Where files also go on this machine, and where they could."""
    projects.find(project_id)
    return _destination(project_id)


@router.post(
    "/projects/{project_id}/destination", response={200: DestinationOut, **Refused}, operation_id="choose_destination"
)
def choose_destination(request: HttpRequest, project_id: str, wanted: PlaceName) -> dict[str, Any]:
    projects.find(project_id)
    destinations.choose(project_id, wanted.folder, wanted.name)
    return _destination(project_id)


@router.delete(
    "/projects/{project_id}/destination", response={200: DestinationOut, **Refused}, operation_id="forget_destination"
)
def forget_destination(request: HttpRequest, project_id: str) -> dict[str, Any]:
    projects.find(project_id)
    destinations.forget(project_id)
    return _destination(project_id)


@router.post(
    "/projects/{project_id}/deliveries/{number}/fit", response={202: JobOut, **Refused}, operation_id="start_fit"
)
def start_fit(request: HttpRequest, project_id: str, number: int, wanted: FitIn | None = None) -> Status[Any]:
    """Read the files back; ``typed``: with what was typed there in place of the note's numbers."""
    projects.find(project_id)
    typed = None if wanted is None or wanted.typed is None else wanted.typed.model_dump(mode="json")
    return Status(202, job_out(request_fit(project_id, number, typed)))


@router.get(
    "/projects/{project_id}/deliveries/{number}/typed",
    response={200: TypedOut, **Refused},
    operation_id="get_typed_numbers",
)
def get_typed_numbers(request: HttpRequest, project_id: str, number: int) -> dict[str, Any]:
    """Every number and setting that a delivery's note asks to be typed, and the places to read off."""
    note = Rehearsal(delivery_folder(_find(project_id, number)) / "files").note
    return {
        "numbers": [asdict(item) for item in typed_numbers(note)],
        "settings": [item.model_dump() for item in note.neutral],
        "places": [item.model_dump() for item in note.check_points],
        "layers": [item.title for item in note.legend],
    }


@router.get("/projects/{project_id}/deliveries/{number}/zip", operation_id="get_delivery_zip")
def get_zip(request: HttpRequest, project_id: str, number: int) -> HttpResponseBase:
    """All files in one zip."""
    delivery = _find(project_id, number)
    folder = delivery_folder(delivery) / "files"
    if not folder.is_dir():
        raise NotFound(f"The files of delivery {number} are not there. Deliver again.")
    name = f"{file_stem(delivery.project.name)}_{number}.zip"
    return sent(delivery_pieces(folder), name)


@router.get("/projects/{project_id}/deliveries/{number}/files/{file}", operation_id="get_delivery_file")
def get_file(request: HttpRequest, project_id: str, number: int, file: str) -> HttpResponseBase:
    """One file as it was written."""
    path = delivery_folder(_find(project_id, number)) / "files" / safe_file_name(file)
    if not path.is_file():
        raise NotFound(f"There is no file {safe_file_name(file)} in delivery {number}.")
    kind = TYPES.get(path.suffix, "application/octet-stream")
    response = FileResponse(path.open("rb"), content_type=kind)
    response["Content-Security-Policy"] = PLAIN_PAGE
    return response


@router.get("/projects/{project_id}/deliveries/{number}/fit/maps/{name}", operation_id="get_fit_map")
def get_fit_map(request: HttpRequest, project_id: str, number: int, name: str) -> HttpResponse:
    """``N-rebuilt``, ``N-meant`` or ``N-difference`` of the map N, as the last fit check saw it: heights in metres,
    else as stored."""
    delivery = _find(project_id, number)
    values = shown_map(delivery_folder(delivery) / "fit", name)
    home = projects.at_revision(project_id, delivery.revision).ground.home
    stamp = delivery.fit_at.isoformat() if delivery.fit_at else ""
    return raw_response(values, home.resized(*values.shape[:2]), f"fit-{delivery.id}-{name}-{stamp}")


@router.get("/projects/{project_id}/deliveries/{number}/fit/report.{ending}", operation_id="get_fit_report")
def get_fit_report(request: HttpRequest, project_id: str, number: int, ending: str) -> HttpResponse:
    """The last fit check as a page to print or send (``html``) or as ``json``."""
    delivery = _find(project_id, number)
    folder = delivery_folder(delivery) / "fit"
    if ending not in ("html", "json") or not (folder / "report.json").is_file():
        raise NotFound(
            f"There is no fit check of delivery {number} as {ending[:20]}. Run it first, then ask for html or json."
        )
    report = (folder / "report.json").read_bytes()
    if ending == "json":
        return HttpResponse(report, content_type="application/json")
    page = fit_page(orjson.loads(report), delivery.project.name, number, folder)
    response = HttpResponse(page, content_type=TYPES[".html"])
    response["Content-Security-Policy"] = PLAIN_PAGE
    return response


@router.get("/jobs/{job_id}", response={200: JobOut, **Refused}, operation_id="get_job")
def getjob_out(request: HttpRequest, job_id: str) -> dict[str, Any]:
    job = Job.objects.filter(id=job_id).first()
    if job is None:
        raise NotFound("There is no such job.")
    return job_out(job)


@router.get("/projects/{project_id}/jobs", response={200: list[JobOut], **Refused}, operation_id="list_jobs")
def list_jobs(request: HttpRequest, project_id: str) -> list[dict[str, Any]]:
    """Jobs of a project that wait or run."""
    projects.find(project_id)
    return [job_out(job) for job in Job.objects.filter(project_id=project_id, state__in=("waiting", "running"))]


@router.post("/jobs/{job_id}/cancel", response={200: JobOut, **Refused}, operation_id="cancel_job")
def canceljob_out(request: HttpRequest, job_id: str) -> dict[str, Any]:
    return job_out(ask_cancel(job_id))
