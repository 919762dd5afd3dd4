"""Which deliveries are kept. The rule is told where deliveries are shown, and holds for what is finished."""

from __future__ import annotations

import shutil
from collections.abc import Sequence

from django.db import transaction

from zigzag_meadow.core.errors import Conflict, NotFound
from zigzag_meadow.server.jobs import delivery_folder
from zigzag_meadow.server.models import Delivery, Destination, Job

__all__ = ["KEPT", "NEWEST", "clear_old", "delete", "kept_because", "kept_of", "rename"]

NEWEST = 10
KEPT = {"named": "it has a name", "folder": "a folder holds it", "target": "the last for its target", "newest": ""}


def kept_because(deliveries: Sequence[Delivery], held: set[int]) -> dict[int, str]:
    """Why each is kept, by number; those that are not are left out. ``deliveries``: all of a project, newest first;
    ``held``: numbers that folders hold."""
    done = [item for item in deliveries if item.job.state == "done"]
    last = {item.target: item.number for item in reversed(done)}
    found: dict[int, str] = {}
    for at, item in enumerate(deliveries):
        if item.name:
            found[item.number] = "named"
        elif item.number in held:
            found[item.number] = "folder"
        elif last.get(item.target) == item.number:
            found[item.number] = "target"
        elif at < NEWEST or item.job.state in ("waiting", "running"):
            found[item.number] = "newest"
    return found


def kept_of(project_id: str) -> dict[int, str]:
    """:func:`kept_because` of all deliveries of a project."""
    rows = Delivery.objects.filter(project_id=project_id).select_related("job").order_by("-number")
    return kept_because(list(rows), _held(project_id))


def _held(project_id: str) -> set[int]:
    rows = Destination.objects.filter(project_id=project_id).values_list("holds", "putting")
    return {number for row in rows for number in row if number is not None}


def clear_old(project_id: str) -> list[int]:
    """Clear what the rule does not keep; returns the numbers."""
    # One look in one transaction: what is asked for meanwhile is neither among these nor among those that are kept.
    with transaction.atomic():
        rows = list(Delivery.objects.filter(project_id=project_id).select_related("job").order_by("-number"))
        kept = {*kept_because(rows, _held(project_id)), *_checked(project_id)}
        gone = [item for item in rows if item.number not in kept]
        for item in gone:
            _forget(item)
    for item in gone:
        _take_away(item)
    return [item.number for item in gone]


def _checked(project_id: str) -> list[int]:
    """Numbers of deliveries whose files are being read back."""
    jobs = Job.objects.filter(project_id=project_id, kind="fit", state__in=("waiting", "running"))
    return [job.params["number"] for job in jobs]


def _forget(delivery: Delivery) -> None:
    Job.objects.filter(project_id=delivery.project_id, kind="fit", params__number=delivery.number).delete()
    # Its own row goes with the job's; this one still says where its files lie.
    Job.objects.filter(id=delivery.job_id).delete()


def _take_away(delivery: Delivery) -> None:
    """After its row: files without a row are in nobody's way, a row without files is."""
    shutil.rmtree(delivery_folder(delivery), ignore_errors=True)


def _find(project_id: str, number: int) -> Delivery:
    found = Delivery.objects.filter(project_id=project_id, number=number).select_related("job").first()
    if found is None:
        raise NotFound(f"There is no delivery {number} of this project.")
    return found


def delete(project_id: str, number: int) -> None:
    """Delete a delivery with its files; what lies in a folder of the artist's own stays there. Raises
    :class:`NotFound`, and :class:`Conflict` while it is made, put or read back."""
    with transaction.atomic():
        delivery = _find(project_id, number)
        putting = Destination.objects.filter(project_id=project_id, putting=number).exists()
        if delivery.job.state in ("waiting", "running") or number in _checked(project_id) or putting:
            raise Conflict(f"Delivery {number} is on its way or being checked. Stop that first, then delete it.")
        _forget(delivery)
    _take_away(delivery)


def rename(project_id: str, number: int, name: str) -> None:
    """Call a delivery by a name, which keeps it; an empty one takes the name away. Raises :class:`NotFound`."""
    Delivery.objects.filter(id=_find(project_id, number).id).update(name=name.strip())
