"""Cut into bands: each band a mask of its own."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.masks import tone
from zigzag_meadow.core.masks.lines.base import BaseLine, Maps, Pieces
from zigzag_meadow.core.masks.reference import MEASURED_ONCE, measured
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import AllOf, Array, Here, Local, Need, Numbers, OnWindow
from zigzag_meadow.core.parts import Edited, Told, Unit

__all__ = ["Cut", "edges_of"]

EDGES = measured("edges", lambda here, numbers, mask: tone.cut_edges(mask, numbers["count"], "quantiles", ()))


def edges_of(band: Node) -> AllOf | None:
    """What the inner edges of bands are measured by; None where numbers alone say where they lie."""
    if band.params["how"] != "quantiles":
        return None
    return AllOf(Node(EDGES, {"count": band.params["count"]}, band.inputs[:1]))


def inner_edges(numbers: Numbers, edges: Array | None) -> Array:
    """The inner edges of bands, float32; ``found``: as measured, where they are."""
    if edges is not None:
        return edges
    return tone.cut_edges(np.zeros((1, 1), np.float32), numbers["count"], numbers["how"], numbers["edges"])


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    return [OnWindow(node.inputs[0], grid, window, passing=True), edges_of(node)]


def _cut(here: Here, numbers: Numbers, mask: Array, edges: Array | None) -> Array:
    return tone.cut(mask, inner_edges(numbers, edges))


def _in_band(here: Here, numbers: Numbers, mask: Array, edges: Array | None) -> Array:
    return tone.in_band(mask, inner_edges(numbers, edges), numbers["band"])


CUT = Local(name="cut", needs=_needs, make=_cut)
IN_BAND = Local(name="in_band", needs=_needs, make=_in_band)


class Cut(BaseLine):
    """Bands of the strength so far. ``edges``: the inner ones, used when ``how`` is *own*."""

    title, family, hint = "Cut into bands", "tone", "each band a mask of its own"
    sentence = "**Cut into** {count} bands, {how} {edges}"
    verb: Literal["cut"] = "cut"
    count: Annotated[int, Field(ge=2, le=16), Told("Bands", step=1, decimals=0)] = 5
    how: Annotated[
        Literal["even", "quantiles", "own"],
        Told("How", choices=(("even", "evenly"), ("quantiles", "each covering as much"), ("own", "at own edges"))),
    ] = "even"
    edges: Annotated[tuple[Unit, ...], Field(max_length=15), Edited("edges", "Edge", where=("how", "own"))] = ()

    def _numbers(self) -> dict[str, Any]:
        return {"count": self.count, "how": self.how, "edges": list(self.edges) if self.how == "own" else []}

    def node(self, before: Node, maps: Maps) -> Node:
        return Node(CUT, self._numbers(), (before,))

    @property
    def bands(self) -> int | None:
        return self.count

    def in_band(self, before: Node, band: int) -> Node:
        return Node(IN_BAND, {**self._numbers(), "band": band}, (before,))

    def checked(self, place: str, pieces: Pieces) -> None:
        if self.how != "own":
            return
        if len(self.edges) != self.count - 1:
            raise BadNumber(
                f"{place}: {self.count} bands need {self.count - 1} inner edges, got {len(self.edges)}.", field="edges"
            )
        if any(b <= a for a, b in pairwise(self.edges)):
            raise BadNumber(f"{place}: each edge must be above the one before.", field="edges")

    def at_final(self, draft: float) -> str | None:
        if self.how == "quantiles":
            return MEASURED_ONCE
        return "Bands have hard edges: an edge may lie up to one sample of the draft away."
