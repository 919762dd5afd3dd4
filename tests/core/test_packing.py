"""Sheets: every source of a channel, how readings are mapped, proposals, and what comes of them where they are read."""

from __future__ import annotations

import cv2
import numpy as np
import OpenEXR
import pytest
import tifffile
from PIL import Image

from tests.support.delivery import made
from tests.support.ground import document, evaluation
from zigzag_meadow.core.errors import BadDocument, BadFile, BadNumber, NotFound
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.layers.sharing import cover, uncover
from zigzag_meadow.core.packing.apart import apart
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations
from zigzag_meadow.core.srgb import coded, linear_of


def with_sheet(bits=8, layout="rgba", **channels):
    data = document()
    data["masks"][1]["lines"].append({"id": "z", "verb": "cut", "edges": [0.5]})
    data["sheets"].append({"id": "s", "name": "s", "layout": layout, "bits": bits, **channels})
    return data


def sheet_of(tmp_path, **more):
    _, ev = evaluation(tmp_path, with_sheet(**more))
    return ev, ev.map("sheet:s")


@pytest.mark.parametrize("bits", [8, 16])
def test_every_kind_of_source(tmp_path, bits):
    full = 2**bits - 1
    channels = {
        "r": {"kind": "band", "mask": "wet", "band": 1},
        "g": {"kind": "constant", "value": 0.25},
        "b": {"kind": "mask", "mask": "steep", "turned": True},
        "a": {"kind": "step", "layer": "mud"},
    }
    ev, sheet = sheet_of(tmp_path, bits=bits, **channels)
    assert sheet.dtype == np.dtype(f"u{bits // 8}")
    assert np.array_equal(sheet[..., 0], np.floor(ev.map("band:wet:1") * np.float32(full) + np.float32(0.5)))
    assert (sheet[..., 1] == np.floor(full * 0.25 + 0.5)).all()
    mask = np.floor(ev.map("mask:steep") * np.float32(full) + np.float32(0.5))
    assert np.array_equal(sheet[..., 2], full - mask)
    weights = np.stack([ev.map(f"weight:{layer}") for layer in ("base", "rock", "mud")])
    assert np.abs(sheet[..., 3] / full - weights[2]).max() < 1 / full


def test_sixteen_bit_weights_add_up(tmp_path):
    channels = {
        "r": {"kind": "weight", "layer": "rock"},
        "g": {"kind": "weight", "layer": "mud"},
        "b": {"kind": "base"},
    }
    _, sheet = sheet_of(tmp_path, bits=16, layout="rgb", **channels)
    assert (sheet.astype(int).sum(axis=2) == 65535).all()


def test_blend_steps_laid_over_each_other_make_the_weights_again():
    masks = np.random.default_rng(1).random((3, 6, 5), np.float32)
    weights = cover(masks)
    assert uncover(np.array([0.2, 0.3, 0.5], np.float32).reshape(3, 1, 1))[:, 0, 0] == pytest.approx([1, 0.6, 0.5])
    assert cover(uncover(weights)[1:]) == pytest.approx(weights, abs=1e-6)


