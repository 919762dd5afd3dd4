"""The command line, as scripts call it."""

from __future__ import annotations

import hashlib
import json
from pathlib import Path

import imagecodecs
import numpy as np
import OpenEXR
import pytest
from PIL import Image
from typer.testing import CliRunner

from tests.support.ground import document, hills, png16
from tests.support.painting import every_coat
from zigzag_meadow.cli import COMMANDS, load
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.model.kinds import coats_table, lines_table, steps_table
from zigzag_meadow.core.project.travel.archive import write_archive
from zigzag_meadow.core.readings.table import readings_table
from zigzag_meadow.core.targets.catalogue import built_in
from zigzag_meadow.core.targets.editing import targets_table

RUN = CliRunner()
ROOT = Path(__file__).parents[2]


def call(*arguments, code=0):
    result = RUN.invoke(load(), [str(a) for a in arguments])
    assert result.exit_code == code, result.output
    return json.loads(result.stdout) if "--json" in arguments else result.output


@pytest.fixture(scope="module")
def demos(tmp_path_factory):
    folder = tmp_path_factory.mktemp("demos")
    call("demo", "--out", folder)
    return folder


def test_demo_to_fit(demos, tmp_path):
    project = demos / "skerry_sound.meadow.zip"
    done = call("deliver", project, "--target", "plain-files", "--out", tmp_path / "out", "--size", 505, "--json")
    assert "import_note.json" in done["files"]
    assert call("fit", tmp_path / "out", "--project", project, "--json")["fits"] is True
    (tmp_path / "out" / "skerry_sound_splat_a.png").unlink()
    report = call("fit", tmp_path / "out", "--json", code=1)
    assert report["findings"][0]["kind"] == "missing-file"
    assert {"kind", "severity", "file", "message", "fix", "title", "share", "place"} <= set(report["findings"][0])
    (tmp_path / "typed.json").write_text('{"numbers": {"spacing_x": 5}}')
    page = tmp_path / "fit.html"
    report = call("fit", tmp_path / "out", "--typed", tmp_path / "typed.json", "--page", page, "--json", code=1)
    assert "typed-spacing" in {item["kind"] for item in report["findings"]}
    assert "skerry_sound_splat_a.png is missing" in page.read_text()
    slope = tmp_path / "slope.tif"
    call("map", project, "reading:slope", "--out", slope, "--size", 505)
    height = tmp_path / "out" / "skerry_sound_height.png"
    found = call("align", height, slope, "--json")
    assert (found["orientation"], found["belong"]) == ("plain", True)
    call("align", height, tmp_path / "typed.json", code=2)
    call("fit", tmp_path, code=2)
    # Into a delivery of ours again; somebody else's files stay what they are, unless it is said otherwise.
    again = call("deliver", project, "--out", tmp_path / "out", "--json")
    assert "skerry_sound_splat_a.png" in again["files"]
    (tmp_path / "out" / "mine.txt").write_text("x")
    (tmp_path / "out" / "manifest.json").write_text("{}")
    call("deliver", project, "--out", tmp_path / "out", code=2)
    assert (tmp_path / "out" / "manifest.json").read_text() == "{}"
    call("deliver", project, "--out", tmp_path / "out", "--overwrite")
    assert (tmp_path / "out" / "mine.txt").read_text() == "x"
    assert (tmp_path / "out" / "skerry_sound_height.png").is_file()
    call("deliver", project, "--out", tmp_path / "other", "--target", "moon", code=2)
    call("deliver", project, "--out", tmp_path / "other", "--target", "block-grid", "--size", 500, code=2)


def test_help_tells_of_every_command_what_its_own_help_says():
    """The overview loads no command; what it says of each is held to the first sentence of its help."""
    registered = {
        item.name or item.callback.__name__: item.callback.__doc__ or "" for item in load().registered_commands
    }
    assert {name: says for name, (_, says) in COMMANDS.items()} == {
        name: " ".join(doc.split()).partition(". ")[0].rstrip(".") + "." for name, doc in registered.items()
    }
    for name, (module, _) in COMMANDS.items():
        assert load(name).registered_commands
        assert (ROOT / "src" / "zigzag_meadow" / f"{module}.py").is_file()


