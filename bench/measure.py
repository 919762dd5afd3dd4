"""Medians, and how a measurement is reported."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path


@dataclass
class Row:
    """One line of the report: what, the figure, the gate, and whether it holds."""

    what: str
    figure: str
    gate: str
    holds: bool

    def __str__(self) -> str:
        return f"{'ok ' if self.holds else 'NO '} {self.what:<52} {self.figure:>34}   {self.gate}"


def highest_bytes() -> int:
    """The most memory that this program held. What ``getrusage`` tells begins with that of whoever started it."""
    line = next(line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("VmHWM"))
    return int(line.split()[1]) * 1024


def median_ms(work: Callable[[], object], times: int = 9) -> float:
    work()
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        taken.append((time.perf_counter() - start) * 1000)
    return statistics.median(taken)


def ratio(what: str, ours: Callable[[], object], plain: Callable[[], object], least: float) -> Row:
    """Ours against plain, turn by turn in one run, so that a busy machine slows both alike."""
    ours()
    plain()
    pairs = []
    for _ in range(7):
        fast = min(_once(ours) for _ in range(2))
        pairs.append((fast, _once(plain)))
    a, b = (statistics.median(column) for column in zip(*pairs, strict=True))
    return Row(what, f"{b / a:.1f}x  ({a:.1f} ms against {b:.0f} ms)", f">= {least:g}x", b / a >= least)


def _once(work: Callable[[], object]) -> float:
    start = time.perf_counter()
    work()
    return (time.perf_counter() - start) * 1000
