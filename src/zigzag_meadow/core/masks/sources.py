"""What a line of a recipe can read, and the operations that make it a map from 0 to 1."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.masks import algebra
from zigzag_meadow.core.masks.shapes import shape_mask
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Local, Need, Numbers, by_sample
from zigzag_meadow.core.parts import Id, Part, Unit
from zigzag_meadow.core.readings.declare import Reading
from zigzag_meadow.core.readings.uses import Band, ReadingUse, stretched

__all__ = [
    "SOURCES",
    "Band",
    "FeatureUse",
    "MaskUse",
    "Plain",
    "ReadingUse",
    "Source",
    "band_node",
    "constant",
    "feature_node",
    "mapped_node",
]


class MaskUse(Part):
    """Another mask as it comes out of its own recipe, or one ``band`` (from 0) of one that was cut into bands."""

    kind: Literal["mask"] = "mask"
    mask: Id
    band: Annotated[int, Field(ge=0, le=15)] | None = None


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
SOURCES = (Band, MaskUse, ReadingUse, Plain, FeatureUse)


def _nothing(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    return []


def _constant(here: Here, numbers: Numbers) -> Array:
    return np.full(here.window.shape, numbers["value"], np.float32)


CONSTANT = Local(name="constant", needs=_nothing, make=_constant, by_sample=True)


def constant(value: float, home: Grid | None = None) -> Node:
    """The same number everywhere."""
    return Node(CONSTANT, {"value": value}, home=home)


def _band(here: Here, numbers: Numbers, values: Array) -> Array:
    p = {name: value for name, value in numbers.items() if name != "wraps"}
    if numbers["wraps"]:
        p.pop("log")
        return algebra.wrapped_band(values, **p)
    made = algebra.band(values, **p, stripes=here.stripes, cancel=here.cancel)
    # Where there is no reading there is no mask.
    if np.isnan(values.sum(dtype=np.float32)):
        made[np.isnan(values)] = 0
    return made


BAND = by_sample("band", _band)


def band_node(use: Band, kind: Reading, reading: Node) -> Node:
    """A band of a reading; ``kind``: its declaration."""
    numbers: dict[str, Any] = use.model_dump(include={"low", "high", "fade_low", "fade_high", "smooth"})
    return Node(BAND, {**numbers, "log": kind.scale == "log", "wraps": kind.wraps}, (reading,))


def _mapped(here: Here, numbers: Numbers, values: Array) -> Array:
    return stretched(values, numbers["black"], numbers["white"], log=numbers["log"], nothing=0)


MAPPED = by_sample("stretched", _mapped)


def mapped_node(use: ReadingUse, kind: Reading, reading: Node) -> Node:
    """A reading through a mapping; ``kind``: its declaration."""
    numbers = {"black": use.black, "white": use.white, "log": kind.scale == "log"}
    return Node(MAPPED, numbers, (reading,))


def _feature(here: Here, numbers: Numbers) -> Array:
    shape = {name: numbers[name] for name in ("width", "fade", "closed", "smooth")}
    return shape_mask(np.array(numbers["points"], np.float64), here.grid, here.window, **shape)


FEATURE = Local(name="feature", version=2, needs=_nothing, make=_feature)


def feature_node(use: FeatureUse, points: Sequence[tuple[float, float]], closed: bool, home: Grid) -> Node:
    """A drawn line or area; ``points``: metres east and south of the north-west corner."""
    numbers: dict[str, Any] = {"points": [list(p) for p in points], "closed": closed}
    return Node(FEATURE, numbers | use.model_dump(include={"width", "fade", "smooth"}), home=home)
