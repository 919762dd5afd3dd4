"""A PNG writer fed by rows: 8 or 16 bits, 1 to 4 channels (two are grey and alpha), straight alpha.

Tagged sRGB where it holds colours, else untagged: data is no colour.

Bytes depend on the picture alone: rows are filtered by the smallest sum of absolute differences (PNG
specification, section 12.8) and deflated in chunks of a fixed number of rows, whatever the pieces they came in
and however many threads worked on them.
"""

from __future__ import annotations

import struct
import zlib
from collections.abc import Sequence
from pathlib import Path
from types import TracebackType
from typing import Any, BinaryIO

import numpy as np
from isal import isal_zlib
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.stripes import Stripes

__all__ = ["PngWriter"]

U8 = NDArray[np.uint8]
CHUNK_ROWS = 64
RUN = 256
_COLOUR = {1: 0, 2: 4, 3: 2, 4: 6}


@njit(nogil=True, cache=True, inline="always")
def _paeth(left: np.int16, up: np.int16, corner: np.int16) -> np.int16:
    pa, pb = abs(up - corner), abs(left - corner)
    pc = abs(left + up - corner - corner)
    guess = up if pb <= pc else corner
    return left if (pa <= pb) & (pa <= pc) else guess


@njit(nogil=True, cache=True)
def _costs(now: U8, left: U8, up: U8, corner: U8) -> tuple[int, int, int]:
    """What Sub, Up and Paeth leave of one row, in the sum; of every fourth run of bytes, which tells them apart."""
    sub = above = paeth = np.int64(0)
    for start in range(0, now.size, 4 * RUN):
        end = min(start + RUN, now.size)
        n, w, u, c = now[start:end], left[start:end], up[start:end], corner[start:end]
        # Shorter sums than 64 bits hold: runs are short.
        total = np.int32(0)
        for i in range(n.size):
            total += abs(np.int32(np.int8(n[i] - w[i])))
        sub += total
        total = np.int32(0)
        for i in range(n.size):
            total += abs(np.int32(np.int8(n[i] - u[i])))
        above += total
        total = np.int32(0)
        for i in range(n.size):
            guess = _paeth(np.int16(w[i]), np.int16(u[i]), np.int16(c[i]))
            total += abs(np.int32(np.int8(np.uint8(n[i] - np.uint8(guess)))))
        paeth += total
    return int(sub), int(above), int(paeth)


@njit(nogil=True, cache=True)
def _filter_rows(raw: U8, before: U8, bpp: int, out: U8) -> None:
    """Filter rows (bytes) with Sub, Up or Paeth, whichever leaves the smallest residue."""
    for r in range(raw.shape[0]):
        row = raw[r]
        prior = before if r == 0 else raw[r - 1]
        # Slices, so that loops count from 0 and are vectorised.
        now, up, made = row[bpp:], prior[bpp:], out[r, 1 + bpp :]
        left, corner = row[:-bpp], prior[:-bpp]
        sub, above, paeth = _costs(now, left, up, corner)
        first = out[r, 1 : 1 + bpp]
        if sub <= above and sub <= paeth:
            out[r, 0] = 1
            first[:] = row[:bpp]
            for i in range(now.size):
                made[i] = now[i] - left[i]
            continue
        # At the first sample the prediction of both is what lies above.
        out[r, 0] = 2 if above <= paeth else 4
        for i in range(bpp):
            first[i] = row[i] - prior[i]
        if above <= paeth:
            for i in range(now.size):
                made[i] = now[i] - up[i]
        else:
            for i in range(now.size):
                guess = _paeth(np.int16(left[i]), np.int16(up[i]), np.int16(corner[i]))
                made[i] = np.uint8(now[i] - np.uint8(guess))


def _joined(first: int, second: int, size: int) -> int:
    """The Adler-32 of two parts from those of each; ``size``: bytes of the second (RFC 1950, section 8.2)."""
    base = 65521
    a = ((first & 0xFFFF) + (second & 0xFFFF) - 1) % base
    b = ((first >> 16) + (second >> 16) + size * ((first & 0xFFFF) - 1)) % base
    return b << 16 | a


