"""File names from outside, made safe to show, store and write."""

from __future__ import annotations

import re
import unicodedata

__all__ = ["PUTTING", "allowed_ending", "allowed_stem", "file_stem", "is_checksum", "safe_file_name"]

PUTTING = ".zigzag-putting.json"
"""Lies in a folder while the files of a delivery are put there, and afterwards only where that was cut off."""
_RUN = {
    "app",
    "bat",
    "cmd",
    "com",
    "command",
    "cpl",
    "desktop",
    "dll",
    "dmg",
    "exe",
    "gadget",
    "hta",
    "inf",
    "jar",
    "js",
    "jse",
    "lnk",
    "msi",
    "msp",
    "pif",
    "ps1",
    "py",
    "pyw",
    "reg",
    "scf",
    "scr",
    "sh",
    "url",
    "vb",
    "vbe",
    "vbs",
    "wsf",
    "wsh",
}
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


def file_stem(text: str, fallback: str = "map", most: int = 60) -> str:
    """Lower-case letters, digits and underscores only, ``most`` of them: a name every target's file system takes."""
    plain = unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode().lower()
    stem = re.sub(r"[^a-z0-9]+", "_", plain).strip("_")[:most]
    return f"{stem}_" if stem in _RESERVED else stem or fallback


def allowed_stem(stem: str) -> bool:
    """Whether a typed name can be that of a file everywhere: some systems keep names of devices for themselves."""
    return stem.casefold() not in _RESERVED


def allowed_ending(ending: str) -> bool:
    """Whether a typed ending is none that a system runs when it is clicked."""
    return ending.casefold() not in _RUN
