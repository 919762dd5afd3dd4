"""The open project file: the document as JSON and its files (heightmap, pictures), in a zip with fixed dates."""

from __future__ import annotations

import errno
import hashlib
import lzma
import struct
import zipfile
import zlib
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import IO

import orjson

from zigzag_meadow.core.errors import BadFile, TooLarge, WrongFormat
from zigzag_meadow.core.formats.limits import MOST_BYTES
from zigzag_meadow.core.formats.zip_stream import ZipEntry, zip_pieces
from zigzag_meadow.core.project.checks.whole import MOST_DOCUMENT_BYTES, parse_project
from zigzag_meadow.core.project.model.document import Project

__all__ = ["DOCUMENT", "Opened", "archive_pieces", "open_archive", "stored_pieces", "write_archive"]

DOCUMENT = "project.json"
MOST_UNPACKED = 4 * 2**30
DAMAGED = (
    zipfile.BadZipFile,
    zipfile.LargeZipFile,
    zlib.error,
    lzma.LZMAError,
    NotImplementedError,
    EOFError,
    RuntimeError,
    UnicodeDecodeError,
    ValueError,
    struct.error,
    IndexError,
)
"""What the zip reader raises on a damaged file."""


@dataclass(frozen=True, slots=True)
class Opened:
    """A project read from a file, with its files copied out to ``assets``, the heightmap first."""

    project: Project
    assets: tuple[Path, ...]


def archive_pieces(project: Project, asset_path: Callable[[str], Path]) -> Iterator[bytes]:
    """The project file of ``project`` with the files it refers to, piece by piece. The same project gives the same
    bytes."""
    document = orjson.dumps(project.model_dump(mode="json"), option=orjson.OPT_INDENT_2)
    return stored_pieces(document, project.assets, asset_path)


def stored_pieces(document: bytes, assets: Iterable[str], asset_path: Callable[[str], Path]) -> Iterator[bytes]:
    """The project file of a document as it is stored, whether it can be read or not, and files by their checksums."""
    files = [ZipEntry(f"assets/{asset}", asset_path(asset), packed=False) for asset in assets]
    return zip_pieces([ZipEntry(DOCUMENT, document), *files])


def write_archive(out: Path, project: Project, asset_path: Callable[[str], Path]) -> None:
    """Write the project file of ``project``."""
    with out.open("wb") as file:
        file.writelines(archive_pieces(project, asset_path))


def open_archive(source: IO[bytes] | Path, folder: Path, name: str) -> Opened:
    """Read a project file; its files are copied into ``folder`` under their checksums.

    Only the entries a project needs are read, by exact name, so no entry can reach outside ``folder``; what an
    entry declares is checked before it is unpacked and again while it is. Raises :class:`WrongFormat`,
    :class:`BadFile`, :class:`TooLarge` or what :func:`parse_project` raises.
    """
    with _damage_told(name), zipfile.ZipFile(source) as archive:
        data = _json(archive, name)
    project = parse_project(data)
    with _damage_told(name), zipfile.ZipFile(source) as archive:
        _check_room(archive, project.assets, name)
        return Opened(project, tuple(_copy_asset(archive, asset, folder, name) for asset in project.assets))


@contextmanager
def _damage_told(name: str) -> Iterator[None]:
    """Reading the zip and nothing else: what goes wrong here is the file's, or the disk's."""
    wrong = WrongFormat(f"{name} is not a project file, or it is damaged or cut short.")
    try:
        yield
    except DAMAGED as error:
        raise wrong from error
    except OSError as error:
        # A damaged table that points before the file makes an argument that no file takes.
        if error.errno != errno.EINVAL:
            raise
        raise wrong from error


def _check_room(archive: zipfile.ZipFile, assets: Iterable[str], name: str) -> None:
    total = sum(_entry(archive, f"assets/{asset}", MOST_BYTES, name).file_size for asset in assets)
    if total > MOST_UNPACKED:
        raise TooLarge(
            f"{name} unpacks to {total / 2**30:.1f} GiB; at most {MOST_UNPACKED // 2**30} GiB are brought in."
        )


def _entry(archive: zipfile.ZipFile, entry: str, most: int, name: str) -> zipfile.ZipInfo:
    try:
        info = archive.getinfo(entry)
    except KeyError:
        raise WrongFormat(f"{name} is not a project file: it holds no {entry.split('/')[0]}.") from None
    if info.file_size > most:
        raise TooLarge(f"{name} declares {info.file_size} bytes for {entry}; at most {most} are read.")
    return info


def _json(archive: zipfile.ZipFile, name: str) -> object:
    info = _entry(archive, DOCUMENT, MOST_DOCUMENT_BYTES, name)
    with archive.open(info) as entry:
        data = entry.read(MOST_DOCUMENT_BYTES + 1)
    try:
        return orjson.loads(data)
    except orjson.JSONDecodeError as error:
        raise BadFile(f"{DOCUMENT} in {name} is not JSON: {error}.") from None


def _copy_asset(archive: zipfile.ZipFile, asset: str, folder: Path, name: str) -> Path:
    info = _entry(archive, f"assets/{asset}", MOST_BYTES, name)
    aside = folder / f"{asset}.part"
    digest, size = hashlib.sha256(), 0
    with archive.open(info) as entry, aside.open("wb") as out:
        while block := entry.read(1 << 20):
            size += len(block)
            if size > MOST_BYTES:
                break
            digest.update(block)
            out.write(block)
    if size > MOST_BYTES or digest.hexdigest() != asset:
        aside.unlink()
        raise BadFile(f"A file in {name} does not match its checksum. Save the project file out again.")
    final = folder / asset
    aside.replace(final)
    return final
