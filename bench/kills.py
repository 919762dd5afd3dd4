"""A hundred rounds in which any process of the application ends at any moment: ``python bench/kills.py [SEED]``.

Not a figure but a proof, so it is no part of ``make bench``'s gates; it prints what was ended and what was kept.
"""

from __future__ import annotations

import sys
import tempfile
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.support.kills import kill_rounds
from tests.support.site import furnished

if __name__ == "__main__":
    seed = int(sys.argv[1]) if len(sys.argv) > 1 else int(time.time())
    print(f"seed {seed}", flush=True)
    with tempfile.TemporaryDirectory() as folder:
        # The first start of all makes textures for minutes: what is tried here are the later ones.
        count = kill_rounds(furnished(Path(folder) / "data"), 100, seed, lambda text: print(text, flush=True))
    print(
        f"{count.edits} edits, {count.imports} files, {count.upgrades} old projects and {count.deliveries} deliveries "
        f"acknowledged, {count.checked} of those checked; none was lost"
    )
