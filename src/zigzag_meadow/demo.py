"""The demo projects: Lantern Moor and Skerry Sound, made up for trying things out."""

from __future__ import annotations

import hashlib
from pathlib import Path

from zigzag_meadow.core.colour.coats.carry import Carry
from zigzag_meadow.core.colour.coats.layers import Layers
from zigzag_meadow.core.colour.coats.ramp import Ramp, Stop
from zigzag_meadow.core.colour.coats.vary import Vary
from zigzag_meadow.core.colour.coats.water import Water
from zigzag_meadow.core.colour.coats.wear import Bleach, Soil
from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.looks.model import Dressing
from zigzag_meadow.core.masks.lines.combining import KeepWithin, LeaveOut, Take
from zigzag_meadow.core.masks.lines.cut import Cut
from zigzag_meadow.core.masks.lines.fray import Fray
from zigzag_meadow.core.masks.lines.levels import Levels
from zigzag_meadow.core.masks.lines.piece import PieceLine
from zigzag_meadow.core.masks.lines.stretch import Stretch
from zigzag_meadow.core.masks.sources import Band, FeatureUse, MaskUse, ReadingUse
from zigzag_meadow.core.project.checks.whole import check_project
from zigzag_meadow.core.project.model.delivery import Delivery
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.features import Feature, Scatter
from zigzag_meadow.core.project.model.ground import Ground
from zigzag_meadow.core.project.model.painting import BaseLayer, Layer
from zigzag_meadow.core.project.model.recipe import Mask
from zigzag_meadow.core.project.model.sheets import BaseSource, ReadingSource, Sheet, WeightSource
from zigzag_meadow.core.project.travel.archive import write_archive
from zigzag_meadow.core.project.travel.own_kits import OWN_KITS

__all__ = ["Demo", "demos", "lantern_moor", "skerry_sound", "write_demos"]

FOLDER = Path(__file__).resolve().parents[2] / "demo"
TOP = 90.0
MUCH = 1e9
TRACK = (
    (120.0, 3320.0),
    (560.0, 3010.0),
    (1010.0, 2870.0),
    (1420.0, 2480.0),
    (1890.0, 2310.0),
    (2260.0, 1900.0),
    (2740.0, 1760.0),
    (3160.0, 1380.0),
    (3620.0, 1240.0),
    (3960.0, 860.0),
)
"""An old track across the moor: metres east and south of the north-west corner."""


def _checksum(path: Path) -> str:
    if not path.is_file():
        raise NotFound(f"The demo heightmap {path.name} is missing: it lies in the folder demo of a full checkout.")
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _ground(name: str, rows: int, cols: int, low: float, high: float, spacing: float, water: float) -> Ground:
    return Ground(
        asset=_checksum(FOLDER / name),
        file_name=name,
        file_format="png",
        depth="16",
        rows=rows,
        cols=cols,
        stored_low=0,
        stored_high=65535,
        heights="range",
        low=low,
        high=high,
        spacing_x=spacing,
        spacing_y=spacing,
        water=water,
    )


