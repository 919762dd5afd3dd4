"""Weights of layers as operations: sharing, merging, single weights, whole-number shares, and who is strongest."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.layers.sharing import SHARINGS
from zigzag_meadow.core.looks.texture import Worn, filtered_need, laid
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Local, Need, Numbers, OnWindow, by_sample
from zigzag_meadow.core.rounding import quantise_weights

__all__ = [
    "counted",
    "merged",
    "reliefs_of",
    "share_bytes",
    "strength_of",
    "strongest",
    "weight_of",
    "weights_of",
]


def _shared_needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    count = node.params["layers"]
    reliefs = node.inputs[count:]
    masks = [OnWindow(n, grid, window, passing=True) for n in node.inputs[:count]]
    return [OnWindow(reliefs[0], grid, window) if reliefs else None, *masks]


def _shared(here: Here, numbers: Numbers, reliefs: Array | None, *masks: Array) -> Array:
    if not masks:
        return np.ones((1, *here.window.shape), np.float32)
    strengths = [m if s == 1 else m * np.float32(s) for m, s in zip(masks, numbers["strengths"], strict=True)]
    return SHARINGS[numbers["sharing"]].share(np.stack(strengths), reliefs, numbers["depth"])


def _relief_needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    worn, textures = node.params["worn"], iter(node.inputs)
    return [None if one is None else filtered_need(next(textures), "relief", one, grid) for one in worn]


def _reliefs(here: Here, numbers: Numbers, *textures: Array | None) -> Array:
    out = np.zeros((len(textures), *here.window.shape), np.float32)
    for plane, texture, one in zip(out, textures, numbers["worn"], strict=True):
        if texture is not None:
            plane[:] = laid(texture, one, here.grid, here.window)[..., 0]
    return out


def _count(here: Here, numbers: Numbers, *masks: Array) -> Array:
    total = np.zeros(here.window.shape, np.uint8)
    for mask in masks:
        total += mask > np.float32(0.5)
    return total


def _merged(here: Here, numbers: Numbers, stack: Array) -> Array:
    return np.stack([stack[places].sum(axis=0, dtype=np.float32) for places in numbers["places"]])


def _pick(here: Here, numbers: Numbers, stack: Array) -> Array:
    return stack[numbers["place"]].copy()


def _shares(here: Here, numbers: Numbers, weights: Array) -> Array:
    return quantise_weights(weights, numbers["bits"], stripes=here.stripes, cancel=here.cancel)


SHARED = Local(name="shared", needs=_shared_needs, make=_shared, stacked=True)
RELIEFS = Local(name="reliefs", needs=_relief_needs, make=_reliefs, stacked=True)
COUNT = by_sample("count", _count, quick=False)
MERGED = by_sample("merged", _merged, quick=False, stacked=True)
PICK = by_sample("pick", _pick, quick=False)
SHARES = by_sample("shares", _shares, quick=False, stacked=True)
STRENGTH = by_sample("strength", lambda here, numbers, mask: mask * np.float32(numbers["strength"]))
STRONGEST = by_sample("strongest", lambda here, numbers, stack: stack.argmax(axis=0).astype(np.uint8), quick=False)


def reliefs_of(worn: Sequence[Worn], home: Grid) -> Node | None:
    """The reliefs of the base's and every layer's texture on the ground, in metres: float32 (layers + 1, rows,
    columns); None where nothing has a relief to be led by."""
    textures = [one.texture for one in worn if one.texture is not None]
    if not textures:
        return None
    numbers = [None if one.texture is None else one.numbers for one in worn]
    return Node(RELIEFS, {"worn": numbers}, tuple(textures), home=home)


def weights_of(
    masks: Sequence[Node],
    strengths: Sequence[float] = (),
    sharing: str = "cover",
    depth: float = 0.05,
    reliefs: Node | None = None,
) -> Node:
    """The stack of all weights, base first: float32 (layers + 1, rows, columns). ``strengths`` multiply the masks;
    sharing led by reliefs that are not there is by cover."""
    led = SHARINGS[sharing].by_relief and reliefs is not None and bool(masks)
    numbers = {
        "layers": len(masks),
        "strengths": list(strengths or [1.0] * len(masks)),
        "depth": depth if led else 0.0,
        "sharing": "cover" if SHARINGS[sharing].by_relief and not led else sharing,
    }
    return Node(SHARED, numbers, (*masks, reliefs) if led and reliefs is not None else tuple(masks))


def strength_of(mask: Node, strength: float) -> Node:
    """A mask as strongly as its layer lets it, before sharing."""
    return mask if strength == 1 else Node(STRENGTH, {"strength": strength}, (mask,))


def merged(weights: Node, places: Sequence[Sequence[int]]) -> Node:
    """A stack whose planes are sums of planes of another."""
    if all(len(group) == 1 and group[0] == at for at, group in enumerate(places)):
        return weights
    return Node(MERGED, {"places": [list(group) for group in places]}, (weights,))


def weight_of(weights: Node, place: int) -> Node:
    """One weight of a stack."""
    return Node(PICK, {"place": place}, (weights,))


def share_bytes(weights: Node, place: int, bits: int = 8) -> Node:
    """One weight in whole numbers that add up to full scale over all of them."""
    return Node(PICK, {"place": place}, (Node(SHARES, {"bits": bits}, (weights,)),))


def strongest(weights: Node) -> Node:
    """Which of a stack is strongest at each sample, the lower where two are equal: uint8, 0 the base."""
    return Node(STRONGEST, {}, (weights,))


def counted(masks: Sequence[Node]) -> Node:
    """How many of some masks are strong (above 0.5) at each sample: uint8."""
    return Node(COUNT, {}, tuple(masks))
