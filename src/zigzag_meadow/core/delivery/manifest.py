"""The manifest: every file of a delivery with its checksum, and what is known of it without reading it again."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated, Any

import orjson
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from zigzag_meadow.core.delivery.plan import PlannedItem
from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.signature import Measuring

__all__ = ["MANIFEST", "MANIFEST_VERSION", "Entry", "HeightSeen", "Looker", "Manifest", "checksum", "read_manifest"]

MANIFEST = "manifest.json"
MANIFEST_VERSION = 4
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
    """A file. ``of``: the item; ``key``: what its bytes are known by; ``samples``: checksum of its samples alone;
    ``channels``: a signature (:class:`~zigzag_meadow.core.signature.Signature`) of each channel, of floats from
    ``zero`` over ``span``."""

    file: str
    bytes: int
    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    key: str = ""
    of: str = ""
    zero: float = 0.0
    span: float = 1.0
    samples: str = ""
    channels: dict[str, dict[str, Any]] = {}
    seen: HeightSeen | None = None
    count: int | None = None


class Manifest(_Plain):
    """``document``: checksum of the project document that it was made from; ``grid``: of the height, ``range`` its
    lowest and highest metres; ``note``: the import note as it was written, so that a changed one can be told."""

    manifest: int = MANIFEST_VERSION
    document: str
    target: str
    grid: dict[str, Any]
    range: tuple[float, float] | None
    coding: dict[str, Any] | None
    files: tuple[Entry, ...]
    note: dict[str, Any] = {}

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
    """Looks at the rows of one file on their way, as they are written. ``zero``, ``span``: of floats what lies between
    black and white."""

    item: PlannedItem
    rows: int
    cols: int
    zero: float = 0.0
    span: float = 1.0

    def __post_init__(self) -> None:
        alpha = "a" in self.item.channels
        self._tape = Measuring(self.rows, self.cols, len(self.item.channels), self.zero, self.span, alpha)

    def add(self, block: NDArray[Any]) -> None:
        self._tape.add(block)

    @property
    def samples(self) -> str:
        return self._tape.samples

    def channels(self) -> dict[str, dict[str, Any]]:
        """A signature of every channel by its letter."""
        names = ("height",) if self.item.thing.kind == "height" else self.item.channels
        return {name: made.as_json() for name, made in zip(names, self._tape.signatures(), strict=True)}
