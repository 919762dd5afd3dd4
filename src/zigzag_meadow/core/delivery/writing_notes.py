"""The note as JSON, text and page with its picture legend, and the recipe, into a delivery's folder."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Any

import numpy as np
import orjson
from numpy.typing import NDArray

from zigzag_meadow.core.delivery.manifest import Manifest
from zigzag_meadow.core.delivery.note_view import note_page, note_text
from zigzag_meadow.core.delivery.shading import recipe_glsl, recipe_words
from zigzag_meadow.core.delivery.shading_materialx import recipe_materialx
from zigzag_meadow.core.formats.writing.png_stream import PngWriter
from zigzag_meadow.core.paper import address
from zigzag_meadow.core.rounding import quantise_mask
from zigzag_meadow.core.signature import Signature
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.targets.note import ImportNote

__all__ = ["NOTE_HTML", "NOTE_JSON", "NOTE_TEXT", "write_notes"]

NOTE_JSON = "import_note.json"
NOTE_TEXT = "import_note.txt"
NOTE_HTML = "import_note.html"


def write_notes(folder: Path, note: ImportNote, manifest: Manifest, stripes: Stripes) -> None:
    """Write them all."""
    (folder / NOTE_JSON).write_bytes(orjson.dumps(note.model_dump(mode="json"), option=orjson.OPT_INDENT_2))
    (folder / NOTE_TEXT).write_text(note_text(note), encoding="utf-8")
    pictures = _pictures(note, manifest, stripes)
    (folder / NOTE_HTML).write_text(note_page(note, pictures), encoding="utf-8")
    if note.legend:
        texts = {"txt": recipe_words, "glsl": recipe_glsl, "mtlx": recipe_materialx}
        for ending, write in texts.items():
            (folder / f"shading_recipe.{ending}").write_text(write(note), encoding="utf-8")


def _pictures(note: ImportNote, manifest: Manifest, stripes: Stripes) -> dict[tuple[str, str], str]:
    """Thumbnails of every channel of single files, north up, as data addresses."""
    made: dict[tuple[str, str], str] = {}
    for file in note.images:
        entry = manifest.entry(file.file)
        if file.tile is not None or entry is None or file.kind in ("height", "look"):
            continue
        for channel in file.channels:
            kept = Signature.from_json(entry.channels.get(channel.channel, {}))
            if kept is not None:
                small = kept.means
                small = small[::-1] if file.first_row == "south" else small
                small = small[:, ::-1] if file.first_column == "east" else small
                made[file.file, channel.channel] = _picture(small, stripes)
    return made


def _picture(means: NDArray[Any], stripes: Stripes) -> str:
    with tempfile.TemporaryDirectory() as place:
        path = Path(place) / "legend.png"
        with PngWriter(path, means.shape[0], means.shape[1], 1, 8, stripes) as png:
            png.write(quantise_mask(np.ascontiguousarray(means, np.float32)))
        return address(path.read_bytes(), "image/png")
