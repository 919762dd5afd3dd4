"""What is said of the test ground, its maps, and files that were delivered: kept in ``tests/samples/kept_words.json``.

Who says something otherwise on purpose keeps it with ``python -m tests.support.kept_words``.
"""

from __future__ import annotations

import json
import re
import tempfile
from collections.abc import Callable
from dataclasses import asdict, is_dataclass
from pathlib import Path
from typing import Any

import django
import imagecodecs
import numpy as np
import pytest

from tests.core.test_files_as_they_come import CASES
from tests.core.test_targets import ALL, aimed
from tests.support.delivery import checked, made
from tests.support.ground import band, document, evaluation, lay
from tests.support.injuries import INJURIES, counts, read, write
from tests.support.kept_values import keep
from tests.support.painting import painted, painted_document
from tests.support.recipes import EVERY, FEATURES, evaluated, recipe
from tests.support.wrong_files import WRONG
from zigzag_meadow.core.delivery.cautions import cautions, target_change
from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.fit.typed import Typed, typed_numbers
from zigzag_meadow.core.ground.diagnose import inspect_file
from zigzag_meadow.core.map_name import ReadingName, map_name
from zigzag_meadow.core.packing.apart import apart
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.model.uses import uses
from zigzag_meadow.core.project.travel.from_elsewhere import lying, size_remark, title_from
from zigzag_meadow.core.project.travel.geojson import features_as_geojson
from zigzag_meadow.core.project.travel.kit import Heights, kit_of, rescaled
from zigzag_meadow.core.project.travel.own_kits import OWN_KITS
from zigzag_meadow.core.project.travel.recipe_text import lines_as_text
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.readings.uses import Band
from zigzag_meadow.core.reports.fitting import fitted
from zigzag_meadow.core.reports.ground_report import ground_report
from zigzag_meadow.core.reports.layer_report import layer_report, why_here
from zigzag_meadow.core.reports.mask_report import bands_of, together
from zigzag_meadow.core.reports.pointed import proposals
from zigzag_meadow.core.reports.profile import profile_line
from zigzag_meadow.core.reports.seen_map import seen_map
from zigzag_meadow.core.reports.stats import map_stats
from zigzag_meadow.core.reports.traced import traced
from zigzag_meadow.core.reports.verdict import verdict
from zigzag_meadow.core.reports.why_mask import why_mask
from zigzag_meadow.core.targets.catalogue import built_in
from zigzag_meadow.core.targets.sizes import size_pairs
from zigzag_meadow.demo import lantern_moor, skerry_sound

KEPT = Path(__file__).parents[1] / "samples" / "kept_words.json"
_NUMBER = re.compile(r"\d+(?:\.\d+)?(?:e[+-]?\d+)?")
_OWN = ("sha256", "key", "checksum", "made", "version", "preview", "picture")
"""Fields that tell nothing of what is said."""


