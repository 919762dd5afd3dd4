"""What comes of the sheets where they are read: whether weights add up, and the grounds put together either way."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from zigzag_meadow.core.errors import BadDocument
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers, by_sample

__all__ = ["mixed_node", "sums_node"]

FULL = 255


def _sums(here: Here, numbers: Numbers, *weights: Array) -> Array:
    total = np.zeros(weights[0].shape, np.int32)
    for weight in weights:
        total += weight
    off = np.abs(total - FULL).astype(np.float32) / np.float32(FULL)
    made: Array = np.where(total == FULL, np.float32(1), np.clip(np.float32(0.4) * (1 - off), 0, 0.4))
    return made.astype(np.float32, copy=False)


def _mixed(here: Here, numbers: Numbers, *shares: Array) -> Array:
    unit = [share.astype(np.float32)[..., None] / np.float32(FULL) for share in shares]
    colours = [np.array(colour, np.float32) for colour in numbers["colours"]]
    if numbers["how"] == "chain":
        made = np.broadcast_to(np.array(numbers["base"], np.float32), (*here.window.shape, 3)).copy()
        for share, colour in zip(unit, colours, strict=True):
            made += (colour - made) * share
        return made
    total = np.zeros((*here.window.shape, 1), np.float32)
    made = np.zeros((*here.window.shape, 3), np.float32)
    for share, colour in zip(unit, colours, strict=True):
        made += colour * share
        total += share
    left = np.maximum(np.float32(1) - total, 0)
    made += np.array(numbers["base"], np.float32) * left
    made /= np.maximum(total, 1)
    return made


SUMS = by_sample("sums", _sums, quick=False)
MIXED = by_sample("mixed", _mixed, quick=False)


def sums_node(weights: Sequence[Node]) -> Node:
    """1 where weights in bytes add up to full scale, else at most 0.4, the less the further off: float32.

    Raises :class:`BadDocument` where there are none.
    """
    if not weights:
        raise BadDocument("No sheet carries a weight: there is nothing to add up.")
    return Node(SUMS, {}, tuple(weights))


def mixed_node(
    shares: Sequence[Node], colours: Sequence[tuple[float, float, float]], base: tuple[float, float, float], how: str
) -> Node:
    """Grounds in plain colours by their shares in bytes, from the bottom: float32 (rows, columns, 3), linear light.

    *sum*: colours times weights, the base where less than all is given. *chain*: each laid over what is below it
    (Porter & Duff 1984, *over*). Raises :class:`BadDocument` where there are no shares.
    """
    if not shares:
        raise BadDocument("No sheet carries a weight: there is nothing to put together.")
    numbers = {"colours": [list(colour) for colour in colours], "base": list(base), "how": how}
    return Node(MIXED, numbers, tuple(shares))
