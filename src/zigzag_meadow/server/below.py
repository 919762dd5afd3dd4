"""Paths below folders that were allowed at the start: whatever a name is, it leads nowhere else."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

from django.conf import settings

from zigzag_meadow.core.errors import NotFound

__all__ = ["DEEPEST", "below", "can_be_told", "walked"]

DEEPEST = 4


def can_be_told(name: str) -> bool:
    """Whether a name on disk is text: what is no UTF-8 cannot be sent to a page and back."""
    try:
        name.encode("utf-8")
    except UnicodeEncodeError:
        return False
    return True


def below(folder: int, name: str, what: str) -> Path:
    """What lies under a name below an allowed folder, links resolved. ``what``: a folder or a file, for the sentence.

    Raises :class:`NotFound` for anything that leads out of it, and for what can be no name: too long, a loop of links,
    a zero byte, half a character.
    """
    roots = [Path(one) for one in settings.MEADOW_FOLDERS]
    if not 0 <= folder < len(roots):
        raise NotFound("No such folder is allowed. Start the application with --folder.", field="folder")
    told = "".join(c for c in name.rsplit("/", 1)[-1] if c.isprintable())[:80] or "of that name"
    missing = NotFound(f"There is no {what} {told} in that folder any more.", field="name")
    try:
        path = (roots[folder] / name).resolve() if can_be_told(name) else Path("/")
        there = path.is_dir() if what == "folder" else path.is_file()
    except (OSError, RuntimeError, ValueError):
        raise missing from None
    if not there or not path.is_relative_to(roots[folder]):
        raise missing
    return path


def walked(root: Path) -> Iterator[tuple[Path, list[str]]]:
    """(folder, names of files in it) below ``root``, without hidden folders and without names that are no text."""
    for at, inner, names in os.walk(root):
        deep = len(Path(at).relative_to(root).parts)
        inner[:] = (
            [] if deep >= DEEPEST else sorted(one for one in inner if not one.startswith(".") and can_be_told(one))
        )
        yield Path(at), [name for name in names if can_be_told(name)]
