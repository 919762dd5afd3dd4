"""Faults put into delivered files, as programs and people put them there, each somewhere and by some amount."""

from __future__ import annotations

import struct
import zlib
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import cv2
import imagecodecs
import numpy as np
import orjson
import tifffile
from PIL import Image

from tests.support.injured_parts import (
    Harm,
    Rng,
    bent,
    both,
    full_of,
    half_cropped,
    in_levels,
    in_one_channel,
    lined,
    loose,
    median,
    moved_by_one,
    quadrants,
    rotated,
    seamed,
    skipped,
    stored,
    striped,
    uneven,
    upright,
    wrapped,
)
from zigzag_meadow.core.fit.reading import opened, read_whole
from zigzag_meadow.core.fit.report import Finding
from zigzag_meadow.core.targets.note import FileNote


def some_channels(a: np.ndarray, rng: Rng) -> list[int]:
    """One channel that varies, or all of them."""
    varied = [c for c in range(a.shape[2]) if np.ptp(a[:, :, c]) > 0.05 * full_of(a)]
    if not varied:
        return []
    return varied if rng.random() < 0.5 else [int(rng.choice(varied))]


def by_values(bend: Callable[[np.ndarray, float, Rng], np.ndarray], most: int = 4) -> Harm:
    """A harm that knows no places."""

    def harm(a: np.ndarray, rng: Rng) -> np.ndarray | None:
        channels = some_channels(a, rng)
        if not channels or a.shape[2] > most:
            return None
        out = a.copy()
        # Every channel alike, as it happens when a picture is saved.
        state = rng.bit_generator.state
        for c in channels:
            rng.bit_generator.state = state
            out[:, :, c] = stored(bend(a[:, :, c].astype(np.float64), full_of(a), rng), a)
        return out

    return harm


def turned(a: np.ndarray, rng: Rng) -> np.ndarray | None:
    square = a.shape[0] == a.shape[1]
    ways = [lambda b: b[::-1], lambda b: b[:, ::-1], lambda b: b[::-1, ::-1]]
    if square:
        ways += [
            lambda b: b.swapaxes(0, 1),
            lambda b: np.rot90(b),
            lambda b: np.rot90(b, -1),
            lambda b: b[::-1, ::-1].swapaxes(0, 1),
        ]
    return ways[int(rng.integers(len(ways)))](a)


def rolled(a: np.ndarray, rng: Rng) -> np.ndarray:
    return np.roll(a, tuple(int(x) for x in rng.choice([-3, -2, -1, 1, 2, 3], 2)), (0, 1))


def pushed(a: np.ndarray, rng: Rng) -> np.ndarray:
    """Moved by whole samples, the border repeated."""
    dy, dx = (int(x) for x in rng.choice([-4, -2, -1, 0, 1, 2, 4], 2))
    dx = dx or (1 if dy == 0 else 0)
    rows, cols = a.shape[:2]
    return a[np.clip(np.arange(rows) - dy, 0, rows - 1)][:, np.clip(np.arange(cols) - dx, 0, cols - 1)]


def between(a: np.ndarray, rng: Rng) -> np.ndarray:
    """Moved by part of a sample, often by half a one."""
    half = rng.random() < 0.6
    dy, dx = (0.5 * rng.choice([-1, 0, 1], 2)) if half else rng.uniform(-1.6, 1.6, 2)
    if abs(dy) + abs(dx) < 0.2:
        dy = 0.5
    matrix = np.array([[1, 0, dx], [0, 1, dy]], np.float64)
    how = cv2.INTER_LINEAR if rng.random() < 0.6 else cv2.INTER_CUBIC
    out = cv2.warpAffine(a.astype(np.float32), matrix, a.shape[1::-1], flags=how, borderMode=cv2.BORDER_REPLICATE)
    return stored(out.reshape(a.shape), a)


def exchanged(a: np.ndarray, rng: Rng) -> np.ndarray | None:
    varied = [c for c in range(a.shape[2]) if np.ptp(a[:, :, c]) > 0.05 * full_of(a)]
    if len(varied) < 2:
        return None
    i, j = rng.choice(varied, 2, replace=False)
    out = a.copy()
    out[:, :, i], out[:, :, j] = a[:, :, j], a[:, :, i]
    return out


