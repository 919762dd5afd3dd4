"""The manifest as a fit check sees it: whatever of it holds together."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import orjson

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.signature import Signature
from zigzag_meadow.core.targets.note import NOTE_VERSION, ImportNote, note_of

__all__ = ["Listed", "Listing", "digest", "parse_listing"]


@dataclass(frozen=True, slots=True)
class Listed:
    """A file as it was written: checksums of all of it and of its samples alone, and signatures by channel, of floats
    from ``zero`` over ``span``."""

    file: str
    sha256: str
    samples: str = ""
    zero: float = 0.0
    span: float = 1.0
    channels: Mapping[str, Signature] = field(default_factory=dict)
    count: int | None = None


@dataclass(frozen=True, slots=True)
class Listing:
    """``document``: checksum of the project that was delivered; ``note``: the import note as it was written."""

    files: Mapping[str, Listed]
    document: str = ""
    note: ImportNote | None = None


def digest(path: Path) -> str:
    """SHA-256 of a file."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def parse_listing(data: bytes, name: str) -> Listing:
    """A manifest. Raises :class:`BadFile` where it is none; what is damaged in it is left out."""
    try:
        plain = orjson.loads(data)
        entries = plain["files"]
        files = {entry.file: entry for entry in (_listed(item) for item in entries)}
    except (orjson.JSONDecodeError, KeyError, TypeError, ValueError, AttributeError) as error:
        raise BadFile(f"{name} is damaged: {error}. Deliver again.") from None
    try:
        note = note_of({**plain["note"], "note": NOTE_VERSION}, name) if plain.get("note") else None
    except (BadFile, TypeError):
        note = None
    return Listing(files, str(plain.get("document", "")), note)


def _listed(item: Any) -> Listed:
    channels = {}
    told = item.get("channels", {})
    for letter, plain in told.items() if isinstance(told, dict) else ():
        made = Signature.from_json(plain) if isinstance(plain, dict) else None
        if made is not None:
            channels[str(letter)] = made
    count = item.get("count")
    zero, span = float(item.get("zero", 0.0)), float(item.get("span", 1.0))
    return Listed(
        str(item["file"]),
        str(item.get("sha256", "")),
        str(item.get("samples", "")),
        zero,
        span if span > 0 else 1.0,
        channels,
        count if isinstance(count, int) else None,
    )
