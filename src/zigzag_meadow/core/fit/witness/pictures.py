"""Plain pictures, by the general picture library: BMP, TGA, JPEG."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from PIL import Image

from zigzag_meadow.core.fit.witness.base import Rows, Whole, Witness
from zigzag_meadow.core.formats.limits import check_bytes, check_size
from zigzag_meadow.core.formats.reading.decoding import decoding
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["JPEG", "PICTURE", "by_pillow", "profile"]


def by_pillow(path: Path, file: FileNote) -> Rows:
    """A picture as it is stored, whatever kind it is. Raises :class:`BadFile`, :class:`TooLarge`."""
    check_bytes(path.stat().st_size, file.file)
    with decoding(file.file, "a picture"), Image.open(path) as image:
        check_size(image.height, image.width, file.file)
        return Whole(np.asarray(image))


def profile(path: Path, file: FileNote) -> list[str]:
    """Whether a picture carries a colour profile. Raises :class:`BadFile` where it cannot be told."""
    with decoding(file.file, "a picture"), Image.open(path) as image:
        return ["a colour profile"] if image.info.get("icc_profile") else []


PICTURE = Witness(by_pillow)
JPEG = Witness(by_pillow, profile)
