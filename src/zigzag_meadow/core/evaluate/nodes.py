"""Operations with their numbers and inputs, keyed by content alone."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass, field
from typing import Any

from zigzag_meadow.core.grid import Grid

__all__ = ["VERSIONS", "Node"]

# Raise an operation's number whenever its result changes, so that no stored map outlives its meaning.
VERSIONS = {
    "source": 1, "shrink": 1, "prepare": 1, "solid": 1, "height": 2, "void": 1, "altitude": 1, "slope": 1, "aspect": 1,
    "curvature": 1, "relative_height": 1, "ruggedness": 1, "stretch": 1, "horizon": 1, "mix": 1, "shade": 1, "sun": 1,
    "plane": 1, "drain": 1, "spread": 1, "water": 1, "channels": 1, "lit": 1, "erosion": 1, "slump": 1, "direction": 1,
    "wetness": 1, "noise": 1, "strata": 1, "picture": 1, "finding": 1, "constant": 1, "band": 1, "combine": 1,
    "turn_over": 1, "levels": 1, "cover": 1, "pick": 1, "shares": 1, "pick_share": 1, "mask_bytes": 1,
    "reading_bytes": 1, "rest": 1, "sheet": 1, "blend": 1, "gain": 1, "ramp": 1, "bend": 1, "stretch_tone": 1,
    "equalise": 1, "cut": 1, "in_band": 1, "stretched": 1, "blur": 1, "sharpen": 1, "widen": 1, "narrow": 1,
    "remove_specks": 1, "fill_holes": 1, "fray": 1, "downhill": 1, "drift": 1, "drift_way": 1, "trickle": 1,
    "feature": 1, "touch_up": 1, "count": 1, "final_gap": 1,
}  # fmt: skip


@dataclass(frozen=True, eq=False)
class Node:
    """One operation with its numbers and inputs; ``key`` is its identity.

    ``home``: the grid of the ground it is measured on (that of its first input, unless given); it follows from the
    inputs and is no part of the key.
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
        text = json.dumps([self.op, VERSIONS[self.op], self.params, [node.key for node in self.inputs]], sort_keys=True)
        object.__setattr__(self, "key", hashlib.sha256(text.encode()).hexdigest()[:32])

    @property
    def grid(self) -> Grid:
        """The home grid; every node that is measured on a ground has one."""
        assert self.home is not None
        return self.home
