"""Looks in the document: sets of textures that were brought in, and how a layer wears one."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.parts import AssetId, Colour, Id, Name, Part

__all__ = ["MAPS", "Dressing", "Look", "MapKind"]

MapKind = Literal["albedo", "normal", "roughness", "relief"]
MAPS: tuple[MapKind, ...] = ("albedo", "normal", "roughness", "relief")
"""The maps of a set: colour, directions, how matt (1) or shiny (0), and height."""
Size = Annotated[float, Field(ge=0.01, le=10000)]


class Look(Part):
    """A set of textures from elsewhere. ``size``: metres across; ``depth``: metres between black and white of its
    relief; ``green``: where green of the normal map points; ``mean``: its mean colour, measured in linear light;
    ``seam``: how much more neighbours differ across its border than inside (1: as much)."""

    id: Id
    name: Name
    albedo: AssetId
    normal: AssetId | None = None
    roughness: AssetId | None = None
    relief: AssetId | None = None
    rows: Annotated[int, Field(ge=8, le=8192)]
    cols: Annotated[int, Field(ge=8, le=8192)]
    size: Size = 3.0
    depth: Annotated[float, Field(ge=0, le=100)] = 0.1
    green: Literal["up", "down"] = "up"
    mean: Colour
    seam: Annotated[float, Field(ge=0, le=1000)] = 1.0

    @property
    def assets(self) -> tuple[str, ...]:
        return tuple(asset for asset in (self.albedo, self.normal, self.roughness, self.relief) if asset is not None)

    def asset(self, kind: MapKind) -> str | None:
        value: str | None = getattr(self, kind)
        return value


class Dressing(Part):
    """How a layer wears a look. ``size``: metres across (None: the look's own); ``turn``: degrees clockwise; ``east``,
    ``south``: metres; ``tint`` multiplies, ``brightness`` and ``roughness`` too. ``middle``: a second look for the
    middle distance, ``middle_size`` metres across, whose variation is laid over the first."""

    look: Id | None = None
    size: Size | None = None
    turn: Annotated[float, Field(ge=-360, le=360)] = 0.0
    east: Annotated[float, Field(ge=-1e5, le=1e5)] = 0.0
    south: Annotated[float, Field(ge=-1e5, le=1e5)] = 0.0
    tint: Colour = "#ffffff"
    brightness: Annotated[float, Field(ge=0, le=4)] = 1.0
    roughness: Annotated[float, Field(ge=0, le=4)] = 1.0
    middle: Id | None = None
    middle_size: Size = 80.0
