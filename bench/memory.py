"""Peak memory of a whole delivery at 4081², in a process of its own."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path

from measure import Row

PROGRAM = """
import json, resource, sys, time
from pathlib import Path
from zigzag_meadow.cli import _Opened
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver
with _Opened(Path(sys.argv[1])) as opened:
    wanted = opened.project.delivery.model_copy(update={"rows": 4081, "cols": 4081})
    document = opened.project.model_copy(update={"delivery": wanted})
    start = time.perf_counter()
    deliver(opened.evaluation(document), make_plan(document), Path(sys.argv[2]), opened.stripes, lambda s, t: None)
    taken = time.perf_counter() - start
print(json.dumps({"peak": resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024, "seconds": taken}))
"""


def rows() -> list[Row]:
    from zigzag_meadow.demo import write_demos

    with tempfile.TemporaryDirectory() as folder:
        project = write_demos(Path(folder) / "in")[0]
        out = Path(folder) / "out"
        out.mkdir()
        done = subprocess.run(
            [sys.executable, "-c", PROGRAM, str(project), str(out)], check=True, capture_output=True, text=True
        )
    result = json.loads(done.stdout)
    gib = result["peak"] / 2**30
    return [
        Row("peak memory of delivering at 4081²", f"{gib:.2f} GiB in {result['seconds']:.1f} s", "<= 2 GiB", gib <= 2)
    ]
