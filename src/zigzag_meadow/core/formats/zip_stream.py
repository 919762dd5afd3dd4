"""Zips made while they are sent: nothing is put together in memory or on disk first.

The standard library's writer onto a stream that only goes forward; the same entries give the same bytes.
"""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

__all__ = ["ZipEntry", "zip_pieces"]

_DATE = (2000, 1, 1, 0, 0, 0)
_BLOCK = 1 << 20


@dataclass(frozen=True, slots=True)
class ZipEntry:
    """A file in a zip: its name, and its bytes or where they lie. ``packed`` false: they are packed already."""

    name: str
    content: bytes | Path
    packed: bool = True

    def blocks(self) -> Iterator[bytes]:
        if isinstance(self.content, bytes):
            yield self.content
            return
        with self.content.open("rb") as file:
            while block := file.read(_BLOCK):
                yield block


class _Forward(io.RawIOBase):
    """Takes what is written, once; cannot be told to go back."""

    def __init__(self) -> None:
        self._waiting = bytearray()

    def writable(self) -> bool:
        return True

    def write(self, data: Any) -> int:
        self._waiting += data
        return len(data)

    def taken(self) -> bytes:
        piece = bytes(self._waiting)
        self._waiting.clear()
        return piece


def zip_pieces(entries: Iterable[ZipEntry]) -> Iterator[bytes]:
    """The bytes of a zip, piece by piece, with fixed dates. Raises :class:`OSError` where a file cannot be read."""
    out = _Forward()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
        for entry in entries:
            info = zipfile.ZipInfo(entry.name, _DATE)
            info.external_attr = 0o644 << 16
            info.compress_type = zipfile.ZIP_DEFLATED if entry.packed else zipfile.ZIP_STORED
            with archive.open(info, "w", force_zip64=True) as target:
                for block in entry.blocks():
                    target.write(block)
                    yield out.taken()
            yield out.taken()
    yield out.taken()
