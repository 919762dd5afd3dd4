"""A finished delivery put into a folder of the artist's own: every file whole, and nothing touched that is not ours."""

from __future__ import annotations

import os
import shutil
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from pathlib import Path

from zigzag_meadow.core.delivery.manifest import checksum
from zigzag_meadow.core.errors import Conflict

__all__ = ["Placed", "in_the_way", "place"]

_ASIDE = ".part"


@dataclass(frozen=True, slots=True)
class Placed:
    """``put``: checksums of what lies there now by name; ``written``, ``same``: how many were written, and how many
    lay there already."""

    put: dict[str, str]
    written: int
    same: int


def in_the_way(folder: Path, names: Collection[str], put: Mapping[str, str]) -> list[str]:
    """Files there under these names that no earlier delivery put, or that somebody changed since. ``put``: checksums of
    what earlier deliveries put there by name."""
    return [name for name in sorted(names) if _is_others(folder / name, put.get(name))]


def _is_others(path: Path, told: str | None) -> bool:
    """Whether something lies there that is no plain file, or not what we put."""
    if path.is_symlink() or (path.exists() and not path.is_file()):
        return True
    return path.exists() and checksum(path) != told


def place(delivered: Path, folder: Path, put: Mapping[str, str], over: Collection[str] = ()) -> Placed:
    """Put every file of a delivery into ``folder`` under the same names.

    Each is written aside and takes its place whole. ``over``: names that may be replaced although they are not ours.
    Raises :class:`Conflict` with the names in the way, before anything is touched, and ``OSError`` where the folder
    cannot be written; what was put until then is whole, and is told by being there.
    """
    sums = {path.name: checksum(path) for path in sorted(delivered.iterdir()) if path.is_file()}
    # What lies there with the same content is in nobody's way.
    same = {name for name, told in sums.items() if _is(folder / name, told)}
    way = [name for name in in_the_way(folder, sums.keys() - same, put) if name not in over]
    if way:
        many = f"{way[0]} and {len(way) - 1} more" if len(way) > 1 else way[0]
        raise Conflict(
            f"{many} in that folder did not come from here, or was changed there. Say that it may be replaced, or name "
            "the files otherwise.",
            field="over",
        )
    written = 0
    for name in sums:
        if name not in same:
            _put(delivered / name, folder / name)
            written += 1
    return Placed({**put, **sums}, written, len(same))


def _is(path: Path, told: str) -> bool:
    return path.is_file() and not path.is_symlink() and checksum(path) == told


def _put(source: Path, to: Path) -> None:
    if to.is_symlink() or to.is_dir():
        raise Conflict(f"{to.name} in that folder is no plain file. Take it away first.", field="over")
    aside = to.with_name(f".{to.name}{_ASIDE}")
    aside.unlink(missing_ok=True)  # whatever a run that was cut off left there, a link that leads elsewhere too
    try:
        shutil.copyfile(source, aside)
        with aside.open("rb") as file:
            os.fsync(file.fileno())
        aside.replace(to)
    finally:
        aside.unlink(missing_ok=True)
