"""Touch up: strokes of a brush, kept as strokes in metres in a file of their own."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal, Self

from pydantic import Field

from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.masks.lines.base import BaseLine, Maps
from zigzag_meadow.core.masks.lines.combining import blended
from zigzag_meadow.core.masks.softened import blur_need, blurred
from zigzag_meadow.core.masks.sources import Source
from zigzag_meadow.core.masks.strokes import Stroke, read_strokes, stroke_cover, touched
from zigzag_meadow.core.masks.turning import UNTURNED
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, FromFile, Here, Local, Need, Numbers, OnWindow, Unfolding
from zigzag_meadow.core.parts import AssetId, Edited

__all__ = ["TouchUp"]


def _file(asset: str) -> FromFile:
    return FromFile(asset, read_strokes, foreign=False)


def _groups(strokes: Sequence[Stroke]) -> list[tuple[int, int]]:
    """(first, end) of runs of strokes that need no look at what lies around, and of every softening one by itself."""
    groups: list[tuple[int, int]] = []
    for number, stroke in enumerate(strokes):
        joins = stroke.mode != "soften" and groups and strokes[groups[-1][0]].mode != "soften"
        if joins:
            groups[-1] = (groups[-1][0], number + 1)
        else:
            groups.append((number, number + 1))
    return groups


def _unfolded(node: Node, strokes: Sequence[Stroke]) -> Node:
    """One operation a group: how far each looks around is known once the strokes are."""
    made = node.inputs[0]
    for first, end in _groups(strokes):
        sigma = strokes[first].size / 8 if strokes[first].mode == "soften" else None
        numbers = {"asset": node.params["asset"], "first": first, "end": end, "sigma": sigma}
        numbers |= {"turned": node.params["turned"]} if "turned" in node.params else {}
        made = Node(STROKED, numbers, (made,), home=made.home)
    return made


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    sigma = node.params["sigma"]
    mask = OnWindow(node.inputs[0], grid, window) if sigma is None else blur_need(node.inputs[0], grid, window, sigma)
    return [_file(node.params["asset"]), mask]


def _stroked(here: Here, numbers: Numbers, strokes: Sequence[Stroke], mask: Array) -> Array:
    group, soft = strokes[numbers["first"] : numbers["end"]], None
    if numbers["sigma"] is not None:
        mask, soft = blurred(here, mask, numbers["sigma"])
    for stroke in group:
        stroke = stroke.turned(numbers["turned"]) if "turned" in numbers else stroke
        cover = stroke_cover(stroke, here.grid, here.window)
        mask = touched(mask, stroke, cover, soft) if cover.any() else mask
    return mask.copy()


STROKED = Local(name="stroked", version=2, needs=_needs, make=_stroked)
TOUCH_UP = Unfolding(name="touch_up", version=2, needs=lambda node: [_file(node.params["asset"])], unfold=_unfolded)


class TouchUp(BaseLine):
    title, family, hint, brings = "Touch up", "hand", "by brush, kept as its own line", True
    sentence = "**Touch up** by hand, {count}, {only}"
    bound, in_piece, outside = True, False, "touch up, which belongs to one ground"
    verb: Literal["touch_up"] = "touch_up"
    asset: AssetId | None = None
    count: Annotated[int, Field(ge=0, le=100000), Edited("strokes", "Strokes")] = 0
    only: Annotated[Source | None, Edited("source", "Only where", none="everywhere", lead="only where: ")] = None

    def node(self, before: Node, maps: Maps) -> Node:
        if self.asset is None:
            return before
        turned = {} if maps.back == UNTURNED else {"turned": maps.back.numbers}
        made = Node(TOUCH_UP, {"asset": self.asset, "groups": None, **turned}, (before,))
        return made if self.only is None else blended(before, made, maps.source(self.only))

    def renamed(self, before: Self) -> str | None:
        if before.asset == self.asset:
            return None
        return "brush stroke" if self.count > before.count else "take back strokes"

    @property
    def assets(self) -> tuple[str, ...]:
        return () if self.asset is None else (self.asset,)
