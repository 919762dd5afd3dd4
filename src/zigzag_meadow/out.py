"""Where a delivery of the command line goes: a folder of the artist's own, looked at before the work."""

from __future__ import annotations

import fcntl
import os
import shutil
import tempfile
from collections.abc import Collection, Iterator
from contextlib import contextmanager
from pathlib import Path

from zigzag_meadow.core.delivery.placing import in_the_way, ours_in
from zigzag_meadow.core.errors import BadNumber, Conflict, NoRoom

__all__ = ["check_way", "folder_of", "staging_beside"]

_WORK = ".zigzag-work-"
_LOCK = ".zigzag-lock"


def folder_of(out: str | os.PathLike[str]) -> Path:
    """The folder meant, links resolved; it need not be there. Raises :class:`BadNumber` for what is no folder."""
    try:
        folder = Path(out).resolve()
        if folder.exists() and not folder.is_dir():
            raise BadNumber(f"{out} is no folder. Name another one.")
    except (OSError, RuntimeError, ValueError):
        # Too long a name, a loop of links, a zero byte.
        raise BadNumber(f"{os.fspath(out)[:80]!r} cannot be a folder. Name another one.") from None
    return folder


def check_way(folder: Path, names: Collection[str], overwrite: bool) -> None:
    """Whether a delivery with files of these names may go there. Raises :class:`Conflict` where something is in the
    way, and :class:`NoRoom` where nothing can be written."""
    there = folder
    while not there.exists():
        there = there.parent
    if not (there.is_dir() and os.access(there, os.W_OK | os.X_OK)):
        raise NoRoom(f"{there} may not be written to. Name another folder, or look at its rights.")
    way = in_the_way(folder, names, ours_in(folder)) if folder.is_dir() else []
    strange = [name for name in way if not (folder / name).is_file() or (folder / name).is_symlink()]
    if strange:
        raise Conflict(f"{folder / strange[0]} is no plain file. Take it away first, or name another folder.")
    if way and not overwrite:
        many = f"{way[0]} and {len(way) - 1} more" if len(way) > 1 else way[0]
        raise Conflict(
            f"{folder} holds {many}, which did not come from here or was changed since. Name another folder, or say "
            "--overwrite."
        )


@contextmanager
def staging_beside(folder: Path) -> Iterator[Path]:
    """A folder for files on their way, on the same disk where that may be written; gone afterwards. What runs that were
    cut off left there is taken away."""
    parent = folder.parent
    while not parent.exists():
        parent = parent.parent
    place = parent if os.access(parent, os.W_OK | os.X_OK) else folder
    for left in place.glob(f"{_WORK}*"):
        _sweep(left)
    staging = Path(tempfile.mkdtemp(prefix=_WORK, dir=place))
    # Beside the files, which are all that is in their folder.
    files = staging / "files"
    files.mkdir()
    try:
        with (staging / _LOCK).open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            yield files
    finally:
        shutil.rmtree(staging, ignore_errors=True)


def _sweep(left: Path) -> None:
    """Take away what nobody works in any more; the kernel lets go of a lock when its process ends."""
    try:
        with (left / _LOCK).open("r+") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            shutil.rmtree(left, ignore_errors=True)
    except OSError:
        # Somebody does, or it is none of ours.
        return
