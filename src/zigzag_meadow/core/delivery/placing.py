"""A finished delivery put into a folder of the artist's own: every file whole, and nothing touched that is not ours.

What is going to be put is written down there first. Where that is still there, somebody was cut off in the middle:
whoever comes next knows every file as ours, by what it was and by what it was to become, and goes on from there.
"""

from __future__ import annotations

import errno
import os
import secrets
import shutil
import stat
from collections.abc import Collection, Iterator, Mapping
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from pathlib import Path

import orjson

from zigzag_meadow.core.delivery.manifest import MANIFEST, checksum, read_manifest
from zigzag_meadow.core.errors import Conflict, MeadowError, NoRoom
from zigzag_meadow.core.formats.names import PUTTING, is_checksum, safe_file_name

__all__ = ["Placed", "in_the_way", "ours_in", "place"]

Known = Mapping[str, Collection[str]]
"""Checksums under which a file there counts as ours, by its name."""
_PART = ".zigzag-{token}-{number}.part"


@dataclass(frozen=True, slots=True)
class Placed:
    """``put``: checksums of what lies there now by name; ``written``, ``same``: how many were written, and how many
    lay there already; ``gone``: files of an earlier delivery that were taken away."""

    put: dict[str, str]
    written: int
    same: int
    gone: tuple[str, ...] = ()


@dataclass
class _Begun:
    """What is written down before the first file: ``was`` and ``will``: checksums by name; ``token``: of the names
    that files have until they take their place."""

    token: str = ""
    was: dict[str, str] = field(default_factory=dict)
    will: dict[str, str] = field(default_factory=dict)


def ours_in(folder: Path) -> dict[str, str]:
    """Checksums of what a manifest of ours in a folder lists, and of itself; empty where there is none."""
    try:
        listed = {entry.file: entry.sha256 for entry in read_manifest(folder).files}
        return {
            **{name: told for name, told in listed.items() if safe_file_name(name) == name},
            MANIFEST: checksum(folder / MANIFEST),
        }
    except (MeadowError, OSError):
        return {}


def in_the_way(folder: Path, names: Collection[str], put: Mapping[str, str]) -> list[str]:
    """Files there under these names that no earlier delivery put, or that somebody changed since. ``put``: checksums of
    what earlier deliveries put there by name."""
    return _others({name: _there(folder / name) for name in names}, _known(put, _begun(folder)))


def _known(put: Mapping[str, str], begun: _Begun) -> Known:
    names = {*put, *begun.was, *begun.will}
    return {
        name: {told for told in (put.get(name), begun.was.get(name), begun.will.get(name)) if told} for name in names
    }


def _there(path: Path) -> str | None:
    """The checksum of what lies there: empty for what is no plain file, None for nothing."""
    try:
        return checksum(path) if stat.S_ISREG(path.lstat().st_mode) else ""
    except FileNotFoundError:
        return None


def _others(there: Mapping[str, str | None], known: Known) -> list[str]:
    return sorted(name for name, told in there.items() if told is not None and told not in known.get(name, ()))


def _begun(folder: Path) -> _Begun:
    """What somebody who was cut off wrote down; nothing where nobody was, or where it is damaged."""
    try:
        if (folder / PUTTING).is_symlink():
            return _Begun()
        data = orjson.loads((folder / PUTTING).read_bytes())
        made = _Begun(str(data["token"]), dict(data["was"]), dict(data["will"]))
    except (OSError, ValueError, TypeError, KeyError):
        return _Begun()
    sound = made.token.isalnum() and all(
        is_checksum(str(told)) for part in (made.was, made.will) for told in part.values()
    )
    return made if sound else _Begun()


def _cleared(folder: Path, token: str) -> None:
    """Take away what was on its way when somebody was cut off."""
    if not token:
        return
    for path in folder.glob(_PART.format(token=token, number="*")):
        with suppress(OSError):
            path.unlink()


