"""HGT: one-degree tiles of whole metres."""

from __future__ import annotations

import math
import re
from pathlib import Path

import numpy as np

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.formats.declare import Format, Head
from zigzag_meadow.core.formats.degrees import metres_a_degree
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.stored import Placement, Stored

__all__ = ["HGT"]

_SIDES = {1201: 3, 3601: 1}
"""Samples a side and arc seconds between them."""
_VOID = -32768


def _called(head: Head) -> bool:
    return head.suffix == ".hgt" and head.size in {2 * n * n for n in _SIDES}


def _heights(path: Path, name: str, layout: Layout) -> Stored:
    """A tile of big-endian 16-bit metres; its name says where it lies (N54W003)."""
    side = math.isqrt(path.stat().st_size // 2)
    if side not in _SIDES or path.stat().st_size != 2 * side * side:
        raise BadFile(f"{name} has {path.stat().st_size} bytes; such tiles have 1201 or 3601 samples a side.")
    samples = np.fromfile(path, ">i2").reshape(side, side).astype(np.int16)
    corner = re.match(r"([ns])(\d{2})[ew]\d{3}", Path(name).name.lower())
    latitude = (int(corner.group(2)) + 0.5) * (1 if corner.group(1) == "n" else -1) if corner else 0.0
    north, east = metres_a_degree(latitude)
    says = f"one degree at latitude {latitude:g}°" if corner else "one degree; its name does not say where, so at 0°"
    step = _SIDES[side] / 3600
    return Stored(
        samples,
        "hgt",
        "16 signed",
        byte_order="big",
        nodata=float(_VOID),
        placement=Placement(step * north, step * east, "vertex", True, says),
    )


HGT = Format("hgt", "HGT", (".hgt",), called=_called, heights=_heights)
