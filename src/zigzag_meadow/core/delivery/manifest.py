"""The manifest: every file of a delivery with its checksum, and what is known of it without reading it again."""

from __future__ import annotations

import base64
import hashlib
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated, Any

import numpy as np
import orjson
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from zigzag_meadow.core.delivery.plan import PlannedItem
from zigzag_meadow.core.delivery.summaries import Summariser, packed
from zigzag_meadow.core.errors import BadFile

__all__ = ["MANIFEST", "MANIFEST_VERSION", "Entry", "HeightSeen", "Looker", "Manifest", "checksum", "read_manifest"]

MANIFEST = "manifest.json"
MANIFEST_VERSION = 2
_BLOCK = 1 << 20


class _Plain(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class HeightSeen(_Plain):
    """Lowest and highest stored height in metres there, how many samples were clipped, and heights at check points by
    title: (row, column, metres) on the whole map."""

    low: float
    high: float
    clipped: int
    points: dict[str, tuple[int, int, float]]


class Entry(_Plain):
    """A file. ``of``: the item; ``key``: what its bytes are known by; ``summary``: means of up to 64² cells for each
    channel, from ``zero`` over ``span``, as base64 of little-endian uint16."""

    file: str
    bytes: int
    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    key: str = ""
    of: str = ""
    zero: float = 0.0
    span: float = 1.0
    summary: dict[str, str] = {}
    seen: HeightSeen | None = None
    count: int | None = None


class Manifest(_Plain):
    """``document``: checksum of the project document that it was made from; ``grid``: of the height, ``range`` its
    lowest and highest metres."""

    manifest: int = MANIFEST_VERSION
    document: str
    target: str
    grid: dict[str, Any]
    range: tuple[float, float] | None
    coding: dict[str, Any] | None
    files: tuple[Entry, ...]

    def entry(self, file: str) -> Entry | None:
        return next((entry for entry in self.files if entry.file == file), None)


def read_manifest(folder: Path) -> Manifest:
    """The manifest of a delivery. Raises :class:`BadFile` where it is missing, damaged or of another version."""
    try:
        return Manifest.model_validate(orjson.loads((folder / MANIFEST).read_bytes()))
    except FileNotFoundError:
        raise BadFile(f"There is no {MANIFEST} in {folder.name}. Deliver again.") from None
    except (orjson.JSONDecodeError, ValidationError) as error:
        raise BadFile(f"{MANIFEST} is damaged: {str(error).splitlines()[0]}. Deliver again.") from None


def checksum(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


@dataclass
class Looker:
    """Looks at the rows of one file on their way: means of cells, and of heights the ends and the check points.

    ``wanted``: places on the whole map by title, north up.
    """

    item: PlannedItem
    rows: int
    cols: int
    zero: float = 0.0
    span: float = 1.0

    def __post_init__(self) -> None:
        full = self.span if self.item.form.floats else 2**self.item.form.bits - 1
        self._small = Summariser(self.rows, self.cols, len(self.item.channels), full)

    def add(self, block: NDArray[Any]) -> None:
        shifted = block.astype(np.float32) - np.float32(self.zero) if self.item.form.floats and self.zero else block
        self._small.add(shifted)

    def means(self) -> NDArray[np.float64]:
        return np.clip(self._small.means(), 0, 1)

    def summary(self) -> dict[str, str]:
        means = self.means()
        names = ("height",) if self.item.thing.kind == "height" else self.item.channels
        return {name: packed(means[:, :, at]) for at, name in enumerate(names)}


def unpacked(text: str) -> NDArray[np.float64]:
    """A summary as a square of means, 0–1."""
    flat = np.frombuffer(base64.b64decode(text), "<u2")
    side = int(flat.size**0.5)
    return flat.reshape(side, side) / 65535
