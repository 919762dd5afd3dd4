"""File names from outside, made safe to show, store and write."""

from __future__ import annotations

import re
import unicodedata

__all__ = ["file_stem", "is_checksum", "safe_file_name"]

_RESERVED = {"con", "prn", "aux", "nul", *(f"com{i}" for i in range(10)), *(f"lpt{i}" for i in range(10))}


def safe_file_name(name: str, fallback: str = "heightmap") -> str:
    """The last part of a path, valid UTF-8, without control characters; never empty, ``.`` or ``..``.

    Directory parts (either slash) are dropped, so a name can never lead outside the folder it is put in.
    """
    text = name.encode("utf-8", "replace").decode("utf-8")
    text = text.replace("\\", "/").rsplit("/", 1)[-1]
    text = "".join(c for c in unicodedata.normalize("NFC", text) if unicodedata.category(c)[0] != "C")
    text = text.strip().strip(".")[:120].strip()
    return text or fallback


def is_checksum(text: str) -> bool:
    """Whether a text is a SHA-256 in hexadecimal: the only name under which a stored file is looked for."""
    return re.fullmatch(r"[0-9a-f]{64}", text) is not None


def file_stem(text: str, fallback: str = "map") -> str:
    """Lower-case letters, digits and underscores only: a name every target's file system takes."""
    plain = unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode().lower()
    stem = re.sub(r"[^a-z0-9]+", "_", plain).strip("_")[:60]
    return f"{stem}_" if stem in _RESERVED else stem or fallback
