"""Files of textures put together into sets."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from zigzag_meadow.core.looks.files import Inspected, set_name
from zigzag_meadow.core.looks.model import Look, MapKind

__all__ = ["Brought", "TextureSet", "grouped", "look_of"]


@dataclass(frozen=True, slots=True)
class Brought:
    """A texture that was brought in: its file with the folders it lay in, the asset it is kept as, what it is."""

    file: str
    asset: str
    told: Inspected


@dataclass(frozen=True, slots=True)
class TextureSet:
    """Textures that go together, by kind; ``left``: files of a kind that the set has already."""

    name: str
    maps: dict[MapKind, Brought]
    left: tuple[str, ...]


def grouped(files: Sequence[Brought]) -> list[TextureSet]:
    """Sets of files whose names agree but for the words for maps, in the order in which they come."""
    sets: dict[str, dict[MapKind, Brought]] = {}
    left: dict[str, list[str]] = {}
    for file in files:
        name = set_name(file.file)
        maps = sets.setdefault(name, {})
        if file.told.kind in maps:
            left.setdefault(name, []).append(file.file)
        else:
            maps[file.told.kind] = file
    return [TextureSet(name, maps, tuple(left.get(name, ()))) for name, maps in sets.items()]


def look_of(made: TextureSet, look_id: str, name: str) -> Look | None:
    """A set as a look; None without an albedo."""
    albedo = made.maps.get("albedo")
    if albedo is None:
        return None
    others = {kind: file.asset for kind, file in made.maps.items() if kind != "albedo"}
    told = albedo.told
    return Look(
        id=look_id,
        name=name,
        albedo=albedo.asset,
        rows=told.rows,
        cols=told.cols,
        mean=told.mean,
        seam=told.seam,
        **others,
    )
