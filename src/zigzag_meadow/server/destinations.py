"""Where the files of a project also go on this machine: a folder below one that was allowed at the start.

It is a setting of the machine: no document, kit or project file ever holds a path. Beside it stands what was put there,
by checksum, so that nothing is replaced that somebody else wrote or changed.
"""

from __future__ import annotations

import fcntl
import logging
import os
from collections.abc import Collection, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import DatabaseError, transaction

from zigzag_meadow.core.delivery.placing import in_the_way, place
from zigzag_meadow.core.errors import Conflict, MeadowError
from zigzag_meadow.server.below import below, walked
from zigzag_meadow.server.jobs import delivery_folder
from zigzag_meadow.server.models import Delivery, Destination
from zigzag_meadow.server.problems import no_room

__all__ = ["choose", "destination", "folder_number", "forget", "places", "put_into_place", "take_up"]

log = logging.getLogger(__name__)
MOST_PLACES = 400


def folder_number(chosen: Destination) -> int:
    """The number of its allowed folder; −1 where it is none any more."""
    return settings.MEADOW_FOLDERS.index(chosen.root) if chosen.root in settings.MEADOW_FOLDERS else -1


def places() -> list[dict[str, object]]:
    """Folders that may be delivered into: number of the allowed one, and the name below it (empty for itself)."""
    found: list[dict[str, object]] = []
    for number, root in enumerate(Path(folder) for folder in settings.MEADOW_FOLDERS):
        for at, _ in walked(root):
            name = str(at.relative_to(root))
            found.append({"folder": number, "name": "" if name == "." else name, "root": root.name})
            if len(found) >= MOST_PLACES:
                return found
    return found


def destination(project_id: str) -> Destination | None:
    """Where files of a project also go; None where nowhere."""
    return Destination.objects.filter(project_id=project_id, chosen=True).first()


def choose(project_id: str, folder: int, name: str) -> None:
    """Deliver there too from now on; what was put there before is known again. Raises :class:`NotFound`."""
    below(folder, name, "folder")
    with transaction.atomic():
        forget(project_id)
        Destination.objects.update_or_create(
            project_id=project_id, root=settings.MEADOW_FOLDERS[folder], name=name, defaults={"chosen": True}
        )


def forget(project_id: str) -> None:
    """Deliver nowhere else any more; what lies there stays, and stays known."""
    Destination.objects.filter(project_id=project_id, chosen=True).update(chosen=False)


@contextmanager
def _alone() -> Iterator[None]:
    """One at a time puts files anywhere, whichever process it is; the kernel lets go when that process ends."""
    with (Path(settings.MEADOW_DATA) / "putting.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield


def take_up() -> None:
    """Go on with what was cut off while files were put into a folder."""
    for cut in Destination.objects.exclude(putting=None):
        with _alone():
            # Whoever was at it may have come to its end meanwhile.
            again = Destination.objects.filter(id=cut.id).exclude(putting=None).first()
            if again is None or again.putting is None:
                continue
            delivery = Delivery.objects.filter(project_id=again.project_id, number=again.putting).first()
            if delivery is None:
                Destination.objects.filter(id=again.id).update(putting=None)
                continue
            log.warning("putting delivery %s into its folder once more: it was cut off", delivery.number)
            _told(delivery, _put(again, delivery, ()))


def put_into_place(project_id: str, number: int, over: Collection[str] = ()) -> dict[str, Any] | None:
    """Put the files of a delivery into the project's folder, and note what came of it; None where it has none.

    ``over``: names that may be replaced although they are not ours: those that a person was asked about. Never raises:
    the delivery is there, whatever becomes of the folder.
    """
    with _alone():
        chosen = destination(project_id)
        if chosen is None:
            return None
        delivery = Delivery.objects.get(project_id=project_id, number=number)
        return _told(delivery, _put(chosen, delivery, over))


def _put(chosen: Destination, delivery: Delivery, over: Collection[str]) -> dict[str, Any]:
    """Put the files there; returns what came of it."""
    files = delivery_folder(delivery) / "files"
    told: dict[str, Any] = {"folder": _title(chosen), "written": 0, "same": 0, "trouble": None, "way": []}
    row = Destination.objects.filter(id=chosen.id)
    try:
        folder = below(folder_number(chosen), chosen.name, "folder")
        names = [path.name for path in files.iterdir()]
        row.update(putting=delivery.number)
        placed = place(files, folder, chosen.put, over)
        told |= {"written": placed.written, "same": placed.same}
        row.update(put=placed.put, holds=delivery.number)
    except Conflict as error:
        told |= {"trouble": error.message, "way": in_the_way(folder, names, chosen.put)}
    except MeadowError as error:
        told["trouble"] = error.message
    except OSError as error:
        told["trouble"] = _disk(error)
    row.update(putting=None)
    return told


def _disk(error: OSError) -> str:
    """What a folder's disk said, in a sentence."""
    try:
        return no_room(error).message
    except OSError:
        return f"The folder did not take the files: {error.strerror or error}. Nothing of the delivery is lost."


def _told(delivery: Delivery, told: dict[str, Any]) -> dict[str, Any]:
    try:
        Delivery.objects.filter(id=delivery.id).update(placed=told)
    except DatabaseError:
        # The files lie where they lie; only the word of it is lost, and another run says it again.
        return told
    return told


def _title(chosen: Destination) -> str:
    root = Path(chosen.root).name
    return f"{root} / {chosen.name.replace(os.sep, ' / ')}" if chosen.name else root
