"""The registry of what can be written: a format with a depth is a *form*, and items name one by its id."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal

from zigzag_meadow.core.errors import NotFound

if TYPE_CHECKING:
    from zigzag_meadow.core.formats.writing.raster import SampleKind
    from zigzag_meadow.core.stripes import Stripes

__all__ = ["FORMS", "Form", "form", "forms_table"]

Tag = Literal["tagged", "linear", "untagged"]
Opened = Any
"""A writer as a context manager: of rows, or of points."""


@dataclass(frozen=True, slots=True)
class Form:
    """A format with a depth.

    ``reads``: what a reader knows the format by. ``takes``: pictures or points. ``colours``: how it carries what its
    colours are: a tag, linear light by its own rule, or not at all. ``data``: values come back as they were written.
    ``orders``: either byte order can be asked for; ``endings``: any file extension; ``packs``, ``tiled``: whether
    compression and tiles inside the file can be chosen. ``lacks``: what else to know of it.
    """

    id: str
    title: str
    reads: str
    ending: str
    takes: Literal["raster", "points"]
    sample: SampleKind
    channels: tuple[int, ...]
    colours: Tag
    open: Callable[[Path, Any, Stripes], Opened]
    data: bool = True
    orders: bool = False
    endings: bool = False
    packs: bool = False
    tiled: bool = False
    lacks: str = ""

    @property
    def bits(self) -> int:
        return {"u8": 8, "u16": 16, "f16": 16, "f32": 32}[self.sample]

    @property
    def floats(self) -> bool:
        return self.sample in ("f16", "f32")

    def losses(self, channels: Sequence[str], bits: int, colours: bool, title: str) -> str | None:
        """What a picture with these channels and so many bits would lose in it, as a sentence; None where nothing."""
        if len(channels) not in self.channels:
            most = max((n for n in self.channels if n < len(channels)), default=0)
            gone = " and ".join(letter.upper() for letter in channels[most:])
            if most == 0:
                return f"{self.title} cannot hold {title}: it has no picture of {len(channels)} channels."
            return f"{self.title} has no more than {most} channels: {gone} of {title} would be lost."
        if self.bits < bits and not (self.floats and bits <= 8):
            return f"{self.title} holds {self.bits} bits of the {bits} that {title} has: finer steps would be lost."
        if not self.data and not colours:
            return f"{self.title} bends values in blocks of 8 by 8: {title} is data and would not come back."
        return None


def _of(module: str, writer: str, stripes: bool = False) -> Callable[[Path, Any, Stripes], Opened]:
    """A writer of a module beside this one, loaded when it is first needed: a table of forms waits for none.
    ``stripes``: it works on a pool of threads."""

    def opened(path: Path, told: Any, pool: Stripes) -> Opened:
        made = getattr(import_module(f"{__package__}.{module}"), writer)
        return made(path, told, pool) if stripes else made(path, told)

    return opened


_ANY = (1, 2, 3, 4)
FORMS: list[Form] = [
    Form("png8", "PNG 8", "png", "png", "raster", "u8", _ANY, "tagged", _of("png", "png_rows", stripes=True)),
    Form("png16", "PNG 16", "png", "png", "raster", "u16", _ANY, "tagged", _of("png", "png_rows", stripes=True)),
    Form("tiff8", "TIFF 8", "tiff", "tif", "raster", "u8", _ANY, "tagged", _of("tiff", "TiffWriter"),
         packs=True, tiled=True),
    Form("tiff16", "TIFF 16", "tiff", "tif", "raster", "u16", _ANY, "tagged", _of("tiff", "TiffWriter"),
         packs=True, tiled=True),
    Form("tiff32f", "TIFF float", "tiff", "tif", "raster", "f32", _ANY, "linear", _of("tiff", "TiffWriter"),
         packs=True, tiled=True),
    Form("geotiff16", "GeoTIFF 16", "tiff", "tif", "raster", "u16", _ANY, "tagged", _of("tiff", "GeoTiffWriter"),
         packs=True, tiled=True),
    Form("geotiff32f", "GeoTIFF float", "tiff", "tif", "raster", "f32", _ANY, "linear", _of("tiff", "GeoTiffWriter"),
         packs=True, tiled=True),
    Form("exr16f", "EXR half", "exr", "exr", "raster", "f16", _ANY, "linear", _of("exr", "ExrWriter"), packs=True,
         lacks="half floats have 11 bits: heights above 2048 m lose more than a metre"),
    Form("exr32f", "EXR float", "exr", "exr", "raster", "f32", _ANY, "linear", _of("exr", "ExrWriter"), packs=True),
    Form("raw8", "raw 8", "raw", "r8", "raster", "u8", _ANY, "untagged", _of("plain", "RawWriter"), endings=True),
    Form("raw16", "raw 16", "raw", "r16", "raster", "u16", _ANY, "untagged", _of("plain", "RawWriter"),
         orders=True, endings=True),
    Form("raw32f", "raw float", "raw", "r32", "raster", "f32", _ANY, "linear", _of("plain", "RawWriter"), orders=True,
         endings=True),
    Form("bmp8", "BMP 8", "bmp", "bmp", "raster", "u8", (1,), "untagged", _of("plain", "BmpWriter")),
    Form("bmp24", "BMP 24", "bmp", "bmp", "raster", "u8", (3,), "untagged", _of("plain", "BmpWriter")),
    Form("tga", "TGA", "tga", "tga", "raster", "u8", (1, 3, 4), "untagged", _of("plain", "TgaWriter")),
    Form("asc", "ASCII grid", "asc", "asc", "raster", "f32", (1,), "untagged", _of("grid_text", "AscWriter")),
    Form("npy", "NPY float", "npy", "npy", "raster", "f32", _ANY, "linear", _of("plain", "NpyWriter")),
    Form("jpeg", "JPEG", "jpeg", "jpg", "raster", "u8", (1, 3), "tagged", _of("jpeg", "JpegWriter"), data=False,
         lacks="it bends colours in blocks of 8 by 8, and never comes back exactly"),
    Form("csv", "CSV", "csv", "csv", "points", "f32", (), "untagged", _of("points", "CsvWriter")),
    Form("geojson", "GeoJSON", "geojson", "geojson", "points", "f32", (), "untagged", _of("points", "GeoJsonWriter")),
    Form("ply", "PLY", "ply", "ply", "points", "f32", (), "untagged", _of("points", "PlyWriter")),
]  # fmt: skip
"""The registry: one line a form."""


def form(form_id: str) -> Form:
    """A form by its id. Raises :class:`NotFound` with the ids there are."""
    found = next((item for item in FORMS if item.id == form_id), None)
    if found is None:
        there = ", ".join(item.id for item in FORMS)
        raise NotFound(f"There is no format {form_id!r}. There are: {there}.", field="form")
    return found


def forms_table() -> str:
    """Every form as a Markdown table, for the README."""
    rows = ["| Format | id | Holds | Channels | Colours |", "| --- | --- | --- | --- | --- |"]
    told = {"tagged": "tagged sRGB, data untagged", "linear": "linear light", "untagged": "carries no tag"}
    for item in FORMS:
        holds = "points" if item.takes == "points" else f"{item.bits} bits{', float' if item.floats else ''}"
        many = ", ".join(str(n) for n in item.channels) or "—"
        note = f"; {item.lacks}" if item.lacks else ""
        rows.append(f"| {item.title} | `{item.id}` | {holds} | {many} | {told[item.colours]}{note} |")
    return "\n".join(rows)