def plain(thing: Any) -> Any:
    """As JSON holds it, numbers with five digits."""
    if is_dataclass(thing) and not isinstance(thing, type):
        thing = asdict(thing)
    if hasattr(thing, "model_dump"):
        thing = thing.model_dump(mode="json")
    if isinstance(thing, dict):
        return {str(key): plain(value) for key, value in thing.items() if key not in _OWN}
    if isinstance(thing, np.ndarray):
        thing = thing[:: max(len(thing) // 12, 1)].tolist()
    if isinstance(thing, list | tuple | set | frozenset):
        return [plain(item) for item in thing]
    if isinstance(thing, int | str) or thing is None:
        return thing
    return float(f"{float(thing):.5g}")


def same(now: Any, then: Any, where: str = "") -> list[str]:
    """Where two things that are told differ: other words or counts, or measures by more than a five hundredth."""
    if isinstance(now, dict) and isinstance(then, dict) and now.keys() == then.keys():
        return [text for key in now for text in same(now[key], then[key], f"{where}.{key}")]
    if isinstance(now, list) and isinstance(then, list) and len(now) == len(then) and not where.endswith(".counts"):
        return [text for at, pair in enumerate(zip(now, then, strict=True)) for text in same(*pair, f"{where}.{at}")]
    alike = now == then
    if isinstance(now, str) and isinstance(then, str):
        alike = _NUMBER.sub("#", now) == _NUMBER.sub("#", then)
        now_numbers, then_numbers = ([float(v) for v in _NUMBER.findall(text)] for text in (now, then))
        alike = alike and now_numbers == pytest.approx(then_numbers, rel=0.01, abs=1e-6)
    elif where.endswith(".counts"):
        alike = now == pytest.approx(then, rel=2e-3, abs=2)
    elif isinstance(now, float) and isinstance(then, int | float):
        alike = now == pytest.approx(then, rel=2e-3, abs=1e-6, nan_ok=True)
    return [] if alike else [f"{where}: {now!r}, not {then!r}"]


def reports(folder: Path) -> dict[str, Any]:
    """Bands that are proposed, what a ground's maps hold, and why places are what they are."""
    told: dict[str, Any] = {}
    _, ev = evaluation(folder, document(features=FEATURES))
    before = Band(**band("slope", 18, 34, fade_low=4, fade_high=6))
    turned = Band(**band("aspect", 300, 60, fade_low=10, fade_high=10))
    for kind in READINGS:
        if kind.ready:
            name = ReadingName(kind.name)
            told[f"fitted {kind.name}"] = [fitted(ev, name), fitted(ev, name, before), fitted(ev, name, turned)]
            told[f"numbers of {kind.name}"] = map_stats(seen_map(ev, name))
    told["numbers of masks"] = [map_stats(seen_map(ev, map_name(name))) for name in ("mask:steep", "weight:rock")]
    told["why"] = [why_mask(ev, "steep", row, col) for row, col in ((3, 5), (40, 90), (80, 20), (126, 126), (63, 64))]
    told["verdicts"] = [verdict(ev, mask) for mask in ("steep", "wet")]
    told["together"] = together(ev, ["steep", "wet"])
    told["profile"] = profile_line(ev, map_name("reading:slope"), (3, 7), (90, 118))
    told["traced"] = [np.array(traced(ev, way, (240, 250), 300)[0]) for way in ("contour", "flow")]
    inside, outside = [(60.0, 60.0), (200.0, 90.0), (410.0, 300.0)], [(320.0, 320.0), (500.0, 80.0)]
    told["proposed"] = proposals(ev, inside, outside)
    cut = next(line for line in EVERY if line["verb"] == "cut")
    told["bands"] = [bands_of(evaluated(folder, recipe({**cut, "how": how})), "made") for how in ("even", "quantiles")]
    (folder / "painted").mkdir()
    _, layered = painted(folder / "painted", painted_document())
    told["layers"] = layer_report(layered)
    told["why here"] = [why_here(layered, row, col) for row, col in ((3, 5), (40, 90), (80, 20))]
    return told


def grounds(folder: Path) -> dict[str, Any]:
    """What is said of a ground, and of the same one with a mistake in it."""
    _, ev = evaluation(folder, document())
    z = np.array(ev.map("reading:height"))
    rng = np.random.default_rng(4)
    spiked, gappy, seam = z.copy(), z.copy(), z.copy()
    spiked[30:32, 50], spiked[0] = 900.0, spiked[0] + 25
    gappy[40:52, 20:44] = np.nan
    seam[:, 64:] += 12
    harmed = {
        "as it is": z,
        "stairs": np.floor(z / 8) * 8,
        "clipped": np.clip(z, 60, 220),
        "spikes": spiked,
        "gaps": gappy,
        "a seam": seam,
        "noise": z + rng.normal(0, 4, z.shape).astype(np.float32),
        "flat": np.full_like(z, 7.0),
        "high": z + 1e5,
    }
    told = {}
    for name, heights in harmed.items():
        _, made_ev = evaluation(folder, document())
        lay(made_ev, made_ev.graph.stage().ground, heights.astype(np.float32))
        told[name] = ground_report(made_ev)
    return told


def notes(folder: Path) -> dict[str, Any]:
    """The import note of every target, as numbers and as text."""
    told: dict[str, Any] = {}
    for target in ALL:
        (folder / target).mkdir()
        out = made(folder / target, aimed(target))[1]
        told[target] = [json.loads((out / "import_note.json").read_text()), (out / "import_note.txt").read_text()]
    return told


def findings(folder: Path) -> dict[str, Any]:
    """What a fit check says of every kind of fault in the first file that can have it, and of how much it explains."""
    ev, out = made(folder, document())
    files = [file for file in Rehearsal(out).note.images if file.kind != "classes"]
    told: dict[str, Any] = {}
    for injury in INJURIES:
        for file in files:
            rng, before = np.random.default_rng(7), read(out, file)
            harmed = injury.harm(before, rng) if injury.takes(before) else None
            if harmed is None or harmed.shape != before.shape or not counts(before, harmed, injury.always):
                continue
            kept = (out / file.file).read_bytes()
            write(out, file, harmed)
            told[injury.name] = next(item for item in checked(ev, out).findings if item.file == file.file)
            (out / file.file).write_bytes(kept)
            break
    return told


LIES: dict[str, Callable[[float, float, float], tuple[float, float, float]]] = {
    "as it is": lambda u, v, h: (u, v, h),
    "flipped": lambda u, v, h: (u, 1 - v, h),
    "mirrored": lambda u, v, h: (1 - u, v, h),
    "half a turn": lambda u, v, h: (1 - u, 1 - v, h),
    "transposed": lambda u, v, h: (1 - v, 1 - u, h),
    "a quarter": lambda u, v, h: (v, 1 - u, h),
    "another quarter": lambda u, v, h: (1 - v, u, h),
    "the other diagonal": lambda u, v, h: (v, u, h),
    "raised": lambda u, v, h: (u, v, h + 7),
    "within what is read": lambda u, v, h: (u, v, h + 0.04),
    "steeper": lambda u, v, h: (u, v, h * 1.2),
    "wider": lambda u, v, h: (u * 1.3, v * 1.3, h),
    "moved": lambda u, v, h: (u + 0.1, v - 0.05, h),
    "nothing": lambda u, v, h: (u, v, 400 * u - 90 * v),
}
"""Where, and how high, a place of the files is read off: shares east and north, metres."""


def checked_heights(out: Path) -> np.ndarray:
    """Heights of a delivery as its note says that they are stored, metres."""
    note = Rehearsal(out).note
    file = next(item for item in note.images if item.kind == "height")
    stored = file.stored
    values = read(out, file)[:, :, 0].astype(np.float64)
    if stored.base_step is None:
        return stored.at_zero + (stored.at_full - stored.at_zero) * values / stored.full
    return stored.at_middle + (values - stored.middle) * stored.base_step * stored.multiplier


def typed(folder: Path) -> dict[str, Any]:
    """What a check says of each number that was mistyped there, and of heights that were read off elsewhere."""
    told: dict[str, Any] = {}
    for target in ("block-grid", "rgb-over-base", "raw-pair"):
        (folder / target).mkdir()
        out = made(folder / target, aimed(target))[1]
        note = Rehearsal(out).note
        for number in typed_numbers(note):
            wrong = Typed(numbers={number.name: number.value * 1.03 + 2})
            told[f"{target} {number.name}"] = [item for item in check_delivery(out, typed=wrong).findings if item.typed]
        heights, extent = checked_heights(out), note.ground.extent
        rows, cols = heights.shape
        for name, lie in LIES.items():
            points = []
            for row, col in ((0.2, 0.1), (0.45, 0.8), (0.9, 0.35), (0.65, 0.55)):
                at = round(row * (rows - 1)), round(col * (cols - 1))
                u, v = at[1] / (cols - 1), 1 - at[0] / (rows - 1)
                if note.ground.registration == "area":
                    u, v = (at[1] + 0.5) / cols, 1 - (at[0] + 0.5) / rows
                u, v, height = lie(u, v, float(heights[at]))
                to = {"east": extent.west + u * extent.width, "north": extent.south + v * extent.length}
                points.append({**to, "height": height})
            found = check_delivery(out, typed=Typed(points=tuple(points))).findings
            told[f"{target} {name}"] = [item for item in found if item.typed]
    return told


def files(folder: Path) -> dict[str, Any]:
    """What is said of files as they come: of heightmaps, of what is none, and of pictures taken apart."""
    told: dict[str, Any] = {}
    for name, (data, _, _) in CASES.items():
        (folder / name).write_bytes(data)
        told[name] = inspect_file(folder / name)
    for name, (file, data, _, _) in WRONG.items():
        (folder / file).write_bytes(data)
        with pytest.raises(MeadowError) as refused:
            inspect_file(folder / file)
        told[name] = refused.value.message
    y, x = np.mgrid[0:30, 0:40]
    planes = [x * 6, y * 8, np.full_like(x, 60), np.where(x > 30, 0, 255)]
    for count in (1, 2, 3, 4):
        for bits, kind in ((8, np.uint8), (16, np.uint16)):
            pixels = np.stack(planes[:count], axis=2).astype(kind) * (1 if bits == 8 else 257)
            (folder / "a.png").write_bytes(imagecodecs.png_encode(pixels if count > 1 else pixels[:, :, 0]))
            told[f"{count} channels of {bits} bits"] = apart(folder / "a.png", "a.png")
    return told


def documents(folder: Path) -> dict[str, Any]:
    """What is said of a project: its recipes as text, its kit on other grounds, its sizes, cautions and uses."""
    told: dict[str, Any] = {}
    project = parse_project(recipe(*EVERY))
    told["text"] = [lines_as_text(project, mask.lines) for mask in project.masks]
    told["uses"] = uses(project)
    heights = Heights(low=20, high=320, water=40)
    told["kit"] = kit_of(project, "K", "", heights, ["made", "wet"], ["worn"])
    told["kit elsewhere"] = rescaled(told["kit"][0], Heights(low=-40, high=1500))
    home = project.ground.home
    for target in built_in():
        told[f"sizes of {target.id}"] = size_pairs(target.sizes, home)
        told[f"change to {target.id}"] = target_change(project, target.id)
    told["cautions"] = cautions(project)
    told["as geojson"] = json.loads(features_as_geojson(project.features, home.length))
    told["remarks"] = [size_remark(home, home, *size) for size in ((127, 127), (254, 254), (126, 126), (100, 180))]
    told["lying"] = [lying(home, rows, rows, samples) for rows in (127, 126) for samples in ("border", "cells")]
    told["demo"] = [lantern_moor(), skerry_sound(), list(OWN_KITS.values())]
    told["titles"] = [title_from(name) for name in ("north_moor_04-height.png", "A.B.tif", "__x.raw", "mask wet 2.png")]
    return told


_LIMITS = (
    "minimum",
    "maximum",
    "exclusiveMinimum",
    "exclusiveMaximum",
    "minLength",
    "maxLength",
    "maxItems",
    "pattern",
)


def limits(_: Path) -> dict[str, Any]:
    """What may be sent to the application, field by field."""
    from zigzag_meadow.server.api import api  # only once the server's settings are there

    told: dict[str, Any] = {}

    def look(part: Any, where: str) -> None:
        if isinstance(part, list):
            for at, item in enumerate(part):
                look(item, f"{where}.{item['name'] if isinstance(item, dict) and 'name' in item else at}")
        elif isinstance(part, dict):
            own = {name: part[name] for name in _LIMITS if isinstance(part.get(name), int | float | str)}
            if own:
                told[where] = own
            for key, value in part.items():
                look(value, f"{where}.{key}")

    schema = api.get_openapi_schema()
    for path, methods in schema["paths"].items():
        for method, way in methods.items():
            told[f"{method} {path}"] = sorted(int(status) for status in way["responses"])
    look({"paths": schema["paths"], **schema["components"]["schemas"]}, "")
    return told


GROUPS: dict[str, Callable[[Path], dict[str, Any]]] = {
    "reports": reports,
    "grounds": grounds,
    "notes": notes,
    "findings": findings,
    "typed": typed,
    "files": files,
    "documents": documents,
    "limits": limits,
}

if __name__ == "__main__":
    django.setup()
    found = {}
    for name, make in GROUPS.items():
        with tempfile.TemporaryDirectory() as folder:
            found[name] = plain(make(Path(folder)))
    keep(KEPT, found)
