"""The rehearsal: a simulated importer that knows the import note and nothing else of the project.

It reads the delivered files back from disk and rebuilds height and weights by the target's rules. Nothing here
shares code with what wrote them.
"""

from __future__ import annotations

import struct
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import orjson
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile, NotFound
from zigzag_meadow.core.formats.read import png_header, read_png

__all__ = ["NoteFile", "Rehearsal", "colour_chunks"]

NOTE = "import_note.json"
MANIFEST = "manifest.json"


@dataclass(frozen=True, slots=True)
class NoteFile:
    """What the note promises about one file."""

    file: str
    kind: str
    format: str
    bits: int
    rows: int
    cols: int
    byte_order: str | None
    sheet: str | None
    channels: tuple[dict[str, Any], ...]
    colour_space: str = "linear"


def _read_json(path: Path, what: str) -> dict[str, Any]:
    if not path.is_file():
        raise NotFound(f"There is no {path.name} in this folder. Point at a delivery: it holds its {what}.")
    try:
        data = orjson.loads(path.read_bytes())
    except orjson.JSONDecodeError as error:
        raise BadFile(f"{path.name} is not JSON: {error}. Deliver again.") from None
    if not isinstance(data, dict):
        raise BadFile(f"{path.name} does not hold the {what}. Deliver again.")
    return data


def colour_chunks(data: bytes) -> list[str]:
    """Names of the colour parts (gamma, sRGB, profile) that a PNG carries; data maps must have none."""
    kinds, at = [], 8
    while at + 8 <= len(data):
        size, kind = struct.unpack(">I4s", data[at : at + 8])
        if kind in (b"gAMA", b"sRGB", b"iCCP", b"cICP"):
            kinds.append(kind.decode("ascii"))
        if kind == b"IDAT":
            break
        at += 12 + size
    return kinds


class Rehearsal:
    """A delivery folder seen through its import note.

    Raises :class:`NotFound` when there is no note and :class:`BadFile` when the note or manifest is damaged.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.note = _read_json(folder / NOTE, "import note")
        try:
            self._understand()
        except (KeyError, TypeError, ValueError) as error:
            raise BadFile(f"{NOTE} lacks {error}: it was changed by hand or is of another version.") from None

    def _understand(self) -> None:
        terrain, height = self.note["terrain"], self.note["height"]
        self.rows, self.cols = int(terrain["rows"]), int(terrain["columns"])
        self.width, self.length = float(terrain["width"]), float(terrain["length"])
        # By the target's rule the step is what the typed scale makes of the base step.
        self.step = float(height["vertical_scale"]) * float(height["base_step"])
        self.position = float(height["vertical_position"])
        self.middle = int(height["middle"])
        self.blocks = (int(terrain["blocks_x"]), int(terrain["blocks_y"]))
        self.block_cells = int(terrain["patch_cells"]) * int(terrain["patches_per_block_side"])
        self.weights_add_up = bool(self.note["weights_add_up"])
        self.target = str(self.note["target"]["id"])
        self.files = [
            NoteFile(
                file=Path(str(f["file"])).name,
                kind=str(f["kind"]),
                format=str(f["format"]),
                bits=int(f["bits"]),
                rows=int(f["rows"]),
                cols=int(f["columns"]),
                byte_order=f.get("byte_order"),
                sheet=f.get("sheet"),
                channels=tuple(f.get("channels", ())),
                colour_space=str(f.get("colour_space", "linear")),
            )
            for f in self.note["files"]
        ]

    def manifest(self) -> dict[str, dict[str, Any]]:
        """The manifest's entries by file name."""
        data = _read_json(self.folder / MANIFEST, "manifest")
        try:
            return {str(entry["file"]): entry for entry in data["files"]}
        except (KeyError, TypeError) as error:
            raise BadFile(f"{MANIFEST} lacks {error}. Deliver again.") from None

    def read(self, entry: NoteFile) -> NDArray[Any]:
        """A file's samples as stored: unsigned integers of shape (rows, columns, channels).

        Raises :class:`BadFile` (or its kin) when it is missing, cut or not what its format says.
        """
        path = self.folder / entry.file
        if not path.is_file():
            raise NotFound(f"{entry.file} is missing.")
        if entry.format == "raw":
            return self._read_raw(path, entry)
        pixels = read_png(path, entry.file)
        return pixels if pixels.ndim == 3 else pixels[:, :, None]

    def _read_raw(self, path: Path, entry: NoteFile) -> NDArray[Any]:
        expected = 2 * entry.rows * entry.cols
        actual = path.stat().st_size
        if actual != expected:
            side = int((actual / 2) ** 0.5)
            square = f", as {side} × {side} samples would" if 2 * side * side == actual else ""
            raise BadFile(
                f"{entry.file} has {actual} bytes{square}; the note says {entry.cols} × {entry.rows} of 16 bits, "
                f"{expected} bytes."
            )
        words = np.fromfile(path, dtype="<u2" if entry.byte_order == "little" else ">u2")
        return words.astype(np.uint16).reshape(entry.rows, entry.cols, 1)

    def colour_chunks(self, entry: NoteFile) -> list[str]:
        """Colour parts of a PNG file of the delivery."""
        if entry.format != "png":
            return []
        data = (self.folder / entry.file).read_bytes()
        png_header(data, entry.file)
        return colour_chunks(data)

    def heights(self, values: NDArray[Any]) -> NDArray[np.float64]:
        """Metres by the target's rule: (value − 32768) · scale · base step + vertical position."""
        return (values.astype(np.float64) - self.middle) * self.step + self.position