def doubled(a: np.ndarray, rng: Rng) -> np.ndarray | None:
    varied = [c for c in range(a.shape[2]) if np.ptp(a[:, :, c]) > 0.05 * full_of(a)]
    if len(varied) < 2:
        return None
    i, j = rng.choice(varied, 2, replace=False)
    out = a.copy()
    out[:, :, i] = a[:, :, j]
    return out


def swapped_bytes(a: np.ndarray, rng: Rng) -> np.ndarray | None:
    return a.byteswap() if a.dtype == np.uint16 else None


def signed(a: np.ndarray, rng: Rng) -> np.ndarray | None:
    return a ^ a.dtype.type(1 << (a.dtype.itemsize * 8 - 1)) if a.dtype.kind == "u" else None


def emptied(a: np.ndarray, rng: Rng) -> np.ndarray | None:
    varied = [c for c in range(a.shape[2]) if np.ptp(a[:, :, c]) > 0.05 * full_of(a)]
    if not varied:
        return None
    out = a.copy()
    out[:, :, int(rng.choice(varied))] = a.dtype.type(rng.choice([0, full_of(a)]))
    return out


def noisy(a: np.ndarray, rng: Rng) -> np.ndarray:
    size = float(rng.uniform(0.012, 0.05)) * full_of(a)
    return stored(a + rng.normal(0, size, a.shape), a)


