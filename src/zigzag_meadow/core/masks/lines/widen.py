"""Widen and narrow: outwards or inwards by metres."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from zigzag_meadow.core.grid import Grid, Window, whole_ground_grid
from zigzag_meadow.core.masks import areas
from zigzag_meadow.core.masks.lines.base import LENGTH, BaseLine, Maps, numbered
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import AllOf, Array, Here, Local, Need, Numbers, OnWindow, WholeGround
from zigzag_meadow.core.nodes.windows import cut, margin_of, sampled, widened
from zigzag_meadow.core.parts import Told

__all__ = ["Narrow", "Widen"]

_FAR_SAMPLES = 192
"""Distances reaching farther than this many samples are measured once on the whole grid instead of tile by tile."""


def _rim_grid(node: Node) -> Grid:
    shape = (node.params["rows"], node.params["cols"])
    return node.grid if shape == node.grid.shape else node.grid.resized(*shape)


def _rim_needs(node: Node, grid: Grid) -> Sequence[Need]:
    return [OnWindow(node.inputs[0], grid, grid.whole)]


def _rim(here: Here, numbers: Numbers, mask: Array) -> Array:
    return areas.rim_distance(mask, here.grid, numbers["inside"], here.stripes, here.cancel)


RIM = WholeGround(name="rim", grid=_rim_grid, needs=_rim_needs, make=_rim, roughly=True)


def _margin(grid: Grid, numbers: Numbers) -> tuple[int, int]:
    return margin_of(grid, numbers["by"] + numbers["fade"])


def _line(name: str, inside: bool) -> Local:
    """Metres to the rim of what came before are right as far as the line reaches."""
    apply = areas.narrowed if inside else areas.widened

    def needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
        margin, mask = _margin(grid, node.params), node.inputs[0]
        if max(margin) <= _FAR_SAMPLES:
            return [OnWindow(mask, grid, widened(grid, window, margin)), None]
        own = whole_ground_grid(grid)
        rim = Node(RIM, {"inside": inside, "rows": own.rows, "cols": own.cols}, (mask,))
        return [OnWindow(mask, grid, window, passing=True), AllOf(rim)]

    def make(here: Here, numbers: Numbers, mask: Array, far: Array | None) -> Array:
        if far is not None:
            metres = sampled(far, whole_ground_grid(here.grid), here, "linear")
        else:
            wide = widened(here.grid, here.window, _margin(here.grid, numbers))
            metres = cut(areas.rim_distance(mask, here.grid, inside, here.stripes, here.cancel), wide, here.window)
            mask = cut(mask, wide, here.window)
        return apply(mask, metres, numbers["by"], numbers["fade"])

    return Local(name=name, needs=needs, make=make)


WIDEN = _line("widen", inside=False)
NARROW = _line("narrow", inside=True)
WIDTH = Told("Width", "m", step=0.5, decimals=1, of="spacing", first=3)
FADE = Told("Fade", "m", step=0.5, decimals=1, of="spacing", first=1)


class _Moved(BaseLine):
    """The border moves by metres, and fades."""

    family = "area"
    by: Annotated[LENGTH, WIDTH] = 12.0
    fade: Annotated[LENGTH, FADE] = 4.0

    def at_final(self, draft: float) -> str | None:
        metres = self.by + self.fade
        return f"{metres:g} m are finer than the draft shows ({draft:.3g} m a sample)." if metres < 2 * draft else None


class Widen(_Moved):
    title, hint = "Widen", "outwards by metres"
    sentence = "**Widen** by {by}, fading over {fade}"
    verb: Literal["widen"] = "widen"

    def node(self, before: Node, maps: Maps) -> Node:
        return Node(WIDEN, numbered(self, "by", "fade"), (before,))


class Narrow(_Moved):
    title, hint = "Narrow", "inwards by metres"
    sentence = "**Narrow** by {by}, fading over {fade}"
    verb: Literal["narrow"] = "narrow"

    def node(self, before: Node, maps: Maps) -> Node:
        return Node(NARROW, numbered(self, "by", "fade"), (before,))
