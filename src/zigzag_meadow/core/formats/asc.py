"""ASCII grids: a few lines of key and number, then rows from north to south, read in bounded pieces."""

from __future__ import annotations

import math
from pathlib import Path
from typing import BinaryIO

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.formats.limits import check_memory, check_size
from zigzag_meadow.core.formats.stored import Placement, Stored, narrowed

__all__ = ["is_asc", "read_asc"]

U8 = NDArray[np.uint8]
F64 = NDArray[np.float64]
_KEYS = (
    "ncols", "nrows", "cellsize", "xllcorner", "yllcorner", "xllcenter", "yllcenter", "nodata_value", "dx", "dy",
)  # fmt: skip
_STARTS = (b"ncols", b"nrows", b"xll", b"yll", b"cellsize")
_SPACE = b" \t\r\n\v\f"
_PIECE = 4 * 2**20
_MOST_HEADER = 4096
_LONGEST = 64
"""Characters of the longest number that is read."""
# Powers of ten that a double holds exactly.
_TENS = np.array([float(10**k) for k in range(23)])


@njit(nogil=True, cache=True)
def _number(text: U8, at: int, end: int, tens: F64) -> float:
    """The number in ``text[at:end]``, rounded once where it has at most 15 digits; −inf where it is none."""
    wrong = -np.inf
    sign = 1.0
    if text[at] == 45 or text[at] == 43:
        sign = -1.0 if text[at] == 45 else 1.0
        at += 1
    if end - at == 3 and text[at] | 32 == 110 and text[at + 1] | 32 == 97 and text[at + 2] | 32 == 110:
        return np.nan
    digits, point, mantissa = 0, 0, 0
    seen, any_digit = False, False
    while at < end:
        c = text[at]
        if 48 <= c <= 57:
            any_digit = True
            if digits < 18:
                mantissa = mantissa * 10 + (c - 48)
                digits += 1 if mantissa > 0 else 0
                point += 1 if seen else 0
            elif not seen:
                point -= 1
        elif c == 46 and not seen:
            seen = True
        else:
            break
        at += 1
    if not any_digit:
        return wrong
    power = -point
    if at < end:
        if text[at] | 32 != 101 or at + 1 >= end:
            return wrong
        at += 1
        down = text[at] == 45
        at += 1 if (text[at] == 45 or text[at] == 43) else 0
        if at >= end or end - at > 5:
            return wrong
        size = 0
        while at < end:
            if not 48 <= text[at] <= 57:
                return wrong
            size = size * 10 + (text[at] - 48)
            at += 1
        power += -size if down else size
    if mantissa == 0:
        return 0.0
    value = float(mantissa)
    if 0 <= power <= 22:
        value *= tens[power]
    elif -22 <= power < 0:
        value /= tens[-power]
    else:
        value *= 10.0**power
    return sign * value


@njit(nogil=True, cache=True)
def _numbers(text: U8, tens: F64, out: F64, count: int) -> tuple[int, int]:
    """Put the numbers of ``text`` into ``out`` from ``count`` on: (how many there are now, where one is none or −1)."""
    at = 0
    while at < text.size:
        if text[at] <= 32:
            at += 1
            continue
        end = at
        while end < text.size and text[end] > 32:
            end += 1
        if count >= out.size:
            return count + 1, -1
        value = _number(text, at, end, tens)
        if value == -np.inf:
            return count, at
        out[count] = value
        count += 1
        at = end
    return count, -1


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
    tens, rest, count = readable(_TENS), b"", 0
    while True:
        piece = file.read(_PIECE)
        text = rest + piece
        cut = len(text)
        if piece:
            # A number may go on in the next piece.
            tail = text[-_LONGEST:]
            cut -= len(tail) - max(tail.rfind(c) for c in _SPACE) - 1
        count, wrong = _numbers(readable(np.frombuffer(text[:cut], np.uint8)), tens, out, count)
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
    )  # fmt: skip
