"""A delivery is checked as a whole: its note, its manifest, what its files make together, and what was typed."""

from __future__ import annotations

import json
import shutil
from pathlib import Path

import numpy as np
import orjson
import pytest

from tests.support.delivery import checked, made
from tests.support.ground import document
from tests.support.injuries import alter_note, read, write
from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.fit.registering import sampled
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.fit.typed import Typed, typed_numbers
from zigzag_meadow.core.targets.catalogue import target

SAMPLES = Path(__file__).parents[1] / "samples"


def fault(report, file="import_note.json"):
    return next(item for item in report.findings if item.file == file)


def test_a_note_that_was_changed_is_told_by_its_numbers(tmp_path):
    ev, out = made(tmp_path)
    kept = (out / "import_note.json").read_bytes()

    def said(change):
        alter_note(out, change)
        reports = [checked(ev, out), check_delivery(out)]
        (out / "import_note.json").write_bytes(kept)
        assert all(not report.fits for report in reports)
        return [fault(report) for report in reports]

    def multiply(note):
        for stored in (note["height"]["stored"], note["files"][0]["stored"]):
            stored["multiplier"] *= 1.01

    def lift(note):
        for stored in (note["height"]["stored"], note["files"][0]["stored"]):
            stored["at_middle"] += 1

    def exchange(note):
        channels = next(file for file in note["files"] if file["kind"] == "sheet")["channels"]
        channels[0] |= {"channel": "b"}
        channels[2] |= {"channel": "r"}
        channels[0], channels[2] = channels[2], channels[0]

    for found in said(multiply):
        assert found.kind == "note-scale"
        assert "scaled by 1.01" in found.message
    for found in said(lift):
        assert "1 m too high" in found.message
    for found in said(exchange):
        assert found.kind == "note-channels"
        assert "R and B" in found.message
    for found in said(lambda note: note["ground"].update(spacing_x=7.0)):
        assert "7 instead of 5" in found.message
    (out / "import_note.json").unlink()
    found = fault(check_delivery(out))
    assert found.kind == "missing-file"


def test_numbers_of_a_note_are_held_against_the_files_without_a_manifest(tmp_path):
    _, out = made(tmp_path)
    (out / "manifest.json").unlink()
    assert check_delivery(out).fits
    alter_note(out, lambda note: note["height"].update(highest=note["height"]["highest"] + 1))
    found = next(item for item in check_delivery(out).findings if item.severity == "error")
    assert "the highest height" in found.message


@pytest.mark.parametrize(("kept", "turned"), [("delivered_2", "changed"), ("delivered_3", "orientation")])
def test_a_delivery_of_an_earlier_version_is_still_read(tmp_path, kept, turned):
    """Kept from when manifests held means alone, and notes nothing of what a target requires; and from when notes knew
    of no units, nor of floats that are no metres."""
    shutil.copytree(SAMPLES / kept, tmp_path / "old")
    report = check_delivery(tmp_path / "old")
    assert report.fits, report.findings
    assert report.files == 3
    sheet = next(f for f in Rehearsal(tmp_path / "old").note.images if f.kind == "sheet")
    write(tmp_path / "old", sheet, read(tmp_path / "old", sheet)[::-1])
    # Pages and recipes were not kept with it: that is no fault of its maps.
    errors = [item for item in check_delivery(tmp_path / "old").findings if item.severity == "error"]
    assert [item.kind for item in errors] == [turned]


def test_what_files_make_together_is_checked(tmp_path):
    """Sums, layers a block, required maps, scales that contradict themselves, and borders that tiles share."""
    _, out = made(tmp_path)
    (out / "manifest.json").unlink()
    note = Rehearsal(out).note
    sheet = next(f for f in note.images if f.kind == "sheet" and f.channels[0].kind == "weight")
    whole = read(out, sheet)
    harmed = whole.copy()
    harmed[40:50, 40:50, 0] //= 2
    write(out, sheet, harmed)
    assert {item.kind for item in check_delivery(out).findings if item.severity == "error"} == {"sums-off"}
    write(out, sheet, whole)

    def more(note):
        note["target"] |= {"most_per_block": 1, "required": ["colour"]}
        note["height"]["stored"]["step"] *= 1.01
        note["files"][0]["stored"]["step"] *= 1.01

    alter_note(out, more)
    report = check_delivery(out)
    assert {"over-budget", "required", "note-numbers"} <= {item.kind for item in report.findings}
    assert not next(fact for fact in report.facts if fact.title == "Step").good


