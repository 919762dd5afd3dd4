"""Every other way heights arrive: floats with gaps, georeferenced, three bytes, named channels, text, tiles."""

from __future__ import annotations

import contextlib
import io
import struct
from pathlib import Path

import imagecodecs
import numpy as np
import OpenEXR
import pytest
import tifffile
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.support.ground import hills, png16
from zigzag_meadow.core.errors import BadFile, MeadowError, WrongFormat
from zigzag_meadow.core.formats.degrees import metres_a_degree
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.raw import propose_sizes
from zigzag_meadow.core.formats.read import read_stored
from zigzag_meadow.core.formats.tiles import assemble

HILLS = hills(40, 56)
METRES = (HILLS / 100).astype(np.float32)


def put(folder: Path, name: str, data: bytes) -> Path:
    path = folder / name
    path.write_bytes(data)
    return path


def exr(folder: Path, compression: object, name: str = "a.exr") -> Path:
    header = {"compression": compression, "type": OpenEXR.scanlineimage}
    OpenEXR.File(header, {"Z": METRES, "Y": METRES.astype(np.float16)}).write(str(folder / name))
    return folder / name


def bmp(values: np.ndarray, top_down: bool = False) -> bytes:
    rows, cols = values.shape
    stride = (cols * 8 + 31) // 32 * 4
    lines = np.zeros((rows, stride), np.uint8)
    lines[:, :cols] = values if top_down else values[::-1]
    table = b"".join(bytes((i, i, i, 0)) for i in range(256))
    head = struct.pack("<2sIHHI", b"BM", 54 + 1024 + lines.size, 0, 0, 54 + 1024)
    info = struct.pack("<IiiHHIIiiII", 40, cols, -rows if top_down else rows, 1, 8, 0, 0, 0, 0, 256, 0)
    return head + info + table + lines.tobytes()


def asc(values: np.ndarray) -> bytes:
    head = f"ncols {values.shape[1]}\nnrows {values.shape[0]}\nxllcorner 0\nyllcorner 0\ncellsize 5\nNODATA_value -9\n"
    return (head + "\n".join(" ".join(f"{v:.9g}" for v in row) for row in values) + "\n").encode()


def npy(values: np.ndarray) -> bytes:
    out = io.BytesIO()
    np.save(out, values)
    return out.getvalue()


@pytest.mark.parametrize("how", ["NO", "ZIP", "ZIPS", "PIZ", "RLE"])
def test_exr_channels_come_back_and_the_likeliest_is_taken(tmp_path, how):
    path = exr(tmp_path, getattr(OpenEXR, f"{how}_COMPRESSION"))
    taken = read_stored(path, "a.exr")
    assert (taken.channel, taken.channels, taken.depth) == ("Z", ("Y", "Z"), "32f")
    assert (taken.samples == METRES).all()
    half = read_stored(path, "a.exr", Layout(channel="Y"))
    assert half.depth == "16f"
    assert (half.samples == METRES.astype(np.float16)).all()
    with pytest.raises(WrongFormat, match="no channel Q"):
        read_stored(path, "a.exr", Layout(channel="Q"))


@pytest.mark.parametrize("how", ["NO", "ZIP", "PIZ"])
@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(cut=st.integers(4, 6000), at=st.integers(0, 700), value=st.integers(0, 255))
def test_damaged_exr_is_refused_and_never_half_read(tmp_path, how, cut, at, value):
    path = exr(tmp_path, getattr(OpenEXR, f"{how}_COMPRESSION"))
    whole = path.read_bytes()
    with pytest.raises(BadFile):
        read_stored(put(tmp_path, "b.exr", whole[: min(cut, len(whole) - 1)]), "b.exr")
    flipped = bytearray(whole)
    flipped[at] = value
    with contextlib.suppress(MeadowError):
        assert read_stored(put(tmp_path, "c.exr", bytes(flipped)), "c.exr").samples.size <= 8193**2


def test_georeferenced_tiff_says_spacing_units_and_gaps(tmp_path):
    values = METRES.copy()
    values[5, 7:9] = -9999
    tags = [
        (33550, "d", 3, (2.5, 4.0, 0.0), True),
        (33922, "d", 6, (0.0,) * 6, True),
        (34735, "H", 12, (1, 1, 0, 2, 1024, 0, 1, 1, 1025, 0, 1, 2), True),
        (42113, "s", 0, "-9999", True),
    ]
    tifffile.imwrite(tmp_path / "a.tif", values, extratags=tags)
    stored = read_stored(tmp_path / "a.tif", "a.tif")
    placement = stored.placement
    assert placement is not None
    assert (placement.spacing_x, placement.spacing_y, placement.registration) == (2.5, 4.0, "vertex")
    assert (stored.voids, stored.nodata) == (2, -9999)
    assert np.isnan(stored.samples[5, 7])
    assert (stored.samples[6] == values[6]).all()


def test_degrees_become_metres_on_the_ellipsoid():
    # One minute of latitude at 45° is a nautical mile to within two metres; at the equator a degree east is 111.32 km.
    north, _ = metres_a_degree(45)
    assert north / 60 == pytest.approx(1852, abs=1)
    assert metres_a_degree(0)[1] == pytest.approx(111319.49, abs=0.1)


