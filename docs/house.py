"""The picture of the house in ``docs/architecture.md``, drawn from the imports: ``make house``.

A room is a package (of the pages: a folder); it stands above all that it imports. The number is how many lines it has.
"""

from __future__ import annotations

import os
import re
from collections import defaultdict
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
CORE = ROOT / "src" / "zigzag_meadow"
PAGES = ROOT / "frontend" / "src"
WIDE, HIGH, GAP, ROW = 1180, 34, 10, 62


def _python() -> dict[Path, tuple[str, set[Path]]]:
    """Of every module its room and what it imports."""
    modules = {
        ".".join(("zigzag_meadow", *p.relative_to(CORE).with_suffix("").parts)): p
        for p in CORE.rglob("*.py")
        if p.name != "__init__.py"
    }
    found = {}
    for path in modules.values():
        names = re.findall(r"^\s*(?:from|import) (zigzag_meadow[\w.]*)", path.read_text(), re.MULTILINE)
        found[path] = (_room(path), {modules[name] for name in names if name in modules})
    return found


def _room(path: Path) -> str:
    parts = path.relative_to(CORE).parts
    if parts[0] != "core":
        return "server" if parts[0] == "server" else "command line" if path.stem.startswith("cli") else "library"
    if len(parts) == 2:
        return "warm-up" if path.stem.startswith("warm") else "arrays and grids"
    return f"project {parts[2]}" if parts[1] == "project" and len(parts) > 3 else parts[1]


def _pages() -> dict[Path, tuple[str, set[Path]]]:
    found = {}
    for path in PAGES.rglob("*.ts*"):
        if ".test." in path.name or path.name == "schema.d.ts" or path.parent.name == "testing":
            continue
        told = re.findall(r"""["'](\.\.?/[^"']+)["']""", path.read_text())
        near = [Path(os.path.normpath(path.parent / name)) for name in told]
        there = {
            file for name in near for file in (name.with_suffix(".ts"), name.with_suffix(".tsx")) if file.is_file()
        }
        parts = path.relative_to(PAGES).parts
        room = "the start" if len(parts) == 1 else parts[0]
        if room == "waypoints":
            room = {"register.ts": "the trail", "waypoint.ts": "a waypoint"}.get(parts[1], parts[1])
        found[path] = (room, there)
    return found


def _floors(files: dict[Path, tuple[str, set[Path]]]) -> tuple[list[list[str]], dict[str, int], set[tuple[str, str]]]:
    """(rooms by floor, from the ground up; lines of each; which imports which)."""
    lines: dict[str, int] = defaultdict(int)
    arrows = set()
    for path, (room, imports) in files.items():
        lines[room] += len(path.read_text().splitlines())
        arrows |= {(room, files[other][0]) for other in imports if other in files and files[other][0] != room}
    floor: dict[str, int] = {}

    def height(room: str, above: tuple[str, ...] = ()) -> int:
        if room in above:
            raise SystemExit(f"A circle: {' → '.join((*above[above.index(room) :], room))}")
        if room not in floor:
            floor[room] = 1 + max((height(other, (*above, room)) for one, other in arrows if one == room), default=-1)
        return floor[room]

    for room in lines:
        height(room)
    rooms = [sorted(room for room in lines if floor[room] == at) for at in range(max(floor.values()) + 1)]
    return rooms, lines, arrows


def _drawn(title: str, top: int, files: dict[Path, tuple[str, set[Path]]]) -> tuple[list[str], int]:
    rooms, lines, arrows = _floors(files)
    places: dict[str, tuple[float, float, float]] = {}
    for at, row in enumerate(reversed(rooms)):
        widths = [max(64, 8 * len(room) + 18) for room in row]
        x = (WIDE - sum(widths) - GAP * (len(row) - 1)) / 2
        for room, width in zip(row, widths, strict=True):
            places[room] = (x, top + 40 + at * ROW, width)
            x += width + GAP
    out = [f'<text x="20" y="{top + 20}" class="title">{title}</text>']
    for one, other in sorted(arrows):
        (x, y, w), (u, v, q) = places[one], places[other]
        a, b = (x + w / 2, y + HIGH), (u + q / 2, v)
        bend = (a[1] + b[1]) / 2
        out.append(
            f'<path d="M{a[0]:.0f} {a[1]:.0f}C{a[0]:.0f} {bend:.0f} {b[0]:.0f} {bend:.0f} {b[0]:.0f} {b[1]:.0f}"/>'
        )
    for room, (x, y, width) in sorted(places.items()):
        out.append(f'<rect x="{x:.0f}" y="{y:.0f}" width="{width}" height="{HIGH}" rx="5"/>')
        out.append(f'<text x="{x + width / 2:.0f}" y="{y + 15:.0f}" class="room">{room}</text>')
        out.append(f'<text x="{x + width / 2:.0f}" y="{y + 28:.0f}" class="lines">{lines[room]}</text>')
    return out, top + 60 + len(rooms) * ROW


def house() -> str:
    """The picture as SVG: the pages above, what they ask below."""
    pages, below = _drawn("The pages", 0, _pages())
    core, end = _drawn("The application", below, _python())
    style = (
        "path{fill:none;stroke:#9aa39c;stroke-width:.7;opacity:.5}rect{fill:#fbfaf4;stroke:#24312c}"
        "text{font-family:sans-serif;text-anchor:middle;fill:#24312c}.title{text-anchor:start;font-size:15px;"
        "font-weight:bold}.room{font-size:12px}.lines{font-size:9px;fill:#66706a}"
    )
    drawn = "\n".join([*pages, *core])
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDE} {end}" width="{WIDE}" height="{end}">\n'
        f'<style>{style}</style>\n<rect x="-5" y="-5" width="{WIDE + 10}" height="{end + 10}"/>\n{drawn}\n</svg>\n'
    )


if __name__ == "__main__":
    print(house(), end="")
