"""One place for every format: what it says of itself is so for whoever reads, writes and checks. PFM stands for all."""

from __future__ import annotations

import struct

import cv2
import numpy as np
import pytest

from tests.support.delivery import checked, made
from tests.support.ground import document, hills
from zigzag_meadow.core.errors import BadFile, TooLarge, WrongFormat
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.fit.witness.catalogue import WITNESSES
from zigzag_meadow.core.formats.catalogue import FORMATS, form, forms, recognised, titles
from zigzag_meadow.core.formats.declare import Head
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.read import read_stored
from zigzag_meadow.core.readings.picture import read_channel

GROUND = hills(20, 31).astype(np.float32) / 7


def pfm(values=GROUND, scale="-1.0", kind=None, head=None):
    """A file made by hand: rows from the bottom."""
    kind = kind or ("PF" if values.ndim == 3 else "Pf")
    order = ">" if not scale.startswith("-") else "<"
    head = head or f"{kind}\n{values.shape[1]} {values.shape[0]}\n{scale}\n"
    return head.encode() + values[::-1].astype(f"{order}f4").tobytes()


def put(folder, data, name="a.pfm"):
    (folder / name).write_bytes(data)
    return folder / name


def test_every_form_of_pictures_has_a_witness_and_no_id_stands_twice():
    assert {one.reads for one in forms() if one.takes == "raster"} == set(WITNESSES)
    for ids in ([kind.id for kind in FORMATS], [one.id for one in forms()]):
        assert len(ids) == len(set(ids))
    assert titles("texture") == "PNG, TIFF or JPEG"
    assert "JPEG" not in titles("heightmap")


@pytest.mark.parametrize("kind", [k for k in FORMATS if k.heights is not None], ids=lambda k: k.id)
def test_what_is_known_by_its_beginning_is_so_under_any_name(kind):
    begins = {
        "png": b"\x89PNG\r\n\x1a\n",
        "tiff": b"MM\0*",
        "exr": b"\x76\x2f\x31\x01",
        "bmp": b"BM",
        "asc": b" \nNCOLS 8",
        "npy": b"\x93NUMPY",
        "pfm": b"Pf\n8 8",
        "jpeg": b"\xff\xd8\xff\xe1",
        "pgm": b"P5 8",
    }
    assert (kind.begins is not None) == (kind.id in begins)
    if kind.begins is None:
        named = {"raw": ("a.r16", 128), "tga": ("a.tga", 64), "hgt": ("N54W003.hgt", 2 * 1201**2)}[kind.id]
        assert recognised(Head(bytes(18), *named)) is kind
        return
    names = ["", "a.bmp"] if kind.id == "bmp" else ["", "a.raw", f"a{kind.endings[0]}", "a.tga"]
    for name in names:
        assert recognised(Head(begins[kind.id] + bytes(20), name, 300)) is kind
    with pytest.raises(WrongFormat, match=f"named like {kind.title}"):
        recognised(Head(bytes(20), f"a{kind.endings[-1]}", 300))


def test_points_are_no_heightmap(tmp_path):
    with pytest.raises(WrongFormat, match=r"is PLY, which holds no heightmap\. Bring in: PNG, TIFF"):
        read_stored(put(tmp_path, b"ply\nformat", "a.ply"), "a.ply")


@pytest.mark.parametrize("scale", ["-1.0", "1.0"])
def test_floats_of_either_order_come_in_upright(tmp_path, scale):
    stored = read_stored(put(tmp_path, pfm(scale=scale)), "a.pfm")
    assert (stored.format, stored.depth, stored.guessed, stored.remarks) == ("pfm", "32f", (), ())
    assert np.array_equal(stored.samples, GROUND)


