"""The witnesses there are, under the ids of their formats: one line each."""

from __future__ import annotations

from zigzag_meadow.core.fit.witness.asc import ASC
from zigzag_meadow.core.fit.witness.base import Witness
from zigzag_meadow.core.fit.witness.exr import EXR
from zigzag_meadow.core.fit.witness.npy import NPY
from zigzag_meadow.core.fit.witness.pfm import PFM
from zigzag_meadow.core.fit.witness.pictures import JPEG, PICTURE
from zigzag_meadow.core.fit.witness.png import PNG
from zigzag_meadow.core.fit.witness.raw import RAW
from zigzag_meadow.core.fit.witness.tiff import TIFF

__all__ = ["WITNESSES"]

WITNESSES: dict[str, Witness] = {
    "png": PNG,
    "tiff": TIFF,
    "exr": EXR,
    "raw": RAW,
    "bmp": PICTURE,
    "tga": PICTURE,
    "asc": ASC,
    "npy": NPY,
    "pfm": PFM,
    "jpeg": JPEG,
}
"""By the id of a format: the note of a delivered file names it."""
