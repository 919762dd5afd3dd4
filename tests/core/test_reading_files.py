"""Files from elsewhere: what is wrong with them is told as theirs, what is wrong with us is not; little memory."""

from __future__ import annotations

import io
import struct
import time
import zlib
from pathlib import Path

import imagecodecs
import numpy as np
import OpenEXR
import pytest
import tifffile
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.ground import hills, png16
from zigzag_meadow.core.errors import BadFile, MeadowError, TooLarge
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.limits import MOST_MEMORY, check_memory
from zigzag_meadow.core.formats.raw import guess_byte_order
from zigzag_meadow.core.formats.read import read_stored
from zigzag_meadow.core.formats.reading.decoding import decoding
from zigzag_meadow.core.ground.diagnose import inspect_file
from zigzag_meadow.core.readings.picture import check_picture, read_channel
from zigzag_meadow.server.helped_reader import HelpedReader

HILLS = hills(40, 56)


def put(folder: Path, data: bytes, name: str = "f.bin") -> Path:
    path = folder / name
    path.write_bytes(data)
    return path


# Whose fault ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("error", [TypeError, AttributeError, KeyError, IndexError, AssertionError])
def test_a_slip_of_ours_is_not_told_as_a_damaged_file(error):
    """Raised in this application's own code it comes out as it is; raised inside a library it is the file's."""
    ours = {"__name__": "zigzag_meadow.core.formats.reading.png", "error": error}
    exec("def fails():\n    raise error('x')", ours)
    with pytest.raises(error), decoding("moor.png", "PNG"):
        ours["fails"]()
    theirs = {"__name__": "tifffile.tifffile", "error": error}
    exec("def fails():\n    raise error('x')", theirs)
    with pytest.raises(BadFile, match=r"moor.tif cannot be read as TIFF"), decoding("moor.tif", "TIFF"):
        theirs["fails"]()


def test_too_little_memory_is_no_damage():
    with pytest.raises(TooLarge, match=r"needs more memory than there is"), decoding("moor.png", "PNG"):
        raise MemoryError
    with pytest.raises(BadFile, match="damaged"), decoding("moor.png", "PNG"):
        raise ValueError("bad checksum")


# Memory that a header asks for ---------------------------------------------------------------------------------


