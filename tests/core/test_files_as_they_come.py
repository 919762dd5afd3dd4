"""Heights as other programs save them: in equal colours, by a palette, with few bits, scaled, with a header beside."""

from __future__ import annotations

import io
import json
import struct
import zlib

import imagecodecs
import numpy as np
import pytest
import tifffile
from PIL import Image
from typer.testing import CliRunner

from tests.support.ground import hills
from zigzag_meadow.cli import load
from zigzag_meadow.core.errors import BadFile, WrongFormat
from zigzag_meadow.core.formats.header import parse_header
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.read import read_stored
from zigzag_meadow.core.ground.diagnose import inspect_file
from zigzag_meadow.core.readings.picture import check_picture, read_channel

WIDE = hills(40, 56)
GREY = (WIDE >> 8).astype(np.uint8)
RGB = np.repeat(GREY[..., None], 3, 2)
ALPHA = np.dstack([RGB, np.where(GREY > 99, 255, 7).astype(np.uint8)])
HEADER = "NROWS 40\nNCOLS 56\nNBITS 16\nPIXELTYPE SIGNEDINT\nBYTEORDER M\nSKIPBYTES 6\nNODATA -9\nXDIM 5\nYDIM 4\n"


def saved(pixels, kind, mode=None, **more) -> bytes:
    out = io.BytesIO()
    (Image.fromarray(pixels) if mode is None else Image.fromarray(pixels).convert(mode)).save(out, kind, **more)
    return out.getvalue()


def tiff(pixels, **more) -> bytes:
    out = io.BytesIO()
    tifffile.imwrite(out, pixels, **more)
    return out.getvalue()


def palette(kind: str) -> bytes:
    """Greys by a table that is not in order."""
    image = Image.fromarray((GREY ^ 0x5A).astype(np.uint8), "P")
    image.putpalette(np.repeat(np.arange(256, dtype=np.uint8) ^ 0x5A, 3).tobytes())
    out = io.BytesIO()
    image.save(out, kind)
    return out.getvalue()


