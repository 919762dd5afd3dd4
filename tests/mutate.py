"""Small mistakes put into the code one after the other, to see which of them no test notices.

``make mutate`` tries 60 of what differs from the last commit (or ``FILES="…"``, of those files) against the tests that
come by the line (``tests/near.py`` finds out which do), else those that import the module. What survives is printed
with its line, what could not be tried with its reason. ``SEED`` and ``COUNT`` choose others, and more.
"""

from __future__ import annotations

import argparse
import ast
import copy
import os
import random
import re
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

from tests.near import seconds_of, tests_by

ROOT = Path(__file__).resolve().parents[1]
NEEDED = {"core": 0.85, "server": 0.70, "pages": 0.70}
"""The share of mistakes that tests must notice, by part."""
SECONDS = 240
MOST_TESTS = 6
PATIENT = ("--testTimeout=90000", "--maxWorkers=1")
"""Two mistakes are tried at once: what is only late for that is not noticed by a test."""


@dataclass(frozen=True)
class Mistake:
    path: Path
    line: int
    was: str
    now: str
    text: str
    """The file with the mistake in it."""

    @property
    def part(self) -> str:
        return "pages" if self.path.suffix in (".ts", ".tsx") else "core" if "core" in self.path.parts else "server"


_COMPARED = {ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq}
_COUNTED = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult}


def _changes(node: ast.AST) -> Iterator[ast.AST]:
    """What could stand in the place of a node by mistake."""
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool):
        other = node.value + 1 if isinstance(node.value, int) else node.value * 1.5 or 0.5
        yield ast.Constant(other)
    elif isinstance(node, ast.Constant) and isinstance(node.value, bool):
        yield ast.Constant(not node.value)
    elif isinstance(node, ast.Compare) and type(node.ops[0]) in _COMPARED:
        changed = copy.deepcopy(node)
        changed.ops[0] = _COMPARED[type(node.ops[0])]()
        yield changed
    elif isinstance(node, ast.BinOp) and type(node.op) in _COUNTED and not isinstance(node.left, ast.Name | ast.Tuple):
        changed = copy.deepcopy(node)
        changed.op = _COUNTED[type(node.op)]()
        yield changed
    elif isinstance(node, ast.BoolOp):
        changed = copy.deepcopy(node)
        changed.op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
        yield changed
    elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
        yield node.operand


def _skipped(tree: ast.Module) -> set[int]:
    """Lines of declarations in which a changed number is no mistake: versions, words, slots of a page."""
    lines: set[int] = set()
    for node in ast.walk(tree):
        told = isinstance(node, ast.Call) and getattr(node.func, "id", "") in ("Told", "Param", "Edited", "Reading")
        version = isinstance(node, ast.keyword) and node.arg in ("version", "step", "decimals")
        # How a kernel is compiled, and what nobody may do to a value, changes nothing of what is given.
        kept = ("cache", "nogil", "frozen", "slots", "kw_only")
        compiled = isinstance(node, ast.keyword) and node.arg in kept
        if told or version or compiled:
            lines |= set(range(node.lineno, (node.end_lineno or node.lineno) + 1))
    return lines


def in_python(path: Path) -> list[Mistake]:
    source = path.read_text()
    tree, lines = ast.parse(source), source.splitlines(keepends=True)
    skipped, found = _skipped(tree), []
    for node in ast.walk(tree):
        at, end = getattr(node, "lineno", 0), getattr(node, "end_lineno", 0)
        if not at or at != end or at in skipped:
            continue
        for change in _changes(node):
            line = lines[at - 1].encode()
            was, now = line[node.col_offset : node.end_col_offset].decode(), ast.unparse(change)
            made = line[: node.col_offset].decode() + f"({now})" + line[node.end_col_offset :].decode()
            text = "".join([*lines[: at - 1], made, *lines[at:]])
            found.append(Mistake(path, at, was, now, text))
    return found


_TYPED = (
    (re.compile(r"(?<=[ (])(<=|>=|<|>)(?= )"), {"<": "<=", "<=": "<", ">": ">=", ">=": ">"}),
    (re.compile(r"(?<= )(===|!==)(?= )"), {"===": "!==", "!==": "==="}),
    (re.compile(r"(?<= )(&&|\|\|)(?= )"), {"&&": "||", "||": "&&"}),
    (re.compile(r"(?<= )([+*/-])(?= [\w(])"), {"+": "-", "-": "+", "*": "/", "/": "*"}),
)
_NUMBER = re.compile(r"(?<![\w.\"'`#$-])(\d+(?:\.\d+)?)(?![\w.%\"'`])")


