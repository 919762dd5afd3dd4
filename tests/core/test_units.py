"""Numbers in a target's own unit: the note is read as printed, what is typed from it makes the ground, and what is read
off there is taken in the same unit."""

from __future__ import annotations

import re

import numpy as np
import pytest

from tests.support.delivery import made
from tests.support.ground import document
from zigzag_meadow.core.errors import BadDocument
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.fit.typed import Typed, typed_numbers
from zigzag_meadow.core.targets.catalogue import parse_target, target
from zigzag_meadow.core.targets.note import parse_note

OWN = {"kind": "own", "metres": 0.64}
EACH = {"metres": 1.0, "centimetres": 0.01, "kilometres": 1000.0, "per_cent": 630 / 100, "own": 0.64}


def delivered_in(folder, units, base="powers-and-one"):
    own = {**target(base).model_dump(mode="json"), "id": "own-one", "title": "Own one", "units": units}
    data = document(127, 127, targets=[own], delivery={"rows": 129, "cols": 129, "target": "own-one"})
    return made(folder, data)[1]


def rows_of(text):
    """What the note prints, by its titles: the numbers of the first place, and metres beside them in brackets."""
    found = {}
    for line in text.splitlines():
        parts = re.split(r" {2,}", line.strip())
        if line.startswith("  ") and len(parts) >= 2:
            found.setdefault(parts[0], parts[1])
    return found


def first(text):
    return float(re.match(r"-?[\d.]+", text)[0])


@pytest.mark.parametrize(
    "units",
    [
        {},
        {name: {"kind": "centimetres"} for name in ("heights", "lengths", "positions")},
        {"heights": OWN, "lengths": {"kind": "kilometres"}, "positions": {"kind": "per_cent"}},
        {"heights": {"kind": "per_cent"}, "lengths": OWN, "positions": {"kind": "centimetres"}},
    ],
)
def test_the_note_as_printed_is_typed_and_makes_the_ground(tmp_path, units):
    """Somebody types what is printed into a target that knows only its unit: the ground stands where it was meant."""
    out = delivered_in(tmp_path, units)
    kinds = {name: units.get(name, {"kind": "metres"})["kind"] for name in ("heights", "lengths", "positions")}
    heights, lengths = EACH[kinds["heights"]], EACH[kinds["lengths"]]
    said = rows_of((out / "import_note.txt").read_text())
    plain = kinds["heights"] == "metres"
    at = "Metres at stored" if plain else "At stored"
    black, white = (first(said[f"{at} {n}"]) * heights for n in (0, 65535))
    assert (black, white) == (pytest.approx(20, abs=1e-4), pytest.approx(320, abs=1e-4))
    wide, long = said["Width × length"].partition(" (")[0].split(" × ")
    assert (first(wide) * lengths, first(long) * lengths) == (pytest.approx(630), pytest.approx(504))
    stored = np.frombuffer(next(out.glob("height_*")).read_bytes(), "<u2")
    there = black + stored.astype(float) * (white - black) / 65535
    assert (there.min(), there.max()) == (pytest.approx(20, abs=0.01), pytest.approx(320, abs=0.01))
    # The ground itself is put at its lowest code, which lies under the water of 40 m.
    assert first(said["Place it at"]) * heights == pytest.approx(20, abs=1e-4)
    assert "20 m under the water" in (out / "import_note.txt").read_text()
    water = first(said["Water level"]) * heights
    assert water == pytest.approx(40)


def test_what_is_typed_and_read_off_is_taken_in_the_targets_unit(tmp_path):
    units = {"heights": OWN, "lengths": {"kind": "kilometres"}, "positions": {"kind": "centimetres"}}
    out = delivered_in(tmp_path, units)
    note = parse_note((out / "import_note.json").read_bytes(), "note")
    numbers = {n.name: n for n in typed_numbers(note)}
    assert numbers["at_full"].value == pytest.approx(320 / 0.64)
    assert numbers["at_full"].unit == "units"
    assert numbers["spacing_x"].value == pytest.approx(630 / 128 / 1000)
    point = note.check_points[0]
    there = {"east": point.east * 100, "north": point.north * 100, "height": point.height / 0.64}
    good = Typed.model_validate({"numbers": {n.name: n.value for n in numbers.values()}, "points": [there]})
    assert check_delivery(out, typed=good).fits
    # Metres typed where units are asked for: named, with the number to type.
    wrong = check_delivery(out, typed=Typed(numbers={"at_full": 320.0}))
    (found,) = [item for item in wrong.findings if item.typed]
    assert found.kind == "typed-scale"
    assert "500 units" in found.fix
    assert found.numbers["factor"] == pytest.approx((320 * 0.64 - 20) / 300, rel=1e-4)
    metres = {"east": point.east, "north": point.north, "height": point.height}
    assert not check_delivery(out, typed=Typed.model_validate({"points": [metres]})).fits


@pytest.mark.parametrize("metres", [0, -1, float("nan")])
def test_a_unit_of_nothing_is_refused(metres):
    plain = target("powers-and-one").model_dump(mode="json")
    with pytest.raises(BadDocument, match=r"units\.lengths\.own\.metres"):
        parse_target({**plain, "id": "x", "units": {"lengths": {"kind": "own", "metres": metres}}})
