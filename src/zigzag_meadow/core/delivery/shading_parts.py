"""What every form of the shading recipe is made of: sheets with weights, whose share each is, and names for them."""

from __future__ import annotations

import re
from dataclasses import dataclass

from zigzag_meadow.core.targets.note import FileNote, ImportNote, LegendNote

__all__ = ["DEFAULT_ACROSS", "Share", "free_name", "sampler_names", "shares_of", "tiles_like", "weight_files"]

WEIGHTS = ("weight", "base", "step")
DEFAULT_ACROSS = 4.0


@dataclass(frozen=True, slots=True)
class Share:
    """Where a ground's weight is; ``file`` None: what is left of the others."""

    ground: LegendNote
    file: FileNote | None
    channel: str
    turned: bool


def weight_files(note: ImportNote) -> list[FileNote]:
    """Sheets with weights, in order; of one in tiles its first tile, which all others are like."""
    sheets: dict[str, FileNote] = {}
    for file in note.files:
        if any(c.kind in WEIGHTS for c in file.channels):
            sheets.setdefault(file.of, file)
    return list(sheets.values())


def tiles_like(note: ImportNote, file: FileNote) -> list[FileNote]:
    """All tiles of the sheet that a tile is of."""
    return [other for other in note.files if other.of == file.of]


def shares_of(note: ImportNote) -> list[Share]:
    """Where the weight of every ground is, in the order of the legend."""
    made = []
    for ground in note.legend:
        found = next(
            ((f, c) for f in weight_files(note) for c in f.channels if c.layer == ground.layer and c.kind in WEIGHTS),
            None,
        )
        if found is None:
            made.append(Share(ground, None, "", False))
        else:
            made.append(Share(ground, found[0], found[1].channel, found[1].turned))
    return made


def free_name(text: str, taken: set[str]) -> str:
    """A word like ``text`` that is none of those ``taken``, which it joins."""
    plain = re.sub(r"[^a-z0-9]+", "_", text.lower()).strip("_") or "map"
    plain = plain if plain[0].isalpha() else f"m_{plain}"
    name, k = plain, 2
    while name in taken:
        name, k = f"{plain}_{k}", k + 1
    taken.add(name)
    return name


def sampler_names(note: ImportNote) -> dict[str, str]:
    """A name by file that is no word of a language and none of the other names in a recipe."""
    taken: set[str] = set()
    return {file.file: free_name(f"sheet_{file.file.rsplit('.', 1)[0]}", taken) for file in weight_files(note)}
