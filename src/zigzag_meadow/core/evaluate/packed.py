"""From sheets to nodes: what each channel carries, as whole numbers."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

from zigzag_meadow.core.colour.whole import bytes_of, part_of, wide_of
from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.evaluate.painted import Painting
from zigzag_meadow.core.map_name import SurfaceName, map_name
from zigzag_meadow.core.masks.sources import constant
from zigzag_meadow.core.nodes.ground_nodes import Stage
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.packing.put_together import mixed_node, sums_node
from zigzag_meadow.core.packing.sheets import (
    arrow_part,
    blend_step,
    rest_node,
    sheet_node,
    signed_about_middle,
    spread_out,
    turned_node,
    unit_between,
    whole_node,
)
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.painting import BASE
from zigzag_meadow.core.project.model.readings import kind_of
from zigzag_meadow.core.project.model.sheets import (
    COLOURS,
    BandSource,
    BaseSource,
    Channel,
    ChannelSource,
    ConstantSource,
    MaskSource,
    PaintedSource,
    ReadingSource,
    RestSource,
    ScatterSource,
    Sheet,
    StepSource,
    WeightSource,
)
from zigzag_meadow.core.srgb import linear_of

__all__ = ["Packing"]


class _Around(Protocol):
    """What packing needs of the graph it is part of."""

    project: Project
    painting: Painting

    def stage(self, steps: int | None = None) -> Stage: ...
    def reading(self, reading_id: str) -> Node: ...
    def mask(self, mask_id: str) -> Node: ...
    def scattered(self, scatter_id: str) -> Node: ...
    def cut_band(self, mask_id: str, band: int) -> Node: ...


class Packing:
    """Nodes of sheets and channels of one document."""

    def __init__(self, around: _Around) -> None:
        self._around = around
        self.project = around.project
        self._makers: dict[type[Any], Callable[[Any, int], Node]] = {
            WeightSource: lambda s, bits: self._weight(s.layer, bits),
            BaseSource: lambda s, bits: self._weight(BASE, bits),
            StepSource: self._step,
            MaskSource: lambda s, bits: whole_node(around.mask(s.mask), bits),
            BandSource: lambda s, bits: whole_node(around.cut_band(s.mask, s.band), bits),
            ScatterSource: lambda s, bits: whole_node(around.scattered(s.scatter), bits),
            ConstantSource: lambda s, bits: whole_node(self._constant(s.value), bits),
            ReadingSource: self._reading,
            PaintedSource: self._painted,
        }

    def sheet(self, sheet_id: str, bits: int | None = None) -> Node:
        """All channels of a sheet side by side, in its own depth or another."""
        sheet = self._sheet(sheet_id)
        return sheet_node([self.channel(sheet_id, channel, bits) for channel in sheet.channels])

    def channel(self, sheet_id: str, channel: Channel, bits: int | None = None) -> Node:
        """One channel, in the sheet's depth or another."""
        sheet = self._sheet(sheet_id)
        bits = bits or sheet.bits
        if channel not in sheet.channels:
            raise NotFound(f"The sheet {sheet.name} has no channel {channel.upper()}.", field="channel")
        source = sheet.source(channel)
        if source is None:
            return whole_node(self._constant(0.0), bits)
        made = self._rest(sheet, channel, bits) if isinstance(source, RestSource) else self.carried(source, bits)
        return turned_node(made) if source.turned else made

    def sums(self) -> Node:
        """Whether the weights in all sheets add up: 1 where exactly, else less than a half, the less the more is
        missing."""
        return sums_node([node for node, _ in self._weights(("weight", "base"))])

    def mixed(self, how: str) -> Node:
        """The grounds in their plain colours, put together of the sheets as they are written: by weights (*sum*), or
        each laid over what is below it (*chain*). Linear light."""
        colours = {item.id: linear_of(item.colour) for item in self.project.outcomes}
        order = [item.id for item in self.project.outcomes]
        weights = self._weights(("weight", "step", "base"), turned_back=True)
        found = sorted(weights, key=lambda pair: order.index(pair[1]))
        return mixed_node([node for node, _ in found], [colours[layer] for _, layer in found], colours[BASE], how)

    def _weights(self, kinds: tuple[str, ...], turned_back: bool = False) -> list[tuple[Node, str]]:
        """Every channel with the weight of an outcome, and whose it is; as it is written, or as a shader reads it that
        turns back what was turned over."""
        shown = {item.id for item in self.project.outcomes}
        made = []
        for sheet in self.project.sheets:
            for channel in sheet.channels:
                source = sheet.source(channel)
                if source is None or source.kind not in kinds:
                    continue
                layer = BASE if source.kind == "base" else getattr(source, "layer", "")
                if layer in shown:
                    made.append((self.carried(source, 8) if turned_back else self.channel(sheet.id, channel, 8), layer))
        return made

    def carried(self, source: ChannelSource, bits: int) -> Node:
        """What a source is by itself, before it is turned."""
        return self._makers[type(source)](source, bits)

    def _rest(self, sheet: Sheet, channel: Channel, bits: int) -> Node:
        return rest_node([self.channel(sheet.id, other, bits) for other in sheet.channels if other != channel])

    def _constant(self, value: float) -> Node:
        return constant(value, self._around.stage().home)

    def _weight(self, layer: str, bits: int) -> Node:
        made = self._around.painting.weight_bytes(layer, bits)
        return whole_node(self._constant(0.0), bits) if made is None else made

    def _step(self, source: StepSource, bits: int) -> Node:
        at = next((k for k, item in enumerate(self.project.outcomes) if item.id == source.layer), None)
        unit = self._constant(0.0) if at is None else blend_step(self._around.painting.outcomes(), at)
        return whole_node(unit, bits)

    def _reading(self, source: ReadingSource, bits: int) -> Node:
        reading = self._around.reading(source.reading)
        log = kind_of(self.project, source.reading).scale == "log"
        if source.mapping in ("east", "north"):
            unit = arrow_part(reading, source.mapping)
        elif source.mapping == "signed":
            unit = signed_about_middle(reading, source.white)
        elif source.mapping == "stretch":
            unit = spread_out(reading, log)
        else:
            on_log = log if source.mapping == "own" else source.mapping == "log"
            unit = unit_between(reading, source.black, source.white, on_log)
        return whole_node(unit, bits)

    def _painted(self, source: PaintedSource, bits: int) -> Node:
        painting = self._around.painting
        if source.map == "strongest":
            # A number, not a share of full scale: the same number in either depth.
            made = painting.strongest()
            return made if bits == 8 else wide_of(made)
        colour = source.map in COLOURS
        name = map_name(source.map) if colour else SurfaceName(source.map)
        node, coded = painting.light(name)
        whole = bytes_of(node, coded, bits=bits)
        return part_of(whole, "rgb".index(source.part)) if colour or source.map == "normal" else whole

    def _sheet(self, sheet_id: str) -> Sheet:
        sheet = self.project.sheet(sheet_id)
        if sheet is None:
            raise NotFound(f"There is no sheet with the id {sheet_id!r}.", field="sheet")
        return sheet