def place(
    delivered: Path, folder: Path, put: Mapping[str, str], over: Collection[str] = (), *, instead: bool = False
) -> Placed:
    """Put every file of a delivery into ``folder`` under the same names.

    Each is written aside and takes its place whole; should one fail, those before it are taken back. ``over``: names
    that may be replaced although they are not ours. ``instead``: files of an earlier delivery that this one does not
    have are taken away, as long as nobody changed them. Raises :class:`Conflict` with the names in the way and
    :class:`NoRoom`, before anything is touched, :class:`Conflict` where somebody saved a file meanwhile, and
    ``OSError`` where the folder cannot be written.
    """
    sums = {path.name: checksum(path) for path in sorted(delivered.iterdir()) if path.is_file()}
    before = _begun(folder)
    known = _known(put, before)
    # As it is now, and as it has to be still when its turn comes.
    written = {name: _written(folder / name) for name in sums}
    was = {name: _there(folder / name) for name in {*sums, *(known if instead else ())}}
    # What lies there with the same content is in nobody's way.
    fresh = [name for name in sums if was[name] != sums[name]]
    way = [name for name in _others({name: was[name] for name in fresh}, known) if name not in over]
    if way:
        raise Conflict(_in_the_way(way), field="over")
    same = {name: when for name, when in written.items() if name not in fresh}
    stale = {name: told for name, told in was.items() if name not in sums and told and told in known[name]}
    _check_room(delivered, folder, fresh)
    _cleared(folder, before.token)
    if fresh or stale:
        # Last of all, so that what tells of the files comes after them.
        fresh.sort(key=lambda name: name == MANIFEST)
        here = {name: told for name, told in was.items() if told and (name in fresh or name in stale)}
        with _written_down(folder, here, {name: sums[name] for name in fresh}, before) as token:
            _put_all(delivered, folder, fresh, was, same, token)
            for name in sorted(stale):
                if _there(folder / name) == stale[name]:
                    (folder / name).unlink()
    else:
        _end(folder, before.token)
    kept = {name: told for name, told in put.items() if name not in stale}
    return Placed({**kept, **sums}, len(fresh), len(sums) - len(fresh), tuple(sorted(stale)))


def _in_the_way(names: list[str]) -> str:
    many = f"{names[0]} and {len(names) - 1} more" if len(names) > 1 else names[0]
    return (
        f"{many} in that folder did not come from here, or was changed there. Say that it may be replaced, or name the "
        "files otherwise."
    )


def _check_room(delivered: Path, folder: Path, names: list[str]) -> None:
    needed = sum((delivered / name).stat().st_size for name in names)
    free = shutil.disk_usage(folder).free
    if needed > free:
        raise NoRoom(
            f"{needed / 2**20:.0f} MiB are to be put into that folder, and {free / 2**20:.0f} MiB are free there. Make "
            "room, then put them there again."
        )


@contextmanager
def _written_down(folder: Path, was: dict[str, str], will: dict[str, str], before: _Begun) -> Iterator[str]:
    """What is going to happen, on disk before it does, and as long as it is not done."""
    token = secrets.token_hex(8)
    told = {"token": token, "was": {**before.was, **was}, "will": {**before.will, **will}}
    aside = folder / _PART.format(token=token, number="list")
    _write(aside, orjson.dumps(told))
    aside.replace(folder / PUTTING)
    _settle(folder)
    try:
        yield token
    except BaseException as error:
        # Whoever could take everything back leaves nothing behind; else the next one knows what happened.
        if not isinstance(error, _HalfWay):
            _end(folder, token)
            raise
        raise error.cause from None
    _end(folder, token)


class _HalfWay(Exception):
    """What was put could not be taken back."""

    def __init__(self, cause: BaseException) -> None:
        super().__init__(str(cause))
        self.cause = cause


def _end(folder: Path, token: str) -> None:
    _cleared(folder, token)
    with suppress(OSError):
        (folder / PUTTING).unlink(missing_ok=True)
        _settle(folder)


def _settle(folder: Path) -> None:
    """Names are on disk, not only in memory."""
    place = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
    try:
        os.fsync(place)
    except OSError as error:
        # Some file systems take no such request for a folder.
        if error.errno not in (errno.EINVAL, errno.ENOTSUP):
            raise
    finally:
        os.close(place)


