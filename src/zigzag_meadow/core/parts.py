"""What all parts of the document share."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, WithJsonSchema

__all__ = [
    "AssetId",
    "Colour",
    "Edited",
    "Fade",
    "Id",
    "Metres",
    "Name",
    "Number",
    "Part",
    "Place",
    "ReadingId",
    "Told",
    "Unit",
    "UnitPair",
]

Id = Annotated[str, Field(pattern=r"^[a-z0-9_-]{1,40}$")]
ReadingId = Annotated[str, Field(pattern=r"^[a-z0-9_-]{1,60}$")]
"""Of a reading: what a step leaves is named after what it is and the step."""
Name = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[^\x00-\x1f/\\:]+$")]
AssetId = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
Colour = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")]
Unit = Annotated[float, Field(ge=0, le=1)]
# A list of two in the API's schema: generated types have no use for tuples.
_PAIR = {"type": "array", "items": {"type": "number"}, "minItems": 2, "maxItems": 2}
Place = Annotated[
    tuple[Annotated[float, Field(ge=-1e6, le=1e6)], Annotated[float, Field(ge=-1e6, le=1e6)]], WithJsonSchema(_PAIR)
]
"""Metres east and south of the ground's north-west corner."""
UnitPair = Annotated[tuple[Unit, Unit], WithJsonSchema(_PAIR)]
Metres = Annotated[float, Field(ge=-20000, le=20000)]
Number = Annotated[float, Field(ge=-1e12, le=1e12)]
Fade = Annotated[float, Field(ge=0, le=1e12)]


class Part(BaseModel):
    """Every part of the document: unknown keys are refused, numbers are finite."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True, defer_build=True)


@dataclass(frozen=True, slots=True)
class Told:
    """How a number of the document is told: title, unit, and how far one step goes.

    ``%``: shown in hundredths. ``first``: what a new one begins with, counted in what ``of`` says (home spacings,
    cells, the ground's width, length, rows or columns, its lowest height), so that it means the same on every ground;
    without it the field's default. ``low``, ``high``: ends of the slider where the field's own lie too far apart.
    ``none``, ``some``: titles of the choice between no number and one, for numbers that may be left out; ``first`` is
    then the one.
    """

    title: str
    unit: str = ""
    step: float = 0.01
    decimals: int = 2
    of: Literal["", "spacing", "cell", "width", "length", "rows", "cols", "low"] = ""
    first: float | None = None
    low: float | None = None
    high: float | None = None
    choices: tuple[tuple[str, str], ...] = ()
    none: str = ""
    some: str = ""


@dataclass(frozen=True, slots=True)
class Edited:
    """How a part of the document that is no number is edited.

    *colour*: a plain colour. *stops*: the colours of a ramp. *picture*: a reading that lays a picture.
    *source*: what is read, ``start`` says with what a new one begins, ``none`` what stands there without one, ``lead``
    what goes before one. *curve*: points of a curve. *edges*: inner edges of bands, where the field named first in
    ``where`` has the value named second. *strokes*: a brush. *piece*: a piece and its numbers. *spacing*: rows and
    columns by the metres between them. *numbers*: whole numbers, in order. *rule*: one of the
    classes of a target's rule.
    """

    kind: Literal[
        "source", "curve", "edges", "strokes", "piece", "spacing", "colour", "stops", "picture", "numbers", "rule"
    ]
    title: str
    start: Literal["", "band", "mapped", "full"] = ""
    none: str = ""
    lead: str = ""
    where: tuple[str, str] | None = None
