"""The catalogue of lines, read off their classes: what they are called, how they read, which numbers they take."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.project.parts import Told
from zigzag_meadow.core.project.recipe import LINES, BaseLine

__all__ = ["LineParam", "Verb", "verbs", "verbs_table"]


@dataclass(frozen=True, slots=True)
class LineParam:
    """A number or choice of a line with its bounds; ``value`` is what a new line on this ground begins with."""

    name: str
    title: str
    unit: str
    step: float
    decimals: int
    low: float
    high: float
    value: float | str
    choices: tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True)
class Verb:
    verb: str
    title: str
    family: str
    hint: str
    sentence: str
    params: tuple[LineParam, ...]


def _bound(metadata: list[Any], names: tuple[str, ...], otherwise: float) -> float:
    found = [getattr(item, name) for item in metadata for name in names if getattr(item, name, None) is not None]
    return float(found[0]) if found else otherwise


def _param(kind: type[BaseLine], name: str, told: Told, home: Grid) -> LineParam:
    field = kind.model_fields[name]
    default = field.default
    spacing = max(home.dy, home.dx)
    if told.of == "spacing":
        default = float(f"{told.first * spacing:.2g}")
    elif told.of == "cell":
        default = float(f"{told.first * home.dy * home.dx:.2g}")
    low = _bound(field.metadata, ("ge", "gt"), 0.0)
    high = _bound(field.metadata, ("le", "lt"), 1.0)
    if told.of == "spacing":
        high = min(high, max(round(max(home.width, home.length) / 2, 1), 4 * spacing))
    if told.of == "cell":
        high = min(high, home.width * home.length)
    if not told.choices:
        default = min(max(default, low), high)
    return LineParam(
        name, told.title, told.unit, told.step, told.decimals, low, high, default, told.choices
    )  # fmt: skip


def verbs(home: Grid) -> list[Verb]:
    """Every kind of line, with numbers to begin with on a ground with this home grid."""
    made = []
    for kind in LINES:
        params = []
        for name, field in kind.model_fields.items():
            told = next((m for m in field.metadata if isinstance(m, Told)), None)
            if told is not None:
                params.append(_param(kind, name, told, home))
        verb = kind.model_fields["verb"].default
        made.append(Verb(verb, kind.title, kind.family, kind.hint, kind.sentence, tuple(params)))
    return made


def verbs_table() -> str:
    """Every kind of line as a Markdown table, for the README."""
    families = {
        "combine": "put together", "tone": "tone", "area": "edges and areas", "breakup": "break up", "hand": "by hand",
        "reuse": "use again",
    }  # fmt: skip
    rows = ["| Line | Kind | What for | Reads |", "| --- | --- | --- | --- |"]
    for kind in LINES:
        sentence = kind.sentence.replace("{", "*").replace("}", "*").replace("***", "**")
        rows.append(f"| {kind.title} | {families[kind.family]} | {kind.hint} | {sentence} |")
    return "\n".join(rows)
