"""Textures: bundled ones without seams, filtering that loses no light, and what is brought in from elsewhere."""

import numpy as np
import pytest
import tifffile
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from tests.support.ground import document, evaluation
from zigzag_meadow.core.errors import BadFile, NotFound, TooLarge, WrongFormat
from zigzag_meadow.core.evaluate.texture_picture import texture_picture
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.looks.catalogue import LOOKS
from zigzag_meadow.core.looks.files import inspect_texture, kind_by_name, read_map, set_name
from zigzag_meadow.core.looks.grouping import Brought, grouped, look_of
from zigzag_meadow.core.looks.periodic import cells, clouds, strands
from zigzag_meadow.core.looks.texture import FILTERED, laid, mean_of
from zigzag_meadow.core.nodes.operation import Here
from zigzag_meadow.core.srgb import hex_of, linear
from zigzag_meadow.core.stripes import Stripes

NUMBERS = {"turn": 0.0, "shift": [0.0, 0.0], "size": 4.0, "samples": [8, 8]}
PLAIN = Grid(8, 8, 0.5, 0.5, "area")


def seam(values: np.ndarray) -> float:
    """How much neighbours differ across the border, against those inside."""
    across = np.abs(values[0] - values[-1]).mean() + np.abs(values[:, 0] - values[:, -1]).mean()
    inside = np.abs(np.diff(values, axis=0)).mean() + np.abs(np.diff(values, axis=1)).mean()
    return float(across / inside)


@pytest.mark.parametrize("look", LOOKS, ids=lambda look: look.id)
def test_bundled_textures_have_no_seam_a_whole_relief_and_the_mean_they_say(look):
    made = look.make(256)
    assert seam(made.relief) < 2.2
    assert seam(made.tone.mean(axis=2)) < 2.2
    for plane, low, high in ((made.tone, 0, 1), (made.roughness, 0, 1), (made.relief, 0, 1)):
        assert plane.dtype == np.float32
        assert low <= plane.min() <= plane.max() <= high
    assert np.ptp(made.relief) > 0.6
    assert 0.01 < look.depth < 1
    assert 1 < look.size < 20
    assert (look.make(256).tone == made.tone).all()
    # At a fourth of the samples the mean is nearly what it is at full size.
    mean = mean_of(np.clip(made.tone * 255 + 0.5, 0, 255).astype(np.uint8))
    said = np.array([int(look.mean[k : k + 2], 16) for k in (1, 3, 5)]) / 255
    assert np.abs(mean - linear(said.astype(np.float32))).max() < 0.06


def test_there_are_textures_of_every_kind_of_ground_and_their_means_are_measured():
    ids = {look.id for look in LOOKS}
    assert ids == {
        "scree",
        "gritstone",
        "peat",
        "moor_grass",
        "heather",
        "bog_moss",
        "reed",
        "sand",
        "shingle",
        "snow",
        "bare_soil",
        "water_bed",
    }
    sand = next(look for look in LOOKS if look.id == "sand")
    assert hex_of(mean_of(np.clip(sand.make(1024).tone * 255 + 0.5, 0, 255).astype(np.uint8))) == sand.mean


@pytest.mark.parametrize("n", [64, 96])
def test_patterns_go_round(n):
    for values in (clouds(n, 4, 3, 1), cells(n, 5, 2)[0], strands(n, 200, 20, 1, 1.0, 3)[0]):
        assert seam(values) < 2.2


# Filtering and laying ---------------------------------------------------------------------------------------------


def filtered(plane: np.ndarray, over: list[float]) -> np.ndarray:
    here = Here(PLAIN, PLAIN.whole, PLAIN, Stripes(1))
    return FILTERED.make(here, {"over": over}, plane)


@settings(max_examples=60)
@given(st.floats(1, 40), st.floats(1, 40), st.integers(0, 1000))
def test_filtering_keeps_the_mean_whatever_the_width(high, wide, seed):
    plane = np.random.default_rng(seed).random((16, 24, 3), np.float32).astype(np.float16)
    made = filtered(plane, [high, wide])
    assert made.mean(axis=(0, 1)) == pytest.approx(plane.astype(np.float32).mean(axis=(0, 1)), abs=1e-4)
    assert np.ptp(made) <= np.ptp(plane.astype(np.float32)) + 1e-5


