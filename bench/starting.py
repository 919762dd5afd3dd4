"""How long the command line takes from the first key to the last word, kernels kept."""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from measure import Row

DEMO = Path(__file__).resolve().parents[1] / "demo"
GATES = {"--help": 0.4, "targets": 0.6, "readings": 0.6, "targets --formats": 0.6, "inspect": 1.0, "deliver": 3.5}


def _seconds(words: list[str], folder: str) -> float:
    start = time.perf_counter()
    subprocess.run(
        [sys.executable, "-m", "zigzag_meadow.cli", *words],
        check=True,
        cwd=folder,
        stdout=subprocess.DEVNULL,
        env=os.environ,
    )
    return time.perf_counter() - start


def rows() -> list[Row]:
    made = []
    with tempfile.TemporaryDirectory() as folder:
        _seconds(["demo", "--out", folder], folder)
        calls = {
            "inspect": ["inspect", str(DEMO / "lantern_moor.png")],
            "deliver": ["deliver", "skerry_sound.meadow.zip", "--out", "out", "--overwrite"],
        }
        for name, gate in GATES.items():
            words = calls.get(name, name.split())
            _seconds(words, folder)
            taken = statistics.median(_seconds(words, folder) for _ in range(5))
            made.append(Row(f"zigzag {name}", f"{taken:.2f} s", f"<= {gate:g} s", taken <= gate))
    return made


if __name__ == "__main__":
    for row in rows():
        print(row)
