"""Zigzag Meadow: terrain masks, weights and packed maps that line up with the imported terrain."""

import os
from pathlib import Path

# Compiled kernels are kept in the data folder, so that set-up compiles them once for server, worker and command
# line alike. This must be known before the first kernel is defined.
DATA = Path(os.environ.get("ZIGZAG_DATA") or Path(__file__).resolve().parents[2] / "data")
os.environ.setdefault("NUMBA_CACHE_DIR", str(DATA / "kernels"))
