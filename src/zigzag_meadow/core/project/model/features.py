"""Map features: lines and areas drawn on the ground, and what is scattered over it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.parts import Id, Name, Part, Place, Unit

__all__ = ["Clear", "Feature", "Scatter"]


class Feature(Part):
    """A line, or an area when ``closed``; ``points`` are (east, south) metres from the north-west corner."""

    id: Id
    name: Name
    kind: Literal["path", "road", "wall", "bank", "clearing"] = "path"
    closed: bool = False
    points: Annotated[tuple[Place, ...], Field(min_length=2, max_length=5000)]


class Clear(Part):
    """What scattered things keep a distance from, in metres: a drawn line or area, or where a mask is above a half."""

    of: Literal["feature", "mask"]
    id: Id
    distance: Annotated[float, Field(ge=0, le=2000)] = 10.0


class Scatter(Part):
    """Plants or stones: where a mask is full, ``density`` of them on 100 m², none nearer than ``distance`` metres.
    ``clear``: nothing stands within a distance of those.

    ``size_by``: the name of a map (0–1) that grows sizes from ``size_low`` to ``size_high`` metres; ``spread`` is the
    share by which they vary at random. Scattered things are never part of the height.
    """

    id: Id
    name: Name
    mask: Id | None = None
    keep_out: Annotated[tuple[Id, ...], Field(max_length=20)] = ()
    clear: Annotated[tuple[Clear, ...], Field(max_length=20)] = ()
    density: Annotated[float, Field(gt=0, le=1000)] = 1.0
    distance: Annotated[float, Field(ge=0, le=1000)] = 4.0
    steepest: Annotated[float, Field(ge=0, le=90)] = 90.0
    size_low: Annotated[float, Field(gt=0, le=500)] = 0.5
    size_high: Annotated[float, Field(gt=0, le=500)] = 1.5
    size_by: Annotated[str, Field(max_length=60)] = ""
    spread: Unit = 0.2
    seed: Annotated[int, Field(ge=0, le=999999)] = 1
    deliver: bool = True
    bits: Literal[8, 16] = 8
    points_format: Literal["csv", "geojson", "ply", "none"] = "csv"
    colour: Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")] = "#b5541c"
