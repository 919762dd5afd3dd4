"""Combine: another heightmap over the same ground, where it is higher, where it is lower, added, or in its place."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from zigzag_meadow.core.formats.layout import Layout, RgbCode, SampleType
from zigzag_meadow.core.formats.limits import LONGEST_SIDE, SHORTEST_SIDE
from zigzag_meadow.core.formats.raw import ByteOrder
from zigzag_meadow.core.ground.steps.base import F32, BaseStep, Work
from zigzag_meadow.core.nodes.operation import Numbers
from zigzag_meadow.core.parts import AssetId, Name, Told

__all__ = ["Combine"]

Side = Annotated[int, Field(ge=SHORTEST_SIDE, le=LONGEST_SIDE)]


class Combine(BaseStep):
    """The file covers the ground as it is before the step, its samples laid as the ground's are. Where it has no height
    the ground stays."""

    title, hint = "Combine", "with another heightmap: the higher, the lower, added, or in its place"
    sentence = (
        "**Combine** with another heightmap: {how}; one stored number is {metres_a_step}, and stored 0 is {at_zero}"
    )
    tool, reads_file, bytes_each = "heightmap", True, 24
    kind: Literal["combine"] = "combine"
    asset: AssetId
    file_name: Name
    byte_order: ByteOrder | None = None
    header: Annotated[int, Field(ge=0, le=2**31)] = 0
    sample: SampleType | None = None
    channel: Annotated[str, Field(max_length=60)] | None = None
    code: RgbCode | None = None
    nodata: float | None = None
    rows: Side
    cols: Side
    how: Annotated[
        Literal["higher", "lower", "add", "instead"],
        Told(
            "How both are combined",
            choices=(
                ("higher", "the higher of both"),
                ("lower", "the lower of both"),
                ("add", "its heights added"),
                ("instead", "it in the place of the ground"),
            ),
        ),
    ] = "higher"
    metres_a_step: Annotated[float, Field(gt=0, le=20000), Told("One stored number is", "m", 0.001, 8)] = 1.0
    at_zero: Annotated[float, Field(ge=-1e6, le=1e6), Told("Stored 0 is", "m", 1, 2)] = 0.0

    @property
    def lifted(self) -> tuple[str, ...]:
        return () if self.how == "add" else ("at_zero",)

    @property
    def assets(self) -> tuple[str, ...]:
        return (self.asset,)

    @staticmethod
    def layout(numbers: Numbers) -> tuple[str, str, Layout]:
        p = numbers
        told = (p["rows"], p["cols"], p["byte_order"], p["header"], p["sample"], p["channel"], p["code"], p["nodata"])
        return p["asset"], p["file_name"], Layout(*told)

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        other, how = work.other, work.numbers["how"]
        assert other is not None  # a step that reads a file is given it
        if how == "add":
            return heights + np.nan_to_num(other)
        there = ~np.isnan(other)
        if how == "higher":
            there &= other > heights
        elif how == "lower":
            there &= other < heights
        made: F32 = np.where(there, other, heights)
        return made