def png_of_zeros(rows: int, cols: int, bits: int, colour: int) -> bytes:
    """A valid PNG of any size in a few hundred kilobytes."""
    channels = {0: 1, 2: 3, 6: 4}[colour]
    row = bytes(1 + cols * channels * bits // 8)
    engine = zlib.compressobj(9)
    body = b"".join(engine.compress(row) for _ in range(rows)) + engine.flush()

    def part(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", cols, rows, bits, colour, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + part(b"IHDR", head) + part(b"IDAT", body) + part(b"IEND", b"")


def exr(channels: int, rows: int, cols: int, packing: int) -> bytes:
    """The header and chunk table of an OpenEXR file with many channels; its lines are empty."""

    def field(name: bytes, kind: bytes, value: bytes) -> bytes:
        return name + b"\0" + kind + b"\0" + struct.pack("<i", len(value)) + value

    listed = b"".join(f"c{k:04d}".encode() + b"\0" + struct.pack("<iIii", 2, 0, 1, 1) for k in range(channels)) + b"\0"
    box = struct.pack("<4i", 0, 0, cols - 1, rows - 1)
    head = field(b"channels", b"chlist", listed) + field(b"compression", b"compression", bytes([packing]))
    head += field(b"dataWindow", b"box2i", box) + field(b"displayWindow", b"box2i", box)
    head += field(b"lineOrder", b"lineOrder", b"\0") + field(b"pixelAspectRatio", b"float", struct.pack("<f", 1))
    head += field(b"screenWindowCenter", b"v2f", bytes(8)) + field(b"screenWindowWidth", b"float", struct.pack("<f", 1))
    table = struct.pack(f"<{rows}Q", *([len(head) + 9 + 8 * rows] * rows))
    return b"\x76\x2f\x31\x01" + struct.pack("<I", 2) + head + b"\0" + table + bytes(64)


@pytest.mark.parametrize("packing", [0, 3, 4, 9])
def test_many_channels_are_refused_by_what_their_lines_need(tmp_path, packing):
    """400 channels of 8000 samples a line: packed in blocks of lines they need gigabytes."""
    path = put(tmp_path, exr(20000, 64, 8000, packing), "many.exr")
    with pytest.raises(TooLarge, match=r"Reading many.exr would need .* GiB of memory; at most 1 GiB"):
        read_stored(path, "many.exr")


def test_a_limit_is_a_limit():
    check_memory(MOST_MEMORY, "f")
    with pytest.raises(TooLarge):
        check_memory(MOST_MEMORY + 1, "f")


def test_wide_doubles_and_deep_colours_are_refused_before_they_are_decoded(tmp_path):
    """What declares more than a gigabyte is refused from its header: in no time, and without the memory."""
    start = time.process_time()
    head = np.lib.format.header_data_from_array_1_0(np.zeros((1, 1)))
    out = io.BytesIO()
    np.lib.format.write_array_header_1_0(out, {**head, "shape": (8193, 8193)})
    with pytest.raises((TooLarge, MeadowError), match=r"GiB|cut short|damaged"):
        read_stored(put(tmp_path, out.getvalue() + bytes(4096), "wide.npy"), "wide.npy")
    rgba = png_of_zeros(16, 16, 16, 6)
    huge = rgba[:16] + struct.pack(">II", 8193, 8193) + rgba[24:29]
    huge += struct.pack(">I", zlib.crc32(huge[12:29])) + rgba[33:]
    with pytest.raises((TooLarge, BadFile)):
        check_picture(put(tmp_path, huge, "huge.png"), "huge.png")
    assert time.process_time() - start < 2


def test_one_channel_of_a_picture_is_held_not_all(tmp_path):
    pixels = np.random.default_rng(1).integers(0, 65535, (300, 200, 4), np.uint16)
    path = put(tmp_path, bytes(imagecodecs.png_encode(pixels)), "p.png")
    for k, channel in enumerate("rgba"):
        made = read_channel(path, channel)
        assert made.shape == (300, 200)
        np.testing.assert_allclose(made, pixels[..., k] / 65535, atol=1e-6)
    luma = read_channel(path, "luma")
    np.testing.assert_allclose(luma, pixels[..., :3] @ np.array([0.2126, 0.7152, 0.0722]) / 65535, atol=1e-6)


@pytest.mark.parametrize(
    "packing",
    [
        "NO_COMPRESSION",
        "RLE_COMPRESSION",
        "ZIPS_COMPRESSION",
        "ZIP_COMPRESSION",
        "PIZ_COMPRESSION",
        "PXR24_COMPRESSION",
    ],
)
def test_every_lossless_packing_of_openexr_comes_back(tmp_path, packing):
    values = (np.random.default_rng(3).random((37, 53)) * 400).astype(np.float32)
    other = np.zeros_like(values)
    path = tmp_path / "h.exr"
    head = {"compression": getattr(OpenEXR, packing), "type": OpenEXR.scanlineimage}
    OpenEXR.File(head, {"height": values, "zother": other}).write(str(path))
    stored = read_stored(path, "h.exr")
    assert stored.channel == "height"
    tolerance = 0 if packing != "PXR24_COMPRESSION" else 2e-2
    assert np.abs(stored.samples - values).max() <= tolerance


# ASCII grids ---------------------------------------------------------------------------------------------------


def asc(rows: list[str], cols: int, more: str = "") -> bytes:
    return f"ncols {cols}\nnrows {len(rows)}\ncellsize 2\n{more}".encode() + "\n".join(rows).encode()


@pytest.mark.parametrize(
    "body",
    [
        b" " * 3_000_000,
        b"\n" * 2_000_000,
        b"ncols " * 300_000,
        b"\t \r\n" * 500_000,
        b"a" * 2_000_000,
        b"ncols 9\n" * 200_000,
        b"ncols 5\nnrows 5\n" + b"1" * 2_000_000,
    ],
)
def test_no_text_keeps_the_reader_busy(tmp_path, body):
    read_stored(put(tmp_path, b"ncols 8\nnrows 8\n" + b"1 " * 64, "sound.asc"), "sound.asc")  # its kernel is there
    path = put(tmp_path, b"ncols 20\nnrows 20\n" + body, "spaces.asc")
    start = time.process_time()
    with pytest.raises(MeadowError):
        read_stored(path, "spaces.asc")
    assert time.process_time() - start < 1.5


@settings(max_examples=100)
@given(
    st.lists(
        st.one_of(
            st.floats(-1e6, 1e6, allow_subnormal=False).map(repr),
            st.floats(-9000, 9000, width=32).map("{:.3f}".format),
            st.integers(-(10**6), 10**6).map(str),
            st.floats(1e-12, 1e12).map("{:+.9E}".format),
            st.just("-0.5e-3"),
            st.just("nan"),
            st.just("+7."),
            st.just(".25"),
            st.just("00012.50"),
        ),
        min_size=64,
        max_size=64,
    ),
    st.sampled_from([" ", "  ", "\t", "\r\n", " \n"]),
)
def test_numbers_are_read_as_python_reads_them(tmp_path_factory, texts, between):
    rows = [between.join(texts[k : k + 8]) for k in range(0, 64, 8)]
    path = put(tmp_path_factory.mktemp("asc"), asc(rows, 8), "n.asc")
    expected = np.array([float(t) for t in texts]).reshape(8, 8)
    if np.isnan(expected).all():
        return
    made = read_stored(path, "n.asc").samples.astype(np.float64)
    np.testing.assert_allclose(made, expected, rtol=1e-15, atol=1e-290)


@pytest.mark.parametrize(
    "wrong", ["1e", "e5", "--3", "1.2.3", "0x10", "1,5", "+", ".", "1e+", "1e123456", "five", "1_0"]
)
def test_what_is_no_number_is_named_with_its_place(tmp_path, wrong):
    rows = ["1 2 3 4 5 6 7 8"] * 8
    rows[3] = f"1 2 {wrong} 4 5 6 7 8"
    with pytest.raises(BadFile, match="sample 27 is none"):
        read_stored(put(tmp_path, asc(rows, 8), "n.asc"), "n.asc")


@pytest.mark.parametrize("rows", [7, 9])
def test_too_few_and_too_many_numbers_are_counted(tmp_path, rows):
    text = asc(["1 2 3 4 5 6 7 8"] * 8, 8).replace(b"nrows 8", b"nrows %d" % (rows if rows > 8 else 8))
    text = text if rows > 8 else text + b"\n9"
    with pytest.raises(BadFile, match="cut short or has another size"):
        read_stored(put(tmp_path, text, "n.asc"), "n.asc")


def test_numbers_go_on_across_pieces(tmp_path):
    """Files are read four million bytes at a time: a number may lie on the seam."""
    values = np.round(np.random.default_rng(2).random((900, 900)) * 900 + 100, 3)
    rows = [" ".join(f"{v:.3f}" for v in row) for row in values]
    stored = read_stored(put(tmp_path, asc(rows, 900), "big.asc"), "big.asc")
    assert (stored.samples == values).all()
    assert stored.samples.dtype == np.float64


# Raw floats ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("share", [0.0, 0.1, 0.25, 0.6, 0.9])
@pytest.mark.parametrize("gap", [np.nan, -3.4028234663852886e38, -9999.0])
@pytest.mark.parametrize("order", ["little", "big"])
def test_floats_with_gaps_keep_their_byte_order(share, gap, order):
    z = (hills(60, 70) / 300 + 40).astype(np.float32)
    z[np.random.default_rng(4).random(z.shape) < share] = gap
    words = z if order == "little" else z.byteswap()
    found, why = guess_byte_order(words)
    assert found == order
    assert why


def test_an_unclear_byte_order_is_asked_for(tmp_path):
    """Bytes that are the same both ways round fit either: the artist is asked."""
    pairs = (hills(40, 40) >> 8).astype(np.uint16)
    path = put(tmp_path, ((pairs << 8) | pairs).astype("<u2").tobytes(), "same.r16")
    codes = {f.code: f for f in inspect_file(path, "same.r16").findings}
    assert codes["byte-order-unclear"].severity == "attention"
    clear = put(tmp_path, hills(40, 40).tobytes(), "clear.r16")
    assert "noise" in {f.code: f for f in inspect_file(clear, "clear.r16").findings}["byte-order-guessed"].message


@pytest.mark.parametrize("extreme", [1e38, -1e38, 5e6])
def test_heights_that_no_ground_has_are_a_finding(tmp_path, extreme):
    z = (HILLS / 100).astype(np.float32)
    z[3, 4] = extreme
    out = io.BytesIO()
    np.save(out, z)
    found = inspect_file(put(tmp_path, out.getvalue(), "h.npy"), "h.npy").findings
    (said,) = [f for f in found if f.code == "impossible-heights"]
    assert said.severity == "attention"
    assert "no ground does" in said.message
    z[3, 4] = 900
    out = io.BytesIO()
    np.save(out, z)
    assert "impossible-heights" not in {f.code for f in inspect_file(put(tmp_path, out.getvalue()), "h.npy").findings}


# Every header field at its extremes ----------------------------------------------------------------------------


def _bmp() -> bytes:
    head = struct.pack("<2sIHHI", b"BM", 0, 0, 0, 14 + 40 + 1024)
    head += struct.pack("<IiiHHIIiiII", 40, 56, 40, 1, 8, 0, 0, 0, 0, 256, 0)
    return head + b"".join(bytes([k, k, k, 0]) for k in range(256)) + (HILLS >> 8).astype(np.uint8).tobytes()


def _tiff() -> bytes:
    out = io.BytesIO()
    tifffile.imwrite(out, HILLS, software="", metadata=None)
    return out.getvalue()


def _npy() -> bytes:
    out = io.BytesIO()
    np.save(out, HILLS)
    return out.getvalue()


SAMPLES = {
    "png": (png16(HILLS), [(16, 4, ">"), (20, 4, ">"), (24, 1, ">"), (25, 1, ">"), (26, 1, ">"), (28, 1, ">")]),
    "bmp": (
        _bmp(),
        [
            (10, 4, "<"),
            (14, 4, "<"),
            (18, 4, "<"),
            (22, 4, "<"),
            (26, 2, "<"),
            (28, 2, "<"),
            (30, 4, "<"),
            (46, 4, "<"),
        ],
    ),
    "tif": (_tiff(), [(4, 4, "<")] + [(at, 4, "<") for at in range(8, 160, 4)]),
    "exr": (exr(2, 40, 56, 0), [(at, 4, "<") for at in range(4, 200, 4)]),
    "npy": (_npy(), [(8, 2, "<")] + [(at, 1, "<") for at in range(10, 80)]),
    "asc": (asc(["1 2 3 4 5 6 7 8"] * 8, 8), [(at, 1, "<") for at in range(40)]),
}
EXTREMES = (0, 1, 2, 7, 127, 128, 255, 256, 8192, 8193, 8194, 32767, 32768, 65535, 2**24, 2**31 - 1, 2**31, 2**32 - 1)


@pytest.mark.parametrize("kind", SAMPLES)
def test_every_header_field_at_its_extremes_is_read_or_refused(tmp_path, kind):
    """No crash, no error of ours, no time and no memory to speak of: the helper that reads them may use little."""
    data, fields = SAMPLES[kind]
    desk = HelpedReader(seconds=5, memory=64 * 2**20)
    desk.start()
    helper = desk._process
    for at, size, order in fields:
        for value in EXTREMES:
            if value >= 256**size:
                continue
            code = {1: "B", 2: "H", 4: "I"}[size]
            changed = bytearray(data)
            struct.pack_into(f"{order}{code}", changed, at, value)
            if kind == "png":
                struct.pack_into(">I", changed, 29, zlib.crc32(bytes(changed[12:29])))
            path = put(tmp_path, bytes(changed), f"f.{kind}")
            for work in (inspect_file, check_picture):
                try:
                    desk(work, path, path.name)
                except MeadowError as error:
                    refused = error.message
                    assert refused.endswith((".", "?"))
    # It read all of them: none was so much, or so long, that it had to be replaced.
    assert desk._process is helper
    desk.close()


def test_a_layout_can_say_anything(tmp_path):
    path = put(tmp_path, HILLS.tobytes(), "h.raw")
    sides = (None, -1, 0, 1, 8, 40, 56, 8193, 10**9)
    for rows in sides:
        for cols in sides:
            for header in (0, 1, 4479, 4480, 2**31):
                try:
                    stored = read_stored(path, "h.raw", Layout(rows=rows, cols=cols, header=header))
                except MeadowError:
                    continue
                assert stored.samples.size * 2 + header == 4480