def test_maps_by_name(demos, tmp_path):
    project = demos / "lantern_moor.meadow.zip"
    made = call("map", project, "mask:Scree", "--out", tmp_path / "s.npy", "--size", 505, "--json")
    values = np.load(tmp_path / "s.npy")
    assert values.shape == (505, 505)
    assert made["mean"] == pytest.approx(float(values.mean()), abs=1e-6)
    assert 0.1 < made["mean"] < 0.3
    for name in ("band:Flow bands:4", "scatter:Stones", "mask:Old track"):
        made = call("map", project, name, "--out", tmp_path / "m.npy", "--json")
        assert 0 < made["mean"] < 0.3
    assert "There are: Scree" in RUN.invoke(load(), ["map", str(project), "mask:Ice", "--out", "x.png"]).stderr


def test_a_colour_map_is_dithered_only_where_that_is_asked_for(tmp_path):
    project = tmp_path / "small.meadow.zip"
    (tmp_path / "hills.png").write_bytes(png16(hills(127, 127)))
    asset = hashlib.sha256((tmp_path / "hills.png").read_bytes()).hexdigest()
    data = document(coats=[coat for coat in every_coat() if coat["kind"] == "ramp"])
    write_archive(
        project, parse_project({**data, "ground": {**data["ground"], "asset": asset}}), lambda _: tmp_path / "hills.png"
    )
    made = {}
    for depth in ("8", "8d", "16"):
        out = tmp_path / f"{depth}.png"
        call("map", project, "colour", "--out", out, "--size", 64, "--depth", depth)
        made[depth] = imagecodecs.png_decode(out.read_bytes()).astype(int)
    assert np.abs(made["8"] - made["16"] / 257).max() <= 0.505
    off = np.abs(made["8d"] - made["16"] / 257)
    assert 0.1 < (off > 0.505).mean() < 0.9
    assert off.max() < 1.01


@pytest.mark.parametrize(
    ("name", "more", "full"),
    [
        ("m.tif", (), 1),
        ("m.exr", (), 1),
        ("m.exr", ("--form", "exr16f"), 1),
        ("m.asc", (), 1),
        ("m.pfm", (), 1),
        ("m.bmp", (), 255),
        ("m.tga", (), 255),
        ("m.png", ("--form", "png8"), 255),
        ("m.tiff", ("--form", "tiff16"), 65535),
        ("m.ter", ("--form", "raw16"), 65535),
        ("m.tif", ("--form", "geotiff32f"), 1),
    ],
)
def test_a_map_is_written_in_whatever_a_form_holds(demos, tmp_path, name, more, full):
    """Read by others, every sample is the nearest that the form has."""
    project, out = demos / "lantern_moor.meadow.zip", tmp_path / name
    call("map", project, "mask:Scree", "--out", tmp_path / "m.npy", "--size", 253)
    call("map", project, "mask:Scree", "--out", out, "--size", 253, *more)
    meant = np.load(tmp_path / "m.npy")
    if name == "m.ter":
        found = np.fromfile(out, "<u2").reshape(253, 253)
    elif name in ("m.asc", "m.exr"):
        found = np.loadtxt(out, skiprows=6) if name == "m.asc" else OpenEXR.File(str(out)).channels()["Y"].pixels
    else:
        found = np.asarray(Image.open(out))
    assert found.shape == meant.shape
    close = 2**-11 if more[-1:] == ("exr16f",) else 0.5 / full + 1e-6 if full > 1 else 1e-7
    assert np.abs(found.astype(float) / full - meant).max() <= close


def test_inspect_and_reading(tmp_path):
    path = tmp_path / "hills.png"
    path.write_bytes(png16(hills(40, 60)))
    seen = call("inspect", path, "--json")
    assert (seen["rows"], seen["columns"], seen["depth"], seen["low"], seen["high"]) == (40, 60, "16", 0, 65535)
    assert {"levels", "findings"} <= set(seen)
    out = tmp_path / "slope.npy"
    ends = ("--low", 0, "--high", 90)
    call("reading", path, "--name", "slope", "--spacing", "5,4", "--out", out, *ends)
    assert np.load(out).max() <= 90
    call("reading", path, "--name", "glow", "--spacing", "5,4", "--out", out, code=2)
    call("reading", path, "--name", "slope", "--spacing", "wide", "--out", out, code=2)
    call("inspect", tmp_path / "none.png", code=2)
    path.write_bytes(b"")
    assert call("inspect", path, "--json", code=2)["error"] == "bad-file"


