"""Lay over: what was changed in a mask outside, over whatever the recipe gives."""

from __future__ import annotations

from typing import Literal

import numpy as np

from zigzag_meadow.core.masks.lines.base import STRENGTH, BaseLine, Maps
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers, by_sample
from zigzag_meadow.core.parts import AssetId
from zigzag_meadow.core.readings.picture import upright

__all__ = ["LayOver", "changes", "laid_over"]


def changes(before: Array, after: Array, least: float) -> tuple[Array, Array]:
    """(added, removed), float32 0–1: which part of what was missing from full was added, and which part of what was
    there was taken away. ``before``, ``after``: masks (float32) of one shape; differences below ``least`` are none,
    and count in full from twice that on."""
    gap = after - before
    counts = np.clip((np.abs(gap) - np.float32(least)) / np.float32(max(least, 1e-6)), 0, 1)
    gap = gap * counts
    added = np.where(gap > 0, gap / np.maximum(1 - before, np.float32(1e-6)), 0)
    removed = np.where(gap < 0, -gap / np.maximum(before, np.float32(1e-6)), 0)
    return np.clip(added, 0, 1).astype(np.float32), np.clip(removed, 0, 1).astype(np.float32)


def laid_over(mask: Array, added: Array, removed: Array, strength: float = 1.0) -> Array:
    """A mask (float32) with changes of :func:`changes` made in it."""
    s = np.float32(strength)
    less: Array = mask * (1 - s * removed)
    made: Array = 1 - (1 - less) * (1 - s * added)
    return made


def _laid(here: Here, numbers: Numbers, mask: Array, added: Array, removed: Array) -> Array:
    return laid_over(mask, added, removed, numbers["strength"])


LAY_OVER = by_sample("lay_over", _laid)


class LayOver(BaseLine):
    """``asset``: a picture over the whole ground whose red is what was added and whose green is what was removed."""

    title, family, hint, brings = "Lay over", "hand", "what was changed in a file that came back", True
    sentence = "**Lay over** what was changed outside, at {strength}"
    bound, in_piece, outside, offered = True, False, "a change made outside, which belongs to one ground", False
    verb: Literal["lay_over"] = "lay_over"
    asset: AssetId
    strength: STRENGTH = 1.0

    def node(self, before: Node, maps: Maps) -> Node:
        stage = maps.stage()
        added, removed = (upright(self.asset, channel, stage.solid, stage.home) for channel in ("r", "g"))
        return Node(LAY_OVER, {"strength": self.strength}, (before, added, removed))

    @property
    def assets(self) -> tuple[str, ...]:
        return (self.asset,)