def test_how_readings_are_mapped(tmp_path):
    def mapped(reading, mapping, black=0.0, white=1.0):
        source = {"kind": "reading", "reading": reading, "black": black, "white": white, "mapping": mapping}
        ev, sheet = sheet_of(tmp_path, bits=16, layout="grey", r=source)
        return ev, sheet[..., 0] / 65535

    ev, north = mapped("aspect", "north")
    angle = np.radians(ev.map("reading:aspect"))
    expected = np.where(np.isnan(angle), 0.5, np.cos(angle) / 2 + 0.5)
    assert np.abs(north - expected).max() < 2e-5
    ev, signed = mapped("mean_curvature", "signed", white=0.01)
    curve = ev.map("reading:mean_curvature")
    assert np.abs(signed - np.clip(curve / 0.01, -1, 1) / 2 - 0.5).max() < 2e-5
    ev, spread = mapped("slope", "stretch")
    low, high = np.quantile(ev.map("reading:slope"), (0.005, 0.995))
    assert np.abs(spread - np.clip((ev.map("reading:slope") - low) / (high - low), 0, 1)).max() < 1e-3
    ev, log = mapped("slope", "log", black=1, white=64)
    assert np.abs(log - np.clip(np.log2(np.maximum(ev.map("reading:slope"), 1e-9)) / 6, 0, 1)).max() < 1e-4
    ev, even = mapped("flow", "even", black=0, white=1e5)
    assert np.abs(even - np.clip(ev.map("reading:flow") / 1e5, 0, 1)).max() < 1e-4
    for source, words in (
        ({"reading": "slope", "black": 0, "white": 1, "mapping": "east"}, "is no direction"),
        ({"reading": "slope", "black": 0, "white": -1, "mapping": "signed"}, "more than 0"),
        ({"reading": "slope", "black": 0, "white": 1, "mapping": "log"}, "starts above 0"),
        ({"reading": "slope", "black": 1, "white": 1, "mapping": "even"}, "different values"),
    ):
        with pytest.raises(BadNumber, match=words):
            parse_project(with_sheet(r={"kind": "reading", **source}))
    with pytest.raises(NotFound, match="is cut into"):
        parse_project(with_sheet(r={"kind": "band", "mask": "wet", "band": 15}))


def test_sums_and_both_mixings_are_of_the_sheets_as_written(tmp_path):
    _, ev = evaluation(tmp_path, document())
    assert (ev.map("sums") == 1).all()
    sheet = ev.map("sheet:splat")[..., :3] / 255
    colours = np.array([linear_of(o.colour) for o in ev.project.outcomes])
    expected = sheet[..., :1] * colours[1] + sheet[..., 1:2] * colours[2] + sheet[..., 2:] * colours[0]
    assert np.abs(ev.map("mixed:sum") / 255 - coded(expected)).max() < 0.01
    chain = colours[0] + (colours[0] - colours[0]) * sheet[..., 2:]
    for at, layer in ((0, 1), (1, 2)):
        chain = chain + (colours[layer] - chain) * sheet[..., at : at + 1]
    assert np.abs(ev.map("mixed:chain") / 255 - coded(chain)).max() < 0.01
    data = document()
    data["sheets"][0]["r"] = None
    _, lacking = evaluation(tmp_path, data)
    rock = ev.map("sheet:splat")[..., 0]
    assert np.array_equal(lacking.map("sums") == 1, rock == 0)
    data["sheets"] = []
    with pytest.raises(BadDocument, match="No sheet"):
        evaluation(tmp_path, data)[1].map("sums")


def proposed(data, what=None, target="block-grid"):
    steps = [{"op": "choose_target", "target": target}]
    steps += [{"op": "propose_data_sheets", "what": what} if what else {"op": "propose_sheets"}]
    project, _ = apply_operations(parse_project(data), parse_operations(steps))
    return [(s.name, s.layout, [getattr(s.source(c), "kind", None) for c in s.channels]) for s in project.sheets]


def test_a_turned_mask_beside_weights_takes_nothing_from_their_sum(tmp_path):
    data = document()
    data["sheets"][0]["a"] |= {"turned": True}
    _, out = made(tmp_path, data)
    assert Rehearsal(out).note.weights.full == 255
    data["sheets"][0]["g"] |= {"turned": True}
    ev, turned = made(tmp_path, data, "turned")
    assert Rehearsal(turned).note.weights.full is None
    # Whoever mixes turns the weight back; the sum is of what is written.
    assert np.array_equal(ev.map("mixed:sum"), evaluation(tmp_path, document())[1].map("mixed:sum"))
    assert (ev.map("sums") < 1).mean() > 0.5


