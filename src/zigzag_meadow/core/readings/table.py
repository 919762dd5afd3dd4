"""The catalogue of readings as a table in text, for the documentation."""

from __future__ import annotations

import json

from zigzag_meadow.core.readings.catalogue import FAMILIES, READINGS
from zigzag_meadow.core.readings.declare import Reading

__all__ = ["readings_json", "readings_table"]

_SIZES = {
    "agrees": "the same up to sampling, over the same metres",
    "home": "from the ground\u2019s own grid",
    "fine": "finer detail on finer grids",
}


def _range(kind: Reading) -> str:
    ends = ["measured" if end is None else f"{end:g}" for end in (kind.low, kind.high)]
    return "measured" if ends == ["measured", "measured"] else f"{ends[0]} to {ends[1]}"


def readings_table() -> str:
    """A Markdown table: reading, unit, range, numbers, what it is good for, and how it is at other sizes."""
    lines = [
        "| Reading | Unit | Range | Numbers | Good for | At other sizes |",
        "| --- | --- | --- | --- | --- | --- |",
    ]
    for family, title in FAMILIES.items():
        lines.append(f"| **{title}** | | | | | |")
        for kind in (r for r in READINGS if r.family == family):
            numbers = ", ".join(dict.fromkeys(p.title.lower() for p in kind.params)) or "none"
            cells = (
                kind.title,
                kind.unit or "\u2013",
                _range(kind),
                numbers,
                kind.good_for,
                _SIZES[kind.at_other_sizes],
            )
            lines.append("| " + " | ".join(cells) + " |")
    return "\n".join(lines) + "\n"


def readings_json() -> str:
    """The same as JSON, with names for scripts: kept beside this module, so that it can be told without anything being
    loaded."""
    plain = [
        {"name": r.name, "title": r.title, "unit": r.unit, "numbers": [p.name for p in r.params], "is": r.sentence}
        for r in READINGS
    ]
    return json.dumps({"readings": plain, "table": readings_table()}, indent=1, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    print(readings_json(), end="")