def test_the_table_of_readings_in_the_readme_is_the_catalogue():
    readme = (Path(__file__).parents[2] / "README.md").read_text("utf-8")
    assert f"<!-- readings -->\n{readings_table()}<!-- /readings -->" in readme
    assert f"<!-- lines -->\n{lines_table()}\n<!-- /lines -->" in readme
    assert f"<!-- steps -->\n{steps_table()}\n<!-- /steps -->" in readme
    assert f"<!-- targets -->\n{targets_table(built_in())}\n<!-- /targets -->" in readme
    assert f"<!-- coats -->\n{coats_table()}\n<!-- /coats -->" in readme


def test_a_reading_with_a_number_of_its_own(tmp_path):
    path = tmp_path / "hills.png"
    path.write_bytes(png16(hills(60, 60)))
    given = ["reading", str(path), "--name", "relative_height", "--spacing", "4,4", "--out", str(tmp_path / "r.npy")]
    for radius in ("8", "40"):
        run = RUN.invoke(load(), [*given, "--set", f"radius={radius}"])
        assert run.exit_code == 0, run.output
    assert RUN.invoke(load(), [*given, "--set", "radius=x"]).exit_code == 2
    assert RUN.invoke(load(), [*given, "--set", "size=4"]).exit_code == 2


@pytest.mark.parametrize(
    "arguments",
    [
        ("map", "PROJECT", "mask:Scree", "--out", "m.npy", "--size", 0),
        ("map", "PROJECT", "mask:Scree", "--out", "m.npy", "--size", 1),
        ("map", "PROJECT", "mask:Scree", "--out", "m.npy", "--size", 1_000_000),
        ("map", "PROJECT", "mask:Scree", "--out", "m.npy", "--size", -5),
        ("map", "PROJECT", "mask:Scree", "--out", "nowhere/m.npy"),
        ("map", "PROJECT", "mask:Scree", "--out", "m.jpg"),
        ("map", "PROJECT", "sheet:splat_a", "--out", "m.npy"),
        ("map", "PROJECT", "nonsense", "--out", "m.npy"),
        ("map", "PROJECT", "at:99:slope", "--out", "m.npy"),
        ("map", "PROJECT", "band:Scree:7", "--out", "m.npy"),
        ("map", "PROJECT", "mask:Scree", "--out", "m.raw"),
        ("map", "PROJECT", "mask:Scree", "--out", "m.r16", "--form", "csv"),
        ("map", "PROJECT", "mask:Scree", "--out", "m.r16", "--form", "png16"),
        ("map", "PROJECT", "mask:Scree", "--out", "m.png", "--depth", "8"),
        ("map", "PROJECT", "reading:height", "--out", "m.png"),
        ("map", "PROJECT", "colour", "--out", "c.exr", "--depth", "16"),
        ("map", "PROJECT", "colour", "--out", "c.asc"),
        ("map", "PROJECT", "strongest", "--out", "c.tif"),
        ("map", "PROJECT", "colour", "--out", "c.png", "--depth", "12"),
        ("map", "PROJECT", "colour", "--out", "c.png", "--depth", "float"),
        ("map", "PROJECT", "colour", "--out", "nowhere/c.png"),
        ("map", "PROJECT", "colour", "--out", "c.png", "--size", 3),
        ("map", "PROJECT", "surface:gloss", "--out", "c.png"),
        ("map", "PROJECT", "layers:Nobody", "--out", "c.png"),
        ("deliver", "PROJECT", "--out", "out", "--size", 0),
        ("deliver", "PROJECT", "--out", "out", "--size", 99_999_999),
        ("deliver", "PROJECT", "--out", "out", "--size", 11),
        ("deliver", "PROJECT", "--out", "FILE"),
        ("deliver", "nowhere.zip", "--out", "out"),
        ("deliver", "FILE", "--out", "out"),
        ("fit", "nowhere"),
        ("fit", "FILE"),
        ("fit", ".", "--project", "FILE"),
        ("inspect", "nowhere.png"),
        ("inspect", "."),
        ("inspect", "RAW", "--rows", 1, "--columns", 1200),
        ("inspect", "RAW", "--rows", -3),
        ("reading", "FILE", "--name", "picture", "--spacing", "2,2", "--out", "r.npy"),
        ("reading", "FILE", "--name", "slop", "--spacing", "2,2", "--out", "r.npy"),
        ("reading", "FILE", "--name", "slope", "--spacing", "0", "--out", "r.npy"),
        ("reading", "FILE", "--name", "slope", "--spacing", "nan", "--out", "r.npy"),
        ("reading", "FILE", "--name", "slope", "--spacing", "2,2", "--low", 9, "--high", 3, "--out", "r.npy"),
        ("reading", "FILE", "--name", "slope", "--spacing", "2,2", "--low", "inf", "--high", "inf", "--out", "r.npy"),
        ("reading", "FILE", "--name", "slope", "--spacing", "2,2", "--set", "width=1e9", "--out", "r.npy"),
        ("reading", "FILE", "--name", "slope", "--spacing", "2,2", "--set", "nonsense=1", "--out", "r.npy"),
        ("reading", "FILE", "--name", "noise", "--spacing", "2,2", "--set", "kind=loud", "--out", "r.npy"),
        ("demo", "--out", "FILE"),
    ],
    ids=lambda a: " ".join(str(v) for v in a)[:60],
)
def test_every_wrong_use_is_one_sentence_and_code_two(demos, tmp_path, monkeypatch, arguments):
    monkeypatch.chdir(tmp_path)
    (tmp_path / "h.png").write_bytes(png16(hills(30, 40)))
    (tmp_path / "h.r16").write_bytes(hills(30, 40).tobytes())
    named = {"RAW": tmp_path / "h.r16", "PROJECT": demos / "lantern_moor.meadow.zip", "FILE": tmp_path / "h.png"}
    result = RUN.invoke(load(), [str(named.get(a, a)) for a in arguments])
    assert result.exit_code == 2, (result.output, result.exception)
    assert isinstance(result.exception, SystemExit)
    assert "Traceback" not in result.output
    assert result.stderr.strip()
    assert not list(tmp_path.glob("out*"))


