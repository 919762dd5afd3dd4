"""Content-addressed files: written aside, made durable, renamed, then recorded."""

from __future__ import annotations

import hashlib
import logging
import os
import shutil
import uuid
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from datetime import timedelta
from pathlib import Path

from django.conf import settings
from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from zigzag_meadow.core.errors import NotFound, TooLarge
from zigzag_meadow.core.formats.limits import MOST_BYTES
from zigzag_meadow.core.formats.names import is_checksum
from zigzag_meadow.server.models import Asset, Holding, Project, Reference

__all__ = ["adopt", "asset_path", "check_held", "incoming", "keep", "store_chunks", "sweep", "taken_in"]

log = logging.getLogger(__name__)


def _folder() -> Path:
    folder: Path = settings.MEADOW_DATA / "assets"
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def _place(sha256: str) -> Path:
    """The one way from a name to a path: a name that is no checksum stands for nothing, so none leads elsewhere."""
    if not is_checksum(sha256):
        raise NotFound("A stored file is named by its checksum; this is none.", field="asset")
    return _folder() / sha256[:2] / sha256


def asset_path(sha256: str) -> Path:
    """Where an asset lies. Raises :class:`NotFound` when it is gone, or for a name that is no checksum."""
    path = _place(sha256)
    if not path.is_file():
        raise NotFound("A file of this project is missing from the data folder. Bring it in again.")
    return path


def incoming() -> Path:
    """A new name for a file that is not yet an asset."""
    folder = _folder() / "incoming"
    folder.mkdir(exist_ok=True)
    return folder / uuid.uuid4().hex


@contextmanager
def taken_in(path: Path) -> Iterator[Path]:
    """An incoming file for as long as it is looked at: kept by :func:`keep` meanwhile, or gone afterwards."""
    try:
        yield path
    finally:
        path.unlink(missing_ok=True)


def store_chunks(chunks: Iterable[bytes], name: str) -> Path:
    """Write an upload to an incoming file. Raises :class:`TooLarge` past the limit; nothing stays then."""
    path, size = incoming(), 0
    try:
        with path.open("wb") as file:
            for chunk in chunks:
                size += len(chunk)
                if size > MOST_BYTES:
                    raise TooLarge(f"{name} is over {MOST_BYTES // 2**20} MiB. Crop it or save it with 16 bits.")
                file.write(chunk)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return path


def keep(path: Path, project_id: str | None = None) -> str:
    """Make an incoming file an asset (it is moved); returns its SHA-256.

    ``project_id``: the project it was brought into; None: the first that takes it.
    """
    with path.open("rb") as file:
        digest = hashlib.file_digest(file, "sha256").hexdigest()
        os.fsync(file.fileno())
    final = _place(digest)
    final.parent.mkdir(exist_ok=True)
    size = path.stat().st_size
    if final.exists():
        path.unlink()
        os.utime(final)
    else:
        shutil.move(path, final)
    Asset.objects.update_or_create(sha256=digest, defaults={"size": size, "created_at": timezone.now()})
    Holding.objects.get_or_create(project_id=project_id, asset=digest)
    return digest


def check_held(project_id: str, assets: Iterable[str]) -> None:
    """Raise :class:`NotFound` unless every asset was brought into this project, or into none yet.

    What another project holds stays there: a document from elsewhere cannot reach for it by name.
    """
    for asset in assets:
        here = Holding.objects.filter(Q(project_id=project_id) | Q(project=None), asset=asset).exists()
        if not here or not _place(asset).is_file():
            raise NotFound(
                "A file that this names was not brought into this project. Bring it in first.", field="asset"
            )


def adopt(project: Project, assets: Iterable[str]) -> None:
    """Let a project hold assets; those that nobody held yet are no longer free to take."""
    names = list(assets)
    Holding.objects.filter(project=None, asset__in=names).delete()
    held = [Holding(project=project, asset=name) for name in names]
    Holding.objects.bulk_create(held, ignore_conflicts=True)


def _is_used(sha256: str) -> bool:
    """Whether any revision refers to an asset."""
    return Reference.objects.filter(asset=sha256).exists()


def sweep(older_than_seconds: float = 86400) -> int:
    """Delete assets that no revision refers to and that are older than a day; returns how many.

    Whatever cannot be taken away stays for the next time: a sweep never stops a start.
    """
    limit = timezone.now() - timedelta(seconds=older_than_seconds)
    gone = 0
    for asset in Asset.objects.filter(created_at__lt=limit):
        with transaction.atomic():
            # It may have been brought in again since it was listed.
            old = Asset.objects.filter(sha256=asset.sha256, created_at__lt=limit).exists()
            if old and not _is_used(asset.sha256):
                if not _take_away(_place(asset.sha256)):
                    continue
                Holding.objects.filter(asset=asset.sha256).delete()
                asset.delete()
                gone += 1
    strays = [path for name in ("assets/incoming", "uploads") for path in (settings.MEADOW_DATA / name).glob("*")]
    for stray in strays:
        try:
            old = stray.lstat().st_mtime < limit.timestamp()
        except OSError:
            continue
        if old:
            _take_away(stray)
    return gone


def _take_away(path: Path) -> bool:
    """Delete a file or a folder with all that is in it; returns whether it is gone."""
    try:
        if path.is_dir() and not path.is_symlink():
            shutil.rmtree(path)
        else:
            path.unlink(missing_ok=True)
    except OSError as error:
        log.warning("cannot sweep %s: %s", path.name, error)
        return False
    return True
