"""Where the compiler keeps its results: a folder named by everything that they are made of.

Its own check looks at the file of a kernel alone and does not see a changed function in another one. Here a change of
any source, of what compiles it or of how gives another folder, so that nothing stale can be found.
"""

from __future__ import annotations

import hashlib
import os
import platform
import re
import shutil
from importlib.metadata import version
from pathlib import Path

__all__ = ["kernel_folder", "sweep_kernels"]

_MADE_WITH = ("numba", "llvmlite", "numpy")
_PACKAGE = ("zigzag_meadow", "core")
_IMPORT = re.compile(rb"^from (zigzag_meadow\.core[\w.]*) import", re.MULTILINE)
_OURS = re.compile(r"[0-9a-f]{16}(-checked)?")
# What was kept before folders were named: one a package, its place told by a checksum.
_EARLIER = re.compile(r".+_[0-9a-f]{40}")


def _sources(root: Path) -> dict[str, bytes]:
    """Every module with kernels and every one that it imports, by name: what kernels call and the numbers they freeze
    are defined there."""
    every = {
        ".".join((*_PACKAGE, *path.relative_to(root).with_suffix("").parts)): path.read_bytes()
        for path in sorted(root.rglob("*.py"))
    }
    own = {name: content for name, content in every.items() if b"njit" in content}
    asked = {name.decode() for content in own.values() for name in _IMPORT.findall(content)}
    return own | {name: every[name] for name in sorted(asked & every.keys())}


def kernel_folder(base: Path, sources: Path | None = None) -> Path:
    """The folder in ``base`` for kernels of these sources (of the core when left out), compiled as this process would.

    Kernels that check their bounds (``NUMBA_BOUNDSCHECK``) are kept apart.
    """
    told = hashlib.sha256()
    for name, content in sorted(_sources(sources or Path(__file__).parent).items()):
        told.update(f"{name} {len(content)}\n".encode())
        told.update(content)
    told.update(" ".join([*(f"{name} {version(name)}" for name in _MADE_WITH), platform.python_version()]).encode())
    checked = os.environ.get("NUMBA_BOUNDSCHECK", "0") not in ("", "0")
    return base / (told.hexdigest()[:16] + ("-checked" if checked else ""))


def sweep_kernels(current: Path) -> list[str]:
    """Delete what earlier sources left beside the folder ``current``; returns the names of what went. Nothing else in
    there is touched. A process that still uses them compiles anew."""
    if not current.parent.is_dir():
        return []
    kept = current.name.removesuffix("-checked")
    gone = [
        entry
        for entry in sorted(current.parent.iterdir())
        if entry.is_dir()
        and not entry.is_symlink()
        and entry.name.removesuffix("-checked") != kept
        and (_OURS.fullmatch(entry.name) or _EARLIER.fullmatch(entry.name))
    ]
    for entry in gone:
        shutil.rmtree(entry, ignore_errors=True)
    (current.parent / "warm.txt").unlink(missing_ok=True)
    return [entry.name for entry in gone]
