"""From recipes to nodes: each line makes its own; here they find the maps around them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Protocol

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.masks.lines.base import BaseLine
from zigzag_meadow.core.masks.sources import (
    FeatureUse,
    MaskUse,
    Plain,
    ReadingUse,
    Source,
    band_node,
    constant,
    feature_node,
    mapped_node,
)
from zigzag_meadow.core.masks.turning import UNTURNED, Turning
from zigzag_meadow.core.nodes.ground_nodes import Stage
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.pieces import lines_with
from zigzag_meadow.core.project.model.readings import kind_of
from zigzag_meadow.core.project.model.recipe import Mask

__all__ = ["Recipes"]


class _Around(Protocol):
    """What recipes need of the graph they are part of."""

    project: Project

    def stage(self, steps: int | None = None) -> Stage: ...
    def reading(self, reading_id: str, stage: Stage | None = None) -> Node: ...


class Recipes:
    """Nodes of masks, of what lines read, and of the bands that masks are cut into."""

    def __init__(self, around: _Around, on: Stage | None = None, back: Turning = UNTURNED) -> None:
        """``on``: an earlier stage of the ground on which all is measured; ``back``: from places of the prepared
        ground, as things are drawn on it, to those of that stage."""
        self._around = around
        self._on = on
        self.back = back
        self._masks: dict[str, Node] = {}

    def keep(self, others: Recipes, mask_ids: Iterable[str]) -> None:
        """Take over the nodes of masks, as far as they were made, that are the same here."""
        self._masks |= {name: others._masks[name] for name in mask_ids if name in others._masks}

    def mask(self, mask_id: str, lines: int | None = None) -> Node:
        """The mask of a recipe, or what it is after its first ``lines`` lines."""
        if lines is None and mask_id in self._masks:
            return self._masks[mask_id]
        used = self._mask(mask_id).lines[:lines]
        node = self.after(self.start(used), used)
        if lines is None:
            self._masks[mask_id] = node
        return node

    def _mask(self, mask_id: str) -> Mask:
        mask = self._around.project.mask(mask_id)
        if mask is None:
            raise NotFound(f"There is no mask with the id {mask_id!r}.", field="mask")
        return mask

    def cut_of(self, mask_id: str) -> tuple[Node, BaseLine, int]:
        """(what a mask is before it is cut into bands, the last line that cuts it, into how many). Raises
        :class:`NotFound`."""
        mask = self._mask(mask_id)
        for at in range(len(mask.lines) - 1, -1, -1):
            line = mask.lines[at]
            if line.bands is not None and not line.muted:
                return self.mask(mask_id, at), line, line.bands
        raise NotFound(f"{mask.name} is not cut into bands any more: add a line “Cut into bands”.", field="band")

    def band(self, mask_id: str, band: int) -> Node:
        """1 where a mask lies in one of the bands (from 0) it is cut into."""
        before, line, count = self.cut_of(mask_id)
        if band >= count:
            raise NotFound(f"There are {count} bands, not {band + 1}.", field="band")
        return line.in_band(before, band)

    def constant(self, value: float) -> Node:
        return constant(value, self.stage().home)

    def limit(self, lines: Sequence[BaseLine]) -> Node | None:
        """What some lines make, or None without any that is not muted."""
        return self.after(self.start(lines), lines) if any(not line.muted for line in lines) else None

    # What lines ask for (:class:`zigzag_meadow.core.masks.lines.base.Maps`) --------------------------------------

    def stage(self) -> Stage:
        return self._on or self._around.stage()

    def begin_empty(self, lines: Sequence[BaseLine]) -> bool:
        """An empty recipe is nothing; one whose first line only cuts starts from all of the ground."""
        first = next((line for line in lines if not line.muted), None)
        return first is None or first.begins_empty(self)

    def start(self, lines: Sequence[BaseLine]) -> Node:
        return self.constant(0.0 if self.begin_empty(lines) else 1.0)

    def after(self, before: Node, lines: Sequence[BaseLine]) -> Node:
        for line in lines:
            if not line.muted:
                before = line.node(before, self)
        return before

    def piece(self, piece_id: str, numbers: Mapping[str, float]) -> Sequence[BaseLine]:
        piece = self._around.project.piece(piece_id)
        if piece is None:
            raise NotFound("A line uses a piece that is no longer there.", field="piece")
        return lines_with(piece, numbers)

    def source(self, source: Source) -> Node:
        """What a line reads, 0–1."""
        if isinstance(source, MaskUse):
            return self.mask(source.mask) if source.band is None else self.band(source.mask, source.band)
        if isinstance(source, Plain):
            return self.constant(source.value)
        if isinstance(source, FeatureUse):
            feature = self._around.project.feature(source.feature)
            if feature is None:
                raise NotFound("A line reads a drawn line that is no longer there.", field="feature")
            return feature_node(source, self.back.all(feature.points), feature.closed, self.stage().home)
        kind = kind_of(self._around.project, source.reading)
        reading = self._around.reading(source.reading, self._on)
        if isinstance(source, ReadingUse):
            return mapped_node(source, kind, reading)
        return band_node(source, kind, reading)
