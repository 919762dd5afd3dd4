"""How the samples of every item are made: one function a kind, from a window to what is stored."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.colour.surface import normals
from zigzag_meadow.core.delivery.plan import Plan, PlannedItem
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import Window
from zigzag_meadow.core.map_name import LookName, ReadingName, ScatterName
from zigzag_meadow.core.nodes.node import Node, held_key
from zigzag_meadow.core.packing.reduced import sharper
from zigzag_meadow.core.packing.sheets import channel_ends
from zigzag_meadow.core.project.model.readings import kind_of
from zigzag_meadow.core.readings.uses import stretched
from zigzag_meadow.core.rounding import quantise_mask
from zigzag_meadow.core.srgb import to_whole
from zigzag_meadow.core.targets.encode import encoded

__all__ = ["Content", "content_of", "reading_ends"]

Array = NDArray[Any]
Stored = tuple[Array, int]
"""Samples as they are written, and how many had to be clipped."""


@dataclass(frozen=True, slots=True)
class Content:
    """``node``: what is evaluated (of a texture one ``plane``, which is held whole); ``store(values, window)``: what is
    written of it; ``by``: what of the document ``store`` goes by, beyond the item and the target."""

    node: Node
    store: Callable[[Array, Window], Stored]
    plane: str | None = None
    by: str = ""

    def block(self, evaluation: Evaluation, item: PlannedItem, window: Window) -> Stored:
        """What is written of a window of the item's grid, north up."""
        if self.plane is not None:
            whole = evaluation.whole(self.node, self.plane)
            return self.store(whole[window.row0 : window.row1, window.col0 : window.col1], window)
        return self.store(evaluation.window(self.node, item.grid, window), window)

    def key(self, item: PlannedItem) -> str:
        """What its samples are known by."""
        return held_key(self.node, item.grid, self.plane or "map") + self.by


def content_of(evaluation: Evaluation, plan: Plan, item: PlannedItem) -> Content:
    """How an item is made."""
    return _KINDS[item.thing.kind](evaluation, plan, item)


def _floats(item: PlannedItem, values: Array) -> Array:
    return values.astype(np.float16 if item.form.sample == "f16" else np.float32, copy=False)


def _height(evaluation: Evaluation, plan: Plan, item: PlannedItem) -> Content:
    lifted = plan.project.ground.base - plan.zero
    scale = item.scale

    def store(heights: Array, window: Window) -> Stored:
        if scale is not None and item.form.floats:
            return _floats(item, (heights.astype(np.float64) + (lifted - scale.at_zero)) / scale.step), 0
        if scale is not None:
            return encoded(heights, scale, lifted)
        return _floats(item, heights.astype(np.float64) + lifted), 0

    return Content(evaluation.graph.reading("height", lifted=False), store)


def _unit(evaluation: Evaluation, item: PlannedItem, node: Node) -> Content:
    """A map from 0 to 1."""
    sharp = item.choice.resampling == "sharp"
    made = sharper(node, evaluation.home, unit=True) if sharp else node

    def store(values: Array, window: Window) -> Stored:
        return (_floats(item, values) if item.form.floats else quantise_mask(values, item.form.bits)), 0

    return Content(made, store)


def _map(evaluation: Evaluation, plan: Plan, item: PlannedItem) -> Content:
    name = item.thing.name
    node = evaluation.graph.named(name)
    if not isinstance(name, ReadingName):
        return _unit(evaluation, item, node)
    if item.choice.resampling == "sharp":
        node = sharper(node, evaluation.home, unit=False)
    log = kind_of(plan.project, name.reading).scale == "log"

    def store(values: Array, window: Window) -> Stored:
        if item.form.floats and item.choice.black is None:
            return _floats(item, np.nan_to_num(values)), 0
        # Asked here and not before: a plan or a key needs no reading measured over the whole ground.
        unit = stretched(values, *reading_ends(evaluation, item), log=log, nothing=0)
        if item.form.floats:
            return _floats(item, unit), 0
        return quantise_mask(unit, item.form.bits), 0

    return Content(node, store)


