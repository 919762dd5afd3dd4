"""Numbers out of text, many at once: the kernel of ASCII grids, by itself so that nothing else waits for it."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable

__all__ = ["numbers_into"]

U8 = NDArray[np.uint8]
F64 = NDArray[np.float64]
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


def numbers_into(text: bytes, out: F64, count: int) -> tuple[int, int]:
    """Put the numbers of ``text``, set apart by white space, into ``out`` (float64) from ``count`` on.

    (how many there are now, one more than there is room for where they are too many; where in ``text`` one begins that
    is none, or −1).
    """
    made: tuple[int, int] = _numbers(readable(np.frombuffer(text, np.uint8)), readable(_TENS), out, count)
    return made
