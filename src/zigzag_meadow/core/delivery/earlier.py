"""Files that an earlier delivery wrote already, taken from there instead of being made again."""

from __future__ import annotations

import shutil
from pathlib import Path

from zigzag_meadow.core.delivery.manifest import Entry, Manifest, checksum, read_manifest
from zigzag_meadow.core.errors import MeadowError

__all__ = ["Earlier"]


class Earlier:
    """A finished delivery; one that cannot be read holds nothing."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self.manifest: Manifest | None
        try:
            self.manifest = read_manifest(folder)
        except (MeadowError, OSError):
            self.manifest = None
        entries = () if self.manifest is None else self.manifest.files
        self._by_key = {entry.key: entry for entry in entries if entry.key}
        self.taken = 0

    def take(self, key: str, to: Path) -> Entry | None:
        """Put the file with this key in its new place; None where there is none, or where it was changed since."""
        entry = self._by_key.get(key)
        return None if entry is None else self.carry(entry, to)

    def carry(self, entry: Entry, to: Path) -> Entry | None:
        """Put a file into its new place as it lies there; None where it is gone, or was changed since."""
        path = self._folder / Path(entry.file).name
        try:
            # A copy: whoever paints in one delivery must not change another.
            shutil.copyfile(path, to)
            if to.stat().st_size == entry.bytes and checksum(to) == entry.sha256:
                self.taken += 1
                return entry.model_copy(update={"file": to.name})
            to.unlink()
        except FileNotFoundError:
            return None
        return None
