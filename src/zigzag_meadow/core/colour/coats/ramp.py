"""Ramp: colours along a reading or a mask."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np
from numba import njit
from numpy.typing import NDArray
from pydantic import Field, model_validator

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.colour.coats.base import Around, Begun, Painted
from zigzag_meadow.core.masks.sources import ReadingUse, Source
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers, by_sample
from zigzag_meadow.core.parts import Colour, Edited, Part, Unit
from zigzag_meadow.core.srgb import coded, linear, linear_of

__all__ = ["Ramp", "Stop", "along_ramp"]

F32 = NDArray[np.float32]
MOST_STOPS = 24


class Stop(Part):
    """A colour at a place along a ramp, 0–1."""

    at: Unit
    colour: Colour


@njit(nogil=True, cache=True)
def _along(values: F32, tables: F32, edges: F32, out: F32) -> None:
    last = tables.shape[1] - 1
    for r in range(values.shape[0]):
        for c in range(values.shape[1]):
            v = min(max(np.float32(0), values[r, c]), np.float32(1))
            table = tables[0]
            for e in range(edges.size):
                if v >= edges[e]:
                    table = tables[e + 1]
            t = v * np.float32(last)
            i = min(int(t), last - 1)
            f = t - np.float32(i)
            for k in range(3):
                out[r, c, k] = table[i, k] + f * (table[i + 1, k] - table[i, k])


def along_ramp(values: F32, stops: list[tuple[float, tuple[float, float, float]]]) -> F32:
    """Colours (rows, columns, 3), linear, of values 0–1 along ``stops``: (place, linear colour), in order.

    Between stops coded values are mixed, which looks even; before the first and after the last the colour stays. Two
    stops at one place make a hard edge: from there on it is the second one.
    """
    places = np.array([at for at, _ in stops])
    codes = coded(np.array([colour for _, colour in stops], np.float32))
    at = np.arange(1025) / 1024
    breaks = [0, *(k for k in range(1, len(stops)) if places[k] == places[k - 1]), len(stops)]
    parts = [slice(a, b) for a, b in pairwise(breaks)]
    tables = [
        linear(np.stack([np.interp(at, places[part], codes[part, k]) for k in range(3)], axis=1)) for part in parts
    ]
    out = np.empty((*values.shape, 3), np.float32)
    _along(readable(values), readable(np.stack(tables)), readable(places[breaks[1:-1]].astype(np.float32)), out)
    return out


def _ramp(here: Here, numbers: Numbers, values: Array) -> Array:
    return along_ramp(values, numbers["stops"])


RAMP = by_sample("coat_ramp", _ramp, version=2)


class Ramp(Painted):
    title, family, hint = "Ramp", "ground", "colours along a reading or a mask"
    sentence = "**Ramp** along {along}, laid on {mode} at {strength}, {within} {stops}"
    whole = True
    kind: Literal["ramp"] = "ramp"
    along: Annotated[Source, Edited("source", "Along what", start="mapped")] = ReadingUse(
        reading="height", black=0, white=100
    )
    stops: Annotated[
        tuple[Stop, ...], Field(min_length=2, max_length=MOST_STOPS), Edited("stops", "Colours of the ramp")
    ] = (
        Stop(at=0.0, colour="#4a3f33"),
        Stop(at=0.35, colour="#6f7049"),
        Stop(at=0.7, colour="#9a966f"),
        Stop(at=1.0, colour="#b9b4a7"),
    )

    @model_validator(mode="after")
    def _in_order(self) -> Ramp:
        places = [stop.at for stop in self.stops]
        if places != sorted(places):
            raise ValueError("the colours of a ramp must lie in order")
        return self

    @classmethod
    def begun(cls, begun: Begun) -> dict[str, Any]:
        return {"along": {"kind": "reading", "reading": "height", "black": begun.low, "white": begun.high}}

    def top(self, around: Around) -> Node:
        stops = [[stop.at, list(linear_of(stop.colour))] for stop in self.stops]
        return Node(RAMP, {"stops": stops}, (around.source(self.along),))