def test_what_others_write_comes_in_and_a_channel_is_chosen(tmp_path):
    colours = np.stack([GROUND, GROUND * 2, GROUND * 3], -1)
    cv2.imwrite(str(tmp_path / "c.pfm"), colours[..., ::-1])
    stored = read_stored(tmp_path / "c.pfm", "c.pfm")
    assert (stored.channel, stored.channels, stored.guessed) == ("R", ("R", "G", "B"), ("channel",))
    blue = read_stored(tmp_path / "c.pfm", "c.pfm", Layout(channel="B"))
    assert np.array_equal(blue.samples, GROUND * 3)
    with pytest.raises(WrongFormat, match="no channel A"):
        read_stored(tmp_path / "c.pfm", "c.pfm", Layout(channel="A"))
    unit = colours / colours.max()
    cv2.imwrite(str(tmp_path / "unit.pfm"), unit[..., ::-1])
    assert read_channel(tmp_path / "unit.pfm", "g") == pytest.approx(unit[..., 1], abs=1e-6)


def test_a_scale_is_told_and_gaps_are_gaps(tmp_path):
    values = GROUND.copy()
    values[3, 4], values[0, 0] = np.nan, np.inf
    stored = read_stored(put(tmp_path, pfm(values, scale="-2.5")), "a.pfm")
    assert "scale of 2.5" in stored.remarks[0].message
    assert stored.voids == 2
    assert np.isnan(stored.samples[3, 4])
    assert stored.samples[1, 1] == values[1, 1]


@pytest.mark.parametrize(
    ("data", "error", "words"),
    [
        (pfm()[:-1], BadFile, "cut short: 2480 bytes of samples are declared, 2479 are there"),
        (pfm(head="Pf\n31\n"), BadFile, "do not tell columns, rows"),
        (pfm(head="Pf\n31 20\n0.0\n"), BadFile, "tells no byte order"),
        (pfm(head="Pf\n31 20\n--1\n"), BadFile, "tells no byte order"),
        (pfm(head="Pf\n90000 20\n-1.0\n"), TooLarge, "90000 × 20"),
        (pfm(head="PF\n8000 8000\n-1.0\n"), TooLarge, "GiB"),
        (b"Pf\n", BadFile, "do not tell"),
    ],
)
def test_damaged_ones_are_refused_in_a_sentence(tmp_path, data, error, words):
    with pytest.raises(error, match=words):
        read_stored(put(tmp_path, data), "a.pfm")


def injured(kind, path):
    data = path.read_bytes()
    start = len(data) - 127 * 127 * 4
    rows = np.frombuffer(data[start:], "<f4").reshape(127, 127)
    head = data[:start]
    changed = {
        "flipped": head + rows[::-1].tobytes(),
        "cut": data[:-4],
        "without a header": data[start:],
        "as big endian": head.replace(b"-1.0", b"1.0") + rows.tobytes(),
        "of another size": struct.pack("3s", b"Pf\n") + b"126 127\n-1.0\n" + rows[:, :126].tobytes(),
    }[kind]
    path.write_bytes(changed)


@pytest.mark.parametrize(
    ("kind", "named"),
    [
        ("flipped", "flipped north–south"),
        ("cut", "Copy it again"),
        ("without a header", "no header of a PFM"),
        ("as big endian", "no numbers"),
        ("of another size", "126 × 127"),
    ],
)
def test_a_delivered_one_fits_and_an_injured_one_is_named(tmp_path, kind, named):
    data = document(
        delivery={
            "target": "plain-files",
            "rows": 127,
            "cols": 127,
            "items": [
                {"of": "height", "form": "pfm"},
                {"of": "sheet:splat", "deliver": False},
                {"of": "sheet:data", "deliver": False},
            ],
        }
    )
    ev, out = made(tmp_path, data)
    path = out / "test_moor_height.pfm"
    assert np.array_equal(cv2.imread(str(path), cv2.IMREAD_UNCHANGED), ev.map("reading:height"))
    assert checked(ev, out).fits
    assert check_delivery(out).fits
    injured(kind, path)
    report = checked(ev, out)
    assert not report.fits
    assert named in " ".join(item.message for item in report.findings), report.findings
    assert not check_delivery(out).fits


def test_a_form_says_what_it_needs_to_be_chosen():
    assert (form("pfm").floats, form("pfm").orders, form("pfm").losses(("r", "g"), 8, False, "flow")) == (
        True,
        True,
        "PFM float has no more than 1 channels: G of flow would be lost.",
    )