def test_filtering_is_an_exact_box_in_linear_light():
    plane = np.random.default_rng(3).integers(0, 255, (12, 12, 3)).astype(np.uint8)
    made = filtered(plane, [3.0, 1.0])
    light = linear(plane.astype(np.float32) / 255)
    box = (np.roll(light, 1, 0) + light + np.roll(light, -1, 0)) / 3
    assert made == pytest.approx(box, abs=1e-6)
    half = filtered(plane, [2.5, 1.0])
    partly = (0.75 * np.roll(light, 1, 0) + light + 0.75 * np.roll(light, -1, 0)) / 2.5
    assert half == pytest.approx(partly, abs=1e-6)
    assert filtered(plane, [12.0, 12.0]).shape == (1, 1, 3)


def test_a_texture_repeats_turns_and_moves_over_the_ground():
    texture = np.zeros((8, 8, 1), np.float32)
    texture[2, 5] = 1
    ground = Grid(33, 33, 0.5, 0.5, "vertex")
    whole = laid(texture, NUMBERS, ground, ground.whole)[..., 0]
    assert whole[:8, :8] == pytest.approx(whole[8:16, 8:16], abs=1e-6)
    # Texel (2, 5) lies 1.25 m south and 2.75 m east, between four samples.
    assert np.argwhere(whole[:8, :8] > 0.2).tolist() == [[2, 5], [2, 6], [3, 5], [3, 6]]
    east = laid(texture, {**NUMBERS, "shift": [1.0, 0.0]}, ground, ground.whole)[..., 0]
    assert east[:, 2:] == pytest.approx(whole[:, :-2], abs=1e-6)
    quarter = laid(texture, {**NUMBERS, "turn": 90.0}, ground, ground.whole)[..., 0]
    # Turned clockwise, what lay east lies south.
    assert np.argwhere(quarter[:8, :8] > 0.2).tolist() != np.argwhere(whole[:8, :8] > 0.2).tolist()
    assert quarter.sum() == pytest.approx(whole.sum(), rel=0.1)
    window = Window(5, 20, 7, 30)
    assert (laid(texture, NUMBERS, ground, window)[..., 0] == whole[5:20, 7:30]).all()
    assert laid(np.full((1, 1, 3), 0.3, np.float32), NUMBERS, ground, window) == pytest.approx(0.3)


# From elsewhere ---------------------------------------------------------------------------------------------------


def noise(rows: int, cols: int, channels: int = 3) -> np.ndarray:
    smooth = np.stack([clouds(64, 4, 3, k)[:rows, :cols] for k in range(channels)], axis=2)
    return np.clip(128 + 60 * smooth, 0, 255).astype(np.uint8)


@pytest.mark.parametrize(
    ("file", "kind", "name"),
    [
        ("set/WetRock_BaseColor_2K.png", "albedo", "wet_rock"),
        ("wet-rock-nrm.png", "normal", "wet_rock"),
        ("wet rock roughness.jpg", "roughness", "wet_rock"),
        ("WetRockHeight.tif", "relief", "wet_rock"),
        ("moss/diffuse.png", "albedo", "moss"),
        ("plain.png", None, "plain"),
    ],
)
def test_kinds_and_sets_are_read_off_names(file, kind, name):
    assert kind_by_name(file) == kind
    assert set_name(file) == name


def test_kinds_are_read_off_content_where_names_say_nothing(tmp_path):
    flat = np.full((64, 64, 3), (128, 128, 255), np.uint8)
    flat[::7, ::5, 0] = 150
    for pixels, kind in ((flat, "normal"), (noise(64, 64), "albedo"), (noise(64, 64)[..., 0], "relief")):
        Image.fromarray(pixels).save(tmp_path / "x.png")
        assert inspect_texture(tmp_path / "x.png", "x.png").kind == kind


