"""Textures from elsewhere: which map a file is, what is wrong with it, and its samples.

Grey or colour, with 8 or 16 bits; alpha is told and not used.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from zigzag_meadow.core.errors import WrongFormat
from zigzag_meadow.core.formats.catalogue import FORMATS, titles
from zigzag_meadow.core.formats.declare import Head
from zigzag_meadow.core.formats.limits import check_bytes, check_texture_size
from zigzag_meadow.core.formats.read import HEAD
from zigzag_meadow.core.looks.model import MapKind
from zigzag_meadow.core.srgb import coded, hex_of, linear

__all__ = ["Inspected", "inspect_texture", "kind_by_name", "read_map", "said", "set_name"]

F32 = NDArray[np.float32]
_WORDS: dict[MapKind, tuple[str, ...]] = {
    "albedo": ("albedo", "basecolor", "basecolour", "diffuse", "diff", "color", "colour", "col", "alb"),
    "normal": ("normal", "normals", "nrm", "nor", "norm"),
    "roughness": ("roughness", "rough", "rgh"),
    "relief": ("relief", "height", "displacement", "disp", "bump", "hgt"),
}
_ASIDE = {"1k", "2k", "4k", "8k", "16bit", "8bit", "gl", "dx", "tex", "texture", "map"}


@dataclass(frozen=True, slots=True)
class Inspected:
    """What a texture is: ``kind`` by its content where its name says nothing; ``mean`` in linear light."""

    rows: int
    cols: int
    channels: int
    bits: int
    kind: MapKind
    mean: str
    seam: float
    told: tuple[str, ...]


def _words(file: str) -> list[str]:
    stem = Path(file).stem
    spaced = re.sub(r"(?<=[a-z])(?=[A-Z])", "_", stem)
    return [word for word in re.split(r"[^A-Za-z0-9]+", spaced.lower()) if word]


def kind_by_name(file: str) -> MapKind | None:
    """Which map a file's name says it is: the last word that says so."""
    for word in reversed(_words(file)):
        for kind, names in _WORDS.items():
            if word in names:
                return kind
    return None


def set_name(file: str) -> str:
    """What is left of a file's name without the words for maps and sizes: files of one set share it."""
    every = {word for names in _WORDS.values() for word in names} | {"base"}
    kept = [word for word in _words(file) if word not in every and word not in _ASIDE]
    folder = Path(file).parent.name
    return "_".join(kept) or "_".join(_words(folder)) or "texture"


def _pixels(path: Path, name: str) -> NDArray[Any]:
    """Samples at their stored depth, (rows, columns, channels)."""
    size = path.stat().st_size
    check_bytes(size, name)
    with path.open("rb") as file:
        head = Head(file.read(HEAD), name, size)
    read = next((kind.texture for kind in FORMATS if kind.begins is not None and kind.begins(head)), None)
    if read is None:
        raise WrongFormat(f"{name} is no texture that can be read. Save it as {titles('texture')}.", field="file")
    pixels: NDArray[Any] = read(path, name)
    return pixels[..., None] if pixels.ndim == 2 else pixels


def _unit(pixels: NDArray[Any]) -> F32:
    """0–1, without alpha: (rows, columns, 1 or 3)."""
    colours = pixels[..., : 3 if pixels.shape[2] >= 3 else 1]
    if np.issubdtype(pixels.dtype, np.unsignedinteger):
        return colours.astype(np.float32) * np.float32(1 / np.iinfo(pixels.dtype).max)
    values = np.nan_to_num(colours.astype(np.float32))
    low, high = float(values.min()), float(values.max())
    return values if (low >= 0 and high <= 1) or high == low else (values - low) / (high - low)


