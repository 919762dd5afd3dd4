"""Long runs of what the tests do shortly: every edit, stored document and kit with one thing changed, and every
endpoint asked whatever its description allows: ``python bench/fuzzing.py [TIMES] [SEED]``.

Not a figure but a search, so it is no part of ``make bench``'s gates; a seed that finds something finds it again.
"""

from __future__ import annotations

import os
import subprocess
import sys
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]

if __name__ == "__main__":
    times = sys.argv[1] if len(sys.argv) > 1 else "20"
    seed = sys.argv[2] if len(sys.argv) > 2 else str(int(time.time()))
    print(f"{times} times as many, seed {seed}", flush=True)
    looked = ["tests/api/test_mutations.py", "tests/api/test_every_endpoint.py", f"--hypothesis-seed={seed}"]
    environment = {**os.environ, "ZIGZAG_FUZZ_TIMES": times, "ZIGZAG_FUZZ_SEED": seed}
    sys.exit(subprocess.run([sys.executable, "-m", "pytest", *looked], cwd=ROOT, env=environment).returncode)
