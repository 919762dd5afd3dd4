"""A recipe as plain text, a sentence a line, and back; a mistake is told with its place."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any

from pydantic import ValidationError

from zigzag_meadow.core.errors import BadText
from zigzag_meadow.core.masks.lines.base import BaseLine
from zigzag_meadow.core.masks.lines.catalogue import LINES
from zigzag_meadow.core.masks.sources import FeatureUse, MaskUse, Plain, ReadingUse, Source
from zigzag_meadow.core.parts import Edited, Told
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.readings import all_readings
from zigzag_meadow.core.project.model.recipe import MOST_LINES, Line
from zigzag_meadow.core.project.travel.text_scan import Scan, phrases

__all__ = ["lines_as_text", "lines_of_text"]

_MUTED = "(muted)"
_SAME = ("id", "verb", "muted", "note")


def _number(value: float) -> str:
    return f"{value:.12g}"


def _quoted(name: str) -> str:
    return json.dumps(name, ensure_ascii=False)


class _Names:
    """Names of a project's things as they are written and read: unique ones by name, others by id."""

    def __init__(self, project: Project) -> None:
        self._things: dict[str, list[tuple[str, str]]] = {
            "reading": [(item.title.lower(), item.id) for item in all_readings(project)],
            "mask": [(item.name, item.id) for item in project.masks],
            "drawn": [(item.name, item.id) for item in project.features],
            "piece": [(item.name, item.id) for item in project.pieces],
        }

    def of(self, kind: str, thing_id: str) -> str:
        name = next((name for name, one in self._things[kind] if one == thing_id), thing_id)
        same = [one for other, one in self._things[kind] if other.casefold() == name.casefold()]
        return _quoted(name if len(same) == 1 else thing_id)

    def id_of(self, kind: str, name: str) -> str | None:
        found = [one for other, one in self._things[kind] if other.casefold() == name.casefold()]
        if len(found) == 1:
            return found[0]
        return next((one for _, one in self._things[kind] if one == name), None)


# Writing --------------------------------------------------------------------------------------------------------


def _source_text(source: Source, names: _Names) -> str:
    if isinstance(source, MaskUse):
        band = "" if source.band is None else f" band {source.band + 1}"
        return f"[mask {names.of('mask', source.mask)}{band}]"
    if isinstance(source, Plain):
        return f"[number {_number(source.value)}]"
    if isinstance(source, FeatureUse):
        shape = " smooth" if source.smooth else ""
        wide = f"{_number(source.width)} m wide fading {_number(source.fade)} m{shape}"
        return f"[drawn {names.of('drawn', source.feature)} {wide}]"
    name = names.of("reading", source.reading)
    if isinstance(source, ReadingUse):
        return f"[reading {name} black at {_number(source.black)} white at {_number(source.white)}]"
    shape = " smooth" if source.smooth else ""
    fades = f" fading {_number(source.fade_low)} and {_number(source.fade_high)}{shape}"
    return f"[reading {name} from {_number(source.low)} to {_number(source.high)}{fades}]"


def _told(line: type[BaseLine], field: str) -> Told | Edited | None:
    return next((m for m in line.model_fields[field].metadata if isinstance(m, Told | Edited)), None)


def _slot_text(line: BaseLine, field: str, names: _Names) -> str:
    value, told = getattr(line, field), _told(type(line), field)
    if isinstance(told, Told):
        if told.choices:
            return dict(told.choices).get(str(value), str(value))
        if value is None:
            return told.none
        lead = f"{told.some} " if told.some else ""
        return lead + (f"{_number(value * 100)} %" if told.unit == "%" else f"{_number(value)} {told.unit}".rstrip())
    if isinstance(told, Edited):
        if told.kind == "source":
            return told.none if value is None else told.lead + _source_text(value, names)
        if told.kind == "piece":
            return names.of("piece", value)
        if told.kind == "curve":
            return " ".join(f"({_number(x)} {_number(y)})" for x, y in value)
        if told.kind == "edges":
            return "(" + " ".join(_number(edge) for edge in value) + ")"
        if told.kind == "strokes":
            return f"{value} strokes"
    return str(value)


def _line_text(line: BaseLine, names: _Names) -> str:
    said, words = set(_SAME), []
    for kind, text in phrases(line.sentence):
        if kind == "slot":
            said.add(text)
            words.append(_slot_text(line, text, names))
        else:
            words.append(text)
    rest = {
        field: line.model_dump(mode="json", include={field})[field]
        for field, info in type(line).model_fields.items()
        if field not in said and getattr(line, field) != info.get_default(call_default_factory=True)
    }
    note = " ".join(line.note.split())
    if note != line.note:
        rest["note"], note = line.note, ""
    tail = f" {json.dumps(rest, ensure_ascii=False)}" if rest else ""
    muted = f"{_MUTED} " if line.muted else ""
    return muted + "".join(words).strip() + tail + (f" # {note}" if note else "")


def lines_as_text(project: Project, lines: Sequence[Line]) -> str:
    """Lines of a recipe as sentences, one a line; :func:`lines_of_text` reads them again."""
    names = _Names(project)
    return "\n".join(_line_text(line, names) for line in lines)


# Reading --------------------------------------------------------------------------------------------------------


def _name(scan: Scan, kind: str, names: _Names) -> str:
    at = scan.at
    name = scan.quoted()
    found = names.id_of(kind, name)
    if found is None:
        what = {"mask": "mask", "reading": "reading", "drawn": "drawn line", "piece": "piece"}[kind]
        raise scan.wrong(f"there is no {what} called {name}", at)
    return found


