"""Limits on what is read, checked against what a file declares before anything is decoded."""

from __future__ import annotations

from zigzag_meadow.core.errors import BadFile, TooLarge

__all__ = [
    "LONGEST_SIDE",
    "MOST_BYTES",
    "MOST_MEMORY",
    "MOST_TEXTURE_SIDE",
    "SHORTEST_SIDE",
    "check_bytes",
    "check_memory",
    "check_size",
    "check_texture_size",
]

LONGEST_SIDE = 8193
SHORTEST_SIDE = 8
MOST_TEXTURE_SIDE = 8192
MOST_BYTES = 600 * 1024 * 1024
MOST_MEMORY = 2**30
"""What reading one file may need, in bytes, its result included."""


def check_bytes(count: int, name: str) -> None:
    """Raise :class:`TooLarge` or :class:`BadFile` when a file has too many bytes or none."""
    if count == 0:
        raise BadFile(f"{name} is empty. Save it again from where it came, then bring it in.")
    if count > MOST_BYTES:
        raise TooLarge(
            f"{name} has {count / 2**20:.0f} MiB; at most {MOST_BYTES // 2**20} MiB can be read. "
            "Crop it or save it with 16 bits."
        )


def check_size(rows: int, cols: int, name: str) -> None:
    """Raise when declared rows or columns are over or under what a ground can have."""
    if max(rows, cols) > LONGEST_SIDE:
        raise TooLarge(
            f"{name} declares {cols} × {rows} samples; at most {LONGEST_SIDE} a side can be read. "
            "Resize or crop it first."
        )
    if min(rows, cols) < SHORTEST_SIDE:
        raise BadFile(
            f"{name} is {cols} × {rows} samples; a ground needs at least {SHORTEST_SIDE} on each side. "
            "Check that this is the heightmap and not a strip or a palette."
        )


def check_texture_size(rows: int, cols: int, name: str) -> None:
    """Raise when declared rows or columns are over or under what a texture can have."""
    if max(rows, cols) > MOST_TEXTURE_SIDE:
        raise TooLarge(
            f"{name} is {cols} × {rows}; a texture has at most {MOST_TEXTURE_SIDE} samples a side. Resize it first."
        )
    check_size(rows, cols, name)


def check_memory(count: int, name: str) -> None:
    """Raise :class:`TooLarge` when reading a file would need more than :data:`MOST_MEMORY` bytes."""
    if count > MOST_MEMORY:
        raise TooLarge(
            f"Reading {name} would need {count / 2**30:.1f} GiB of memory; at most {MOST_MEMORY / 2**30:g} GiB are "
            "used for one file. Save it with fewer channels, fewer bits or fewer samples."
        )