def few_bits(bits: int) -> tuple[bytes, np.ndarray]:
    values = GREY >> (8 - bits)
    rows = [np.packbits(np.unpackbits(row[:, None], axis=1)[:, 8 - bits :].ravel()).tobytes() for row in values]

    def part(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = part(b"IHDR", struct.pack(">IIBBBBB", 56, 40, bits, 0, 0, 0, 0))
    body = part(b"IDAT", zlib.compress(b"".join(b"\0" + row for row in rows))) + part(b"IEND", b"")
    return b"\x89PNG\r\n\x1a\n" + head + body, (values * (255 // (2**bits - 1))).astype(np.uint8)


PLAIN = "P2\n# made by hand\n56 40\n65535\n" + "\n".join(" ".join(map(str, row)) for row in WIDE)
CASES = {
    "rgb.png": (saved(RGB, "PNG"), GREY, {"equal-channels"}),
    "rgba.png": (saved(ALPHA, "PNG"), GREY, {"equal-channels", "alpha-unused"}),
    "grey_alpha.png": (saved(ALPHA, "PNG", "LA"), GREY, {"alpha-unused"}),
    "rgb16.png": (bytes(imagecodecs.png_encode(np.repeat(WIDE[..., None], 3, 2))), WIDE, {"equal-channels"}),
    "palette.png": (palette("PNG"), GREY, {"equal-channels"}),
    "palette.bmp": (palette("BMP"), GREY, {"equal-channels"}),
    "rgb.bmp": (saved(RGB, "BMP"), GREY, {"equal-channels"}),
    "rgba.bmp": (saved(ALPHA, "BMP"), GREY, {"equal-channels"}),
    "grey.tga": (saved(GREY, "TGA"), GREY, set()),
    "packed.tga": (saved(RGB, "TGA", compression="tga_rle"), GREY, {"equal-channels"}),
    "wide.pgm": (b"P5 56 40 65535\n" + WIDE.astype(">u2").tobytes(), WIDE, set()),
    "plain.pgm": (PLAIN.encode(), WIDE, set()),
    "rgb.tif": (tiff(RGB, photometric="rgb"), GREY, {"equal-channels"}),
    "planes.tif": (
        tiff(RGB.transpose(2, 0, 1).copy(), photometric="rgb", planarconfig="separate"),
        GREY,
        {"equal-channels"},
    ),
    "palette.tif": (
        tiff(GREY, photometric="palette", colormap=np.tile(np.arange(256, dtype=np.uint16) * 257, (3, 1))),
        GREY,
        {"equal-channels"},
    ),
    "u32.tif": (tiff(WIDE.astype(np.uint32) * 50000), WIDE * 50000.0, set()),
    "i32.tif": (tiff(WIDE.astype(np.int32) - 30000), WIDE - 30000.0, set()),
}


@pytest.mark.parametrize("name", CASES)
def test_heights_saved_in_other_ways_are_read_exactly(tmp_path, name):
    data, values, codes = CASES[name]
    (tmp_path / name).write_bytes(data)
    np.testing.assert_array_equal(read_stored(tmp_path / name, name).samples, values)
    assert {item.code for item in inspect_file(tmp_path / name).findings} >= codes


@pytest.mark.parametrize("bits", [1, 2, 4])
def test_few_bits_are_read_with_a_warning_of_stairs(tmp_path, bits):
    data, values = few_bits(bits)
    (tmp_path / "a.png").write_bytes(data)
    found = inspect_file(tmp_path / "a.png")
    np.testing.assert_array_equal(read_stored(tmp_path / "a.png", "a.png").samples, values)
    assert found.depth == str(bits)
    assert "stair" in " ".join(item.message for item in found.findings)


def test_a_jpeg_is_near_and_warned_of_and_colours_are_asked_about(tmp_path):
    path = tmp_path / "a.jpg"
    path.write_bytes(saved(RGB, "JPEG", quality=95))
    found = inspect_file(path)
    assert {"lossy", "equal-channels"} <= {item.code for item in found.findings}
    assert np.abs(read_stored(path, "a.jpg").samples.astype(int) - GREY).mean() < 3
    other = RGB.copy()
    other[3, 4, 2] ^= 9
    path.write_bytes(saved(other, "PNG"))
    with pytest.raises(WrongFormat, match="say which channel") as caught:
        inspect_file(path, "a.png")
    assert caught.value.field == "channel"
    np.testing.assert_array_equal(read_stored(path, "a.png", Layout(channel="B")).samples, other[..., 2])
    with pytest.raises(WrongFormat, match="no channel A"):
        read_stored(path, "a.png", Layout(channel="A"))


def metadata(scale: str, offset: str) -> bytes:
    items = f'<Item name="SCALE" sample="0" role="scale">{scale}</Item>'
    items += f'<Item name="OFFSET" sample="0" role="offset">{offset}</Item>'
    return f"<GDALMetadata>{items}</GDALMetadata>".encode()


def test_scale_and_offset_of_a_tiff_are_applied_after_gaps_and_said(tmp_path):
    path, values = tmp_path / "a.tif", WIDE.copy()
    values[0, :5] = 7

    def written(scale: str, offset: str) -> None:
        tags = [(42112, 2, 0, metadata(scale, offset), False), (42113, 2, 0, b"7", False)]
        path.write_bytes(tiff(values, extratags=tags))

    written("0.05", "-120.5")
    stored = read_stored(path, "a.tif")
    np.testing.assert_allclose(stored.samples[1:], values[1:] * 0.05 - 120.5, rtol=1e-6)
    assert stored.voids == np.count_nonzero(values == 7)
    assert "× 0.05 + -120.5" in next(item.message for item in stored.remarks)
    for scale, offset in (("0", "1"), ("nan", "1"), ("much", "1")):
        written(scale, offset)
        with pytest.raises(BadFile, match="scale"):
            read_stored(path, "a.tif")


def test_a_header_beside_raw_heights_needs_no_typing(tmp_path):
    heights = WIDE.astype(">i2")
    (tmp_path / "moor.bil").write_bytes(b"hello!" + heights.tobytes())
    (tmp_path / "moor.hdr").write_text(HEADER)
    told = json.loads(CliRunner().invoke(load(), ["inspect", str(tmp_path / "moor.bil"), "--json"]).output)
    assert (told["rows"], told["columns"], told["byte_order"], told["header"]) == (40, 56, "big", 6)
    assert (told["placement"]["spacing_x"], told["placement"]["spacing_y"]) == (5, 4)
    (tmp_path / "moor.hdr").unlink()
    typed = ["--rows", "40", "--columns", "56", "--sample", "i16", "--byte-order", "big", "--skip", "6"]
    again = json.loads(CliRunner().invoke(load(), ["inspect", str(tmp_path / "moor.bil"), "--json", *typed]).output)
    assert (again["low"], again["high"]) == (told["low"], told["high"])
    wrong = CliRunner().invoke(load(), ["inspect", str(tmp_path / "moor.bil"), "--sample", "i64"])
    assert (wrong.exit_code, "one of u8" in wrong.output + wrong.stderr) == (2, True)


@pytest.mark.parametrize(
    ("line", "words"),
    [
        ("NROWS many", "NROWS is many"),
        ("NBITS 64", "64 bits"),
        ("BYTEORDER X", "byte order X"),
        ("NBANDS 3", "3 bands"),
    ],
)
def test_a_header_that_makes_no_sense_is_refused(line, words):
    with pytest.raises(BadFile, match=words):
        parse_header(HEADER + line, "moor.hdr")


def test_cut_and_lying_pictures_are_refused(tmp_path):
    wrong = {
        "a.pgm": b"P5 56 40 65535\n" + WIDE.astype(">u2").tobytes()[:-1],
        "b.pgm": b"P5 56 40 70000\n" + bytes(9000),
        "c.pgm": b"P2 56 40 99\n" + b"100 " * 2240,
        "d.pgm": b"P5" + b" " * 15000 + b"x",
        "e.tga": saved(GREY, "TGA")[:-400],
        "f.tga": bytes(900),
    }
    for name, data in wrong.items():
        (tmp_path / name).write_bytes(data)
        with pytest.raises(BadFile):
            read_stored(tmp_path / name, name)


def test_pictures_of_every_kind_are_known_by_their_content(tmp_path):
    path = tmp_path / "0123"
    for data in (saved(ALPHA, "TGA"), tiff(RGB, photometric="rgb"), saved(RGB, "BMP"), saved(ALPHA, "PNG")):
        path.write_bytes(data)
        assert check_picture(path, "picture")[:2] == (40, 56)
        np.testing.assert_allclose(read_channel(path, "g"), GREY / 255, atol=1e-6)
