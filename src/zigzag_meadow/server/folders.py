"""Folders of this machine that may be looked into, and the heightmap of a project that is watched in one of them.

Which they are was said when the application was started; what is watched is a setting of the machine. No document, kit
or project file ever holds a path.
"""

from __future__ import annotations

import os
import threading
import time
from dataclasses import asdict, dataclass
from pathlib import Path

import orjson
from django.conf import settings

from zigzag_meadow.core.errors import Conflict, NotFound
from zigzag_meadow.core.formats.limits import check_bytes
from zigzag_meadow.server.below import below, walked

__all__ = ["Seen", "Watched", "copied", "files_there", "forget", "look", "mark_seen", "watch"]

MOST_FILES = 500
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


def files_there() -> list[dict[str, object]]:
    """Files below the folders, newest first: number of the folder, name in it, bytes."""
    found: list[tuple[int, dict[str, object]]] = []
    for number, root in enumerate(_folders()):
        for place, names in walked(root):
            for name in names:
                told = None if name.startswith(".") else _told(root, place / name)
                if told is not None:
                    found.append(
                        (
                            -told.st_mtime_ns,
                            {
                                "folder": number,
                                "name": str((place / name).relative_to(root)),
                                "bytes": told.st_size,
                            },
                        )
                    )
    found.sort(key=lambda pair: pair[0])
    return [entry for _, entry in found[:MOST_FILES]]


def _told(root: Path, path: Path) -> os.stat_result | None:
    """What is known of a plain file below ``root``; None for anything else, and for what just went."""
    try:
        inside = path.is_file() and path.resolve().is_relative_to(root)
        return path.stat() if inside else None
    except (OSError, RuntimeError):
        return None


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
    stat = below(folder, name, "file").stat()
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
    # A time that lies in the future says nothing: that it rests is found out while it is copied.
    rests = not 0 <= time.time_ns() - now.changed <= RESTS_SECONDS * 1e9
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
    path = below(folder, name, "file")
    before = path.stat()
    check_bytes(before.st_size, path.name)
    with path.open("rb") as source, to.open("wb") as out:
        left = before.st_size
        while left > 0 and (block := source.read(min(left, 1 << 20))):
            out.write(block)
            left -= len(block)
    after = path.stat()
    if left > 0 or (before.st_size, before.st_mtime_ns) != (after.st_size, after.st_mtime_ns):
        raise Conflict(f"{path.name} is being written to. Look again when it is finished.")
    return path.name