def lantern_moor() -> Project:
    """Peat upland for a walking game: scree, peat, wet runs and heather over moor grass."""
    margin = Mask(
        id="margin",
        name="Water margin",
        lines=(Take(id="m1", source=Band(reading="height", low=0, high=62, fade_high=3)),),
    )
    scree = Mask(
        id="scree",
        name="Scree",
        lines=(
            Take(id="s1", source=Band(reading="slope", low=32, high=TOP, fade_low=6)),
            LeaveOut(id="s2", source=MaskUse(mask="margin")),
        ),
    )
    peat = Mask(
        id="peat",
        name="Peat",
        lines=(
            Take(id="p1", source=Band(reading="slope", low=0, high=8, fade_high=5)),
            KeepWithin(id="p2", source=Band(reading="height", low=64, high=190, fade_low=4, fade_high=60)),
        ),
    )
    wet = Mask(
        id="wet",
        name="Wet runs",
        lines=(
            Take(id="w1", source=Band(reading="flow", low=16000, high=MUCH, fade_low=2)),
            Levels(id="w2", in_low=0.1, in_high=0.9, middle=1.2),
        ),
    )
    heather = Mask(
        id="heather",
        name="Heather",
        lines=(
            Take(id="h1", source=Band(reading="height", low=150, high=460, fade_low=70)),
            LeaveOut(id="h2", source=Band(reading="slope", low=27, high=TOP, fade_low=9)),
            PieceLine(id="h3", piece="hanging", how="keep_within", strength=0.45),
        ),
    )
    reeds = Mask(
        id="reeds",
        name="Reed margin",
        lines=(
            Take(id="r1", source=Band(reading="height_over_water", low=0, high=1, fade_high=2)),
            KeepWithin(id="r2", source=Band(reading="distance_to_water", low=0, high=20, fade_high=24)),
            Fray(id="r3", reach=12, size=50, seed=4, note="Reeds never stop in a line."),
        ),
    )
    bands = Mask(
        id="bands",
        name="Flow bands",
        lines=(
            Take(id="b1", source=ReadingUse(reading="flow", black=400, white=4e8)),
            Stretch(id="b2", clip=0.01),
            Cut(id="b3", count=5),
        ),
    )
    track = Mask(
        id="track",
        name="Old track",
        lines=(
            Take(id="t1", source=FeatureUse(feature="track", width=14, fade=10)),
            Fray(id="t2", reach=5, size=30),
        ),
    )
    return Project(
        name="Lantern Moor",
        ground=_ground("lantern_moor.png", 1009, 1009, 38, 458, 4, 61),
        masks=(scree, peat, wet, heather, margin, reeds, bands, track),
        pieces=OWN_KITS["moor"].pieces,
        features=(Feature(id="track", name="Old track", kind="path", points=TRACK),),
        scatters=(
            Scatter(
                id="stones",
                name="Stones",
                mask="scree",
                keep_out=("track",),
                density=0.4,
                distance=6,
                size_low=0.6,
                size_high=3,
                size_by="reading:slope",
                deliver=False,
            ),
        ),
        base=BaseLayer(name="Moor grass", colour="#8d9a57", dressing=Dressing(look="moor_grass")),
        layers=(
            Layer(id="peat", name="Peat", mask="peat", colour="#54422f", dressing=Dressing(look="peat")),
            Layer(id="heather", name="Heather", mask="heather", colour="#8a5c7d", dressing=Dressing(look="heather")),
            Layer(id="scree", name="Scree", mask="scree", colour="#9c9a92", dressing=Dressing(look="scree", turn=20)),
            Layer(id="wet", name="Wet runs", mask="wet", colour="#3f6f6a", dressing=Dressing(look="bog_moss")),
        ),
        coats=(
            Layers(id="ground"),
            Vary(id="patches", hue=7, brightness=0.16, size=110, seed=5),
            Ramp(
                id="heights",
                mode="soft_light",
                strength=0.35,
                along=ReadingUse(reading="height", black=61, white=458),
                stops=(
                    Stop(at=0, colour="#4d4636"),
                    Stop(at=0.4, colour="#83805a"),
                    Stop(at=0.75, colour="#a09a86"),
                    Stop(at=1, colour="#c4bfb4"),
                ),
            ),
            Soil(id="soil", by=ReadingUse(reading="occlusion", black=0.04, white=0.45), strength=0.5),
            Bleach(id="edges", by=ReadingUse(reading="mean_curvature", black=0, white=0.014), strength=0.55),
            Carry(id="washed", of=MaskUse(mask="scree"), fade=220, strength=0.4),
            Water(id="water", deep=20, shore=1.5),
        ),
        sheets=(
            Sheet(
                id="splat_a",
                name="splat_a",
                proposed=True,
                layout="rgba",
                r=WeightSource(layer="scree"),
                g=WeightSource(layer="peat"),
                b=WeightSource(layer="wet"),
                a=WeightSource(layer="heather"),
            ),
            Sheet(id="splat_b", name="splat_b", proposed=True, layout="grey", r=BaseSource()),
            Sheet(
                id="data",
                name="data",
                layout="rgb",
                r=ReadingSource(reading="flow", black=16, white=2000000),
                g=ReadingSource(reading="slope", black=0, white=60),
                b=ReadingSource(reading="standing_water", black=0, white=5),
            ),
        ),
        delivery=Delivery(rows=1009, cols=1009),
    )


def skerry_sound() -> Project:
    """Islands and a drowned valley, twice as wide as long."""
    rock = Mask(
        id="rock",
        name="Bare rock",
        lines=(Take(id="r1", source=Band(reading="slope", low=30, high=TOP, fade_low=6)),),
    )
    shore = Mask(
        id="shore",
        name="Shore",
        lines=(Take(id="h1", source=Band(reading="height", low=-40, high=2, fade_high=3)),),
    )
    return Project(
        name="Skerry Sound",
        ground=_ground("skerry_sound.png", 505, 1025, -40, 180, 3, 0),
        masks=(rock, shore),
        base=BaseLayer(name="Turf", colour="#7f9457", dressing=Dressing(look="moor_grass", tint="#e8ffd8")),
        layers=(
            Layer(id="shore", name="Shore", mask="shore", colour="#b9a983", dressing=Dressing(look="sand")),
            Layer(id="rock", name="Bare rock", mask="rock", colour="#84827d", dressing=Dressing(look="gritstone")),
        ),
        sheets=(
            Sheet(
                id="splat_a",
                name="splat_a",
                proposed=True,
                layout="rgb",
                r=WeightSource(layer="shore"),
                g=WeightSource(layer="rock"),
                b=BaseSource(),
            ),
        ),
        delivery=Delivery(target="plain-files", rows=505, cols=1025),
    )


class Demo:
    """One demo project: its document, its heightmap and the name of its project file."""

    def __init__(self, project: Project, file_name: str) -> None:
        check_project(project)
        self.project = project
        self.heightmap = FOLDER / project.ground.file_name
        self.file_name = file_name

    def asset_path(self, asset: str) -> Path:
        """Where a file of the project lies: the heightmap is its only one."""
        return self.heightmap


def demos() -> list[Demo]:
    """Both demo projects."""
    return [Demo(lantern_moor(), "lantern_moor.meadow.zip"), Demo(skerry_sound(), "skerry_sound.meadow.zip")]


def write_demos(folder: Path) -> list[Path]:
    """Write both project files into ``folder`` (made if missing)."""
    folder.mkdir(parents=True, exist_ok=True)
    written = []
    for demo in demos():
        path = folder / demo.file_name
        write_archive(path, demo.project, demo.asset_path)
        written.append(path)
    return written
