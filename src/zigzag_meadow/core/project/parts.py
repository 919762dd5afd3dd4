"""What all parts of the document share."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

__all__ = ["AssetId", "Colour", "Fade", "Id", "Metres", "Name", "Number", "Part", "Unit"]

Id = Annotated[str, Field(pattern=r"^[a-z0-9_-]{1,40}$")]
Name = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[^\x00-\x1f/\\:]+$")]
AssetId = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
Colour = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")]
Unit = Annotated[float, Field(ge=0, le=1)]
Metres = Annotated[float, Field(ge=-20000, le=20000)]
Number = Annotated[float, Field(ge=-1e12, le=1e12)]
Fade = Annotated[float, Field(ge=0, le=1e12)]


class Part(BaseModel):
    """Every part of the document: unknown keys are refused, numbers are finite."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True)