def test_tiles_that_differ_along_their_border_are_a_seam(tmp_path):
    data = document(rows=127, cols=127)
    data["targets"] = [tiled()]
    data["delivery"] = {"target": "tiled", "rows": 127, "cols": 127}
    ev, out = made(tmp_path, data)
    report = checked(ev, out)
    assert report.fits, report.findings
    assert next(fact for fact in report.facts if fact.title == "Tile borders").good
    tile = next(f for f in Rehearsal(out).note.images if f.kind == "height" and f.tile.x == 1 and f.tile.y == 1)
    before = read(out, tile)
    harmed = before.copy()
    harmed[20:30, 20:30] = 0
    write(out, tile, harmed)
    found = fault(checked(ev, out), tile.file)
    assert found.kind == "patched"
    # The place is told on the whole map: the tile begins at sample 63 of 127.
    assert found.place[:2] == pytest.approx((83 / 127, 83 / 127))
    write(out, tile, before)
    harmed = before.copy()
    harmed[0] += 9
    write(out, tile, harmed)
    (out / "manifest.json").unlink()
    assert [item.kind for item in check_delivery(out).findings if item.severity == "error"][-1] == "seam"


def tiled():
    """The block grid, cut into tiles of 64 that share a border."""
    plain = target("block-grid").model_dump(mode="json")
    return {**plain, "id": "tiled", "title": "Tiled", "tiles": {"kind": "shared", "side": 64}}


def test_a_height_that_was_tuned_there_can_be_taken_into_the_preparation(tmp_path):
    ev, out = made(tmp_path)
    file = next(f for f in Rehearsal(out).note.images if f.kind == "height")
    kept = read(out, file).astype(float)
    for change, steps in (
        (lambda v: v - 650, {"kind": "raise", "by": -2.976}),
        (lambda v: v * 0.5 + 16384, {"kind": "multiply", "factor": 0.5, "about": 170.0}),
    ):
        write(out, file, np.round(change(kept)).clip(0, 65535).astype(np.uint16))
        (found,) = fault(checked(ev, out), file.file).steps
        assert found["kind"] == steps["kind"]
        assert [v for k, v in found.items() if k != "kind"] == pytest.approx(
            [v for k, v in steps.items() if k != "kind"], abs=0.02
        )


def test_the_position_is_measured_and_what_resampling_costs_is_told_apart(tmp_path):
    data = document(delivery={"target": "plain-files", "rows": 100, "cols": 100})
    ev, out = made(tmp_path, data)
    facts = {fact.title: fact for fact in checked(ev, out).facts}
    assert (facts["Position"].result, facts["Height"].result) == ("0.00", "exact")
    home, there = ev.map("reading:height").astype(float), ev.map("reading:height", ev.home.resized(100, 100))
    lost = np.abs(sampled(there[:, :, None], *(np.arange(127) * 99 / 126,) * 2)[:, :, 0] - home).mean()
    assert facts["Resampling"].result == f"{lost * 1000:.3g} mm"
    file = next(f for f in Rehearsal(out).note.images if f.kind == "height")
    write(out, file, np.roll(read(out, file), 2, 0))
    facts = {fact.title: fact for fact in checked(ev, out).facts}
    assert float(facts["Position"].result) == pytest.approx(2, abs=0.05)
    assert not facts["Position"].good


def test_a_file_saved_anew_without_loss_is_no_other(tmp_path):
    ev, out = made(tmp_path)
    for file in Rehearsal(out).note.images:
        write(out, file, read(out, file))
    for report in (checked(ev, out), check_delivery(out)):
        assert report.fits, report.findings
    assert {item.words for item in check_delivery(out).maps} == {"saved anew, the samples are the same"}


def test_a_delivery_of_an_older_state_is_stale(tmp_path):
    _, out = made(tmp_path)
    data = document()
    data["masks"][0]["lines"][0]["source"]["low"] = 40
    ev, _ = made(tmp_path, data, "newer")
    kinds = {item.kind for item in checked(ev, out).findings}
    assert kinds == {"stale"}


def heights_at(out, places):
    note = Rehearsal(out).note
    file = next(f for f in note.images if f.kind == "height")
    stored = file.stored
    v = read(out, file)[:, :, 0].astype(float) - stored.middle
    z = stored.at_middle + v * stored.base_step * stored.multiplier
    return [(c * 5.0, (126 - r) * 4.0, z[r, c]) for r, c in places]


PLACES = ((10, 20), (60, 100), (110, 40))


@pytest.mark.parametrize(
    ("bend", "words"),
    [
        (lambda e, n, h: (e, n, h), None),
        (lambda e, n, h: (e, n, h - 3), "3 m too low"),
        (lambda e, n, h: (e, n, 170.0 + (h - 170.0) * 1.25), "1.25 times those of the files"),
        (lambda e, n, h: (e, 504 - n, h), "flipped north–south"),
        (lambda e, n, h: (e * 1.5, n * 1.5, h), "1.5 times as wide"),
    ],
)
def test_three_places_tell_which_number_was_mistyped(tmp_path, bend, words):
    ev, out = made(tmp_path)
    middle = Rehearsal(out).note.height.stored.at_middle
    places = [bend(e, n, h + 170.0 - middle) for e, n, h in heights_at(out, PLACES)]
    points = [{"east": e, "north": n, "height": h - 170.0 + middle} for e, n, h in places]
    report = checked(ev, out, typed=Typed(points=points))
    typed = [item for item in report.findings if item.typed]
    assert (words is None) == (not typed)
    assert words is None or words in typed[0].message
    assert all(item.state == "exact" for item in report.maps)