def test_colour_and_surface_maps_are_written_at_sizes_of_their_own(demos, tmp_path):
    """A power of two lies on cells, any other size on vertices; colours are tagged, data is not."""
    project = str(demos / "skerry_sound.meadow.zip")
    wanted = [
        ("colour", "a.png", "256", "RGB", (256, 126)),
        ("surface:normal", "b.png", "253", "RGB", (253, 125)),
        ("layers:Bare rock", "c.png", "128", "RGB", (128, 63)),
        ("strongest", "d.png", "101", "P", (101, 50)),
    ]
    for name, file, size, mode, shape in wanted:
        told = RUN.invoke(load(), ["map", project, name, "--out", str(tmp_path / file), "--size", size, "--json"])
        assert told.exit_code == 0, told.output
        data = json.loads(told.stdout)
        image = Image.open(tmp_path / file)
        assert (image.mode, image.size) == (mode, shape)
        assert data["registration"] == ("area" if int(size) & (int(size) - 1) == 0 else "vertex")
        assert ("srgb" in image.info) == (name.startswith(("colour", "layers")))
    assert "0 Turf, 1 Shore, 2 Bare rock" in data["written"]
    assert not list(tmp_path.glob(".*"))


def test_damaged_project_files_are_one_sentence_and_code_two(demos, tmp_path):
    """Bytes changed all over: in the directory, the entries, the packed document, the heightmap."""
    whole = (demos / "skerry_sound.meadow.zip").read_bytes()
    luck = np.random.default_rng(6)
    path = tmp_path / "p.zip"
    places = np.concatenate([luck.integers(0, len(whole), 25), np.arange(0, 60, 3), len(whole) - np.arange(1, 120, 4)])
    for at in places:
        changed = bytearray(whole)
        changed[int(at)] ^= int(luck.integers(1, 256))
        path.write_bytes(bytes(changed))
        result = RUN.invoke(
            load(), ["map", str(path), "reading:height", "--out", str(tmp_path / "m.npy"), "--size", "16"]
        )
        assert result.exit_code in (0, 2), (at, result.exception)
        if result.exit_code == 2:
            assert result.stderr.startswith("zigzag: "), (at, result.stderr)
    for cut in (0, 1, 30, len(whole) // 2, len(whole) - 1):
        path.write_bytes(whole[:cut])
        call("map", path, "reading:height", "--out", tmp_path / "m.npy", code=2)
