"""``make bench``: every figure with its gate. Exit code 1 when a gate does not hold."""

from __future__ import annotations

import sys

import application
import colours
import delivering
import fitting
import kernels
import memory
import readings
import recipes
import trying

if __name__ == "__main__":
    holds = True
    for part in (kernels, readings, memory, recipes, trying, colours, delivering, fitting, application):
        for row in part.rows():
            print(row, flush=True)
            holds = holds and row.holds
    sys.exit(0 if holds else 1)
