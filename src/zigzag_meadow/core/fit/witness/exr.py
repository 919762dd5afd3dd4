"""OpenEXR."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.fit.witness.base import ByPart, Pixels, Rows, Whole, Witness
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.reading.decoding import decoding
from zigzag_meadow.core.formats.reading.exr import read_exr
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["EXR"]

_NAMES = {1: ("Y",), 2: ("Y", "A"), 3: ("R", "G", "B"), 4: ("R", "G", "B", "A")}


def _open(path: Path, file: FileNote) -> Rows:
    names = _NAMES.get(max(len(file.channels), 1))
    if names is None:
        raise BadFile(
            f"The note tells of {len(file.channels)} channels in {file.file}; a picture has four at most. Deliver "
            "again."
        )
    # The first channel is read as a whole: it says whether the file is sound and how large.
    first = read_exr(path, file.file, Layout(channel=names[0])).samples
    if len(names) == 1:
        return Whole(first)
    shape = (*first.shape, len(names))
    del first
    import OpenEXR  # only here: it is slow to load and few files need it

    with decoding(file.file, "OpenEXR"):
        image = OpenEXR.InputFile(str(path))
        header = image.header()
        window, found = header["dataWindow"], header["channels"]
        missing = [name for name in names if name not in found]
        if missing:
            image.close()
            raise BadFile(f"{file.file} has no channel {missing[0]}. Write it again with every channel.")
    top = window.min.y
    codes = {name: "<f2" if "HALF" in str(found[name].type) else "<f4" for name in names}

    def part(a: int, b: int) -> Pixels:
        with decoding(file.file, "OpenEXR"):
            planes = [
                np.frombuffer(image.channel(name, None, top + a, top + b - 1), codes[name]).reshape(b - a, shape[1])
                for name in names
            ]
        return np.stack(planes, axis=-1).astype(np.float32)

    return ByPart(shape, "f4", part, image.close)


EXR = Witness(_open)