def test_proposals_take_no_more_channels_than_needed():
    data = document(sheets=[])
    assert proposed(data) == [("splat_a", "rgb", ["weight", "weight", "base"])]
    assert proposed(data, target="equal-maps") == [("splat_a", "rgb", ["step", "step", None])]
    assert [layout for _, layout, _ in proposed(data, target="raw-pair")] == ["grey"] * 3
    assert proposed(data, target="whole-metres") == []
    for k in range(6):
        data["layers"].append({"id": f"l{k}", "name": f"Layer {k}", "mask": "wet", "colour": "#888888"})
    assert [layout for _, layout, _ in proposed(data)] == ["rgba", "rgba", "grey"]
    water = proposed(document(sheets=[], layers=[]), "water")
    assert water == [("water_a", "rgb", ["reading"] * 3)]
    assert proposed(document(sheets=[], layers=[]), "attributes")[0][2] == ["mask", "mask", None]
    with pytest.raises(BadDocument, match="nothing left to pack"):
        proposed(document(), "attributes")


def test_eight_kinds_of_ground_merged_to_four_fit_one_sheet(tmp_path):
    data = document()
    data["layers"] = [
        {
            "id": f"l{k}",
            "name": f"Ground {k}",
            "mask": ("steep", "wet")[k % 2],
            "strength": 0.1 + k / 12,
            "colour": "#888888",
        }
        for k in range(7)
    ]
    data["sheets"] = []
    merge = [
        {"op": "merge_layers", "id": f"m{k}", "name": f"Merged {k}", "layers": [f"l{k}", f"l{k + 3}"], "shares": [1, 1]}
        for k in range(3)
    ]
    merge[2]["layers"].append("l6")
    merge[2]["shares"].append(1)
    project, _ = apply_operations(parse_project(data), parse_operations([*merge, {"op": "propose_sheets"}]))
    (sheet,) = project.sheets
    assert sheet.layout == "rgba"
    _, ev = evaluation(tmp_path, project.model_dump(mode="json"))
    assert (ev.map(f"sheet:{sheet.id}").astype(int).sum(axis=2) == 255).all()


def packed_pixels():
    rng = np.random.default_rng(8)
    pixels = rng.integers(0, 256, (60, 40, 4), np.uint8)
    pixels[..., 2] = pixels[..., 0]
    pixels[:20, :, 3] = 0
    return pixels


@pytest.mark.parametrize("ending", ["png", "tif", "tga", "bmp", "exr"])
def test_packed_images_are_taken_apart(tmp_path, ending):
    pixels, path = packed_pixels(), tmp_path / f"packed.{ending}"
    if ending == "png":
        cv2.imwrite(str(path), pixels[..., [2, 1, 0, 3]])
    elif ending == "tif":
        tifffile.imwrite(path, pixels, photometric="rgb", extrasamples=["unspecified"])
    elif ending == "exr":
        parts = {c: np.ascontiguousarray(pixels[..., k] / np.float32(255), np.float32) for k, c in enumerate("RGBA")}
        OpenEXR.File({"type": OpenEXR.scanlineimage}, parts).write(str(path))
    else:
        Image.fromarray(pixels if ending == "tga" else pixels[..., :3]).save(path)
    found = apart(path, path.name)
    letters = "rgb" if ending == "bmp" else "rgba"
    assert "".join(c.channel for c in found.channels) == letters
    assert (found.rows, found.cols) == (60, 40)
    assert found.channels[2].same == "r"
    for k, channel in enumerate(found.channels):
        assert channel.mean == pytest.approx(pixels[..., k].mean() / 255, abs=1e-4)
        assert channel.picture.startswith("data:image/png;base64,")
    if letters == "rgba":
        assert "0 on 34% of the picture" in found.alpha
        assert "hides" in found.alpha


def test_premultiplied_colours_and_broken_files_are_told(tmp_path):
    pixels = packed_pixels()
    pixels[pixels[..., 3] == 0] = 0
    Image.fromarray(pixels).save(tmp_path / "p.png")
    assert "multiplied" in apart(tmp_path / "p.png", "p.png").alpha
    data = (tmp_path / "p.png").read_bytes()
    (tmp_path / "cut.png").write_bytes(data[: len(data) // 2])
    with pytest.raises(BadFile, match="cut short"):
        apart(tmp_path / "cut.png", "cut.png")