def test_what_was_typed_is_held_against_the_note(tmp_path):
    _, out = made(tmp_path)
    note = Rehearsal(out).note
    right = {number.name: number.value for number in typed_numbers(note)}
    assert check_delivery(out, typed=Typed(numbers=right)).fits
    report = check_delivery(
        out,
        typed=Typed(
            numbers={"multiplier": right["multiplier"] * 1.01, "spacing_x": 10.0, "water": 41.0},
            left_on=[note.neutral[0].setting],
        ),
    )
    kinds = {item.kind: item for item in report.findings}
    assert set(kinds) == {"typed-scale", "typed-spacing", "typed-water", "setting"}
    assert "scaled by 1.01" in kinds["typed-scale"].message
    unknown = check_delivery(out, typed=Typed(numbers={"spacing": 4}, left_on=("Glow",)))
    assert unknown.fits
    assert "no number “spacing”, no setting “Glow”: that was not checked" in unknown.findings[0].message
    assert unknown.target == note.target.title
    assert "2 times as wide" in kinds["typed-spacing"].message
    assert {item["name"] for item in report.typed if item["off"]} == {"multiplier", "spacing_x", "water"}


def test_points_are_read_back_and_what_moved_them_is_named(tmp_path):
    data = document(
        scatters=[{"id": "s", "name": "Stones", "mask": "steep", "deliver": True, "points_format": "csv", "density": 2}]
    )
    ev, out = made(tmp_path, data)
    path = next(out.glob("*.csv"))
    assert next(item for item in checked(ev, out).maps if item.kind == "points").state == "exact"
    rows = [line.split(",") for line in path.read_text().splitlines()]
    moved = [rows[0], *([f"{float(r[0]) + 2:.3f}", *r[1:]] for r in rows[1:])]
    path.write_text("\n".join(",".join(r) for r in moved) + "\n")
    assert "+2 m east" in fault(checked(ev, out), path.name).message
    path.write_text("\n".join(",".join(r) for r in rows[:-1]) + "\n")
    assert fault(check_delivery(out), path.name).kind == "count"
    path.write_text("east,north\n1,x\n")
    assert fault(check_delivery(out), path.name).kind == "unreadable"


@pytest.mark.parametrize(
    "lie", [{"whole_rows": 10**9}, {"rows": 0}, {"tile": {"x": 0, "y": 0, "first_row": 90, "first_column": 0}}]
)
def test_a_note_that_lies_about_sizes_costs_nothing(tmp_path, lie):
    _, out = made(tmp_path)
    (out / "manifest.json").unlink()
    alter_note(out, lambda note: note["files"][0].update(lie))
    with pytest.raises(BadFile, match="no delivery has such a file"):
        check_delivery(out)


def test_a_file_named_outside_the_folder_is_not_touched(tmp_path):
    _, out = made(tmp_path)
    (tmp_path / "secret.png").write_bytes(b"x")
    (out / "manifest.json").unlink()
    alter_note(out, lambda note: note["files"][0].update(file="../secret.png"))
    assert fault(check_delivery(out), "../secret.png").kind == "missing-file"


def test_a_lying_manifest_and_huge_or_broken_files_are_findings(tmp_path):
    ev, out = made(tmp_path)
    manifest = orjson.loads((out / "manifest.json").read_bytes())
    for entry in manifest["files"]:
        entry["channels"] = {"r": {"means": "!!", "levels": 3}}
        entry["span"] = 0
    (out / "manifest.json").write_text(json.dumps(manifest))
    assert checked(ev, out).fits
    for entry in manifest["files"]:
        entry["sha256"] = "0" * 64
    manifest["note"] = {"note": 3}
    (out / "manifest.json").write_text(json.dumps(manifest))
    report = checked(ev, out)
    assert {item.severity for item in report.findings} == {"attention"}
    assert {item.state for item in report.maps} == {"exact"}
    (out / "manifest.json").write_text("[1]")
    report = check_delivery(out)
    assert report.fits
    assert {item.file for item in report.findings} == {"manifest.json"}
    from PIL import Image

    Image.new("L", (9000, 20)).save(out / "test_moor_height.png")
    assert "9000" in fault(check_delivery(out), "test_moor_height.png").message
