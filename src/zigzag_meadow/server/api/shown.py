"""The readings of a project as the pages get them."""

from __future__ import annotations

from typing import Any

from zigzag_meadow.core.evaluate.graph import Graph
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.project.document import Project
from zigzag_meadow.core.project.readings import Resolved, all_readings
from zigzag_meadow.core.readings.declare import Param

__all__ = ["readings_of"]


def _param(param: Param, value: float | str, home: Grid) -> dict[str, Any]:
    low, high = param.bounds(home)
    return {
        "name": param.name, "title": param.title, "unit": param.unit, "kind": param.kind, "value": value,
        "default": param.default_on(home), "low": low, "high": high, "step": param.step,
        "decimals": param.decimals, "choices": [{"value": value, "label": label} for value, label in param.choices],
    }  # fmt: skip


def _reading(resolved: Resolved, home: Grid, key: str) -> dict[str, Any]:
    kind = resolved.kind
    own = resolved.id != kind.name
    return {
        "name": resolved.id, "key": key, "kind": kind.name,
        "numbers_of": resolved.id if own else kind.numbers_of or kind.name,
        "own": own, "title": resolved.title, "family": kind.family, "unit": kind.unit, "scale": kind.scale,
        "decimals": kind.decimals, "low": kind.low, "high": kind.high, "whole_ground": kind.whole_ground,
        "sentence": kind.sentence, "good_for": kind.good_for, "ramp": kind.ramp, "wraps": kind.wraps,
        "signed": kind.signed, "at_other_sizes": kind.at_other_sizes, "ramp_high": kind.ramp_high,
        "ramp_all": kind.ramp_all, "open_end": kind.open_end, "more": kind.more, "above": kind.above,
        "light": kind.light, "first": kind.first, "probed": kind.probed, "steers": kind.steers,
        "params": [_param(p, resolved.numbers[p.name], home) for p in kind.params],
    }  # fmt: skip


def readings_of(document: Project) -> list[dict[str, Any]]:
    """Every reading of a project with its numbers and the key of its content."""
    graph, home = Graph(document), document.ground.home
    return [_reading(item, home, graph.reading(item.id).key) for item in all_readings(document)]