class PngWriter:
    """Write a PNG of known size row block by row block; use as a context manager. ``srgb``: it holds colours;
    ``palette``: what its numbers stand for, red, green and blue 0–255.

    Raises :class:`BadNumber` when a block does not have the declared width, channels or depth, or when rows are
    missing at the end.
    """

    def __init__(
        self,
        path: Path,
        rows: int,
        cols: int,
        channels: int,
        bits: int,
        stripes: Stripes,
        srgb: bool = False,
        palette: Sequence[tuple[int, int, int]] = (),
    ) -> None:
        if channels not in _COLOUR or bits not in (8, 16):
            raise BadNumber(f"A PNG here has 1 to 4 channels of 8 or 16 bits, got {channels} of {bits}.")
        self.path, self.rows, self.cols, self.channels, self.bits = path, rows, cols, channels, bits
        self._stripes = stripes
        self._bpp = channels * bits // 8
        self._pending: list[U8] = []
        self._held = 0
        self._written = 0
        self._last = readable(np.zeros(cols * self._bpp, np.uint8))
        self._adler = 1
        self._file: BinaryIO = path.open("wb")
        self._file.write(b"\x89PNG\r\n\x1a\n")
        self._part(b"IHDR", struct.pack(">IIBBBBB", cols, rows, bits, 3 if palette else _COLOUR[channels], 0, 0, 0))
        if srgb:
            self._part(b"sRGB", b"\0")
        if palette:
            self._part(b"PLTE", bytes(part for colour in palette for part in colour))
        self._start = b"\x78\x5e"

    def __enter__(self) -> PngWriter:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        if kind is None:
            self.close()
        else:
            self._file.close()

    def _part(self, kind: bytes, data: bytes) -> None:
        self._file.write(struct.pack(">I", len(data)) + kind + data)
        self._file.write(struct.pack(">I", zlib.crc32(data, zlib.crc32(kind))))

    def write(self, block: NDArray[Any]) -> None:
        """Add rows: uint8 or uint16 of shape (n, columns) or (n, columns, channels)."""
        dtype = np.uint8 if self.bits == 8 else np.uint16
        channels = 1 if block.ndim == 2 else block.shape[2]
        if block.dtype != dtype or block.shape[1] != self.cols or channels != self.channels:
            raise BadNumber(
                f"Rows must be {self.cols} × {self.channels} of {dtype.__name__}, got {block.shape} of {block.dtype}."
            )
        big = block if self.bits == 8 else block.astype(">u2")
        self._pending.append(np.ascontiguousarray(big).view(np.uint8).reshape(block.shape[0], -1))
        self._held += block.shape[0]
        ready = self._held // CHUNK_ROWS * CHUNK_ROWS
        if ready >= CHUNK_ROWS * 4:
            self._flush(ready)

    def _flush(self, count: int) -> None:
        raw = np.concatenate(self._pending) if len(self._pending) > 1 else self._pending[0]
        rest = raw[count:]
        self._pending = [rest] if len(rest) else []
        self._held = len(rest)
        raw = readable(raw[:count])
        starts = range(0, count, CHUNK_ROWS)
        done: list[tuple[int, int, bytes]] = [(0, 1, b"")] * len(starts)

        def chunk(index: int) -> None:
            at = starts[index]
            piece = raw[at : at + CHUNK_ROWS]
            out = np.empty((len(piece), piece.shape[1] + 1), np.uint8)
            _filter_rows(piece, self._last if at == 0 else raw[at - 1], self._bpp, out)
            deflate = isal_zlib.compressobj(2, isal_zlib.DEFLATED, -15)
            packed = deflate.compress(out) + deflate.flush(isal_zlib.Z_FULL_FLUSH)
            done[index] = (out.size, isal_zlib.adler32(out), packed)

        self._stripes.each(len(starts), chunk)
        for size, adler, packed in done:
            self._adler = _joined(self._adler, adler, size)
            self._part(b"IDAT", self._start + packed)
            self._start = b""
        self._last = readable(raw[-1].copy())
        self._written += count

    def close(self) -> None:
        """Write what is left and the end marker."""
        if self._held:
            self._flush(self._held)
        if self._written != self.rows:
            self._file.close()
            raise BadNumber(f"{self.path.name} needs {self.rows} rows, got {self._written}.")
        self._part(b"IDAT", self._start + b"\x03\x00" + struct.pack(">I", self._adler))
        self._part(b"IEND", b"")
        self._file.close()
