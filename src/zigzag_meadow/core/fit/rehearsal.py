"""The rehearsal: a simulated importer that knows the import note and nothing else of the project.

It reads the delivered files back from disk and rebuilds height and weights by the target's rules. Nothing here
shares code with what wrote them.
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile, MeadowError, NotFound
from zigzag_meadow.core.fit.listed import Listing, parse_listing
from zigzag_meadow.core.formats.limits import LONGEST_SIDE
from zigzag_meadow.core.formats.names import PUTTING
from zigzag_meadow.core.targets.note import FileNote, ImportNote, StoredHeights, parse_note

__all__ = ["MANIFEST", "NOTE", "Rehearsal", "typed_scale", "upright"]

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

    ``given``: the note as it lies there, ``note``: as it was written, which the manifest knows: files are read by that
    one, so that a note that was changed is not taken for changed files. ``troubles``: of note and manifest, where one
    of them is enough to go on. Raises :class:`NotFound` and :class:`BadFile` when neither tells what was delivered.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        if (folder / PUTTING).is_file():
            raise BadFile(
                f"Files were being put into {folder.name} when it was cut off: a part of them is of another delivery. "
                "Deliver there once more."
            )
        self.troubles: list[tuple[str, MeadowError]] = []
        self.listing: Listing = self._manifest()
        self.given: ImportNote | None = self._note()
        written = self.listing.note or self.given
        if written is None:
            raise self.troubles[-1][1]
        self.note: ImportNote = written
        _check_sizes(written)

    def _manifest(self) -> Listing:
        try:
            return parse_listing(_read(self.folder / MANIFEST, "manifest"), MANIFEST)
        except (NotFound, BadFile) as error:
            self.troubles.append((MANIFEST, error))
            return Listing({})

    def _note(self) -> ImportNote | None:
        try:
            return parse_note(_read(self.folder / NOTE, "import note"), NOTE)
        except (NotFound, BadFile) as error:
            self.troubles.append((NOTE, error))
            return None

    def metres(self, file: FileNote, values: NDArray[Any]) -> NDArray[np.float64]:
        """Heights in the project's metres by what is typed in there."""
        there = values.astype(np.float64)
        if file.stored is not None:
            step, at_zero = typed_scale(file.stored)
            there = at_zero + there * step
        return there + self.note.ground.zero


def _check_sizes(note: ImportNote) -> None:
    """A note that was tampered with must not ask for more than any delivery holds, nor lay a tile outside its map.

    Raises :class:`BadFile`.
    """
    for file in note.images:
        row, col = (0, 0) if file.tile is None else (file.tile.first_row, file.tile.first_column)
        rows, cols = (file.rows, file.columns) if file.tile is None else (file.whole_rows, file.whole_columns)
        fits = 0 < file.rows <= rows - row and 0 < file.columns <= cols - col
        whole = (file.whole_rows, file.whole_columns)
        if not fits or max(rows, cols) > LONGEST_SIDE or max(whole) > LONGEST_SIDE or (rows, cols) != whole:
            raise BadFile(
                f"{NOTE} says that {file.file} is {file.columns} × {file.rows} of {whole[1]} × {whole[0]} samples: no "
                "delivery has such a file. Deliver again."
            )


def upright(file: FileNote, samples: NDArray[Any]) -> NDArray[Any]:
    """Samples north up and west first."""
    samples = samples[::-1] if file.first_row == "south" else samples
    return samples[:, ::-1] if file.first_column == "east" else samples


def typed_scale(stored: StoredHeights) -> tuple[float, float]:
    """(metres a step, metres at stored 0), as a target that multiplies a step of its own makes them of what is typed:
    about the middle; others take the ends."""
    if stored.base_step is not None and stored.multiplier is not None:
        step = stored.base_step * stored.multiplier
        return step, stored.at_middle - stored.middle * step
    return (stored.at_full - stored.at_zero) / stored.full, stored.at_zero