def _seam(values: F32) -> float:
    """How much neighbours differ across the border against those beside it; 1 where nothing shows."""
    rows = np.abs(np.diff(values[[-2, -1, 0, 1]], axis=0)).mean(axis=(1, 2))
    cols = np.abs(np.diff(values[:, [-2, -1, 0, 1]], axis=1)).mean(axis=(0, 2))
    inside = (float(np.abs(np.diff(values, axis=0)).mean()), float(np.abs(np.diff(values, axis=1)).mean()))
    worst = max(
        (rows[1] + 1 / 255) / (max((rows[0] + rows[2]) / 2, inside[0]) + 1 / 255),
        (cols[1] + 1 / 255) / (max((cols[0] + cols[2]) / 2, inside[1]) + 1 / 255),
    )
    return min(float(worst), 1000.0)


def _by_content(values: F32) -> MapKind:
    if values.shape[2] == 1:
        return "relief"
    mean = values.mean(axis=(0, 1))
    length = np.sqrt(((values * 2 - 1) ** 2).sum(axis=2))
    if mean[2] > 0.75 and abs(float(mean[0]) - 0.5) < 0.12 and abs(float(np.median(length)) - 1) < 0.12:
        return "normal"
    grey = np.abs(values - values.mean(axis=2, keepdims=True)).max()
    return "relief" if grey < 2 / 255 else "albedo"


def _power(n: int) -> bool:
    return n & (n - 1) == 0


def inspect_texture(path: Path, name: str) -> Inspected:
    """What a texture is and what should be known about it.

    Raises :class:`WrongFormat` (CMYK, no picture), :class:`BadFile`, :class:`TooLarge`.
    """
    pixels = _pixels(path, name)
    rows, cols, channels = pixels.shape
    check_texture_size(rows, cols, name)
    values = _unit(pixels)
    told: list[str] = []
    if channels in (2, 4) and int(pixels[..., -1].min()) < int(pixels[..., -1].max()):
        told.append("Its alpha is not used: colours count where they are transparent too.")
    if rows != cols:
        told.append(f"It is not square ({cols} × {rows}): its size is measured across.")
    if not (_power(rows) and _power(cols)):
        told.append(f"{cols} × {rows} is no power of two: many renderers resize such textures.")
    seam = _seam(values)
    if seam > 2.5:
        told.append(f"It has a seam: across its border neighbours differ {seam:.1f} times as much as inside.")
    kind = kind_by_name(name) or _by_content(values)
    if kind == "albedo" and channels < 3:
        told.append("It is grey: the ground will be too.")
    light = linear(values).mean(axis=(0, 1), dtype=np.float64)
    mean = hex_of(light if light.size == 3 else np.repeat(light, 3))
    return Inspected(rows, cols, channels, pixels.dtype.itemsize * 8, kind, mean, round(seam, 3), tuple(told))


def said(rows: int, cols: int, seam: float) -> list[str]:
    """What should be known of a set of textures, from its numbers."""
    told = [] if rows == cols else [f"Not square ({cols} × {rows})."]
    if not (_power(rows) and _power(cols)):
        told.append(f"{cols} × {rows} is no power of two.")
    return told if seam <= 2.5 else [*told, f"Its border shows: a seam {seam:.1f} times as strong as its grain."]


def read_map(path: Path, kind: MapKind, rows: int, cols: int, name: str = "The texture") -> F32:
    """A map of a set as float32 0–1 (rows, columns, 3 for albedo and normal, else 1), resized by area to the size of
    its set. Raises what :func:`inspect_texture` raises."""
    values = _unit(_pixels(path, name))
    if kind in ("albedo", "normal") and values.shape[2] == 1:
        values = np.repeat(values, 3, axis=2)
    if kind in ("roughness", "relief") and values.shape[2] == 3:
        values = values.mean(axis=2, keepdims=True, dtype=np.float32)
    if values.shape[:2] == (rows, cols):
        return values
    # Means of colours are taken in light.
    light = linear(values) if kind == "albedo" else values
    made = np.stack([_resized(light[..., k], rows, cols) for k in range(light.shape[2])], axis=2)
    return coded(made) if kind == "albedo" else made


def _resized(values: F32, rows: int, cols: int) -> F32:
    image = Image.fromarray(np.ascontiguousarray(values))
    made: F32 = np.asarray(image.resize((cols, rows), Image.Resampling.BOX), np.float32)
    return made
