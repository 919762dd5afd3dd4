"""Colour and surface maps in bytes."""

from __future__ import annotations

from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers, by_sample
from zigzag_meadow.core.rounding import quantise_mask
from zigzag_meadow.core.srgb import to_whole

__all__ = ["bytes_of"]


def _whole(here: Here, numbers: Numbers, values: Array) -> Array:
    if values.ndim == 2:
        return quantise_mask(values)
    return to_whole(values, as_coded=numbers["coded"])


BYTES = by_sample("colour_bytes", _whole, quick=False)
PART = by_sample("colour_part", lambda here, numbers, values: values[..., numbers["part"]].copy(), quick=False)


def bytes_of(node: Node, coded: bool, part: int | None = None) -> Node:
    """A map 0–1 as uint8, ``coded`` where it holds linear light; with ``part`` one channel of what is bytes already."""
    return Node(BYTES, {"coded": coded}, (node,)) if part is None else Node(PART, {"part": part}, (node,))
