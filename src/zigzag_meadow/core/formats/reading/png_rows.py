"""A PNG read some rows at a time, so that a large one is never held whole.

Sources: PNG specification (W3C, third edition), sections 5 (chunks), 9 (filtering).
"""

from __future__ import annotations

import struct
import zlib
from collections.abc import Iterator
from pathlib import Path
from types import TracebackType
from typing import Any, Self

import numpy as np
from isal import isal_zlib
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.formats.limits import check_bytes, check_size
from zigzag_meadow.core.formats.reading.png import PngHeader, png_header

__all__ = ["PngRows", "reads_by_rows"]

U8 = NDArray[np.uint8]
_PIECE = 1 << 18
_DAMAGE: Any = isal_zlib.error


@njit(nogil=True, cache=True)
def _unfilter(packed: U8, before: U8, bpp: int, out: U8) -> int:
    """Rows of bytes from filtered ones (the first byte of each says how); the row with an unknown filter, or −1."""
    for r in range(out.shape[0]):
        kind, line, made = packed[r, 0], packed[r, 1:], out[r]
        prior = before if r == 0 else out[r - 1]
        if kind == 0:
            made[:] = line
        elif kind == 1:
            made[:bpp] = line[:bpp]
            for i in range(bpp, line.size):
                made[i] = line[i] + made[i - bpp]
        elif kind == 2:
            for i in range(line.size):
                made[i] = line[i] + prior[i]
        elif kind == 3:
            for i in range(bpp):
                made[i] = line[i] + (prior[i] >> 1)
            for i in range(bpp, line.size):
                made[i] = line[i] + np.uint8((np.int32(made[i - bpp]) + np.int32(prior[i])) >> 1)
        elif kind == 4:
            for i in range(bpp):
                made[i] = line[i] + prior[i]
            for i in range(bpp, line.size):
                left, up, corner = np.int32(made[i - bpp]), np.int32(prior[i]), np.int32(prior[i - bpp])
                pa, pb, pc = abs(up - corner), abs(left - corner), abs(left + up - corner - corner)
                guess = left if pa <= pb and pa <= pc else (up if pb <= pc else corner)
                made[i] = line[i] + np.uint8(guess)
        else:
            return r
    return -1


def reads_by_rows(header: PngHeader, interlaced: bool) -> bool:
    """Whether rows come one after the other, each in whole bytes."""
    return not interlaced and header.bits in (8, 16)


class PngRows:
    """Rows of a PNG at its stored depth, from the top; of a palette its numbers. Use as a context manager.

    Raises :class:`BadFile` when it is damaged or cut and :class:`TooLarge` over the limits.
    """

    def __init__(self, path: Path, name: str) -> None:
        check_bytes(path.stat().st_size, name)
        self._name = name
        self._file = path.open("rb")
        head = self._file.read(33)
        try:
            self.header = png_header(head, name)
            check_size(self.header.rows, self.header.cols, name)
        except BaseException:
            self._file.close()
            raise
        self.by_rows = reads_by_rows(self.header, head[28] != 0)
        self.colour_parts: list[str] = []
        many = self.header.channels
        self._bpp = many * self.header.bits // 8
        self._stride = self.header.cols * self._bpp
        self._last = readable(np.zeros(self._stride, np.uint8))
        self._inflate = isal_zlib.decompressobj()
        self._pieces = self._unpacked()
        self._held = bytearray()
        self._done = 0

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._file.close()

    def _chunks(self) -> Iterator[tuple[bytes, bytes]]:
        """(kind, data) of every part, each held against its checksum; long ones in pieces."""
        while True:
            head = self._file.read(8)
            if len(head) < 8:
                raise self._cut()
            size, kind = struct.unpack(">I4s", head)
            crc = zlib.crc32(kind)
            while size:
                piece = self._file.read(min(size, _PIECE))
                if not piece:
                    raise self._cut()
                crc = zlib.crc32(piece, crc)
                size -= len(piece)
                yield kind, piece
            told = self._file.read(4)
            if len(told) < 4:
                raise self._cut()
            if struct.unpack(">I", told)[0] != crc:
                raise BadFile(f"{self._name} is damaged: part {kind.decode('ascii', 'replace')} fails its checksum.")
            if kind == b"IEND":
                return

    def _cut(self) -> BadFile:
        return BadFile(f"{self._name} is cut short: the file ends before the picture does. Save or copy it again.")

    def _unpacked(self) -> Iterator[bytes]:
        for kind, piece in self._chunks():
            if kind in (b"gAMA", b"sRGB", b"iCCP", b"cICP") and kind.decode() not in self.colour_parts:
                self.colour_parts.append(kind.decode())
            if kind != b"IDAT" or self._inflate.eof:
                continue
            data = piece
            while data and not self._inflate.eof:
                try:
                    made = self._inflate.decompress(data, 4 * _PIECE)
                except _DAMAGE as error:
                    raise BadFile(f"{self._name} is damaged: {error}. Save it again.") from None
                data = self._inflate.unconsumed_tail
                if made:
                    yield made

    def read(self, rows: int) -> NDArray[Any]:
        """The next rows: uint8 or uint16 (rows, columns, channels)."""
        wanted = rows * (self._stride + 1)
        while len(self._held) < wanted:
            piece = next(self._pieces, None)
            if piece is None:
                raise self._cut()
            self._held += piece
        packed = np.frombuffer(bytes(self._held[:wanted]), np.uint8).reshape(rows, self._stride + 1)
        del self._held[:wanted]
        out = np.empty((rows, self._stride), np.uint8)
        wrong = _unfilter(packed, self._last, self._bpp, out)
        if wrong >= 0:
            raise BadFile(f"{self._name} is damaged at row {self._done + wrong}. Save it again.")
        self._last = readable(out[-1].copy())
        self._done += rows
        if self._done == self.header.rows:
            self._finish()
        shape = (rows, self.header.cols, self.header.channels)
        if self.header.bits == 8:
            return out.reshape(shape)
        return out.view(">u2").astype(np.uint16).reshape(shape)

    def _finish(self) -> None:
        """What follows the picture must be whole, too."""
        for _ in self._pieces:
            pass