def in_typescript(path: Path) -> list[Mistake]:
    lines, found = path.read_text().splitlines(keepends=True), []
    for at, line in enumerate(lines):
        if re.match(r"\s*(//|\*|/\*|import |export type|type |interface )|.*[<{]\w+[^;]*/?>", line):
            continue
        spots = [(m, table[m.group(1)]) for pattern, table in _TYPED for m in pattern.finditer(line)]
        spots += [
            (m, str(float(m.group(1)) * 1.5) if "." in m.group(1) else str(int(m.group(1)) + 1))
            for m in _NUMBER.finditer(line)
        ]
        for spot, now in spots:
            made = line[: spot.start(1)] + now + line[spot.end(1) :]
            text = "".join([*lines[:at], made, *lines[at + 1 :]])
            found.append(Mistake(path, at + 1, spot.group(1), now, text))
    return found


def _has_kernels(path: Path) -> bool:
    return "njit" in path.read_text()


def _module(path: Path) -> str:
    return ".".join(path.relative_to(ROOT / "src").with_suffix("").parts)


def _frozen_in(path: Path) -> list[Path]:
    """A module with kernels and all whose kernels may hold its code or its numbers: what is kept of those is not so
    with the mistake."""
    found, wanted = [path], [_module(path)]
    while wanted:
        told = re.compile("|".join(rf"from {re.escape(name)} import" for name in wanted))
        above = [s for s in (ROOT / "src").rglob("*.py") if s not in found and told.search(s.read_text())]
        above = [s for s in above if _has_kernels(s)]
        found += above
        wanted = [_module(s) for s in above]
    return found


def _tests_of_page(path: Path) -> list[list[str]]:
    """The test beside a module and those that import it; then all that have to do with it."""
    own = path.with_name(f"{path.stem}.test{path.suffix}"), path.with_name(f"{path.stem}.test.tsx")
    told = re.compile(rf"from \"[./\w]*/{re.escape(path.stem)}\"")
    near = [t for t in sorted((ROOT / "frontend/src").rglob("*.test.ts*")) if t in own or told.search(t.read_text())]
    names = [str(t.relative_to(ROOT / "frontend")) for t in near]
    return [*([names] if names else []), ["related", str(path.relative_to(ROOT / "frontend"))]]


def _tests_of(path: Path) -> list[str]:
    """Files of tests that are nearest to a module."""
    module = _module(path)
    tests = {test: test.read_text() for test in sorted((ROOT / "tests").rglob("test_*.py")) if "e2e" not in test.parts}
    sources = {source: source.read_text() for source in (ROOT / "src").rglob("*.py")}
    wanted, seen = [module], {module}
    found: list[str] = [str(ROOT / "tests/core/test_golden.py")] if _has_kernels(path) else []
    while wanted and len(found) < MOST_TESTS:
        named = re.compile("|".join(re.escape(name) + r"\b" for name in wanted))
        parts = re.compile(
            "|".join(
                rf"from {re.escape(name.rpartition('.')[0])} import .*\b{name.rpartition('.')[2]}\b" for name in wanted
            )
        )
        found += [
            str(t) for t, text in tests.items() if (named.search(text) or parts.search(text)) and str(t) not in found
        ]
        above = [
            ".".join(s.relative_to(ROOT / "src").with_suffix("").parts)
            for s, text in sources.items()
            if named.search(text) or parts.search(text)
        ]
        wanted = [name for name in above if name not in seen]
        seen.update(wanted)
    return [str(Path(test).relative_to(ROOT)) for test in found[:MOST_TESTS]]


def _near(mistake: Mistake) -> list[str]:
    """Tests that are known to come by the line; where none is, those that are near by what is imported."""
    return tests_by(mistake.path, mistake.line) or _tests_of(mistake.path)


def _pages(place: Path) -> Path:
    """A copy of the pages, as what they are built with reads files alone."""
    tree = place / "frontend"
    shutil.copytree(ROOT / "frontend", tree, ignore=shutil.ignore_patterns("node_modules", "dist"))
    # What is put together of packages is kept beside them: two at once would write it for each other.
    (tree / "node_modules").mkdir()
    for package in (ROOT / "frontend" / "node_modules").iterdir():
        if not package.name.startswith(".vite"):
            (tree / "node_modules" / package.name).symlink_to(package)
    (place / "docs").symlink_to(ROOT / "docs")
    return tree


def _run(command: list[str], place: Path, told: dict[str, str], seconds: float) -> bool | None:
    """Whether tests pass; None where they take too long."""
    try:
        done = subprocess.run(
            command, cwd=place, env={**os.environ, **told}, capture_output=True, timeout=seconds, check=False
        )
    except subprocess.TimeoutExpired:
        return None
    return done.returncode == 0


