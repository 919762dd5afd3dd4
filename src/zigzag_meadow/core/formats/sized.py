"""Raw pictures that come back: given their size again, which no header tells."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

import numpy as np

from zigzag_meadow.core.formats.catalogue import recognised
from zigzag_meadow.core.formats.declare import Head
from zigzag_meadow.core.formats.raw import BYTES, NAMED, SampleType, read_raw
from zigzag_meadow.core.formats.read import HEAD

__all__ = ["told_its_size"]

_BY_BYTES: dict[int, SampleType] = {1: "u8", 2: "u16", 4: "f32"}


def told_its_size(path: Path, name: str, shapes: Iterable[tuple[int, int]], out: Path) -> bool:
    """Write a raw picture anew with its size, as NPY to ``out``; False where it is none, or of no size in ``shapes``
    (rows, columns): nothing is written then. Samples stay as they are stored.

    Raises what telling formats apart raises.
    """
    length = path.stat().st_size
    with path.open("rb") as file:
        head = Head(file.read(HEAD), name, length)
    if recognised(head).id != "raw":
        return False
    named = NAMED.get(head.suffix)
    for rows, cols in dict.fromkeys(shapes):
        sample = named or _BY_BYTES.get(length // (rows * cols) if length % (rows * cols) == 0 else 0)
        if sample is not None and length == rows * cols * BYTES[sample]:
            samples, *_ = read_raw(path, name, rows=rows, cols=cols, sample=sample)
            with out.open("wb") as file:
                np.save(file, samples, allow_pickle=False)
            return True
    return False
