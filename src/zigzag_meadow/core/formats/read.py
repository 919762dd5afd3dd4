"""Read heightmap files at their stored depth. The content decides what a file is, not its extension.

Sizes are checked against what the header declares before anything is decoded. Nothing here squeezes 16 bits to 8.
"""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np

from zigzag_meadow.core.errors import BadFile, WrongFormat
from zigzag_meadow.core.formats.asc import is_asc, read_asc
from zigzag_meadow.core.formats.exr import EXR_SIGNATURE, read_exr
from zigzag_meadow.core.formats.layout import FileFormat, Layout
from zigzag_meadow.core.formats.limits import check_bytes
from zigzag_meadow.core.formats.pictures import is_pgm, read_pgm, read_picture_heights
from zigzag_meadow.core.formats.plain import HGT_SIDES, NPY_SIGNATURE, read_hgt, read_npy
from zigzag_meadow.core.formats.png import PNG_SIGNATURE, PngHeader, png_header, read_png, read_png_heights
from zigzag_meadow.core.formats.raw import read_raw
from zigzag_meadow.core.formats.stored import Remark, Stored, narrowed
from zigzag_meadow.core.formats.tiff import read_tiff

__all__ = ["PngHeader", "Stored", "png_header", "read_png", "read_stored", "sniff"]

_FOREIGN = {
    b"GIF8": "a GIF picture",
    b"PK\x03\x04": "a zip archive",
    b"%PDF": "a PDF",
    b"8BPS": "a layered painting file",
    b"RIFF": "a RIFF file",
}
_NAMED = {
    ".png": "png", ".tif": "tiff", ".tiff": "tiff", ".jpg": "JPEG", ".jpeg": "JPEG", ".bmp": "BMP", ".exr": "EXR",
    ".npy": "NPY", ".asc": "ASCII grid", ".pgm": "PGM",
}  # fmt: skip


def sniff(head: bytes, name: str, size: int = 0) -> FileFormat:
    """What a file is by its first bytes (and, for HGT, name and size).

    Raises :class:`WrongFormat` for known kinds that hold no heights.
    """
    starts: dict[bytes, FileFormat] = {
        PNG_SIGNATURE: "png", EXR_SIGNATURE: "exr", NPY_SIGNATURE: "npy", b"II*\0": "tiff", b"MM\0*": "tiff",
        b"II+\0": "tiff", b"MM\0+": "tiff", b"\xff\xd8\xff": "jpeg",
    }  # fmt: skip
    for start, kind in starts.items():
        if head.startswith(start):
            return kind
    suffix = Path(name).suffix.lower()
    if head.startswith(b"BM") and suffix in (".bmp", ""):
        return "bmp"
    if is_asc(head):
        return "asc"
    if is_pgm(head):
        return "pgm"
    if suffix == ".tga":
        return "tga"
    if suffix == ".hgt" and size in {2 * n * n for n in HGT_SIDES}:
        return "hgt"
    for start, title in _FOREIGN.items():
        if head.startswith(start):
            raise WrongFormat(
                f"{name} is {title}. Bring in a heightmap: PNG, TIFF, OpenEXR, raw, BMP, TGA, PGM, ASCII or NPY."
            )
    if suffix in _NAMED:
        raise WrongFormat(
            f"{name} is named like {_NAMED[suffix].upper()} but does not start like one: it is mislabelled or "
            "damaged. If it is a raw heightmap, rename it to .r16."
        )
    return "raw"


def read_stored(path: Path, name: str, layout: Layout | None = None) -> Stored:
    """Read a heightmap: samples at stored depth, of shape (rows, columns); floats with NaN where some are missing.

    ``layout``: what the file does not say itself. Raises :class:`BadFile` for anything that is empty, cut, damaged
    or holds no heights, :class:`WrongFormat` for other kinds of file, and :class:`TooLarge` over the limits.
    """
    told = layout or Layout()
    size = path.stat().st_size
    check_bytes(size, name)
    with path.open("rb") as file:
        kind = sniff(file.read(256), name, size)
    if kind == "png":
        stored = read_png_heights(path, name, told)
    elif kind == "tiff":
        stored = read_tiff(path, name, told)
    elif kind == "exr":
        stored = read_exr(path, name, told)
    elif kind in ("bmp", "tga", "jpeg"):
        stored = read_picture_heights(path, name, kind, told)
    elif kind == "pgm":
        stored = read_pgm(path, name, told)
    elif kind == "raw":
        samples, sample, order, why = read_raw(
            path, name, rows=told.rows, cols=told.cols, sample=told.sample, header=told.header, order=told.byte_order
        )
        depth = {"u8": "8", "i8": "8 signed", "u16": "16", "i16": "16 signed", "f32": "32f"}[sample]
        stored = Stored(
            samples, "raw", depth, order, sample, told.header,
            guessed=() if why is None else ("byte_order",), order_because=why or ""
        )  # fmt: skip
    else:
        stored = {"asc": read_asc, "hgt": read_hgt, "npy": read_npy}[kind](path, name)
    return _scaled(_with_voids(stored, told.nodata if told.nodata is not None else stored.nodata, name), name)


def _scaled(stored: Stored, name: str) -> Stored:
    """Samples by the scale and offset that the file asks for; after gaps, which are told in its own numbers."""
    if stored.scale is None:
        return stored
    scale, offset = stored.scale
    samples = narrowed(stored.samples.astype(np.float64) * scale + offset)
    if not np.isfinite(samples[~np.isnan(stored.samples)] if stored.samples.dtype.kind == "f" else samples).all():
        raise BadFile(f"{name} asks for a scale of {scale:g}: its heights would be no numbers any more.")
    text = f"As its tags say, its numbers are taken × {scale:g}{f' + {offset:g}' if offset else ''}."
    return replace(stored, samples=samples, remarks=(*stored.remarks, Remark("scaled", "note", text)))


def _with_voids(stored: Stored, nodata: float | None, name: str) -> Stored:
    """Samples that stand for no height become NaN. Raises :class:`BadFile` when nothing is left to stand on."""
    samples = stored.samples
    gone = 0
    if samples.dtype.kind != "f" and nodata is not None and bool((samples == nodata).any()):
        samples = samples.astype(np.float32)
    if samples.dtype.kind == "f":
        samples = samples if samples.flags.writeable else samples.copy()
        # Row by row: no mask of the whole is held beside it.
        for row in samples:
            void = ~np.isfinite(row)
            if nodata is not None:
                with np.errstate(over="ignore"):
                    void |= row == row.dtype.type(nodata)
            row[void] = np.nan
            gone += int(void.sum())
    if gone == samples.size:
        raise BadFile(f"{name} has no sample with a height: all are marked as missing or are not numbers.")
    return replace(stored, samples=samples, nodata=nodata)
