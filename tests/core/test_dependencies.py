"""What runs is declared: every import, and a command line in a place that has nothing else."""

from __future__ import annotations

import ast
import re
import subprocess
import sys
import tomllib
from importlib.metadata import packages_distributions, requires
from pathlib import Path

ROOT = Path(__file__).parents[2]
DECLARED = [
    re.match(r"[A-Za-z0-9_.-]+", line)[0].lower()
    for line in tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["dependencies"]
]


def imported() -> set[str]:
    """Every package that any module imports, wherever in it."""
    found = set()
    for path in (ROOT / "src").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Import):
                found |= {alias.name.partition(".")[0] for alias in node.names}
            elif isinstance(node, ast.ImportFrom) and node.level == 0:
                found.add((node.module or "").partition(".")[0])
    return found - set(sys.stdlib_module_names) - {"zigzag_meadow"}


def test_every_import_is_among_the_dependencies():
    told = packages_distributions()
    known = {name: {re.sub("[-_.]+", "-", d).lower() for d in told.get(name, (name,))} for name in imported()}
    missing = {name for name, dists in known.items() if not dists & set(DECLARED)}
    assert missing == set()


def declared_and_below() -> set[str]:
    """Distributions that an installation without extras brings."""
    found, waiting = set(), list(DECLARED)
    while waiting:
        name = re.sub(r"[-_.]+", "-", waiting.pop()).lower()
        if name in found:
            continue
        found.add(name)
        try:
            asked = requires(name) or []
        except ModuleNotFoundError:
            continue
        waiting += [re.match(r"[A-Za-z0-9_.-]+", line)[0] for line in asked if "extra ==" not in line]
    return found


PROGRAM = """
import re, sys
from importlib.abc import MetaPathFinder
from importlib.metadata import packages_distributions
there = set(sys.argv[1].split(","))
told = packages_distributions()
names = {n for n, ds in told.items() if not {re.sub("[-_.]+", "-", d).lower() for d in ds} & there}
class Nothing(MetaPathFinder):
    def find_spec(self, name, path=None, target=None):
        if name.partition(".")[0] in names - {"zigzag_meadow"}:
            raise ImportError(f"{name} is not installed here")
sys.meta_path.insert(0, Nothing())
sys.argv = ["zigzag", *sys.argv[2:]]
from zigzag_meadow.cli import main
main()
"""


def test_the_command_line_runs_where_nothing_else_is_installed(tmp_path):
    there = ",".join(sorted(declared_and_below()))

    def run(*words: str) -> str:
        call = [sys.executable, "-c", PROGRAM, there, *words]
        done = subprocess.run(call, capture_output=True, text=True, cwd=tmp_path, check=False)
        assert done.returncode == 0, done.stderr[-2000:]
        return done.stdout

    assert "deliver" in run("--help")
    run("demo", "--out", str(tmp_path))
    assert "1009" in run("inspect", str(ROOT / "demo" / "lantern_moor.png"))
    out = run(
        "deliver",
        str(tmp_path / "skerry_sound.meadow.zip"),
        "--out",
        str(tmp_path / "out"),
        "--size",
        "505",
        "--target",
        "plain-files",
        "--json",
    )
    assert "manifest.json" in out
