"""Weights of layers as operations: sharing, single weights, whole-number shares, and how many masks meet."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from zigzag_meadow.core.layers.sharing import cover
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers, by_sample
from zigzag_meadow.core.rounding import quantise_weights

__all__ = ["counted", "share_bytes", "weight_of", "weights_of"]


def _cover(here: Here, numbers: Numbers, *masks: Array) -> Array:
    return cover(np.stack(masks)) if masks else np.ones((1, *here.window.shape), np.float32)


def _count(here: Here, numbers: Numbers, *masks: Array) -> Array:
    total = np.zeros(here.window.shape, np.uint8)
    for mask in masks:
        total += mask > np.float32(0.5)
    return total


def _pick(here: Here, numbers: Numbers, stack: Array) -> Array:
    return stack[numbers["place"]].copy()


def _shares(here: Here, numbers: Numbers, weights: Array) -> Array:
    return quantise_weights(weights, numbers["bits"], stripes=here.stripes, cancel=here.cancel)


COVER = by_sample("cover", _cover, quick=False, stacked=True)
COUNT = by_sample("count", _count, quick=False)
PICK = by_sample("pick", _pick, quick=False)
SHARES = by_sample("shares", _shares, quick=False, stacked=True)


def weights_of(masks: Sequence[Node]) -> Node:
    """The stack of all weights, base first: float32 (layers + 1, rows, columns)."""
    return Node(COVER, {"layers": len(masks)}, tuple(masks))


def weight_of(weights: Node, place: int) -> Node:
    """One weight of a stack."""
    return Node(PICK, {"place": place}, (weights,))


def share_bytes(weights: Node, place: int, bits: int = 8) -> Node:
    """One weight in whole numbers that add up to full scale over all of them."""
    return Node(PICK, {"place": place}, (Node(SHARES, {"bits": bits}, (weights,)),))


def counted(masks: Sequence[Node]) -> Node:
    """How many of some masks are strong (above 0.5) at each sample: uint8."""
    return Node(COUNT, {}, tuple(masks))
