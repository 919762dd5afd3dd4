"""A made-up target and a made-up format with its witness, as docs/adding.md says: one data file, and a file with its
line for each of the others."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from zigzag_meadow.core.fit.witness.base import Whole, Witness
from zigzag_meadow.core.fit.witness.catalogue import WITNESSES
from zigzag_meadow.core.formats.catalogue import FORMATS
from zigzag_meadow.core.formats.declare import Form, Format
from zigzag_meadow.core.formats.stored import Stored
from zigzag_meadow.core.formats.writing.headed import HeadedWriter
from zigzag_meadow.core.targets import catalogue

SIGNATURE = b"HIDDEN"


def _heights(path, name, layout):
    data = path.read_bytes()
    rows, cols = np.frombuffer(data, "<u2", 2, len(SIGNATURE))
    samples = np.frombuffer(data, "<u2", offset=len(SIGNATURE) + 4).reshape(rows, cols)
    return Stored(samples.astype(np.uint16), "hidden", "16")


class Writer(HeadedWriter):
    def head(self):
        return SIGNATURE + np.array((self.raster.rows, self.raster.cols), "<u2").tobytes()


FORMATS.append(
    Format(
        "hidden",
        "Hidden",
        (".hid",),
        begins=lambda head: head.data.startswith(SIGNATURE),
        heights=_heights,
        pixels=lambda path, name: _heights(path, name, None).samples,
        forms=(
            Form(
                "hidden16",
                "Hidden 16",
                "hid",
                "raster",
                "u16",
                (1,),
                "untagged",
                lambda path, told, stripes: Writer(path, told),
            ),
        ),
    )
)
WITNESSES["hidden"] = Witness(lambda path, file: Whole(_heights(path, file.file, None).samples))
catalogue.PLACES.append(Path(__file__).resolve().parents[1] / "samples" / "targets")
