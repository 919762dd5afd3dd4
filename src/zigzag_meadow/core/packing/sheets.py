"""Channels as bytes, and sheets put together from them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers, by_sample
from zigzag_meadow.core.readings.uses import stretched
from zigzag_meadow.core.rounding import quantise_mask

__all__ = ["mask_bytes", "reading_bytes", "rest_node", "rest_of_sheet", "sheet_node"]

U8 = NDArray[np.uint8]


def rest_of_sheet(others: list[U8]) -> tuple[U8, int]:
    """(full scale minus the other channels of a sheet, at how many samples those exceed full scale).

    ``others``: uint8 arrays of one shape; where they exceed 255 the rest is 0. Raises :class:`BadNumber` when
    there are none.
    """
    if not others:
        raise BadNumber("The rest of a sheet needs at least one other channel in that sheet.")
    total = np.zeros(others[0].shape, np.uint16)
    for other in others:
        total += other
    over = int((total > 255).sum())
    return (255 - np.minimum(total, 255)).astype(np.uint8), over


def _reading(here: Here, numbers: Numbers, values: Array) -> Array:
    mapped = stretched(values, numbers["black"], numbers["white"], log=numbers["log"])
    return quantise_mask(np.nan_to_num(mapped))


MASK_BYTES = by_sample("mask_bytes", lambda here, numbers, mask: quantise_mask(mask), quick=False)
READING_BYTES = by_sample("reading_bytes", _reading, quick=False)
REST = by_sample("rest", lambda here, numbers, *others: rest_of_sheet(list(others))[0], quick=False)
SHEET = by_sample("sheet", lambda here, numbers, *channels: np.stack(channels, axis=-1), quick=False)


def mask_bytes(mask: Node) -> Node:
    """A mask as uint8."""
    return Node(MASK_BYTES, {}, (mask,))


def reading_bytes(reading: Node, black: float, white: float, log: bool) -> Node:
    """A reading between what black and white stand for, as uint8."""
    return Node(READING_BYTES, {"black": black, "white": white, "log": log}, (reading,))


def rest_node(others: Sequence[Node]) -> Node:
    """Full scale minus the other channels of a sheet, as uint8."""
    return Node(REST, {}, tuple(others))


def sheet_node(channels: Sequence[Node]) -> Node:
    """Channels side by side: uint8 (rows, columns, channels)."""
    return Node(SHEET, {}, tuple(channels))