def patched(a: np.ndarray, rng: Rng) -> np.ndarray | None:
    rows, cols = a.shape[:2]
    h, w = (int(rng.integers(max(6, n // 20), n // 3)) for n in (rows, cols))
    r, c = int(rng.integers(0, rows - h)), int(rng.integers(0, cols - w))
    out = a.copy()
    if rng.random() < 0.5:
        out[r : r + h, c : c + w] = stored(np.array(rng.uniform(0, full_of(a))), a)
    else:
        y, x = int(rng.integers(0, rows - h)), int(rng.integers(0, cols - w))
        out[r : r + h, c : c + w] = a[y : y + h, x : x + w]
    changed = np.abs(out.astype(np.float64) - a).max(axis=2) > 2 * full_of(a) / 255
    return out if changed.sum() > 12 else None


def blurred(a: np.ndarray, rng: Rng) -> np.ndarray:
    if rng.random() < 0.5:
        return stored(cv2.GaussianBlur(a.astype(np.float32), (0, 0), float(rng.uniform(0.8, 4))).reshape(a.shape), a)
    less = float(rng.uniform(1.6, 4))
    rows, cols = a.shape[:2]
    small = cv2.resize(a.astype(np.float32), (round(cols / less), round(rows / less)), interpolation=cv2.INTER_AREA)
    return stored(cv2.resize(small, (cols, rows), interpolation=cv2.INTER_LINEAR).reshape(a.shape), a)


def sharpened(a: np.ndarray, rng: Rng) -> np.ndarray:
    soft = cv2.GaussianBlur(a.astype(np.float32), (0, 0), float(rng.uniform(0.8, 2))).reshape(a.shape)
    return stored(a + float(rng.uniform(0.7, 2)) * (a - soft), a)


def eight_bits(a: np.ndarray, rng: Rng) -> np.ndarray | None:
    if a.dtype != np.uint16:
        return None
    return (a >> 8) * 257 if rng.random() < 0.5 else (a >> 8) << 8


def premultiplied(a: np.ndarray, rng: Rng) -> np.ndarray | None:
    if a.shape[2] != 4 or a.dtype.kind != "u" or np.ptp(a[:, :, 3]) < 0.1 * full_of(a):
        return None
    out = a.copy()
    out[:, :, :3] = stored(a[:, :, :3].astype(np.float64) * a[:, :, 3:] / full_of(a), a)
    return out


def cropped(a: np.ndarray, rng: Rng) -> np.ndarray:
    rows, cols = a.shape[:2]
    h, w = int(rows * rng.uniform(0.6, 0.94)), int(cols * rng.uniform(0.6, 0.94))
    r, c = int(rng.integers(0, rows - h)), int(rng.integers(0, cols - w))
    part = a[r : r + h, c : c + w].astype(np.float32)
    return stored(cv2.resize(part, (cols, rows), interpolation=cv2.INTER_LINEAR).reshape(a.shape), a)


def repeated(a: np.ndarray, rng: Rng) -> np.ndarray:
    many = int(rng.integers(2, 4))
    rows, cols = a.shape[:2]
    small = cv2.resize(a.astype(np.float32), (cols // many, rows // many), interpolation=cv2.INTER_AREA)
    tiled = np.tile(small.reshape(*small.shape[:2], -1), (many, many, 1))
    return stored(cv2.resize(tiled, (cols, rows), interpolation=cv2.INTER_NEAREST).reshape(a.shape), a)


def _srgb(v: np.ndarray, full: float, decode: bool) -> np.ndarray:
    u = v / full
    if decode:
        return np.where(u <= 0.04045, u / 12.92, ((u + 0.055) / 1.055) ** 2.4) * full
    return np.where(u <= 0.0031308, 12.92 * u, 1.055 * u ** (1 / 2.4) - 0.055) * full


def _gamma(v: np.ndarray, full: float, rng: Rng) -> np.ndarray:
    way = int(rng.integers(4))
    if way < 2:
        return _srgb(v, full, way == 1)
    return (v / full) ** float(rng.choice([1 / 2.2, 2.2, 1.8, 0.7, 1.4])) * full


_halves = by_values(lambda v, f, r: (v > f * r.uniform(0.3, 0.6)) * f)


def in_black_and_white(a: np.ndarray, rng: Rng) -> np.ndarray | None:
    """None where all lies on one side: that is one value everywhere, and called so."""
    out = _halves(a, rng)
    return None if out is None or np.ptp(out, axis=(0, 1)).min() == 0 else out


NARROWED = {
    "blurred": {"blurred", "median", "warped", "shifted", "stretched"},
    "sharpened": {"sharpened", "stitched", "curve", "gamma", "threshold"},
    "noise": {"noise", "sharpened"},
}
"""What a sentence leaves open that says it can be told apart only with the project, by the kind it goes by."""


@dataclass(frozen=True)
class Injury:
    """``harm``: of the samples as they are stored; None where it does not apply. ``kinds``: right names."""

    name: str
    kinds: frozenset[str]
    harm: Harm
    floats: bool = True
    whole: bool = True
    """Whether it is done to whole numbers, too."""
    always: bool = False

    def takes(self, a: np.ndarray) -> bool:
        """Whether it is done to numbers of such a kind."""
        return self.floats if a.dtype.kind == "f" else self.whole

    def is_named_by(self, found: Finding) -> bool:
        """Whether a finding says it, or that it is just as likely."""
        return not self.kinds.isdisjoint((found.kind, found.numbers.get("also")))

    def is_wrong_in(self, found: Finding) -> bool:
        """Whether a finding says what it is not: neither named, nor changed by nobody knows what, nor narrowed down."""
        open_still = NARROWED.get(found.kind, set()) if "can be told apart" in found.message else set()
        return not self.is_named_by(found) and found.kind != "changed" and self.kinds.isdisjoint(open_still)


def _of(name: str, kinds: str, harm: Harm, **more: Any) -> Injury:
    return Injury(name, frozenset(kinds.split()), harm, **more)


INJURIES = (
    _of("turned", "orientation", turned),
    _of("rolled", "shifted", rolled),
    _of("pushed", "shifted", pushed),
    _of("between samples", "shifted", between),
    _of("gamma", "gamma", by_values(_gamma), floats=False),
    _of("channels exchanged", "channels", exchanged),
    _of("a channel doubled", "channels", doubled),
    _of("byte order", "byte-order", swapped_bytes),
    _of("signed", "signedness", signed),
    _of("a channel emptied", "constant alpha-lost", emptied),
    _of("noise", "noise", noisy, floats=False),
    _of("scaled", "scaled", by_values(lambda v, f, r: v * r.uniform(0.5, 0.97))),
    _of("a hundredth more", "scaled", by_values(lambda v, f, r: v * 1.01)),
    _of("raised", "scaled", by_values(lambda v, f, r: v + f * r.uniform(0.01, 0.1))),
    _of("wrong low and high", "scaled", by_values(lambda v, f, r: v * r.uniform(0.7, 0.9) + f * r.uniform(0.02, 0.1))),
    _of("a patch", "patched", patched, always=True),
    _of("blur", "blurred", blurred),
    _of("ringing", "sharpened", sharpened),
    _of("eight bits", "depth", eight_bits),
    _of("premultiplied", "premultiplied", premultiplied),
    _of("turned over", "turned-over", by_values(lambda v, f, r: f - v), floats=False),
    _of("a line missing or doubled", "seam", skipped),
    _of("a line across", "seam", lined, always=True),
    _of("a line at the border", "border", wrapped, always=True),
    _of("cropped and stretched", "stretched", cropped),
    _of("repeats", "extent", repeated),
    _of("one channel moved", "shifted", in_one_channel(moved_by_one)),
    _of("one channel turned", "orientation", in_one_channel(turned)),
    _of("channels rotated", "channels", rotated),
    _of("few levels", "levels depth", by_values(in_levels), floats=False),
    _of("black and white", "threshold", in_black_and_white, floats=False),
    _of("parts exchanged", "parts", quadrants),
    _of("stripes", "stripes", striped),
    _of("a median", "median", median),
    _of("tiles of other levels", "stitched", uneven),
    _of("tiles off their places", "stitched", loose),
    _of("seams between tiles", "stitched", seamed, always=True),
    _of("bent", "warped", bent),
    _of("half a sample at the borders", "stretched", half_cropped),
    _of("a curve", "curve", by_values(lambda v, f, r: f * (u := v / f) * u * (3 - 2 * u)), floats=False),
    _of("another unit", "scaled", by_values(lambda v, f, r: v * r.choice([0.01, 0.3048, 3.28084, -1])), whole=False),
)
TWO = (
    _of("flipped and bent", "orientation+gamma", both(upright, by_values(_gamma)), floats=False),
    _of("mirrored and scaled", "orientation+scaled", both(upright, by_values(lambda v, f, r: v * r.uniform(0.6, 0.9)))),
    _of("turned and eight bits", "orientation+depth", both(upright, eight_bits)),
)


def read(folder: Path, file: FileNote) -> np.ndarray:
    with opened(folder, file) as source:
        return read_whole(source)


def write(folder: Path, file: FileNote, a: np.ndarray) -> None:
    """In the file's own format, with the tags that it had."""
    path = folder / file.file
    a = np.ascontiguousarray(a)
    plain = a[:, :, 0] if a.shape[2] == 1 else a
    if file.reads == "png":
        data = bytes(imagecodecs.png_encode(plain))
        if file.tagged:
            part = b"sRGB\0"
            data = data[:33] + struct.pack(">I", 1) + part + struct.pack(">I", zlib.crc32(part)) + data[33:]
        path.write_bytes(data)
    elif file.reads == "tiff":
        with Image.open(path) as image:
            profile = image.info.get("icc_profile")
        tifffile.imwrite(path, plain, photometric="rgb" if a.shape[2] >= 3 else "minisblack", iccprofile=profile)
    elif file.reads == "raw":
        path.write_bytes(a.astype(a.dtype.newbyteorder(">" if file.byte_order == "big" else "<")).tobytes())
    elif file.reads in ("bmp", "tga"):
        Image.fromarray(plain).save(path)
    elif file.reads == "exr":
        _exr(path, a, file.bits)
    else:
        raise ValueError(file.reads)


def _exr(path: Path, a: np.ndarray, bits: int) -> None:
    import Imath
    import OpenEXR

    names = {1: "Y", 3: "RGB", 4: "RGBA"}[a.shape[2]]
    header = OpenEXR.Header(a.shape[1], a.shape[0])
    kind = Imath.PixelType(Imath.PixelType.HALF if bits == 16 else Imath.PixelType.FLOAT)
    header["channels"] = {name: Imath.Channel(kind) for name in names}
    dtype = np.float16 if bits == 16 else np.float32
    out = OpenEXR.OutputFile(str(path), header)
    out.writePixels({name: np.ascontiguousarray(a[:, :, k].astype(dtype)).tobytes() for k, name in enumerate(names)})
    out.close()


def counts(before: np.ndarray, after: np.ndarray, always: bool) -> bool:
    """Whether enough of the samples changed for anybody to mind."""
    step = 1.0 if before.dtype.kind == "u" else full_of(before) / 65535
    changed = np.abs(after.astype(np.float64) - before).max(axis=2) > 2 * step
    return bool(changed.any()) if always else float(changed.mean()) > 0.01


def alter_note(out: Path, change: Callable[[dict[str, Any]], None]) -> None:
    path = out / "import_note.json"
    note = orjson.loads(path.read_bytes())
    change(note)
    path.write_bytes(orjson.dumps(note, option=orjson.OPT_INDENT_2))
