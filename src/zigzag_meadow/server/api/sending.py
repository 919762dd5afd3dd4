"""Files that are made while they are sent."""

from __future__ import annotations

from collections.abc import Iterator

from django.http import StreamingHttpResponse

__all__ = ["sent"]


def sent(pieces: Iterator[bytes], name: str) -> StreamingHttpResponse:
    """A zip to be kept under ``name``, piece by piece."""
    response = StreamingHttpResponse(pieces, content_type="application/zip")
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
