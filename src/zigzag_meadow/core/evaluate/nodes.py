"""From a document to a graph of operations whose keys are made of content alone.

A node's key is the hash of operation, version, numbers and input keys: never a name or an id. Two masks that do
the same thing are the same node.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.project.document import (
    Band,
    BaseSource,
    Channel,
    Levels,
    Line,
    MaskSource,
    MaskUse,
    Project,
    ReadingSource,
    RestSource,
    Sheet,
    TurnOver,
    WeightSource,
)
from zigzag_meadow.core.readings.catalogue import reading

__all__ = ["Graph", "Node"]

# Raise an operation's number whenever its result changes, so that no stored map outlives its meaning.
VERSIONS = {
    "height": 1, "slope": 1, "shade": 1, "flow": 1, "standing_water": 1, "constant": 1, "band": 1, "combine": 1,
    "turn_over": 1, "levels": 1, "cover": 1, "pick": 1, "shares": 1, "pick_share": 1, "mask_bytes": 1,
    "reading_bytes": 1, "rest": 1, "sheet": 1,
}  # fmt: skip


@dataclass(frozen=True, eq=False)
class Node:
    """One operation with its numbers and inputs; ``key`` is its identity."""

    op: str
    params: dict[str, Any] = field(default_factory=dict)
    inputs: tuple[Node, ...] = ()
    key: str = field(init=False)

    def __post_init__(self) -> None:
        text = json.dumps([self.op, VERSIONS[self.op], self.params, [node.key for node in self.inputs]], sort_keys=True)
        object.__setattr__(self, "key", hashlib.sha256(text.encode()).hexdigest()[:32])


class Graph:
    """Nodes of every map of one document, made as they are asked for."""

    def __init__(self, project: Project) -> None:
        self.project = project
        self._masks: dict[str, Node] = {}

    def height(self) -> Node:
        ground = self.project.ground
        ends = (ground.low, ground.high) if ground.heights == "range" else (None, None)
        return Node(
            "height",
            {
                "asset": ground.asset, "format": ground.file_format, "order": ground.byte_order,
                "rows": ground.rows, "cols": ground.cols, "low": ends[0], "high": ends[1],
                "home": ground.home.key,
            },
        )  # fmt: skip

    def reading(self, name: str) -> Node:
        reading(name)
        height = self.height()
        if name == "height":
            return height
        if name in ("slope", "shade"):
            width = self.project.ground.width_of_slope
            return Node(name, {"width": list(width)}, (height,))
        return Node(name, {}, (height,))

    def mask(self, mask_id: str, lines: int | None = None) -> Node:
        """The mask of a recipe, or what it is after its first ``lines`` lines."""
        if lines is None and mask_id in self._masks:
            return self._masks[mask_id]
        mask = self.project.mask(mask_id)
        if mask is None:
            raise NotFound(f"There is no mask with the id {mask_id!r}.", field="mask")
        active = [line for line in mask.lines[:lines] if not line.muted]
        # An empty recipe is 0; one whose first line only cuts starts from 1.
        node = Node("constant", {"value": 0.0 if not active or active[0].verb == "take" else 1.0})
        for line in active:
            node = self._line(node, line)
        if lines is None:
            self._masks[mask_id] = node
        return node

    def _line(self, before: Node, line: Line) -> Node:
        if isinstance(line, TurnOver):
            return Node("turn_over", {}, (before,))
        if isinstance(line, Levels):
            numbers = line.model_dump(include={"in_low", "in_high", "middle", "out_low", "out_high"})
            return Node("levels", numbers, (before,))
        source = line.source
        taken = self.mask(source.mask) if isinstance(source, MaskUse) else self._band(source)
        if line.verb == "take" and line.strength == 1:
            return taken
        return Node("combine", {"verb": line.verb, "strength": line.strength}, (before, taken))

    def _band(self, source: Band) -> Node:
        numbers: dict[str, Any] = source.model_dump(include={"low", "high", "fade_low", "fade_high", "smooth"})
        numbers["log"] = reading(source.reading).scale == "log"
        return Node("band", numbers, (self.reading(source.reading),))

    def weights(self) -> Node:
        """The stack of all weights, base first."""
        masks = tuple(self.mask(item.mask) for item in self.project.shown_layers if item.mask is not None)
        return Node("cover", {"layers": len(masks)}, masks)

    def _place(self, layer_id: str) -> int | None:
        if layer_id == "base":
            return 0
        if self.project.layer(layer_id) is None:
            raise NotFound(f"There is no layer with the id {layer_id!r}.", field="layer")
        shown = [item.id for item in self.project.shown_layers]
        return shown.index(layer_id) + 1 if layer_id in shown else None

    def weight(self, layer_id: str) -> Node:
        place = self._place(layer_id)
        return Node("constant", {"value": 0.0}) if place is None else Node("pick", {"place": place}, (self.weights(),))

    def sheet(self, sheet_id: str) -> Node:
        sheet = self._sheet(sheet_id)
        return Node("sheet", {}, tuple(self.channel(sheet_id, channel) for channel in sheet.channels))

    def channel(self, sheet_id: str, channel: Channel) -> Node:
        sheet = self._sheet(sheet_id)
        if channel not in sheet.channels:
            raise NotFound(f"The sheet {sheet.name} has no channel {channel.upper()}.", field="channel")
        source = sheet.source(channel)
        if isinstance(source, RestSource):
            others = tuple(self.channel(sheet_id, other) for other in sheet.channels if other != channel)
            return Node("rest", {}, others)
        if isinstance(source, WeightSource | BaseSource):
            place = self._place(source.layer if isinstance(source, WeightSource) else "base")
            if place is not None:
                return Node("pick_share", {"place": place}, (Node("shares", {"bits": 8}, (self.weights(),)),))
        if isinstance(source, MaskSource):
            return Node("mask_bytes", {}, (self.mask(source.mask),))
        if isinstance(source, ReadingSource):
            log = reading(source.reading).scale == "log"
            numbers = {"black": source.black, "white": source.white, "log": log}
            return Node("reading_bytes", numbers, (self.reading(source.reading),))
        return Node("mask_bytes", {}, (Node("constant", {"value": 0.0}),))

    def _sheet(self, sheet_id: str) -> Sheet:
        sheet = self.project.sheet(sheet_id)
        if sheet is None:
            raise NotFound(f"There is no sheet with the id {sheet_id!r}.", field="sheet")
        return sheet

    def named(self, name: str) -> Node:
        """The node of a map by its name.

        ``reading:slope``, ``mask:ID``, ``mask:ID:LINES`` (after the first lines), ``weight:ID`` or
        ``weight:base``, ``sheet:ID``, ``channel:SHEET:r``. Raises :class:`NotFound` for anything else.
        """
        kind, _, rest = name.partition(":")
        first, _, second = rest.partition(":")
        makers: dict[str, Callable[[], Node]] = {
            "reading": lambda: self.reading(rest),
            "mask": lambda: self.mask(first, int(second) if second.isdigit() else None),
            "weight": lambda: self.weight(rest),
            "sheet": lambda: self.sheet(rest),
            "channel": lambda: self.channel(first, _channel(second)),
        }
        if kind not in makers or not rest:
            raise NotFound(f"There is no map called {name!r}.", field="name")
        return makers[kind]()


def _channel(text: str) -> Channel:
    channels: dict[str, Channel] = {"r": "r", "g": "g", "b": "b", "a": "a"}
    if text not in channels:
        raise NotFound(f"A channel is r, g, b or a, got {text!r}.", field="channel")
    return channels[text]
