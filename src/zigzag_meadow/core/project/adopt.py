"""From a file that was looked at to the ground in the document."""

from __future__ import annotations

from typing import Any

from zigzag_meadow.core.ground.diagnose import Inspection

__all__ = ["file_fields"]


def file_fields(asset: str, found: Inspection) -> dict[str, Any]:
    """The fields of a ground that say which file it is and how it is read."""
    return {
        "asset": asset, "file_name": found.name, "file_format": found.format, "depth": found.depth,
        "byte_order": found.byte_order, "header": found.header, "sample": found.sample, "channel": found.channel,
        "code": found.code, "nodata": found.nodata, "rows": found.rows, "cols": found.columns,
        "stored_low": found.low, "stored_high": found.high, "voids": found.voids,
    }  # fmt: skip
