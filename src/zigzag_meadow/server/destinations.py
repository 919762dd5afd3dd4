"""Where the files of a project also go on this machine: a folder below one that was allowed at the start.

It is a setting of the machine: no document, kit or project file ever holds a path. Beside it stands what was put there,
by checksum, so that nothing is replaced that somebody else wrote or changed.
"""

from __future__ import annotations

import os
import threading
from collections.abc import Collection
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any

import orjson
from django.conf import settings
from django.db import DatabaseError

from zigzag_meadow.core.delivery.placing import in_the_way, place
from zigzag_meadow.core.errors import Conflict, MeadowError, NotFound
from zigzag_meadow.server.jobs import delivery_folder
from zigzag_meadow.server.models import Delivery
from zigzag_meadow.server.problems import no_room

__all__ = ["Destination", "choose", "destination", "forget", "places", "put_into_place"]

MOST_PLACES = 400
DEEPEST = 4
_lock = threading.Lock()


@dataclass(frozen=True, slots=True)
class Destination:
    """A folder below an allowed one (``root``), and checksums of what was put there by name."""

    root: str
    name: str
    put: dict[str, str] = field(default_factory=dict)

    @property
    def folder(self) -> int:
        """The number of the allowed folder; −1 where it is none any more."""
        return settings.MEADOW_FOLDERS.index(self.root) if self.root in settings.MEADOW_FOLDERS else -1


def places() -> list[dict[str, object]]:
    """Folders that may be delivered into: number of the allowed one, and the name below it (empty for itself)."""
    found: list[dict[str, object]] = []
    for number, root in enumerate(Path(folder) for folder in settings.MEADOW_FOLDERS):
        for at, inner, _ in os.walk(root):
            deep = len(Path(at).relative_to(root).parts)
            inner[:] = [] if deep >= DEEPEST else sorted(one for one in inner if not one.startswith("."))
            name = str(Path(at).relative_to(root))
            found.append({"folder": number, "name": "" if name == "." else name, "root": root.name})
            if len(found) >= MOST_PLACES:
                return found
    return found


def _resolved(folder: int, name: str) -> Path:
    """A folder below an allowed one, links resolved. Raises :class:`NotFound` for anything that leads out of it."""
    roots = [Path(one) for one in settings.MEADOW_FOLDERS]
    if not 0 <= folder < len(roots) or "\0" in name:
        raise NotFound("No such folder may be delivered into. Start the application with --folder.", field="folder")
    path = (roots[folder] / name).resolve()
    if not path.is_relative_to(roots[folder]) or not path.is_dir():
        raise NotFound(f"There is no folder {Path(name).name[:80] or 'of that name'} there any more.", field="name")
    return path


def _file() -> Path:
    path: Path = settings.MEADOW_DATA / "destinations.json"
    return path


def _all() -> dict[str, Destination]:
    try:
        return {project: Destination(**entry) for project, entry in orjson.loads(_file().read_bytes()).items()}
    except (FileNotFoundError, orjson.JSONDecodeError, TypeError, AttributeError):
        # Nothing was chosen yet, or the file is damaged: files go nowhere else then, and what lies there stays.
        return {}


def _keep(every: dict[str, Destination]) -> None:
    aside = _file().with_suffix(".new")
    aside.write_bytes(orjson.dumps({project: asdict(entry) for project, entry in every.items()}))
    aside.replace(_file())


def destination(project_id: str) -> Destination | None:
    """Where files of a project also go; None where nowhere."""
    return _all().get(project_id)


def choose(project_id: str, folder: int, name: str) -> None:
    """Deliver there too from now on; what was put there before is remembered. Raises :class:`NotFound`."""
    _resolved(folder, name)
    with _lock:
        every = _all()
        root, before = settings.MEADOW_FOLDERS[folder], every.get(project_id)
        same = before is not None and (before.root, before.name) == (root, name)
        _keep({**every, project_id: before if same and before is not None else Destination(root, name)})


def forget(project_id: str) -> None:
    """Deliver nowhere else any more; what lies there stays."""
    with _lock:
        _keep({other: entry for other, entry in _all().items() if other != project_id})


def put_into_place(project_id: str, number: int, over: Collection[str] = ()) -> dict[str, Any] | None:
    """Put the files of a delivery into the project's folder, and note what came of it; None where it has none.

    ``over``: names that may be replaced although they are not ours: those that a person was asked about. Never raises:
    the delivery is there, whatever becomes of the folder.
    """
    chosen = destination(project_id)
    if chosen is None:
        return None
    delivery = Delivery.objects.get(project_id=project_id, number=number)
    files = delivery_folder(delivery) / "files"
    told: dict[str, Any] = {"folder": _title(chosen), "written": 0, "same": 0, "trouble": None, "way": []}
    try:
        folder = _resolved(chosen.folder, chosen.name)
        names = [path.name for path in files.iterdir()]
        placed = place(files, folder, chosen.put, over)
        told |= {"written": placed.written, "same": placed.same}
        with _lock:
            _keep({**_all(), project_id: Destination(chosen.root, chosen.name, placed.put)})
    except Conflict as error:
        told |= {"trouble": error.message, "way": in_the_way(folder, names, chosen.put)}
    except MeadowError as error:
        told["trouble"] = error.message
    except OSError as error:
        told["trouble"] = no_room(error).message
    try:
        Delivery.objects.filter(id=delivery.id).update(placed=told)
    except DatabaseError:
        # The files lie where they lie; only the word of it is lost, and another run says it again.
        return told
    return told


def _title(chosen: Destination) -> str:
    root = Path(chosen.root).name
    return f"{root} / {chosen.name.replace(os.sep, ' / ')}" if chosen.name else root
