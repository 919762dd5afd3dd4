"""Which files can be brought in, and for what."""

from __future__ import annotations

from typing import Any, Literal

from django.http import HttpRequest
from ninja import Router, Schema

from zigzag_meadow.core.formats.catalogue import FORMATS
from zigzag_meadow.core.formats.declare import Use
from zigzag_meadow.core.formats.write import mask_forms
from zigzag_meadow.server.api.schemas import ChoiceOut

router = Router(tags=["formats"])

Document = Literal["project", "kit", "target", "lines"]
DOCUMENTS: dict[Document, list[str]] = {
    "project": [".zip"],
    "kit": [".json"],
    "target": [".json"],
    "lines": [".geojson", ".json"],
}
"""What else is brought in, besides pictures and heightmaps: the endings of its files."""


class FormatOut(Schema):
    """A format: ``endings`` of its files, with the dot, the usual one first; ``uses``: what they can be brought in for;
    ``exact``: whether it keeps values as they are."""

    id: str
    title: str
    endings: list[str]
    uses: list[Use]
    exact: bool


class FormatsOut(Schema):
    """``mask_forms``: in which masks are sent out and come back."""

    formats: list[FormatOut]
    mask_forms: list[ChoiceOut]
    documents: dict[Document, list[str]]


@router.get("/formats", response=FormatsOut, operation_id="list_formats")
def formats(request: HttpRequest) -> dict[str, Any]:
    """Every format, in the order of lists, and the endings of documents."""
    made = [
        {
            "id": kind.id,
            "title": kind.title,
            "endings": list(kind.endings),
            "uses": list(kind.uses),
            "exact": kind.exact,
        }
        for kind in FORMATS
    ]
    back = [{"value": one.id, "label": one.title} for one in mask_forms()]
    return {"formats": made, "mask_forms": back, "documents": DOCUMENTS}
