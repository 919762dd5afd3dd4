"""What a line of a recipe can read."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.project.parts import Fade, Id, Number, Part, Unit

__all__ = ["Band", "FeatureUse", "MaskUse", "Plain", "ReadingUse", "Source"]


class Band(Part):
    """Ground where a reading lies between two edges, fading outside; on log readings fades are doublings.

    ``reading`` is the id of a reading. Where a reading wraps (aspect), ``low`` may lie above ``high``: the band then
    runs through the end to the beginning.
    """

    kind: Literal["band"] = "band"
    reading: Id
    low: Number
    high: Number
    fade_low: Fade = 0.0
    fade_high: Fade = 0.0
    smooth: bool = False


class MaskUse(Part):
    """Another mask as it comes out of its own recipe, or one ``band`` (from 0) of one that was cut into bands."""

    kind: Literal["mask"] = "mask"
    mask: Id
    band: Annotated[int, Field(ge=0, le=15)] | None = None


class ReadingUse(Part):
    """A reading through a mapping: 0 at ``black``, 1 at ``white``; log as the reading says."""

    kind: Literal["reading"] = "reading"
    reading: Id
    black: Number
    white: Number


class Plain(Part):
    """The same number everywhere."""

    kind: Literal["plain"] = "plain"
    value: Unit = 0.5


class FeatureUse(Part):
    """A drawn line or area, ``width`` metres wide (an area: as much wider on every side) and fading outside."""

    kind: Literal["feature"] = "feature"
    feature: Id
    width: Annotated[float, Field(ge=0, le=20000)] = 6.0
    fade: Annotated[float, Field(ge=0, le=20000)] = 4.0
    smooth: bool = False


Source = Annotated[Band | MaskUse | ReadingUse | Plain | FeatureUse, Field(discriminator="kind")]
