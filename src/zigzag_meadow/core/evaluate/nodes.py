"""Operations with their numbers and inputs, keyed by content alone."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass, field
from typing import Any

from zigzag_meadow.core.grid import Grid

__all__ = ["VERSIONS", "Node", "held_key"]

# Raise an operation's number whenever its result changes, so that no stored map outlives its meaning.
VERSIONS = {
    "source": 2, "shrink": 1, "prepare": 2, "solid": 1, "height": 2, "void": 1, "altitude": 1, "slope": 2, "aspect": 2,
    "curvature": 2, "relative_height": 2, "ruggedness": 2, "stretch": 1, "horizon": 2, "mix": 1, "shade": 1, "sun": 1,
    "plane": 1, "drain": 2, "spread": 2, "water": 2, "channels": 2, "lit": 2, "erosion": 2, "slump": 2, "direction": 1,
    "wetness": 1, "noise": 1, "strata": 1, "picture": 1, "finding": 1, "constant": 1, "band": 1, "combine": 1,
    "turn_over": 1, "levels": 1, "cover": 1, "pick": 1, "shares": 1, "pick_share": 1, "mask_bytes": 1,
    "reading_bytes": 1, "rest": 1, "sheet": 1, "blend": 1, "gain": 1, "ramp": 1, "bend": 1, "stretch_tone": 1,
    "equalise": 1, "cut": 1, "in_band": 1, "stretched": 1, "blur": 2, "sharpen": 2, "widen": 1, "narrow": 1,
    "remove_specks": 1, "fill_holes": 1, "fray": 1, "downhill": 1, "drift": 1, "drift_way": 1, "trickle": 1,
    "feature": 1, "touch_up": 2, "count": 1, "final_gap": 1, "pixels": 1, "lifted": 1, "gaps": 1, "points": 1,
}  # fmt: skip


@dataclass(frozen=True, eq=False)
class Node:
    """One operation with its numbers and inputs; ``key`` is its identity.

    ``home``: the grid of the ground it is measured on (that of its first input, unless given). It is part of the
    key: what has no inputs (a drawn line, a number) means something else on another ground.
    """

    op: str
    params: dict[str, Any] = field(default_factory=dict)
    inputs: tuple[Node, ...] = ()
    home: Grid | None = None
    key: str = field(init=False)
    depth: int = field(init=False)
    """How many operations lie one upon the other, this one included."""

    def __post_init__(self) -> None:
        object.__setattr__(self, "depth", 1 + max((n.depth for n in self.inputs), default=0))
        if self.home is None:
            object.__setattr__(self, "home", next((n.home for n in self.inputs if n.home is not None), None))
        on = None if self.home is None else self.home.key
        told = [self.op, VERSIONS[self.op], self.params, on, [node.key for node in self.inputs]]
        text = json.dumps(told, sort_keys=True)
        object.__setattr__(self, "key", hashlib.sha256(text.encode()).hexdigest()[:32])

    @property
    def grid(self) -> Grid:
        """The home grid; every node that is measured on a ground has one."""
        assert self.home is not None
        return self.home


def held_key(node: Node, grid: Grid, part: str) -> str:
    """The key of everything that is held of a node: what it is, the grid it was made on, and which part of it.

    The only place where such keys are made. It may name a file.
    """
    return f"{node.key}_{grid.key}_{part}"
