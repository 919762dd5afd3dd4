"""Numbers for what the ground is made of, and where it is open: maps of classes beside that of the strongest layer."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from zigzag_meadow.core.parts import Id, Name, Part

__all__ = ["GroundClass", "GroundClasses"]


class GroundClass(Part):
    """A number and what it is called, where a layer is the strongest, or where a mask is above a half (``of``)."""

    number: Annotated[int, Field(ge=1, le=255)]
    name: Name
    of: Annotated[str, Field(pattern=r"^(layer|mask):[a-z0-9_-]{1,40}$")]


class GroundClasses(Part):
    """Classes in their order: masks lie over layers, and later ones over earlier. Where none is, the number is 0, and
    that is called ``otherwise``. ``holes``: a mask, where the ground is open."""

    classes: Annotated[tuple[GroundClass, ...], Field(max_length=64)] = ()
    otherwise: Name = "Nothing"
    holes: Id | None = None
