"""Content-addressed files: written aside, made durable, renamed, then recorded."""

from __future__ import annotations

import hashlib
import os
import shutil
import uuid
from collections.abc import Iterable
from datetime import timedelta
from pathlib import Path

from django.conf import settings
from django.db import transaction
from django.db.models import TextField
from django.db.models.functions import Cast
from django.utils import timezone

from zigzag_meadow.core.errors import NotFound, TooLarge
from zigzag_meadow.core.formats.limits import MOST_BYTES
from zigzag_meadow.server.models import Asset, Revision

__all__ = ["asset_path", "incoming", "keep", "store_chunks", "sweep"]


def _folder() -> Path:
    folder: Path = settings.MEADOW_DATA / "assets"
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def asset_path(sha256: str) -> Path:
    """Where an asset lies. Raises :class:`NotFound` when it is gone."""
    path = _folder() / sha256[:2] / sha256
    if not path.is_file():
        raise NotFound("A file of this project is missing from the data folder. Bring it in again.")
    return path


def incoming() -> Path:
    """A new name for a file that is not yet an asset."""
    folder = _folder() / "incoming"
    folder.mkdir(exist_ok=True)
    return folder / uuid.uuid4().hex


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


def keep(path: Path) -> str:
    """Make an incoming file an asset (it is moved); returns its SHA-256."""
    with path.open("rb") as file:
        digest = hashlib.file_digest(file, "sha256").hexdigest()
        os.fsync(file.fileno())
    final = _folder() / digest[:2] / digest
    final.parent.mkdir(exist_ok=True)
    size = path.stat().st_size
    if final.exists():
        path.unlink()
        os.utime(final)
    else:
        shutil.move(path, final)
    Asset.objects.update_or_create(sha256=digest, defaults={"size": size})
    return digest


def _is_used(sha256: str) -> bool:
    """Whether any revision refers to an asset, as its heightmap or anywhere else in its document."""
    if Revision.objects.filter(asset=sha256).exists():
        return True
    return Revision.objects.annotate(text=Cast("document", TextField())).filter(text__contains=sha256).exists()


def sweep(older_than_seconds: float = 86400) -> int:
    """Delete assets that no revision refers to and that are older than a day; returns how many."""
    limit = timezone.now() - timedelta(seconds=older_than_seconds)
    gone = 0
    for asset in Asset.objects.filter(created_at__lt=limit):
        with transaction.atomic():
            if not _is_used(asset.sha256):
                (_folder() / asset.sha256[:2] / asset.sha256).unlink(missing_ok=True)
                asset.delete()
                gone += 1
    for stray in (_folder() / "incoming").glob("*") if (_folder() / "incoming").is_dir() else ():
        if stray.stat().st_mtime < limit.timestamp():
            stray.unlink(missing_ok=True)
    return gone