def test_heights_in_three_bytes_are_recognised(tmp_path):
    metres = hills(200, 200) / 40
    code = np.round((metres + 10000) * 10).astype(np.int64)
    rgb = np.stack([code >> 16, (code >> 8) & 255, code & 255], axis=-1).astype(np.uint8)
    stored = read_stored(put(tmp_path, "a.png", bytes(imagecodecs.png_encode(rgb))), "a.png")
    assert (stored.code, stored.guessed) == ("tenths", ("code",))
    assert np.abs(stored.samples - metres).max() <= 0.0505
    whole = np.round((metres + 32768) * 256).astype(np.int64)
    rgb = np.stack([whole >> 16, (whole >> 8) & 255, whole & 255], axis=-1).astype(np.uint8)
    told = read_stored(put(tmp_path, "b.png", bytes(imagecodecs.png_encode(rgb))), "b.png", Layout(code="metres256"))
    assert np.abs(told.samples - metres).max() <= 1 / 256


@pytest.mark.parametrize(
    ("name", "data", "values"),
    [
        ("a.bmp", bmp((HILLS >> 8).astype(np.uint8)), HILLS >> 8),
        ("a.bmp", bmp((HILLS >> 8).astype(np.uint8)[:, :41], top_down=True), (HILLS >> 8)[:, :41]),
        ("a.asc", asc(METRES), METRES),
        ("a.npy", npy(METRES.astype(np.float64)), METRES),
        ("a.npy", npy(HILLS.astype(">u2")), HILLS),
        ("a.r32", METRES.astype(">f4").tobytes(), METRES),
        ("a.r8", (HILLS[:, :40] >> 8).astype(np.uint8).tobytes(), HILLS[:, :40] >> 8),
    ],
)
def test_plain_formats_come_back(tmp_path, name, data, values):
    layout = Layout(rows=40, cols=56) if name == "a.r32" else None
    stored = read_stored(put(tmp_path, name, data), name, layout)
    assert (stored.samples.astype(values.dtype) == values).all()


def test_hgt_lies_where_its_name_says(tmp_path):
    values = np.full((1201, 1201), 100, ">i2")
    values[0, :] = np.arange(1201) - 500
    values[4, 4] = -32768
    stored = read_stored(put(tmp_path, "N54W003.hgt", values.tobytes()), "N54W003.hgt")
    placement = stored.placement
    assert placement is not None
    assert placement.spacing_y == pytest.approx(92.8, abs=0.2)
    assert placement.spacing_x == pytest.approx(53.9, abs=0.2)
    assert (stored.voids, float(stored.samples[0, 0])) == (1, -500)


def test_raw_with_a_header_signed_and_of_any_depth(tmp_path):
    signed = HILLS.astype(np.int64) - 32768
    data = b"HEAD" * 16 + signed.astype("<i2").tobytes()
    layout = Layout(rows=40, cols=56, header=64, sample="i16")
    assert (read_stored(put(tmp_path, "a.dat", data), "a.dat", layout).samples == signed).all()
    assert (40, 56) in propose_sizes(len(data), "i16", 64)
    with pytest.raises(BadFile, match="after 60 skipped"):
        read_stored(put(tmp_path, "a.dat", data), "a.dat", Layout(rows=40, cols=56, header=60, sample="i16"))


MAKERS = {"bmp": bmp((HILLS >> 8).astype(np.uint8)), "asc": asc(METRES), "npy": npy(METRES)}


@pytest.mark.parametrize("kind", MAKERS)
@settings(max_examples=120, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(at=st.integers(0, 130), value=st.integers(0, 255), keep=st.integers(0, 5000))
def test_damaged_plain_files_give_typed_errors(tmp_path, kind, at, value, keep):
    data = bytearray(MAKERS[kind])
    data[at] = value
    path = put(tmp_path, f"a.{kind}", bytes(data[: max(keep, 30)] if keep < 2500 else data))
    with contextlib.suppress(MeadowError):
        assert read_stored(path, path.name).samples.size <= 8193**2


@pytest.mark.parametrize("shared", [True, False])
def test_tiles_come_together_with_and_without_a_shared_border(tmp_path, shared):
    whole = hills(33, 49) if shared else hills(32, 48)
    less = 1 if shared else 0
    files = []
    for row in range(2):
        for col in range(3):
            part = whole[row * 16 : row * 16 + 16 + less, col * 16 : col * 16 + 16 + less]
            name = f"moor_x{col}_y{row}.png"
            files.append((name, put(tmp_path, name, png16(part))))
    assert assemble(files, tmp_path / "out") == "moor.npy"
    assert (np.load(tmp_path / "out") == whole).all()
    # A missing tile is a gap, not a guess.
    assemble(files[:-1], tmp_path / "out")
    assert np.isnan(np.load(tmp_path / "out")[-1, -1])
    with pytest.raises(BadFile, match="Two tiles"):
        assemble([*files, ("moor_x00_y0.png", files[0][1])], tmp_path / "out")
    with pytest.raises(WrongFormat, match="do not say where"):
        assemble([("a.png", files[0][1]), ("b.png", files[1][1])], tmp_path / "out")


def test_tiles_by_manifest(tmp_path):
    whole = hills(16, 32)
    a, b = put(tmp_path, "left.png", png16(whole[:, :16])), put(tmp_path, "right.png", png16(whole[:, 16:]))
    text = b'{"tiles":[{"file":"left.png","row":0,"col":0},{"file":"right.png","row":0,"col":1}],"shared_border":false}'
    manifest = put(tmp_path, "set.json", text)
    assemble([("right.png", b), ("left.png", a), ("set.json", manifest)], tmp_path / "out")
    assert (np.load(tmp_path / "out") == whole).all()
    with pytest.raises(BadFile, match="not brought in"):
        assemble([("left.png", a), ("set.json", manifest)], tmp_path / "out")
