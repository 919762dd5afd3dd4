"""Recipes: bands of readings and the lines that put them together."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.project.parts import Fade, Id, Name, Number, Part, Unit

__all__ = ["Band", "KeepWithin", "LeaveOut", "Levels", "Line", "Mask", "MaskUse", "Source", "Take", "TurnOver"]


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
    """Another mask, as it comes out of its own recipe."""

    kind: Literal["mask"] = "mask"
    mask: Id


Source = Annotated[Band | MaskUse, Field(discriminator="kind")]


class _Line(Part):
    id: Id
    muted: bool = False


class _Combining(_Line):
    source: Source
    strength: Unit = 1.0


class Take(_Combining):
    verb: Literal["take"] = "take"


class LeaveOut(_Combining):
    verb: Literal["leave_out"] = "leave_out"


class KeepWithin(_Combining):
    verb: Literal["keep_within"] = "keep_within"


class TurnOver(_Line):
    verb: Literal["turn_over"] = "turn_over"


class Levels(_Line):
    verb: Literal["levels"] = "levels"
    in_low: Unit = 0.0
    in_high: Unit = 1.0
    middle: Annotated[float, Field(ge=0.05, le=20)] = 1.0
    out_low: Unit = 0.0
    out_high: Unit = 1.0


Line = Annotated[Take | LeaveOut | KeepWithin | TurnOver | Levels, Field(discriminator="verb")]


class Mask(Part):
    id: Id
    name: Name
    lines: Annotated[tuple[Line, ...], Field(max_length=200)] = ()
