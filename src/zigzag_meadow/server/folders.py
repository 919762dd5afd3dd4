"""Folders of this machine that may be looked into, and the heightmap of a project that is watched in one of them.

Which they are was said when the application was started; what is watched is a setting of the machine. No document, kit
or project file ever holds a path.
"""

from __future__ import annotations

import os
import shutil
import threading
import time
from dataclasses import asdict, dataclass
from pathlib import Path

import orjson
from django.conf import settings

from zigzag_meadow.core.errors import Conflict, NotFound
from zigzag_meadow.core.formats.limits import check_bytes

__all__ = ["Seen", "Watched", "copied", "files_there", "forget", "look", "mark_seen", "watch"]

MOST_FILES = 500
DEEPEST = 4
RESTS_SECONDS = 1.0
"""A file that was written to more lately than this may not be finished."""
_lock = threading.Lock()


@dataclass(frozen=True, slots=True)
class Watched:
    """A file below one of the folders (``root``); ``size`` and ``changed`` (nanoseconds) as it was last
    seen."""

    root: str
    name: str
    size: int
    changed: int

    @property
    def folder(self) -> int:
        """The folder's number among those that may be looked into now; −1 where it is none of them any more."""
        return settings.MEADOW_FOLDERS.index(self.root) if self.root in settings.MEADOW_FOLDERS else -1


@dataclass(frozen=True, slots=True)
class Seen:
    """What is watched now: ``state`` *same*, *changed* since it was last seen, *writing*, or *gone*."""

    folder: int
    name: str
    state: str


def _folders() -> list[Path]:
    return [Path(folder) for folder in settings.MEADOW_FOLDERS]


def _resolved(folder: int, name: str) -> Path:
    """A file below an allowed folder, links resolved. Raises :class:`NotFound` for anything that leads out of it."""
    folders = _folders()
    if not 0 <= folder < len(folders) or "\0" in name:
        raise NotFound("No such folder may be looked into. Start the application with --folder.", field="folder")
    root = folders[folder]
    path = (root / name).resolve()
    if not path.is_relative_to(root) or not path.is_file():
        raise NotFound(f"There is no file {Path(name).name[:80]} in that folder.", field="name")
    return path


def files_there() -> list[dict[str, object]]:
    """Files below the folders, newest first: number of the folder, name in it, bytes."""
    found: list[tuple[int, dict[str, object]]] = []
    for number, root in enumerate(_folders()):
        for place, inner, names in os.walk(root):
            deep = len(Path(place).relative_to(root).parts)
            inner[:] = [] if deep >= DEEPEST else sorted(one for one in inner if not one.startswith("."))
            for name in names:
                path = Path(place) / name
                if name.startswith(".") or not path.is_file() or not path.resolve().is_relative_to(root):
                    continue
                stat = path.stat()
                entry: dict[str, object] = {
                    "folder": number, "name": str(path.relative_to(root)), "bytes": stat.st_size,
                }  # fmt: skip
                found.append((-stat.st_mtime_ns, entry))
    found.sort(key=lambda pair: pair[0])
    return [entry for _, entry in found[:MOST_FILES]]


def _file() -> Path:
    path: Path = settings.MEADOW_DATA / "watched.json"
    return path


def _all() -> dict[str, Watched]:
    try:
        return {project: Watched(**entry) for project, entry in orjson.loads(_file().read_bytes()).items()}
    except (FileNotFoundError, orjson.JSONDecodeError, TypeError, AttributeError):
        # Nothing was watched yet, or the file is damaged: then nothing is watched any more, and nothing else is lost.
        return {}


def _keep(watched: dict[str, Watched]) -> None:
    aside = _file().with_suffix(".new")
    aside.write_bytes(orjson.dumps({project: asdict(entry) for project, entry in watched.items()}))
    aside.replace(_file())


def _now(folder: int, name: str) -> Watched:
    stat = _resolved(folder, name).stat()
    return Watched(settings.MEADOW_FOLDERS[folder], name, stat.st_size, stat.st_mtime_ns)


def watch(project_id: str, folder: int, name: str) -> None:
    """Watch a file as the heightmap of a project, from how it is now. Raises :class:`NotFound`."""
    with _lock:
        _keep({**_all(), project_id: _now(folder, name)})


def forget(project_id: str) -> None:
    """Watch nothing for a project any more."""
    with _lock:
        _keep({other: entry for other, entry in _all().items() if other != project_id})


def look(project_id: str) -> Seen | None:
    """What is watched for a project, and whether it changed; None where nothing is."""
    held = _all().get(project_id)
    if held is None:
        return None
    try:
        now = _now(held.folder, held.name)
    except (NotFound, OSError):
        return Seen(max(held.folder, 0), held.name, "gone")
    if now == held:
        return Seen(held.folder, held.name, "same")
    rests = time.time_ns() - now.changed > RESTS_SECONDS * 1e9
    return Seen(held.folder, held.name, "changed" if rests else "writing")


def mark_seen(project_id: str) -> None:
    """The watched file is known as it is now: it was taken over, or left."""
    with _lock:
        held = _all().get(project_id)
        if held is not None:
            _keep({**_all(), project_id: _now(held.folder, held.name)})


def copied(folder: int, name: str, to: Path) -> str:
    """Copy a file of a folder aside; returns its name. Raises :class:`NotFound`, :class:`TooLarge`, or
    :class:`Conflict` where it is being written to."""
    path = _resolved(folder, name)
    before = path.stat()
    check_bytes(before.st_size, path.name)
    shutil.copyfile(path, to)
    after = path.stat()
    if (before.st_size, before.st_mtime_ns) != (after.st_size, after.st_mtime_ns):
        raise Conflict(f"{path.name} is being written to. Look again when it is finished.")
    return path.name
