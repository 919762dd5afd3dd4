"""Looking ahead: seeds tried in small pictures, a second view that follows the hand, the final of a window."""

from __future__ import annotations

import time
from concurrent.futures import ThreadPoolExecutor
from itertools import count
from typing import Any

import numpy as np

import recipes
from measure import Row, median_ms
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.grid import Window, reference_grid
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.demo import lantern_moor

TRIES = 8
# As the pages ask for them: so large, two at once, and what takes long on a ground so small.
SIDE, AT_ONCE, DRAFT = 129, 2, 513
LARGE = 8161


def _frayed(seed: int) -> Project:
    return recipes.eight_lines([{"verb": "fray", "seed": seed}], 30)


def _noisy(seed: int) -> Project:
    data = lantern_moor().model_dump(mode="json")
    data["readings"] = [{"id": "noise", "kind": "noise", "numbers": {"seed": seed}}]
    return parse_project(data)


def _eroded(seed: int) -> Project:
    data = lantern_moor().model_dump(mode="json")
    data["ground"]["steps"] = [{"id": "worn", "kind": "erode", "seed": seed}]
    return parse_project(data)


def _tries(engine: Engine, made: Any, name: str, draft: int, first: int) -> float:
    """Seconds for the small pictures of eight seeds."""

    def one(seed: int) -> None:
        ev = engine.evaluation(made(seed), keep=False, draft=draft)
        ev.map(name, ev.home.resized(SIDE, SIDE))

    start = time.perf_counter()
    with ThreadPoolExecutor(AT_ONCE) as both:
        list(both.map(one, range(first, first + TRIES)))
    return time.perf_counter() - start


def _likeness(engine: Engine) -> float:
    """How the scour of a draft goes with that of the full run, seed for seed."""
    grid = reference_grid(lantern_moor().ground.home)
    full, draft = (
        engine.evaluation(_eroded(5), keep=False, draft=side).map("reading:scour-of-worn", grid) for side in (0, DRAFT)
    )
    return float(np.corrcoef(full.ravel(), draft.ravel())[0, 1])


def _pinned(stripes: Stripes) -> float:
    """The time for a dragged mask and one that reads it, against that for the dragged mask alone."""
    engine = recipes.engine_of(stripes)
    moved = count()

    def dragged() -> Project:
        data = recipes.eight_lines(recipes.COMBINED, 31 + next(moved) / 8).model_dump(mode="json")
        reads = [
            {"id": "a", "verb": "take", "source": {"kind": "mask", "mask": "eight"}},
            {"id": "b", "verb": "levels"},
        ]
        data["masks"].append({"id": "reader", "name": "Reader", "lines": reads})
        return parse_project(data)

    def shown(*names: str) -> None:
        ev = engine.evaluation(dragged(), keep=False)
        for name in names:
            ev.map(name, reference_grid(ev.home))

    shown("mask:eight", "mask:reader")
    return median_ms(lambda: shown("mask:eight", "mask:reader"), 15) / median_ms(lambda: shown("mask:eight"), 15)


def _final_window(stripes: Stripes) -> float:
    """Milliseconds for a window of 800 × 600, once the runs over the whole ground are there."""
    ev = recipes.engine_of(stripes).evaluation(recipes.eight_lines(recipes.COMBINED, 30, final=LARGE))
    ev.map("mask:eight", ev.project.final, Window(0, 600, 0, 800))
    windows = (Window(600 * k, 600 * k + 600, 800 * k, 800 * k + 800) for k in range(1, 10))
    return median_ms(lambda: ev.map("mask:eight", ev.project.final, next(windows)), 7)


def rows() -> list[Row]:
    stripes = Stripes()
    engine = recipes.engine_of(stripes)
    for project, name in ((_frayed(0), "mask:eight"), (_noisy(0), "reading:noise")):
        engine.evaluation(project).map(name, reference_grid(project.ground.home))
    frayed = _tries(engine, _frayed, "mask:eight", 0, 50)
    noisy = _tries(engine, _noisy, "reading:noise", 0, 50)
    _tries(engine, _eroded, "reading:shade", DRAFT, 20)
    eroded = _tries(engine, _eroded, "reading:shade", DRAFT, 50)
    likeness = _likeness(engine)
    pinned, window = _pinned(stripes), _final_window(stripes)
    return [
        Row("eight seeds of fray", f"{frayed:.2f} s", "<= 0.5 s", frayed <= 0.5),
        Row("eight seeds of noise", f"{noisy:.2f} s", "<= 0.5 s", noisy <= 0.5),
        Row("eight seeds of erosion, as drafts", f"{eroded:.2f} s", "<= 3 s", eroded <= 3),
        Row("scour of a draft with the full run's", f"{likeness:.2f}", ">= 0.8", likeness >= 0.8),
        Row("a pinned view, to the view alone", f"{pinned:.2f}x as long", "<= 2x", pinned <= 2),
        Row(f"a window of 800 × 600 of eight lines at {LARGE}²", f"{window:.0f} ms", "<= 1000 ms", window <= 1000),
    ]
