"""Which tests come by which lines of the application, and how long each takes: kept in ``build/near.json``.

``python -m tests.near`` runs the tests of core and server once more, in two halves, with every line noted that is
executed (some ten minutes). As a plugin of pytest (``-p tests.near``) it tells which test runs, and its seconds.
"""

from __future__ import annotations

import ast
import json
import os
import subprocess
import sys
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from functools import cache
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
KEPT = ROOT / "build" / "near.json"
MOST_SECONDS = 120.0
LONG_SECONDS = 1.0
_seconds: dict[str, float] = {}
_failed: set[str] = set()


def pytest_runtest_setup(item: Any) -> None:
    from coverage import Coverage  # only here: whoever tries mistakes needs no more than what was found out

    watching = Coverage.current()
    if watching is not None:
        watching.switch_context(item.nodeid)


def pytest_runtest_logreport(report: Any) -> None:
    _seconds[report.nodeid] = _seconds.get(report.nodeid, 0.0) + report.duration
    if report.failed:
        _failed.add(report.nodeid)


def pytest_sessionfinish() -> None:
    if "NEAR_SECONDS" in os.environ:
        Path(os.environ["NEAR_SECONDS"]).write_text(
            json.dumps({name: took for name, took in _seconds.items() if name not in _failed}), encoding="utf-8"
        )


def _half(number: int, files: list[str]) -> Path:
    data = ROOT / "build" / f"near-{number}"
    told = {
        **os.environ,
        "COVERAGE_FILE": str(data),
        "NEAR_SECONDS": f"{data}.json",
        "COVERAGE_RCFILE": str(Path(__file__).with_name("near.ini")),
    }
    command = [sys.executable, "-m", "coverage", "run", "-m", "pytest", "-q", "-p", "tests.near", *files]
    subprocess.run(command, cwd=ROOT, env=told, check=False)
    return data


def _names(took: dict[str, float]) -> dict[str, str]:
    """How every test is asked for: one case of a test by itself where its cases are long, else all of them at once."""
    cases: dict[str, list[float]] = {}
    for test, seconds in took.items():
        cases.setdefault(test.partition("[")[0], []).append(seconds)
    long = {name for name, each in cases.items() if sum(each) / len(each) > LONG_SECONDS}
    return {test: test if (name := test.partition("[")[0]) in long else name for test in took}


def make(wanted: list[str]) -> None:
    """Run tests and keep what they come by: all of them, or those named beside what is known of others."""
    from coverage import CoverageData

    every = [p.relative_to(ROOT) for part in ("core", "api") for p in sorted((ROOT / "tests" / part).glob("t*.py"))]
    files = wanted or [str(path) for path in every]
    KEPT.parent.mkdir(exist_ok=True)
    known = _kept() if wanted else {"lines": {}, "seconds": {}}
    lines: dict[str, dict[str, list[str]]] = known["lines"]
    seconds: dict[str, float] = known["seconds"]
    done: set[str] = set()
    with ThreadPoolExecutor(2) as pool:
        halves = [half for half in (files[::2], files[1::2]) if half]
        for data in pool.map(_half, range(len(halves)), halves):
            took = json.loads(Path(f"{data}.json").read_text(encoding="utf-8"))
            named = _names(took)
            found = CoverageData(str(data))
            found.read()
            for file in found.measured_files():
                mine = lines.setdefault(str(Path(file).relative_to(ROOT)), {})
                for line, tests in found.contexts_by_lineno(file).items():
                    now = {named[test] for test in tests if test in named}
                    mine[str(line)] = sorted({*mine.get(str(line), ()), *now})
            for test, name in named.items():
                seconds[name] = seconds.get(name, 0.0) * (name in done) + took[test]
                done.add(name)
    KEPT.write_text(json.dumps({"lines": lines, "seconds": seconds}))


def _bodies(path: Path) -> Iterator[range]:
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.FunctionDef):
            yield range(node.body[0].lineno, (node.end_lineno or node.lineno) + 1)


@cache
def _kept() -> dict[str, Any]:
    return json.loads(KEPT.read_text()) if KEPT.is_file() else {"lines": {}, "seconds": {}}


def seconds_of(tests: Sequence[str]) -> float | None:
    """How long tests took that passed when they were run to know this; None where one of them did not."""
    took = _kept()["seconds"]
    return sum(took[test] for test in tests) if tests and all(test in took for test in tests) else None


def tests_by(path: Path, line: int) -> list[str]:
    """The tests that come by a line, quick ones first, no more than take :data:`MOST_SECONDS`. Where no test is seen on
    the line (it is compiled), or it stands outside of functions and is run but once, those too that come into any
    function of the file."""
    kept = _kept()
    mine = kept["lines"].get(str(path.relative_to(ROOT)), {})
    found = set(mine.get(str(line), []))
    if not found or not any(line in body for body in _bodies(path)):
        found |= {test for body in _bodies(path) for at in body for test in mine.get(str(at), [])}
    found &= kept["seconds"].keys()
    chosen: list[str] = []
    left = MOST_SECONDS
    for test in sorted(found, key=lambda name: kept["seconds"][name]):
        left -= kept["seconds"][test]
        if left > 0 or not chosen:
            chosen.append(test)
    return chosen


if __name__ == "__main__":
    make(sys.argv[1:])
