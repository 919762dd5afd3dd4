"""Uploads are counted while they stream: what is too large is refused before it is all here."""

from __future__ import annotations

import shutil
from pathlib import Path
from typing import Any

from django.core.files.uploadedfile import TemporaryUploadedFile
from django.core.files.uploadhandler import TemporaryFileUploadHandler
from ninja.files import UploadedFile

from zigzag_meadow.core.errors import TooLarge
from zigzag_meadow.core.formats.limits import MOST_BYTES
from zigzag_meadow.server.assets import incoming, store_chunks

__all__ = ["MOST_SENT", "LimitedUpload", "store_upload", "too_much"]

MOST_SENT = MOST_BYTES + 2**20
"""Bytes of one request, all its files and the form around them."""


def too_much() -> TooLarge:
    return TooLarge(
        f"At most {MOST_BYTES // 2**20} MiB can be sent at once. Crop the file, save it with 16 bits, or send fewer."
    )


class LimitedUpload(TemporaryFileUploadHandler):
    """Writes uploads to the disk until there is too much of them; nothing of what is refused stays."""

    def __init__(self, *arguments: Any, **more: Any) -> None:
        super().__init__(*arguments, **more)
        self._received = 0

    def receive_data_chunk(self, raw_data: bytes, start: int) -> None:
        self._received += len(raw_data)
        if self._received > MOST_SENT:
            self.file.close()
            raise too_much()
        super().receive_data_chunk(raw_data, start)


def store_upload(file: UploadedFile, name: str) -> Path:
    """An upload as an incoming file: moved where it was written to the disk already. Raises :class:`TooLarge`."""
    if not isinstance(file, TemporaryUploadedFile):
        return store_chunks(file.chunks(), name)
    if (file.size or 0) > MOST_BYTES:
        raise too_much()
    path = incoming()
    shutil.move(file.temporary_file_path(), path)
    return path
