"""What lies under a file's name when it cannot be that file: another one of the same delivery."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.core.fit.casing import letters_of, means_of
from zigzag_meadow.core.fit.reading import Rows, read_whole
from zigzag_meadow.core.fit.registering import in_bands
from zigzag_meadow.core.fit.rehearsal import Rehearsal, upright
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["other_under_name"]

ALIKE = 1 / 255
"""Means of equal areas of one map, written with whatever depth, differ by less."""
VARIES = 4.0
"""How many times more a map must vary over the ground to be known by its means."""


def other_under_name(rehearsal: Rehearsal, file: FileNote, source: Rows) -> FileNote | None:
    """The file of the delivery whose samples were opened (and none read yet) under the name of ``file``.

    None where it is none of them, where too little varies to tell, or where they cannot be read.
    """
    shape = (source.rows, source.cols, source.channels)
    alike = [
        other
        for other in rehearsal.note.images
        if other.file != file.file and (other.rows, other.columns, len(letters_of(other))) == shape
    ]
    if source.dtype.kind != "u" or not alike:
        return None
    try:
        seen = read_whole(source)
    except (MeadowError, OSError):
        return None
    full = float(np.iinfo(source.dtype).max)
    means: dict[int, NDArray[np.float64]] = {}
    for other in alike:
        listed = rehearsal.listing.files.get(other.file)
        meant = means_of(other, listed) if listed is not None else None
        if meant is None or float(meant.std(axis=(0, 1)).max()) < VARIES * ALIKE:
            continue
        side = meant.shape[0]
        if side not in means:
            # Never all of it as floats.
            means[side] = in_bands(lambda a, b: seen[a:b], source.rows, side, side) / full
        if float(np.abs(upright(other, means[side]) - meant).mean()) < ALIKE:
            return other
    return None
