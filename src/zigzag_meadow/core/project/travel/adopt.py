"""From a file that was looked at to the ground in the document."""

from __future__ import annotations

from typing import Any

from zigzag_meadow.core.ground.diagnose import Inspection

__all__ = ["file_fields"]


def file_fields(asset: str, file: Inspection) -> dict[str, Any]:
    """The fields of a ground that say which file it is and how it is read."""
    return {
        "asset": asset,
        "file_name": file.name,
        "file_format": file.format,
        "depth": file.depth,
        "byte_order": file.byte_order,
        "header": file.header,
        "sample": file.sample,
        "channel": file.channel,
        "code": file.code,
        "nodata": file.nodata,
        "rows": file.rows,
        "cols": file.columns,
        "stored_low": file.low,
        "stored_high": file.high,
        "voids": file.voids,
    }
