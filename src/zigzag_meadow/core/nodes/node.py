"""Nodes: operations with their numbers and inputs, keyed by content alone."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass, field
from typing import Any

from zigzag_meadow.core.grid import Grid

__all__ = ["Node", "Operation", "held_key"]

# Made once: thousands of keys are made of a document.
_told = json.JSONEncoder(sort_keys=True).encode


@dataclass(frozen=True, kw_only=True)
class Operation:
    """What a node does. ``name`` is its own; ``version`` is raised whenever its result changes, so that no stored map
    outlives its meaning. The kinds there are: :mod:`zigzag_meadow.core.nodes.operation`."""

    name: str
    version: int = 1


@dataclass(frozen=True, eq=False)
class Node:
    """One operation with its numbers and inputs; ``key`` is its identity.

    ``home``: the grid of the ground it is measured on (that of its first input, unless given). It is part of the
    key: what has no inputs (a drawn line, a number) means something else on another ground.
    """

    op: Operation
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
        told = [self.op.name, self.op.version, self.params, on, [node.key for node in self.inputs]]
        object.__setattr__(self, "key", hashlib.sha256(_told(told).encode()).hexdigest()[:32])

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
