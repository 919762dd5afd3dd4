"""Which maps hang on work on the whole ground that is made coarser than the ground, and what is said of them."""

from __future__ import annotations

import pytest

from tests.support.ground import document
from zigzag_meadow.core import grid
from zigzag_meadow.core.evaluate.coarser import coarser_grid, coarser_words
from zigzag_meadow.core.evaluate.graph import Graph
from zigzag_meadow.core.map_name import map_name
from zigzag_meadow.core.project.checks.whole import parse_project


@pytest.mark.parametrize("cap", [126, 127])
def test_only_what_hangs_on_the_whole_ground_is_coarser_and_only_above_the_cap(monkeypatch, cap):
    monkeypatch.setattr(grid, "WHOLE_GROUND_LONG_SIDE", cap)
    graph = Graph(parse_project(document(rows=100, cols=127)))
    for name in ("reading:slope", "reading:height", "reading:relative_height"):
        assert coarser_words(graph, map_name(name)) is None
    made = coarser_grid(graph, graph.named("reading:flow"))
    if cap == 127:
        assert made is None
    else:
        assert made.shape == (99, 126)
        assert coarser_words(graph, map_name("reading:flow")).startswith(
            "Work on the whole ground is made on 126 × 99 samples"
        )
