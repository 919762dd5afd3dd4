"""ASCII grids: a few lines of key and number, then rows from north to south, read in bounded pieces."""

from __future__ import annotations

import math
from pathlib import Path
from typing import BinaryIO

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.formats.limits import check_memory, check_size
from zigzag_meadow.core.formats.stored import Placement, Stored, narrowed

__all__ = ["is_asc", "read_asc"]

U8 = NDArray[np.uint8]
F64 = NDArray[np.float64]
_KEYS = (
    "ncols",
    "nrows",
    "cellsize",
    "xllcorner",
    "yllcorner",
    "xllcenter",
    "yllcenter",
    "nodata_value",
    "dx",
    "dy",
)
_STARTS = (b"ncols", b"nrows", b"xll", b"yll", b"cellsize")
_SPACE = b" \t\r\n\v\f"
_PIECE = 4 * 2**20
_MOST_HEADER = 4096
_LONGEST = 64
"""Characters of the longest number that is read."""


def is_asc(head: bytes) -> bool:
    """Whether a file that begins with ``head`` is an ASCII grid."""
    return head.lstrip(_SPACE).lower().startswith(_STARTS)


def _header(file: BinaryIO, name: str) -> dict[str, float]:
    """The keys before the numbers; the file stands at the first line that is none."""
    keys: dict[str, float] = {}
    while True:
        start = file.tell()
        line = file.readline(_MOST_HEADER)
        words = line.split()
        if line and not words:
            if len(line) == _MOST_HEADER or file.tell() > _MOST_HEADER:
                raise BadFile(f"{name} begins like an ASCII grid and goes on with white space.")
            continue
        if len(words) != 2 or not words[0][:1].isalpha() or words[0].lower() == b"nan":
            file.seek(start)
            return keys
        key = words[0].decode("ascii", "replace").lower()
        if key not in _KEYS:
            raise BadFile(f"{name} has a line {key[:20]!r} that no ASCII grid has.")
        try:
            keys[key] = float(words[1])
        except ValueError:
            raise BadFile(
                f"{name}: {key} must be a number, got {words[1][:20].decode('ascii', 'replace')!r}."
            ) from None


def _samples(file: BinaryIO, out: F64, name: str) -> None:
    from zigzag_meadow.core.formats.reading.asc_numbers import numbers_into  # only here: it brings a compiler

    rest, count = b"", 0
    while True:
        piece = file.read(_PIECE)
        text = rest + piece
        cut = len(text)
        if piece:
            # A number may go on in the next piece.
            tail = text[-_LONGEST:]
            cut -= len(tail) - max(tail.rfind(c) for c in _SPACE) - 1
        count, wrong = numbers_into(text[:cut], out, count)
        if wrong >= 0:
            shown = text[wrong : wrong + 20].split()[0].decode("ascii", "replace")
            raise BadFile(f"{name} has {shown!r} between its numbers: sample {count + 1} is none.")
        rest = text[cut:]
        if count > out.size or len(rest) > _LONGEST:
            break
        if not piece:
            break
    if count != out.size:
        more = "more" if count > out.size else f"{count}"
        raise BadFile(f"{name} says {out.size} samples and holds {more}: it is cut short or has another size.")


def read_asc(path: Path, name: str) -> Stored:
    """An ASCII grid. Raises :class:`BadFile` where a key, a number or their count is wrong."""
    with path.open("rb") as file:
        keys = _header(file, name)
        wanted = keys.get("ncols", math.nan), keys.get("nrows", math.nan)
        if not all(math.isfinite(v) and v == int(v) for v in wanted):
            raise BadFile(f"{name} does not say how many columns and rows it has (ncols, nrows).")
        cols, rows = int(wanted[0]), int(wanted[1])
        check_size(rows, cols, name)
        check_memory(rows * cols * 12 + 8 * _PIECE, name)
        samples = np.empty(rows * cols, np.float64)
        _samples(file, samples, name)
    dx, dy = keys.get("dx", keys.get("cellsize")), keys.get("dy", keys.get("cellsize"))
    placement = None
    if dx and dy and min(dx, dy) > 0 and math.isfinite(dx) and math.isfinite(dy):
        points = "xllcenter" in keys or "yllcenter" in keys
        says = f"cells of {dx:g} by {dy:g}"
        placement = Placement(dy, dx, "vertex" if points else "area", True, says)
    return Stored(
        narrowed(samples.reshape(rows, cols)), "asc", "32f", nodata=keys.get("nodata_value"), placement=placement
    )
