"""The formats there are: one line each. Reading, writing, lists of endings and tables are read off them."""

from __future__ import annotations

from zigzag_meadow.core.errors import NotFound, WrongFormat
from zigzag_meadow.core.formats.declare import Form, Format, Head, Use
from zigzag_meadow.core.formats.kinds.asc import ASC
from zigzag_meadow.core.formats.kinds.bmp import BMP
from zigzag_meadow.core.formats.kinds.csv import CSV
from zigzag_meadow.core.formats.kinds.exr import EXR
from zigzag_meadow.core.formats.kinds.geojson import GEOJSON
from zigzag_meadow.core.formats.kinds.hgt import HGT
from zigzag_meadow.core.formats.kinds.jpeg import JPEG
from zigzag_meadow.core.formats.kinds.npy import NPY
from zigzag_meadow.core.formats.kinds.pfm import PFM
from zigzag_meadow.core.formats.kinds.pgm import PGM
from zigzag_meadow.core.formats.kinds.ply import PLY
from zigzag_meadow.core.formats.kinds.png import PNG
from zigzag_meadow.core.formats.kinds.raw import RAW
from zigzag_meadow.core.formats.kinds.tga import TGA
from zigzag_meadow.core.formats.kinds.tiff import TIFF

__all__ = ["FORMATS", "form", "format_named", "forms", "forms_table", "recognised", "titles"]

FORMATS: list[Format] = [PNG, TIFF, EXR, RAW, BMP, TGA, ASC, NPY, PFM, JPEG, PGM, HGT, CSV, GEOJSON, PLY]
"""The register: one line a format, in the order of lists."""
_FOREIGN = {
    b"GIF8": "a GIF picture",
    b"PK\x03\x04": "a zip archive",
    b"%PDF": "a PDF",
    b"8BPS": "a layered painting file",
    b"RIFF": "a RIFF file",
}


def format_named(format_id: str) -> Format:
    """A format by its id. Raises :class:`NotFound` with the ids there are."""
    found = next((kind for kind in FORMATS if kind.id == format_id), None)
    if found is None:
        there = ", ".join(kind.id for kind in FORMATS)
        raise NotFound(f"There is no format {format_id!r}. There are: {there}.", field="format")
    return found


def recognised(head: Head) -> Format:
    """What a file is: by its content, else by its name; raw heights where neither tells.

    Raises :class:`WrongFormat` for kinds of files that are none of ours, and for names that promise another content.
    """
    for knows in ("begins", "called"):
        for kind in FORMATS:
            asked = getattr(kind, knows)
            if asked is not None and asked(head):
                return kind
    for start, title in _FOREIGN.items():
        if head.data.startswith(start):
            raise WrongFormat(f"{head.name} is {title}. Bring in a heightmap: {titles('heightmap')}.")
    promised = next((kind for kind in FORMATS if kind.begins is not None and head.suffix in kind.endings), None)
    if promised is not None:
        raise WrongFormat(
            f"{head.name} is named like {promised.title} but does not start like one: it is mislabelled or damaged. "
            "If it is a raw heightmap, rename it to .r16."
        )
    return RAW


def titles(use: Use) -> str:
    """What files should be brought in for something, in words: ``PNG, TIFF or OpenEXR``. A format that bends values is
    read as a heightmap, but nobody is told to use it."""
    named = [kind.title for kind in FORMATS if use in kind.uses and (kind.exact or use != "heightmap")]
    return f"{', '.join(named[:-1])} or {named[-1]}"


def forms() -> list[Form]:
    """Every form that can be written, in the order of the register."""
    return [one for kind in FORMATS for one in kind.forms]


def form(form_id: str) -> Form:
    """A form by its id. Raises :class:`NotFound` with the ids there are."""
    found = next((one for one in forms() if one.id == form_id), None)
    if found is None:
        there = ", ".join(one.id for one in forms())
        raise NotFound(f"There is no format {form_id!r}. There are: {there}.", field="form")
    return found


def forms_table() -> str:
    """Every form as a Markdown table, for the README."""
    rows = ["| Format | id | Holds | Channels | Colours |", "| --- | --- | --- | --- | --- |"]
    told = {"tagged": "tagged sRGB, data untagged", "linear": "linear light", "untagged": "carries no tag"}
    for item in forms():
        holds = "points" if item.takes == "points" else f"{item.bits} bits{', float' if item.floats else ''}"
        many = ", ".join(str(n) for n in item.channels) or "—"
        note = f"; {item.lacks}" if item.lacks else ""
        rows.append(f"| {item.title} | `{item.id}` | {holds} | {many} | {told[item.colours]}{note} |")
    return "\n".join(rows)
