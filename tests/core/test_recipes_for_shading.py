"""The shading recipe: words, GLSL that a compiler takes, MaterialX that its own library takes."""

from __future__ import annotations

import json
import re
import shutil
import subprocess

import MaterialX as mx
import pytest

from tests.core.test_targets import ALL, aimed
from tests.support.delivery import made
from zigzag_meadow.core.targets.catalogue import target

COMPILER = "glslangValidator"


def project(target_id, **more):
    data = aimed(target_id, **more)
    data["layers"][0]["dressing"] = {"look": "sand", "size": 7.5, "turn": 30}
    data["base"] = {"name": 'Moss "a" <b> é', "colour": "#335533"}
    return data


@pytest.mark.parametrize("target_id", ALL)
def test_recipes_of_every_target_are_taken(tmp_path, target_id):
    assert shutil.which(COMPILER), "glslang-tools is missing: the set-up installs it"
    data = project(target_id)
    data["delivery"]["items"] += [{"of": "look:sand:albedo", "deliver": True}]
    _, out = made(tmp_path, data)
    words = (out / "shading_recipe.txt").read_text("utf-8")
    assert "Sand" in words
    assert "7.5 m across, turned by 30°" in words
    shader = out / "shading_recipe.glsl"
    done = subprocess.run([COMPILER, "-S", "frag", shader], capture_output=True, text=True)
    assert done.returncode == 0, done.stdout + shader.read_text()
    _check_materialx(out / "shading_recipe.mtlx")


def _check_materialx(path):
    library, document_ = mx.createDocument(), mx.createDocument()
    mx.loadLibraries(mx.getDefaultDataLibraryFolders(), mx.getDefaultDataSearchPath(), library)
    mx.readFromXmlString(document_, path.read_text("utf-8"))
    document_.setDataLibrary(library)
    good, message = document_.validate()
    assert good, message
    (material,) = document_.getMaterialNodes()
    assert material.getCategory() == "surfacematerial"


def test_sheets_in_tiles_are_read_on_the_tile_that_is_drawn(tmp_path):
    own = {**target("powers-and-one").model_dump(mode="json"), "id": "own", "title": "Own", "sizes": {"kind": "any"}}
    data = project("powers-and-one", targets=[{**own, "tiles": {"kind": "shared", "side": 65}}])
    data["delivery"] |= {"target": "own", "rows": 129, "cols": 129, "items": []}
    _, out = made(tmp_path, data)
    shader = out / "shading_recipe.glsl"
    done = subprocess.run([COMPILER, "-S", "frag", shader], capture_output=True, text=True)
    assert done.returncode == 0, done.stdout + shader.read_text()
    text = shader.read_text()
    assert text.count("on_tile(vec2(64.0, 64.0), false, true)") == 1
    assert text.count("sum += ") == 3
    note = json.loads((out / "import_note.json").read_text())
    sheet = next(file for file in note["files"] if file["kind"] == "sheet" and file["file"] in text)
    place = [float(part) for part in re.search(r"tile = vec4\(([^)]*)\)", text)[1].split(",")]
    assert place == pytest.approx([sheet["extent"][name] for name in ("west", "south", "width", "length")])
    assert "one of 4 tiles" in (out / "shading_recipe.txt").read_text("utf-8")
    _check_materialx(out / "shading_recipe.mtlx")


def test_the_shader_reads_every_weight_once_and_mixes_as_the_target_does(tmp_path):
    _, out = made(tmp_path, project("powers-and-one"))
    text = (out / "shading_recipe.glsl").read_text()
    assert text.count("sum += ") == 3
    assert "on_sheet(vec2(128.0, 128.0), false, true)" in text
    _, chained = made(tmp_path, project("equal-maps"), "chained")
    text = (chained / "shading_recipe.glsl").read_text()
    assert text.count("sum = mix(") == 2
    assert "on_sheet(vec2(256.0, 256.0), false, false)" in text


def test_sheets_may_be_called_anything(tmp_path):
    """Words of the languages, names of nodes, and names that differ by a channel's letter only."""
    data = project("plain-files")
    data["delivery"] |= {"pattern": "{map}"}
    carried = [{"kind": "weight", "layer": "rock"}, {"kind": "weight", "layer": "mud"}, {"kind": "base"}]
    for names in (("mix", "place", "left"), ("splat", "splat_r", "on_splat")):
        data["sheets"] = [
            {"id": f"s{k}", "name": name, "layout": "grey_alpha", "r": source, "a": None}
            for k, (name, source) in enumerate(zip(names, carried, strict=True))
        ]
        _, out = made(tmp_path, data, names[0])
        shader = out / "shading_recipe.glsl"
        done = subprocess.run([COMPILER, "-S", "frag", shader], capture_output=True, text=True)
        assert done.returncode == 0, done.stdout + shader.read_text()
        _check_materialx(out / "shading_recipe.mtlx")


def test_a_texture_is_turned_the_same_way_in_every_recipe(tmp_path):
    data = project("plain-files")
    data["delivery"]["items"] = [{"of": "look:sand:albedo", "deliver": True}]
    _, out = made(tmp_path, data)
    document_ = mx.createDocument()
    mx.readFromXmlString(document_, (out / "shading_recipe.mtlx").read_text("utf-8"))
    (turned,) = (node for node in document_.getNodeGraph("grounds").getNodes() if node.getCategory() == "rotate2d")
    # Its library turns (x, y) to (c·x + s·y, −s·x + c·y); the shader to (c·x − s·y, s·x + c·y).
    assert turned.getInputValue("amount") == -30
    assert ", 7.5, 30.0)" in (out / "shading_recipe.glsl").read_text()
