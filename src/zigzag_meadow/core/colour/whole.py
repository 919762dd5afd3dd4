"""Colour and surface maps as whole numbers."""

from __future__ import annotations

import numpy as np

from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers, by_sample
from zigzag_meadow.core.rounding import quantise_mask
from zigzag_meadow.core.srgb import to_whole

__all__ = ["bytes_of", "part_of", "wide_of"]


def _whole(here: Here, numbers: Numbers, values: Array) -> Array:
    if values.ndim == 2:
        return quantise_mask(values, numbers["bits"])
    return to_whole(values, numbers["bits"], as_coded=numbers["coded"])


BYTES = by_sample("colour_bytes", _whole, version=2, quick=False)
PART = by_sample("colour_part", lambda here, numbers, values: values[..., numbers["part"]].copy(), quick=False)
WIDE = by_sample("colour_wide", lambda here, numbers, values: values.astype(np.uint16), quick=False)


def bytes_of(node: Node, coded: bool, bits: int = 8) -> Node:
    """A map 0–1 as uint8 or uint16, ``coded`` where it holds linear light that becomes sRGB."""
    return Node(BYTES, {"coded": coded, "bits": bits}, (node,))


def part_of(node: Node, part: int) -> Node:
    """One channel of a map of whole numbers."""
    return Node(PART, {"part": part}, (node,))


def wide_of(node: Node) -> Node:
    """The same numbers in 16 bits."""
    return Node(WIDE, {}, (node,))
