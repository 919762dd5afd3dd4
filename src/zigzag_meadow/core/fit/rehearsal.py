"""The rehearsal: a simulated importer that knows the import note and nothing else of the project.

It reads the delivered files back from disk and rebuilds height and weights by the target's rules. Nothing here
shares code with what wrote them.
"""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Any

import numpy as np
import orjson
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile, NotFound
from zigzag_meadow.core.fit.reading import read_back
from zigzag_meadow.core.targets.note import FileNote, ImportNote, StoredHeights, parse_note

__all__ = ["Rehearsal"]

NOTE = "import_note.json"
MANIFEST = "manifest.json"
_MOST_NOTE = 64 * 2**20


def _read(path: Path, what: str) -> bytes:
    if not path.is_file():
        raise NotFound(f"There is no {path.name} in this folder. Point at a delivery: it holds its {what}.")
    if path.stat().st_size > _MOST_NOTE:
        raise BadFile(f"{path.name} is far too large to be a {what}. Deliver again.")
    return path.read_bytes()


class Rehearsal:
    """A delivery folder seen through its import note.

    Raises :class:`NotFound` when there is no note and :class:`BadFile` when the note or manifest is damaged.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.note: ImportNote = parse_note(_read(folder / NOTE, "import note"), NOTE)

    def manifest(self) -> dict[str, dict[str, Any]]:
        """The manifest's entries by file name."""
        try:
            data = orjson.loads(_read(self.folder / MANIFEST, "manifest"))
            return {str(entry["file"]): entry for entry in data["files"]}
        except (orjson.JSONDecodeError, KeyError, TypeError) as error:
            raise BadFile(f"{MANIFEST} is damaged: {error}. Deliver again.") from None

    def read(self, file: FileNote) -> NDArray[Any]:
        """A file's samples as stored (rows, columns, channels). Raises what :func:`read_back` raises."""
        return read_back(self.folder, file)

    def whole(self, files: list[FileNote], parts: Mapping[str, NDArray[Any]]) -> NDArray[Any]:
        """The map that some files are tiles of, north up and west first: (rows, columns, channels)."""
        first = files[0]
        if len(files) == 1 and first.tile is None:
            return self.upright(first, parts[first.file])
        sample = parts[first.file]
        made = np.zeros((first.whole_rows, first.whole_columns, sample.shape[2]), sample.dtype)
        for file in files:
            tile = file.tile
            if tile is None:
                raise BadFile(f"{file.file} is one of several and says not where it lies. Deliver again.")
            part = self.upright(file, parts[file.file])
            rows, cols = part.shape[:2]
            made[tile.first_row : tile.first_row + rows, tile.first_column : tile.first_column + cols] = part
        return made

    @staticmethod
    def upright(file: FileNote, samples: NDArray[Any]) -> NDArray[Any]:
        """Samples north up and west first."""
        samples = samples[::-1] if file.first_row == "south" else samples
        return samples[:, ::-1] if file.first_column == "east" else samples

    def metres(self, file: FileNote, values: NDArray[Any]) -> NDArray[np.float64]:
        """Heights in the project's metres by what is typed in there."""
        there = values.astype(np.float64)
        if file.stored is not None:
            step, at_zero = typed_scale(file.stored)
            there = at_zero + there * step
        return there + self.note.ground.zero


def typed_scale(stored: StoredHeights) -> tuple[float, float]:
    """(metres a step, metres at stored 0), as a target that multiplies a step of its own makes them of what is typed:
    about the middle; others take the ends."""
    if stored.base_step is not None and stored.multiplier is not None:
        step = stored.base_step * stored.multiplier
        return step, stored.at_middle - stored.middle * step
    return (stored.at_full - stored.at_zero) / stored.full, stored.at_zero
