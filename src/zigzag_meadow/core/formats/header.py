"""Header files beside raw heights (``.hdr``): plain lines of a key and a value, as BIL and FLT have."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from pathlib import Path

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.raw import ByteOrder, SampleType
from zigzag_meadow.core.formats.stored import Placement

__all__ = ["RawHeader", "header_beside", "parse_header", "read_header", "with_header"]

_MOST = 64 * 1024
_ORDERS: dict[str, ByteOrder] = {
    "I": "little",
    "LSBFIRST": "little",
    "LITTLE": "little",
    "L": "little",
    "M": "big",
    "MSBFIRST": "big",
    "BIG": "big",
}
_SAMPLES: dict[tuple[int, str], SampleType] = {
    (8, "U"): "u8",
    (8, "S"): "i8",
    (16, "U"): "u16",
    (16, "S"): "i16",
    (32, "F"): "f32",
}


@dataclass(frozen=True, slots=True)
class RawHeader:
    """What a header file says: the layout of the raw file beside it, and metres between samples where it tells."""

    layout: Layout
    spacing: tuple[float, float] | None

    @property
    def placement(self) -> Placement | None:
        if self.spacing is None:
            return None
        y, x = self.spacing
        return Placement(y, x, "area", True, f"{x:g} by {y:g}, as its header file says; samples are cells")


def parse_header(text: str, name: str) -> RawHeader:
    """Read a header file. Raises :class:`BadFile` naming the key that is missing or makes no sense."""
    said: dict[str, str] = {}
    for line in text.splitlines():
        key, _, value = line.replace("=", " ").strip().partition(" ")
        if key and value.strip():
            said[key.upper()] = value.strip()

    def number(key: str, otherwise: float | None = None) -> float:
        try:
            value = float(said[key]) if key in said else otherwise
        except ValueError:
            value = None
        if value is None or not math.isfinite(value):
            raise BadFile(f"{name} is no header of raw heights: {key} is {said.get(key, 'missing')[:40]}.")
        return value

    if int(number("NBANDS", 1)) != 1:
        raise BadFile(f"{name} tells of {said['NBANDS'][:20]} bands; a heightmap has one.")
    floats = "CELLSIZE" in said and "NBITS" not in said
    bits = int(number("NBITS", 32 if floats else 8))
    kind = said.get("PIXELTYPE", "FLOAT" if floats or bits == 32 else "UNSIGNED").upper()[:1]
    sample = _SAMPLES.get((bits, kind))
    if sample is None:
        raise BadFile(f"{name} tells of {bits} bits, {said.get('PIXELTYPE', 'unsigned')[:20]}: such cannot be read.")
    order = _ORDERS.get(said.get("BYTEORDER", "I").upper())
    if order is None:
        raise BadFile(f"{name} tells of the byte order {said['BYTEORDER'][:20]}; it is I or M.")
    gone = next((key for key in ("NODATA", "NODATA_VALUE") if key in said), None)
    layout = Layout(
        rows=int(number("NROWS")),
        cols=int(number("NCOLS")),
        byte_order=order,
        header=int(number("SKIPBYTES", 0)),
        sample=sample,
        nodata=None if gone is None else number(gone),
    )
    x, y = number("XDIM", number("CELLSIZE", 0)), number("YDIM", number("CELLSIZE", 0))
    return RawHeader(layout, (y, x) if x > 0 and y > 0 else None)


def read_header(path: Path, name: str) -> RawHeader:
    """Read a header file from disk. Raises :class:`BadFile`."""
    if path.stat().st_size > _MOST:
        raise BadFile(f"{name} has {path.stat().st_size} bytes: no header of raw heights is so long.")
    return parse_header(path.read_text("latin-1"), name)


def header_beside(path: Path) -> Path | None:
    """The header file that lies beside a raw file, by its name."""
    if not path.name:
        return None
    names = (path.with_suffix(".hdr"), path.with_suffix(".HDR"), path.with_name(path.name + ".hdr"))
    return next((beside for beside in names if beside != path and beside.is_file()), None)


def with_header(layout: Layout, header: RawHeader) -> Layout:
    """What a person said, and for the rest what the header says."""
    said = header.layout
    sized = layout if layout.rows is not None else replace(layout, rows=said.rows, cols=said.cols)
    return replace(
        sized,
        byte_order=layout.byte_order or said.byte_order,
        header=layout.header or said.header,
        sample=layout.sample or said.sample,
        nodata=said.nodata if layout.nodata is None else layout.nodata,
    )