def reading_ends(evaluation: Evaluation, item: PlannedItem) -> tuple[float, float]:
    """What black and white of a reading stand for: typed, fixed by what it measures, or what all but a hundredth of
    the ground lies between."""
    if item.choice.black is not None and item.choice.white is not None:
        return item.choice.black, item.choice.white
    assert isinstance(item.thing.name, ReadingName)
    reading = item.thing.name.reading
    kind = kind_of(evaluation.project, reading)
    if kind.low is not None and kind.high is not None and kind.scale == "linear":
        return kind.low, kind.high
    ends = evaluation.whole(channel_ends(evaluation.graph.reading(reading)))
    return float(ends[0]), float(ends[1])


def _sheet(evaluation: Evaluation, plan: Plan, item: PlannedItem) -> Content:
    assert item.sheet is not None
    keep = [item.sheet.channels.index(channel) for channel in item.channels]
    bits = 16 if item.form.bits > 8 else 8

    def store(values: Array, window: Window) -> Stored:
        all_of_it = keep == list(range(values.shape[-1]))
        kept = values if all_of_it else values[..., keep] if len(keep) > 1 else values[..., keep[0]]
        if item.form.floats:
            return _floats(item, kept / np.float32(2**bits - 1)), 0
        return np.ascontiguousarray(kept), 0

    return Content(evaluation.graph.packing.sheet(item.sheet.id, bits), store)


def _colour(evaluation: Evaluation, plan: Plan, item: PlannedItem) -> Content:
    node, is_light = evaluation.graph.painting.light(item.thing.name)
    coded = is_light and plan.target.colour_space == "sRGB"
    if item.choice.resampling == "sharp":
        node = sharper(node, evaluation.home, unit=True)

    def store(values: Array, window: Window) -> Stored:
        if item.form.floats:
            return _floats(item, values), 0
        if values.ndim == 2:
            return quantise_mask(values, item.form.bits), 0
        return to_whole(values, item.form.bits, as_coded=coded, first=(window.row0, window.col0)), 0

    return Content(node, store)


def _classes(evaluation: Evaluation, plan: Plan, item: PlannedItem) -> Content:
    def store(values: Array, window: Window) -> Stored:
        return (_floats(item, values) if item.form.floats else values.astype(f"u{item.form.bits // 8}")), 0

    return Content(evaluation.graph.named(item.thing.name), store)


def _density(evaluation: Evaluation, plan: Plan, item: PlannedItem) -> Content:
    return _unit(evaluation, item, evaluation.graph.named(ScatterName(item.scatter)))


def _look(evaluation: Evaluation, plan: Plan, item: PlannedItem) -> Content:
    """A texture as it comes, at its own size."""
    assert isinstance(item.thing.name, LookName)
    part = item.thing.name.part
    texture = evaluation.graph.painting.texture(item.thing.name.look)
    assert texture is not None  # the plan holds only looks that are there
    green = plan.project.surface.green
    wide = np.uint16(257) if item.form.bits == 16 and not item.form.floats else np.uint8(1)

    def store(values: Array, window: Window) -> Stored:
        if part == "albedo":
            return (_floats(item, values / np.float32(255)) if item.form.floats else values * wide), 0
        shown = values[..., 2].astype(np.float32)
        if part == "normal":
            shown = normals(values[..., 0].astype(np.float32), values[..., 1].astype(np.float32), green)
            return (_floats(item, shown) if item.form.floats else to_whole(shown, item.form.bits, as_coded=False)), 0
        return (_floats(item, shown) if item.form.floats else quantise_mask(shown, item.form.bits)), 0

    by = green if part == "normal" else ""
    return Content(texture.node, store, "albedo" if part == "albedo" else "surface", by)


_KINDS: dict[str, Callable[[Evaluation, Plan, PlannedItem], Content]] = {
    "height": _height,
    "sheet": _sheet,
    "map": _map,
    "colour": _colour,
    "surface": _colour,
    "classes": _classes,
    "density": _density,
    "look": _look,
}
