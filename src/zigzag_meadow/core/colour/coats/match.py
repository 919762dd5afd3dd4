"""Match: the layers' colours brought to those of an aerial image, or the image's to theirs, layer by layer."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.colour.coats.base import Around, BaseCoat, Begun, Change, partly
from zigzag_meadow.core.grid import Grid, Window, reference_grid
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import AllOf, Array, Here, Local, Need, Numbers, OnWindow, WholeGround
from zigzag_meadow.core.parts import Edited, Id, Told
from zigzag_meadow.core.srgb import lab_of, rgb_of_lab

__all__ = ["Match", "layer_colours", "moved"]

F32 = NDArray[np.float32]
LEAST, MOST = 0.25, 4.0
"""A spread is not drawn apart or together further than that."""


def layer_colours(colours: F32, weights: F32, there: F32) -> NDArray[np.float64]:
    """Mean and spread per layer of linear colours (rows, columns, 3), counted by weight (layers, rows, columns) and by
    how much of them is ``there`` (rows, columns): float64 (layers, 2, 3) in OKLab; NaN for layers that are nowhere."""
    lab = lab_of(colours).astype(np.float64)
    out = np.full((len(weights), 2, 3), np.nan)
    for layer, weight in enumerate(weights):
        w = weight.astype(np.float64) * there
        total = w.sum()
        if total < 4:
            continue
        mean = np.einsum("rc,rck->k", w, lab) / total
        out[layer] = mean, np.sqrt(np.einsum("rc,rck->k", w, (lab - mean) ** 2) / total)
    return out


def moved(colours: F32, weights: F32, own: NDArray[np.float64], goal: NDArray[np.float64]) -> F32:
    """Colours whose mean and spread per layer go from ``own`` to ``goal`` (see :func:`layer_colours`), mixed by weight;
    layers that one of them does not know stay. Reinhard et al. 2001, Color transfer between images,
    doi:10.1109/38.946629 (in OKLab)."""
    lab = lab_of(colours)
    out = np.zeros_like(lab)
    for weight, (m0, s0), (m1, s1) in zip(weights, own, goal, strict=True):
        if np.isnan(m0).any() or np.isnan(m1).any():
            out += weight[..., None] * lab
            continue
        k = np.clip(s1 / np.maximum(s0, 1e-4), LEAST, MOST).astype(np.float32)
        out += weight[..., None] * ((lab - m0.astype(np.float32)) * k + m1.astype(np.float32))
    return rgb_of_lab(out)


def _measure_needs(node: Node, grid: Grid) -> Sequence[Need]:
    return [OnWindow(n, grid, grid.whole) for n in node.inputs]


def _measured(here: Here, numbers: Numbers, below: Array, image: Array, weights: Array) -> Array:
    there = image[..., 3]
    colours = np.ascontiguousarray(image[..., :3])
    return np.stack([layer_colours(below, weights, there), layer_colours(colours, weights, there)])


MEASURED = WholeGround(
    name="layer_colours", needs=_measure_needs, make=_measured, grid=lambda node: reference_grid(node.grid)
)


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    below, image, weights = node.inputs[:3]
    parts = [OnWindow(n, grid, window) for n in node.inputs]
    return [AllOf(Node(MEASURED, {}, (below, image, weights))), *parts]


def _matched(
    here: Here, numbers: Numbers, told: Array, below: Array, image: Array, weights: Array, mask: Array | None = None
) -> Array:
    own, goal = told
    if numbers["way"] == "layers":
        return partly(numbers, below, moved(below, weights, own, goal), mask)
    made = moved(np.ascontiguousarray(image[..., :3]), weights, goal, own)
    return partly(numbers, below, below + image[..., 3:] * (made - below), mask)


MATCHED = Local(name="matched", needs=_needs, make=_matched)


class Match(BaseCoat):
    title, family, hint = "Match", "change", "colours layer by layer to those of an aerial image, or the other way"
    sentence = "**Match** {way} {picture}, layer by layer, at {strength}, {within}, {seen}"
    kind: Literal["match"] = "match"
    picture: Annotated[Id, Edited("picture", "Picture")] = "picture"
    way: Annotated[
        Literal["layers", "image"],
        Told("Way", choices=(("layers", "what is below to the image"), ("image", "and lay on the image"))),
    ] = "layers"

    @classmethod
    def begun(cls, begun: Begun) -> dict[str, Any]:
        return {} if begun.picture is None else {"picture": begun.picture}

    def change(self, around: Around) -> Change | None:
        image = around.picture(self.picture)
        return None if image is None else Change(MATCHED, {"way": self.way}, (image, around.weights()))

    def trouble(self, around: Around) -> str | None:
        none = around.picture(self.picture) is None
        return "There is no picture yet: bring one in among the readings, or here." if none else None

    @property
    def picture_id(self) -> str:
        return self.picture