def test_what_should_be_known_of_a_texture_is_said(tmp_path):
    pixels = noise(60, 64)
    pixels[:, 32:] //= 4
    Image.fromarray(pixels).save(tmp_path / "a.png")
    told = " ".join(inspect_texture(tmp_path / "a.png", "a.png").told)
    assert "not square (64 × 60)" in told
    assert "no power of two" in told
    assert "seam" in told
    Image.fromarray(np.dstack([noise(64, 64), noise(64, 64)[..., 0]])).save(tmp_path / "b.png")
    assert "alpha is not used" in " ".join(inspect_texture(tmp_path / "b.png", "b.png").told)
    Image.fromarray(noise(64, 64)[..., 0]).save(tmp_path / "c_albedo.png")
    assert "grey" in " ".join(inspect_texture(tmp_path / "c_albedo.png", "c_albedo.png").told)
    black = np.zeros((64, 64, 3), np.uint8)
    black[:, ::2] = 255
    Image.fromarray(black).save(tmp_path / "d.png")
    # Half black, half white is 188, not 128: it is measured in light.
    assert inspect_texture(tmp_path / "d.png", "d.png").mean == "#bcbcbc"


def test_16_bit_and_odd_textures_are_read_and_broken_ones_refused(tmp_path):
    deep = noise(64, 64).astype(np.uint16) * 257
    tifffile.imwrite(tmp_path / "deep.tif", deep, photometric="rgb")
    assert read_map(tmp_path / "deep.tif", "albedo", 64, 64) == pytest.approx(deep / 65535, abs=1e-6)
    assert inspect_texture(tmp_path / "deep.tif", "deep.tif").bits == 16
    half = read_map(tmp_path / "deep.tif", "roughness", 32, 32)
    assert half.shape == (32, 32, 1)
    assert half.mean() == pytest.approx(deep.mean() / 65535, abs=1e-4)
    Image.new("CMYK", (64, 64)).save(tmp_path / "print.jpg")
    with pytest.raises(WrongFormat, match="CMYK"):
        inspect_texture(tmp_path / "print.jpg", "print.jpg")
    tifffile.imwrite(tmp_path / "print.tif", np.zeros((64, 64, 4), np.uint8), photometric="separated")
    with pytest.raises(WrongFormat, match="CMYK"):
        inspect_texture(tmp_path / "print.tif", "print.tif")
    (tmp_path / "text.png").write_text("no picture")
    with pytest.raises(WrongFormat, match="no texture"):
        inspect_texture(tmp_path / "text.png", "text.png")
    Image.fromarray(noise(64, 64)).save(tmp_path / "cut.jpg")
    data = (tmp_path / "cut.jpg").read_bytes()
    (tmp_path / "cut.jpg").write_bytes(data[:60])
    with pytest.raises(BadFile, match="damaged"):
        inspect_texture(tmp_path / "cut.jpg", "cut.jpg")
    wide = np.zeros((8, 8200), np.uint8)
    Image.fromarray(wide).save(tmp_path / "wide.jpg")
    with pytest.raises(TooLarge, match="at most 8192"):
        inspect_texture(tmp_path / "wide.jpg", "wide.jpg")


def test_sets_are_put_together_and_nothing_is_lost(tmp_path):
    files = []
    for number, name in enumerate(("Rock_albedo.png", "Rock_normal.png", "rock_Albedo_2.png", "moss_rough.png")):
        Image.fromarray(noise(64, 64)).save(tmp_path / name)
        files.append(Brought(name, f"{number:064x}", inspect_texture(tmp_path / name, name)))
    sets = {made.name: made for made in grouped(files)}
    assert set(sets) == {"rock", "rock_2", "moss"}
    rock = look_of(sets["rock"], "look-1", "Rock")
    assert rock is not None
    assert (rock.albedo, rock.normal, rock.rows) == (f"{0:064x}", f"{1:064x}", 64)
    assert look_of(sets["moss"], "look-2", "Moss") is None
    twice = grouped([files[0], files[0]])[0]
    assert twice.left == ("Rock_albedo.png",)


def test_pictures_of_looks_are_means_in_light_and_directions_of_their_relief(tmp_path):
    _, ev = evaluation(tmp_path, document())
    albedo, grid, key = texture_picture(ev, "sand", "albedo", 32)
    assert albedo.shape == (32, 32, 3)
    assert grid.width == pytest.approx(3.0)
    normal, _, other = texture_picture(ev, "sand", "normal", 64)
    assert normal[..., 2].min() > 128
    assert key != other
    with pytest.raises(NotFound, match="no longer there"):
        texture_picture(ev, "gone", "albedo", 32)
    with pytest.raises(NotFound, match="albedo or its normal"):
        texture_picture(ev, "sand", "secret", 32)
