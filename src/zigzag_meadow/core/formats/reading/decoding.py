"""Whose fault an error is that comes out of a decoder: the file's, the machine's, or ours."""

from __future__ import annotations

import struct
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from tokenize import TokenError

from zigzag_meadow.core.errors import BadFile, MeadowError, TooLarge
from zigzag_meadow.core.formats.limits import MOST_MEMORY

__all__ = ["decoding"]

# What decoders raise for damaged data, wherever it comes from.
_DAMAGE = (
    RuntimeError,
    ValueError,
    OverflowError,
    EOFError,
    OSError,
    struct.error,
    zlib.error,
    TokenError,
    SyntaxError,
)
# What they raise for it too, though it is usually a mistake in a program: the file's fault only inside a library.
_SLIPS = (IndexError, KeyError, TypeError, AttributeError, AssertionError, ZeroDivisionError)
_OURS = "zigzag_meadow"


def _raised_by_us(error: BaseException) -> bool:
    trace = error.__traceback__
    last = ""
    while trace is not None:
        last = str(trace.tb_frame.f_globals.get("__name__", ""))
        trace = trace.tb_next
    return last.partition(".")[0] == _OURS


@contextmanager
def decoding(name: str, kind: str) -> Iterator[None]:
    """Around the calls of a decoder: damage becomes :class:`BadFile`, too little memory :class:`TooLarge`.

    A slip of our own (a wrong type, a missing name) is none of the file's and passes through as it is.
    """
    try:
        yield
    except MeadowError:
        raise
    except MemoryError:
        raise TooLarge(
            f"Reading {name} needs more memory than there is (at most {MOST_MEMORY / 2**30:g} GiB are used for one "
            "file). Save it with fewer samples or fewer bits."
        ) from None
    except _DAMAGE as error:
        raise BadFile(f"{name} cannot be read as {kind}: it is damaged or cut short. Save it again.") from error
    except _SLIPS as error:
        if _raised_by_us(error):
            raise
        raise BadFile(f"{name} cannot be read as {kind}: it is damaged or cut short. Save it again.") from error
