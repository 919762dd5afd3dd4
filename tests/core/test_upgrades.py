"""Documents of every earlier version come up to this one, through each version between, and lose nothing."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from tests.support.ground import document
from tests.support.shape import KEPT, kept_at, shape
from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.model.upgrade import NEWEST, UPGRADES
from zigzag_meadow.core.targets.catalogue import parse_target
from zigzag_meadow.core.upgrades import upgraded

SAMPLES = Path(__file__).parents[1] / "samples"
FROZEN = {
    1: "project_1.json",
    2: "lantern_moor_2.json",
    3: "preparation_3.json",
    4: "delivery_4.json",
    5: "project_5.json",
    6: "project_6.json",
    7: "project_7.json",
}


def frozen(version: int):
    return json.loads((SAMPLES / FROZEN[version]).read_text())


def test_every_version_has_its_upgrade_and_its_frozen_sample():
    assert sorted(FROZEN) == list(range(1, NEWEST + 1))
    assert sorted(UPGRADES) == list(range(1, NEWEST))
    for version in FROZEN:
        assert frozen(version)["version"] == version
        assert parse_project(frozen(version)).version == NEWEST


@pytest.mark.parametrize("name", KEPT)
def test_what_is_stored_has_the_shape_of_its_version(name):
    """New kinds of lines, steps, coats or rules need no new version: what is stored already holds none. Any other
    change does, with an upgrade, a frozen sample and a new shape (``python -m tests.support.shape``)."""
    kept, now = kept_at(name).read_text().splitlines(), shape(KEPT[name][0])
    models = {line.split(".")[0] for line in kept}
    assert [line for line in kept if line not in now] == [], "gone or changed"
    assert [line for line in now if line not in kept and line.split(".")[0] in models] == [], "new"


def test_the_first_version_goes_through_all_of_them():
    made = parse_project(frozen(1))
    assert (made.ground.file_format, made.ground.sample) == ("raw", "u16")
    assert made.setting("slope").numbers == {"width": 9.0}
    assert [(item.of, item.form) for item in made.delivery.items] == [("height", "raw16")]


def test_a_version_to_come_changes_nothing_of_what_was_chosen_in_this_one():
    """What a next version reads of this one is what its own upgrade makes, and no other upgrade again."""
    asked: list[int] = []

    def to_next(data):
        asked.append(data["version"])
        return {**data, "seen": True}

    this = frozen(NEWEST)
    made = upgraded(this, {**UPGRADES, NEWEST: to_next})
    assert made == {**this, "version": NEWEST + 1, "seen": True}
    assert upgraded(frozen(2), {**UPGRADES, NEWEST: to_next})["version"] == NEWEST + 1
    assert asked == [NEWEST, NEWEST]


@pytest.mark.parametrize("version", [1, 2, 3, 4, 5, True, 0, -1, 1e300, "2", None, [1]])
@pytest.mark.parametrize("odd", ["text", ["list"], 7, None, {"steps": 3}, {"steps": [7, {"where": "x"}]}])
def test_what_is_no_document_is_refused_in_a_sentence(version, odd):
    for part in ("ground", "readings", "delivery"):
        with pytest.raises(MeadowError):
            parse_project({**frozen(4), "version": version, part: odd, "masks": odd})


def test_documents_of_the_first_version_still_open():
    old = document()
    old["version"] = 1
    old["ground"] = {**old["ground"], "slope_width": 12, "file_format": "raw16", "byte_order": "big"}
    project = parse_project(old)
    assert project.version == NEWEST
    assert project.ground.file_format == "raw"
    assert project.setting("slope").numbers == {"width": 12}


def test_grounds_and_sheets_of_before_keep_to_what_they_were():
    """Cells end at their middles, heights are held by their ends, and proposals may take away what carries weights."""
    old = frozen(5)
    old["ground"]["samples"] = "cells"
    project = parse_project(old)
    assert (project.ground.on_replace, project.ground.cells_reach) == ("ends", False)
    assert project.ground.file_grid.registration == "vertex"
    assert project.ground.outer == (old["ground"]["spacing_y"], old["ground"]["spacing_x"])
    weights = [
        any(s.source(c) is not None and s.source(c).kind in ("weight", "step", "base") for c in s.channels)
        for s in project.sheets
    ]
    assert [sheet.proposed for sheet in project.sheets] == weights
    kept = json.loads((SAMPLES / "target_1.json").read_text())
    assert kept["version"] == 1
    assert parse_target(kept).units.heights.kind == "metres"
    held = parse_project({**frozen(5), "targets": [kept]})
    assert [target.version for target in held.targets] == [2]
    images = [parse_project(frozen(version)).coats[0] for version in (6, 7)]
    assert [(image.enlarged, image.grain) for image in images] == [("plainly", 0), ("sharply", 0.6)]


def test_what_was_chosen_of_the_height_file_is_kept():
    old = json.loads((SAMPLES / "delivery_4.json").read_bytes())
    project = parse_project(old)
    assert (old["version"], project.version) == (4, NEWEST)
    assert project.delivery.choice("height").form == "raw16"
    assert project.delivery.pattern == "{project}_{map}_{size}"