def _source(scan: Scan, names: _Names) -> dict[str, Any]:
    scan.word("[")
    kind = scan.one_of(["mask", "number", "drawn", "reading"])
    if kind == "mask":
        made: dict[str, Any] = {"kind": "mask", "mask": _name(scan, "mask", names)}
        if scan.maybe("band"):
            made["band"] = round(scan.number()) - 1
    elif kind == "number":
        made = {"kind": "plain", "value": scan.number()}
    elif kind == "drawn":
        made = {"kind": "feature", "feature": _name(scan, "drawn", names), "width": scan.number()}
        for word in ("m", "wide", "fading"):
            scan.word(word)
        made["fade"] = scan.number()
        scan.word("m")
        made["smooth"] = scan.maybe("smooth")
    else:
        reading = _name(scan, "reading", names)
        if scan.one_of(["from", "black"]) == "black":
            scan.word("at")
            black = scan.number()
            scan.word("white")
            scan.word("at")
            made = {"kind": "reading", "reading": reading, "black": black, "white": scan.number()}
        else:
            made = {"kind": "band", "reading": reading, "low": scan.number()}
            scan.word("to")
            made["high"] = scan.number()
            if scan.maybe("fading"):
                made["fade_low"] = scan.number()
                scan.word("and")
                made["fade_high"] = scan.number()
            made["smooth"] = scan.maybe("smooth")
    scan.word("]")
    return made


def _told_value(scan: Scan, told: Told) -> Any:
    if told.choices:
        label = scan.one_of([label for _, label in told.choices])
        return next(value for value, text in told.choices if text == label)
    if told.none and scan.maybe(told.none):
        return None
    if told.some:
        scan.word(told.some)
    value = scan.number()
    if told.unit:
        scan.maybe(told.unit)
    return round(value / 100, 12) if told.unit == "%" else value


def _slot(scan: Scan, kind: type[BaseLine], field: str, names: _Names) -> Any:
    told = _told(kind, field)
    if isinstance(told, Told):
        return _told_value(scan, told)
    assert isinstance(told, Edited)
    if told.kind == "source":
        if told.none and scan.maybe(told.none):
            return None
        if told.lead:
            scan.word(told.lead.strip())
        return _source(scan, names)
    if told.kind == "piece":
        return _name(scan, "piece", names)
    if told.kind == "strokes":
        count = round(scan.number())
        scan.word("strokes")
        return count
    if told.kind == "edges":
        scan.word("(")
        edges = []
        while not scan.maybe(")"):
            edges.append(scan.number())
        return edges
    points = []
    while scan.maybe("("):
        points.append([scan.number(), scan.number()])
        scan.word(")")
    return points


def _choices(kind: type[BaseLine], fields: dict[str, Any]) -> dict[str, Any]:
    """Values of choices are told as text; those among numbers become numbers again."""
    for field, value in fields.items():
        told = _told(kind, field) if field in kind.model_fields else None
        if isinstance(told, Told) and told.choices and str(value).isdigit():
            fields[field] = int(value)
        if isinstance(value, float) and kind.model_fields[field].annotation is int:
            fields[field] = round(value)
    return fields


def _kind_of(scan: Scan) -> type[BaseLine]:
    """The kind of line whose sentence begins so; the longest beginning wins."""
    begins = {phrases(kind.sentence)[0][1]: kind for kind in LINES}
    at = scan.at
    word = next((word for word in sorted(begins, key=len, reverse=True) if scan.maybe(word)), None)
    if word is None:
        raise scan.wrong(f"a line begins with {', '.join(sorted(begins))}", at)
    return begins[word]


def _line(scan: Scan, line_id: str, names: _Names) -> BaseLine:
    muted = scan.maybe(_MUTED)
    kind = _kind_of(scan)
    fields: dict[str, Any] = {}
    for what, text in phrases(kind.sentence)[1:]:
        if what == "slot":
            fields[text] = _slot(scan, kind, text, names)
        elif text.strip():
            scan.word(text.strip())
    fields = _choices(kind, fields) | scan.json()
    note = scan.note()
    verb = kind.model_fields["verb"].default
    given = {"note": note} if note else {}
    try:
        return kind.model_validate({**fields, **given, "verb": verb, "id": line_id, "muted": muted})
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        place = ".".join(str(part) for part in first["loc"])
        raise scan.wrong(f"{place}: {first['msg']}", 0) from None


def lines_of_text(project: Project, text: str, before: Sequence[Line] = ()) -> list[BaseLine]:
    """Lines of a recipe from sentences, one a line; empty ones are left out. ``before``: lines that the text was made
    of, whose ids are kept where the line stays of its kind.

    Raises :class:`BadText` with the line and column (from 1) of a mistake.
    """
    names = _Names(project)
    made: list[BaseLine] = []
    free = iter(range(1, 10**6))
    taken = {line.id for line in before}
    for number, sentence in enumerate(text.replace("\r\n", "\n").split("\n"), 1):
        if not sentence.strip():
            continue
        if len(made) >= MOST_LINES:
            raise BadText(f"A recipe holds at most {MOST_LINES} lines.", line=number, column=1)
        fresh = next(name for n in free if (name := f"text-{n}") not in taken)
        line = _line(Scan(sentence, number), fresh, names)
        old = before[len(made)] if len(made) < len(before) else None
        same = old is not None and old.verb == line.verb
        made.append(line.model_copy(update={"id": old.id}) if same and old is not None else line)
    return made
