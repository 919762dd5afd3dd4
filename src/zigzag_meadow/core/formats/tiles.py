"""A set of tiles as one heightmap: placed by the numbers in their names or by a manifest, shared border or not."""

from __future__ import annotations

import re
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import orjson
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile, WrongFormat
from zigzag_meadow.core.formats.limits import check_size
from zigzag_meadow.core.formats.read import read_stored

__all__ = ["assemble"]

_MOST_TILES = 1024
_AXES = (
    re.compile(r"[_-]?x(?P<col>\d+)[_-]?y(?P<row>\d+)$", re.IGNORECASE),
    re.compile(r"[_-]?y(?P<row>\d+)[_-]?x(?P<col>\d+)$", re.IGNORECASE),
    re.compile(r"[_-]?r(?:ow)?(?P<row>\d+)[_-]?c(?:ol)?(?P<col>\d+)$", re.IGNORECASE),
    re.compile(r"[_-](?P<col>\d+)[_-](?P<row>\d+)$"),
)
"""Endings of names, without the file's own: column and row of a tile, counted from the north-west."""


@dataclass(frozen=True, slots=True)
class _Tile:
    row: int
    col: int
    name: str
    path: Path


def _by_manifest(text: bytes, files: dict[str, Path], name: str) -> tuple[list[_Tile], bool | None]:
    try:
        data = orjson.loads(text)
        entries = [(str(t["file"]), int(t["row"]), int(t["col"])) for t in data["tiles"]]
        shared = data.get("shared_border")
    except (orjson.JSONDecodeError, KeyError, TypeError, ValueError, AttributeError, OverflowError):
        raise BadFile(
            f'{name} is no manifest of tiles: it holds {{"tiles": [{{"file", "row", "col"}}], "shared_border"}}.'
        ) from None
    if len(entries) < 2:
        raise BadFile(f"{name} lists {len(entries)} tiles; a set holds 2 or more.")
    missing = next((file for file, _, _ in entries if file not in files), None)
    if missing is not None:
        raise BadFile(f"{name} lists {missing[:60]}, which was not brought in with it.")
    return [_Tile(row, col, file, files[file]) for file, row, col in entries], bool(
        shared
    ) if shared is not None else None


def _by_name(files: dict[str, Path]) -> list[_Tile]:
    for pattern in _AXES:
        matches = {name: pattern.search(Path(name).stem) for name in files}
        if all(matches.values()):
            return [
                _Tile(int(match["row"]), int(match["col"]), name, files[name])
                for name, match in matches.items()
                if match is not None
            ]
    raise WrongFormat(
        "These names do not say where each tile lies. End them in column and row, such as moor_x0_y1, or bring a "
        "manifest along."
    )


def _placed(tiles: list[_Tile]) -> tuple[list[_Tile], int, int]:
    """Tiles counted from 0, and how many there are down and across."""
    top, left = min(t.row for t in tiles), min(t.col for t in tiles)
    moved = [_Tile(t.row - top, t.col - left, t.name, t.path) for t in tiles]
    places = [(t.row, t.col) for t in moved]
    twice = next((t.name for t in moved if places.count((t.row, t.col)) > 1), None)
    if twice is not None:
        raise BadFile(f"Two tiles lie in the place of {twice}. Bring in one set at a time.")
    down, across = max(t.row for t in moved) + 1, max(t.col for t in moved) + 1
    if down * across > 4 * len(moved) + 8:
        raise BadFile(f"{len(moved)} tiles are spread over {across} × {down} places. Are their numbers right?")
    return moved, down, across


def _share_border(arrays: dict[tuple[int, int], NDArray[Any]]) -> bool:
    """Whether neighbouring tiles repeat their common line: their edges then agree, sample by sample."""
    same, pairs = 0, 0
    for (row, col), tile in arrays.items():
        for other, a, b in (
            (arrays.get((row, col + 1)), tile[:, -1], 0),
            (arrays.get((row + 1, col)), tile[-1], 1),
        ):
            if other is not None:
                edge = other[:, 0] if b == 0 else other[0]
                pairs += 1
                same += bool((edge == a).mean() > 0.98)
    return pairs > 0 and same > pairs / 2


def assemble(files: list[tuple[str, Path]], out: Path) -> str:
    """Put tiles (name, path) together and write them to ``out`` as one NPY array; returns its name.

    Tiles that are missing leave gaps. Raises :class:`BadFile` or :class:`WrongFormat` where names, sizes or a
    manifest do not fit.
    """
    if not 2 <= len(files) <= _MOST_TILES:
        raise BadFile(f"A set holds 2 to {_MOST_TILES} tiles, got {len(files)}.")
    named = dict(files)
    manifest = next((name for name in named if name.lower().endswith(".json")), None)
    shared: bool | None = None
    if manifest is not None:
        rest = {name: path for name, path in named.items() if name != manifest}
        tiles, shared = _by_manifest(named[manifest].read_bytes(), rest, manifest)
    else:
        tiles = _by_name(named)
    tiles, down, across = _placed(tiles)
    arrays = {(t.row, t.col): read_stored(t.path, t.name).samples for t in tiles}
    shape = next(iter(arrays.values())).shape
    odd = next((t.name for t in tiles if arrays[t.row, t.col].shape != shape), None)
    if odd is not None:
        raise BadFile(f"{odd} is {_size_of(arrays, tiles, odd)}; the others are {shape[1]} × {shape[0]}.")
    less = 1 if (_share_border(arrays) if shared is None else shared) else 0
    rows, cols = down * (shape[0] - less) + less, across * (shape[1] - less) + less
    stem = re.split(r"[_-]?[xyrc]?\d+[_-]", Path(tiles[0].name).stem)[0] or "tiles"
    check_size(rows, cols, stem)
    kinds = {a.dtype for a in arrays.values()}
    whole = len(arrays) == down * across and len(kinds) == 1
    joined = np.empty((rows, cols), kinds.pop()) if whole else np.full((rows, cols), np.nan, np.float32)
    for (row, col), tile in sorted(arrays.items()):
        r, c = row * (shape[0] - less), col * (shape[1] - less)
        joined[r : r + shape[0], c : c + shape[1]] = tile
    with out.open("wb") as file:
        np.save(file, joined)
    return f"{stem}.npy"


def _size_of(arrays: dict[tuple[int, int], NDArray[Any]], tiles: list[_Tile], name: str) -> str:
    tile = next(t for t in tiles if t.name == name)
    rows, cols = arrays[tile.row, tile.col].shape
    return f"{cols} × {rows}"