def _write(path: Path, data: bytes) -> None:
    with os.fdopen(_fresh(path), "wb") as file:
        file.write(data)
        file.flush()
        os.fsync(file.fileno())


def _fresh(path: Path) -> int:
    """A file that was not there, whatever somebody put in its way."""
    return os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, 0o644)


def _put_all(
    delivered: Path, folder: Path, names: list[str], was: Mapping[str, str | None], same: Mapping[str, int], token: str
) -> None:
    """Put files one after the other; what was there before is kept beside until all are there, and what was there with
    the ``same`` content has to be so still."""
    done: list[_Done] = []
    try:
        for number, name in enumerate(names):
            to, part = folder / name, folder / _PART.format(token=token, number=number)
            _copied(delivered / name, part)
            old = _seen(to)
            if old is not None and _there(to) != was[name]:
                raise Conflict(_in_the_way([name]), field="over")
            beside = folder / _PART.format(token=token, number=f"{number}-old")
            kept = None if old is None else _kept_beside(to, beside)
            done.append(_Done(to, was[name], checksum(part), kept))
            _into_place(part, to, old)
        touched = [name for name, when in same.items() if _written(folder / name) != when]
        if touched:
            raise Conflict(_in_the_way(touched), field="over")
    except BaseException as error:
        if not _taken_back(done):
            raise _HalfWay(error) from error
        raise


@dataclass(frozen=True, slots=True)
class _Done:
    """A file that takes the place of what ``was`` there, as checksums, and where that is ``kept``."""

    to: Path
    was: str | None
    put: str
    kept: Path | None


def _written(path: Path) -> int:
    """When a file was written to; 0 where it is not there."""
    try:
        return path.stat().st_mtime_ns
    except OSError:
        return 0


def _seen(path: Path) -> tuple[int, int, int] | None:
    """What a file is known by at a moment: its own number, its size and when it was written to."""
    try:
        told = path.lstat()
    except FileNotFoundError:
        return None
    if not stat.S_ISREG(told.st_mode):
        raise Conflict(f"{path.name} in that folder is no plain file. Take it away first.", field="over")
    return told.st_ino, told.st_size, told.st_mtime_ns


def _copied(source: Path, part: Path) -> None:
    with os.fdopen(_fresh(part), "wb") as to, source.open("rb") as file:
        shutil.copyfileobj(file, to, 1 << 20)
        to.flush()
        os.fsync(to.fileno())


def _kept_beside(path: Path, beside: Path) -> Path | None:
    """The same file under another name; None where the file system knows no such thing."""
    try:
        os.link(path, beside, follow_symlinks=False)
    except OSError as error:
        if error.errno in (errno.ENOSPC, errno.EDQUOT, errno.ENOENT):
            raise
        return None
    return beside


def _into_place(part: Path, to: Path, old: tuple[int, int, int] | None) -> None:
    """Take the place of what was looked at, and of nothing that came since."""
    if old is None:
        try:
            # Fails where something is there by now; a rename would replace it.
            os.link(part, to, follow_symlinks=False)
            part.unlink()
            return
        except FileExistsError:
            raise Conflict(_in_the_way([to.name]), field="over") from None
        except OSError as error:
            if error.errno not in (errno.EPERM, errno.ENOTSUP, errno.EMLINK, errno.ENOSYS):
                raise
    if _seen(to) != old:
        raise Conflict(_in_the_way([to.name]), field="over")
    part.replace(to)


def _taken_back(done: list[_Done]) -> bool:
    """Put back what was there before; whether all of it is."""
    whole = True
    for one in reversed(done):
        try:
            now = _there(one.to)
            if now == one.was:
                continue
            if now != one.put or (one.was is not None and one.kept is None):
                whole = False
            elif one.kept is not None:
                one.kept.replace(one.to)
            else:
                one.to.unlink()
        except OSError:
            whole = False
    return whole
