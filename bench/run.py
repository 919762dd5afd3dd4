"""``make bench``: every figure with its gate, or those of some parts (``make bench PART="memory fitting"``).

Exit code 1 when a gate does not hold."""

from __future__ import annotations

import sys

import application
import colours
import delivering
import fitting
import kernels
import load
import memory
import readings
import recipes
import starting
import trying

if __name__ == "__main__":
    all_of_it = (kernels, readings, memory, recipes, trying, colours, delivering, fitting, application, load, starting)
    parts = {part.__name__: part for part in all_of_it}
    unknown = set(sys.argv[1:]) - parts.keys()
    if unknown:
        sys.exit(f"There is no part {', '.join(sorted(unknown))}. There are: {', '.join(parts)}.")
    holds = True
    for part in [parts[name] for name in sys.argv[1:] or parts]:
        for row in part.rows():
            print(row, flush=True)
            holds = holds and row.holds
    sys.exit(0 if holds else 1)
