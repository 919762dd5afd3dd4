"""Reading heightmaps: stored depth, byte order, and every way a file can be wrong."""

from __future__ import annotations

import contextlib
from pathlib import Path

import imagecodecs
import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.support.ground import hills, png16
from tests.support.wrong_files import HILLS, WRONG, tiff
from zigzag_meadow.core.errors import BadFile, MeadowError
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.names import file_stem, safe_file_name
from zigzag_meadow.core.formats.raw import propose_sizes
from zigzag_meadow.core.formats.read import read_stored
from zigzag_meadow.core.formats.reading.png import read_png
from zigzag_meadow.core.formats.writing.png_stream import PngWriter
from zigzag_meadow.core.ground.diagnose import inspect_file


def put(folder: Path, name: str, data: bytes) -> Path:
    path = folder / name
    path.write_bytes(data)
    return path


@pytest.mark.parametrize(
    ("name", "data", "values"),
    [
        ("a.png", png16(HILLS), HILLS),
        ("a.png", bytes(imagecodecs.png_encode((HILLS >> 8).astype(np.uint8))), HILLS >> 8),
        ("a.tif", tiff(HILLS), HILLS),
        ("a.tiff", tiff(HILLS.astype(np.float32) / 7), HILLS.astype(np.float32) / 7),
        ("a.tif", tiff(HILLS.astype(">u2")), HILLS),
        ("named.raw", png16(HILLS), HILLS),
    ],
)
def test_samples_come_back_at_stored_depth(tmp_path, name, data, values):
    assert (read_stored(put(tmp_path, name, data), name).samples == values).all()


@pytest.mark.parametrize("order", ["<u2", ">u2"])
@pytest.mark.parametrize("name", ["moor.r16", "moor.raw", "moor.height", "moor"])
def test_raw_byte_order_is_guessed_and_said(tmp_path, order, name):
    square = hills(64, 64)
    stored = read_stored(put(tmp_path, name, square.astype(order).tobytes()), name)
    assert (stored.samples == square).all()
    assert stored.order_guessed
    assert stored.byte_order == ("little" if order == "<u2" else "big")
    found = inspect_file(tmp_path / name)
    assert found.findings[0].code == "byte-order-guessed"


def test_raw_sizes_are_proposed_only_where_they_fit(tmp_path):
    assert propose_sizes(526_338)[0] == (513, 513)
    assert propose_sizes(2_036_162)[0] == (1009, 1009)
    assert propose_sizes(2 * 40 * 56)[0] == (40, 56)
    assert propose_sizes(7) == []
    path = put(tmp_path, "a.raw", HILLS.tobytes())
    with pytest.raises(BadFile, match="not a square"):
        read_stored(path, "a.raw")
    assert (read_stored(path, "a.raw", Layout(rows=40, cols=56)).samples == HILLS).all()
    with pytest.raises(BadFile, match="need 4640"):
        read_stored(path, "a.raw", Layout(rows=40, cols=58))


@pytest.mark.parametrize("case", WRONG)
def test_wrong_files_are_refused_in_a_sentence(tmp_path, case):
    name, data, kind, words = WRONG[case]
    with pytest.raises(kind, match=words):
        inspect_file(put(tmp_path, name, data), name)


@settings(max_examples=150, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.sampled_from(["png", "tif"]), st.integers(0, 400), st.integers(0, 255), st.integers(0, 3000))
def test_damaged_headers_never_crash(tmp_path, kind, at, value, keep):
    data = bytearray(png16(HILLS) if kind == "png" else tiff(HILLS))
    data[min(at, len(data) - 1)] = value
    path = put(tmp_path, f"a.{kind}", bytes(data[: max(keep, 30)] if keep < 1500 else data))
    # Anything but a typed error would come through here.
    with contextlib.suppress(MeadowError):
        assert read_stored(path, path.name).samples.size <= 8193**2


@settings(max_examples=30, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.integers(1, 200), st.integers(1, 90), st.sampled_from([(1, 8), (1, 16), (3, 8), (4, 8)]), st.integers(1, 80))
def test_png_comes_back_and_does_not_depend_on_its_pieces(tmp_path, stripes, rows, cols, kind, piece):
    channels, bits = kind
    shape = (rows, cols) if channels == 1 else (rows, cols, channels)
    rng = np.random.default_rng(rows * cols)
    values = np.cumsum(rng.integers(0, 9, shape), axis=1).astype(np.uint8 if bits == 8 else np.uint16) * 23
    files = []
    for name, step in (("a.png", piece), ("b.png", rows)):
        with PngWriter(tmp_path / name, rows, cols, channels, bits, stripes) as png:
            for start in range(0, rows, step):
                png.write(values[start : start + step])
        files.append((tmp_path / name).read_bytes())
    assert files[0] == files[1]
    assert (imagecodecs.png_decode(files[0]).reshape(shape) == values).all()
    if min(rows, cols) >= 8:
        assert (read_png(tmp_path / "a.png", "a.png").reshape(shape) == values).all()


def test_names_cannot_lead_anywhere():
    assert safe_file_name("../../etc/passwd") == "passwd"
    assert safe_file_name("C:\\maps\\moor.png") == "moor.png"
    assert safe_file_name("..") == safe_file_name("\0\n") == "heightmap"
    assert safe_file_name("moor\udcff.png").endswith(".png")
    assert file_stem("Lantern Moor: Über/α") == "lantern_moor_uber"
    assert file_stem("CON") == "con_"


def test_eight_bit_heights_in_sixteen_are_noticed(tmp_path):
    found = inspect_file(put(tmp_path, "a.png", png16((HILLS >> 8) * np.uint16(257))))
    assert "few-levels" in [item.code for item in found.findings]