class Tries:
    """Mistakes tried one after the other, in a place of their own."""

    def __init__(self, place: Path) -> None:
        self._place = place
        self._tree = _pages(place)
        self._usual: dict[tuple[str, ...], float | str] = {}

    def survives(self, mistake: Mistake) -> str:
        """Why no test notices a mistake; empty where one does."""
        page = mistake.part == "pages"
        for tests in _tests_of_page(mistake.path) if page else [_near(mistake)]:
            if not tests:
                return "no test is near"
            usual = self._as_it_is(mistake, tuple(tests))
            if isinstance(usual, str):
                return usual
            # What never ends is noticed as well.
            if self._tried(mistake, mistake.text, tuple(tests), 30 + 4 * usual) is not True:
                return ""
        return "survived"

    def _as_it_is(self, mistake: Mistake, tests: tuple[str, ...]) -> float | str:
        """Seconds that tests take without the mistake, or why they tell nothing."""
        known = seconds_of(tests)
        if known is not None:
            return known
        if tests not in self._usual:
            start = time.monotonic()
            good = self._tried(mistake, mistake.path.read_text(), tests, SECONDS)
            slow = f"its tests take more than {SECONDS} s"
            fails = f"its tests fail as they are ({' '.join(tests)})"
            self._usual[tests] = time.monotonic() - start if good else slow if good is None else fails
        return self._usual[tests]

    def _tried(self, mistake: Mistake, text: str, tests: tuple[str, ...], seconds: float) -> bool | None:
        if mistake.part == "pages":
            file = self._tree / mistake.path.relative_to(ROOT / "frontend")
            file.write_text(text)
            made = _run(["npx", "vitest", *tests, "--run", *PATIENT], self._tree, {}, seconds)
            file.write_text(mistake.path.read_text())
            return made
        (self._place / "text").write_text(text)
        told = {"MUTANT_FILE": str(mistake.path), "MUTANT_TEXT": str(self._place / "text")}
        if _has_kernels(mistake.path):
            told["MUTANT_FRESH"] = os.pathsep.join(map(str, _frozen_in(mistake.path)))
        return _run([sys.executable, "-m", "pytest", "-p", "tests.mutant", "-x", "-q", *tests], ROOT, told, seconds)


def _changed() -> list[Path]:
    told = subprocess.run(
        ["git", "diff", "--name-only", "HEAD~1"], cwd=ROOT, capture_output=True, text=True, check=True
    )
    return [ROOT / name for name in told.stdout.split()]


def _told(mistake: Mistake, alive: str) -> str:
    """Said at once: a run may be cut off."""
    where = f"{mistake.path.relative_to(ROOT)}:{mistake.line}: {mistake.was} -> {mistake.now}"
    print(f"{alive or 'noticed'}: {where}", flush=True)
    return alive


def main() -> int:
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("files", nargs="*", type=Path)
    asked.add_argument("--count", type=int, default=60)
    asked.add_argument("--seed", type=int, default=1)
    options = asked.parse_args()
    paths = [path.resolve() for path in options.files] or _changed()
    mistakes: list[Mistake] = []
    for path in paths:
        is_test = ".test." in path.name or not {"tests", "testing", "migrations"}.isdisjoint(path.parts)
        if path.is_file() and not is_test and ROOT / "src" in path.parents and path.suffix == ".py":
            mistakes += in_python(path)
        elif path.is_file() and not is_test and ROOT / "frontend/src" in path.parents and path.suffix == ".ts":
            # Text of shaders is run by nobody here, and a weight of letters is no mistake.
            if path.name in ("groundMaterial.ts", "theme.ts"):
                continue
            mistakes += in_typescript(path)
    random.Random(options.seed).shuffle(mistakes)
    mistakes = mistakes[: options.count]
    counts: dict[str, list[int]] = {}
    with tempfile.TemporaryDirectory() as one, tempfile.TemporaryDirectory() as two:
        tries = [Tries(Path(one)), Tries(Path(two))]

        def tried(half: int) -> list[tuple[Mistake, str]]:
            return [(mistake, _told(mistake, tries[half].survives(mistake))) for mistake in mistakes[half::2]]

        with ThreadPoolExecutor(2) as pool:
            done = [item for half in pool.map(tried, range(2)) for item in half]
    for mistake, alive in done:
        killed, all_ = counts.setdefault(mistake.part, [0, 0])
        counts[mistake.part] = [killed + (not alive), all_ + 1]
    for part, (killed, all_) in counts.items():
        print(f"{part}: {killed} of {all_} noticed ({killed / all_:.0%}, at least {NEEDED[part]:.0%})")
    return int(any(killed < NEEDED[part] * all_ for part, (killed, all_) in counts.items()))


if __name__ == "__main__":
    raise SystemExit(main())
