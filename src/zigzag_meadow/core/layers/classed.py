"""Classes of the ground by its strongest layer and by masks, and where it is open."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Here, Numbers, by_sample

__all__ = ["classed", "opened"]

F32 = NDArray[np.float32]
HALF = np.float32(0.5)


def _classed(here: Here, numbers: Numbers, strongest: NDArray[Any], *masks: F32) -> NDArray[np.uint8]:
    made: NDArray[np.uint8] = np.array(numbers["table"], np.uint8)[strongest]
    for number, mask in zip(numbers["numbers"], masks, strict=True):
        made[mask > HALF] = number
    return made


CLASSED = by_sample("classed", _classed, quick=False)
OPENED = by_sample("opened", lambda here, numbers, mask: (mask > HALF).astype(np.float32))


def classed(strongest: Node, table: Sequence[int], masks: Sequence[tuple[int, Node]]) -> Node:
    """uint8 (rows, columns): by the number that ``table`` has for the strongest layer, and over that the number of
    each of the ``masks`` where it is above a half, the last one that is."""
    numbers = {"table": list(table), "numbers": [number for number, _ in masks]}
    return Node(CLASSED, numbers, (strongest, *(mask for _, mask in masks)))


def opened(mask: Node) -> Node:
    """1 where a mask is above a half, else 0: float32."""
    return Node(OPENED, {}, (mask,))
