"""What can be read off the ground, as data: unit, range, scale, numbers and what each is good for.

API, screens and documentation derive from these declarations.
"""

from __future__ import annotations

from dataclasses import replace

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.readings.declare import Param, Reading

__all__ = ["FAMILIES", "READINGS", "Reading", "reading"]

FAMILIES = {
    "relief": "Relief", "light": "Light", "water": "Water", "erosion": "Erosion", "breakup": "Breakup",
    "picture": "Pictures",
}  # fmt: skip

_WIDTH = Param("width", "Width", "m", 1.0, high=2000, step=1, decimals=2, of="spacing")
_WIDER = Param("width", "Width", "m", 3.0, high=2000, step=1, decimals=2, of="spacing")
_AZIMUTH = Param("azimuth", "Sun from", "°", 315.0, 0, 360, 5)
_ALTITUDE = Param("altitude", "Sun height", "°", 45.0, 1, 90, 1)
_THRESHOLD = Param("threshold", "Begins at", "m²", 0.002, 1, 1e9, 100, of="area")
_SEED = Param("seed", "Seed", "", 1.0, 0, 99999, 1)


def _radius(part: float) -> Param:
    return Param("radius", "Radius", "m", part, high=5000, step=5, decimals=1, of="extent")


def _relief() -> tuple[Reading, ...]:
    return (
        Reading(
            "height", "Height", "relief", "m", "linear", 1, None, None, False,
            "Metres above the same zero as the water level.",
            "Snow lines, shore margins, anything that starts or stops at a height.", "height",
        ),
        Reading(
            "altitude", "Altitude in range", "relief", "", "linear", 2, 0.0, 1.0, False,
            "Height from 0 at the lowest place of this ground to 1 at the highest.",
            "Recipes that should fit any ground, whatever its heights.", "height",
        ),
        Reading(
            "slope", "Slope", "relief", "°", "linear", 1, 0.0, 90.0, False,
            "How steep the ground is, from flat to upright.",
            "Rock shows where nothing can settle; grass and peat stay where it is gentle.", "steep", (_WIDTH,),
        ),
        Reading(
            "aspect", "Aspect", "relief", "°", "linear", 0, 0.0, 360.0, False,
            "Which way the ground falls, clockwise from north. Level ground has none.",
            "Moss on northern faces, snow that stays out of the sun, bleached southern slopes.", "compass",
            (_WIDER,), wraps=True,
        ),
        Reading(
            "profile_curvature", "Profile curvature", "relief", "1/m", "linear", 5, None, None, False,
            "How the fall line bends: above 0 where it steepens downhill, below 0 at the foot of slopes.",
            "Worn edges and crests; the foot of slopes, where things come to rest.", "bend", (_WIDER,), signed=True,
        ),
        Reading(
            "plan_curvature", "Plan curvature", "relief", "1/m", "linear", 5, None, None, False,
            "How contour lines bend: above 0 on noses, below 0 in gullies.",
            "Telling noses from gullies, however steep they are.", "bend", (_WIDER,), signed=True,
        ),
        Reading(
            "tangential_curvature", "Tangential curvature", "relief", "1/m", "linear", 5, None, None, False,
            "How the ground bends across the fall line: above 0 on noses, below 0 in gullies.",
            "Gullies that gather water and grass; calmer than plan curvature on gentle ground.", "bend", (_WIDER,),
            signed=True,
        ),
        Reading(
            "mean_curvature", "Mean curvature", "relief", "1/m", "linear", 5, None, None, False,
            "How the surface bulges in all directions together.",
            "Edge wear, dirt in creases, a first mask for ridges and hollows.", "bend", (_WIDER,), signed=True,
        ),
        Reading(
            "relative_height", "Relative height", "relief", "m", "linear", 1, None, None, False,
            "Metres above the mean of what lies within a radius: valley floors below 0, ridges above.",
            "Ridges, valley floors and benches at the size you choose.", "balance", (_radius(0.04),), signed=True,
        ),
        Reading(
            "ruggedness", "Ruggedness", "relief", "m", "linear", 2, 0.0, None, False,
            "How much a place differs in height from what lies around it.",
            "Broken rock against smooth ground of the same slope.", "strength", (_WIDER,),
        ),
        Reading(
            "texture_stretch", "Texture stretch", "relief", "×", "linear", 2, 1.0, None, False,
            "How far a texture laid on from above is pulled apart: 1 on the flat, 2 at 60°.",
            "Finding faces that need another mapping, or softening, before textures smear.", "alarm", (_WIDTH,),
        ),
    )  # fmt: skip


def _light() -> tuple[Reading, ...]:
    weights = tuple(
        Param(name, title, "", 1.0, 0, 4, 0.1, 1) for name, title in (("near", "Near"), ("mid", "Mid"), ("far", "Far"))
    )
    shelter = "How much the surroundings rise above a place, up to a radius: 0 in the open, 1 in a pit."
    return (
        Reading(
            "occlusion_near", "Occlusion, near", "light", "", "linear", 2, 0.0, 1.0, False, shelter,
            "Dirt and moss in creases, sharp contact shade in the colour map.", "shelter", (_radius(0.008),),
        ),
        Reading(
            "occlusion_mid", "Occlusion, mid", "light", "", "linear", 2, 0.0, 1.0, False, shelter,
            "Gullies and the foot of faces.", "shelter", (_radius(0.03),),
        ),
        Reading(
            "occlusion_far", "Occlusion, far", "light", "", "linear", 2, 0.0, 1.0, False, shelter,
            "Valleys as a whole; soft shade over the far ground.", "shelter", (_radius(0.1),),
        ),
        Reading(
            "occlusion", "Occlusion, mixed", "light", "", "linear", 2, 0.0, 1.0, False,
            "Near, mid and far occlusion together, each with its weight.",
            "One map for sheltered ground of every size.", "shelter", weights,
        ),
        Reading(
            "sky_share", "Sky share", "light", "", "linear", 2, 0.0, 1.0, False,
            "The part of the sky that is seen from a place, up to a radius.",
            "Soft light for the colour map; frost and snow in the open.", "light", (_radius(0.1),),
        ),
        Reading(
            "shade", "Shade", "light", "", "linear", 0, 1.0, 255.0, False,
            "Light from one side without cast shadows.",
            "Judging shape.", "grey", (_AZIMUTH, _ALTITUDE),
        ),
        Reading(
            "sun", "Sun", "light", "", "linear", 2, 0.0, 1.0, True,
            "How squarely the sun falls on the ground; 0 where other ground stands in its way.",
            "Bleached faces, snow and moss in the shade of ridges.", "light", (_AZIMUTH, _ALTITUDE),
            at_other_sizes="home",
        ),
    )  # fmt: skip


def _water() -> tuple[Reading, ...]:
    shape = (
        _THRESHOLD,
        Param("width", "Width", "m", 6.0, 0.1, 200, 0.5, 1),
        Param("depth", "Depth", "m", 1.2, 0.01, 50, 0.1, 2),
    )
    thin = "Thin channels are as wide as one sample of the ground, whatever size is delivered."
    return (
        Reading(
            "flow", "Flow", "water", "m²", "log", 0, None, None, True,
            "How much ground drains through each place along one path, every hollow filled to its brim first. " + thin,
            "Stream beds, wet runs, worn lines.", "flow", at_other_sizes="home",
        ),
        Reading(
            "spreading_flow", "Spreading flow", "water", "m²", "log", 0, None, None, True,
            "How much ground drains through each place when water spreads to every lower neighbour.",
            "Broad wet slopes and fans, softer than single paths.", "flow", at_other_sizes="home",
        ),
        Reading(
            "flow_east", "Flow direction east", "water", "", "linear", 2, -1.0, 1.0, True,
            "How far east water runs here: 1 east, −1 west.",
            "The first channel of a flow map, for water that moves.", "balance", signed=True, at_other_sizes="home",
        ),
        Reading(
            "flow_north", "Flow direction north", "water", "", "linear", 2, -1.0, 1.0, True,
            "How far north water runs here: 1 north, −1 south.",
            "The second channel of a flow map.", "balance", signed=True, at_other_sizes="home",
        ),
        Reading(
            "wetness", "Wetness", "water", "", "linear", 1, None, None, True,
            "How much water comes to a place against how readily it runs on.",
            "Bogs, rushes, dark soil on gentle ground below long slopes.", "wet", at_other_sizes="home",
        ),
        Reading(
            "channel_depth", "Channel depth", "water", "m", "linear", 2, 0.0, None, True,
            "The depth of channels that begin where enough ground drains together; width and depth are those of a "
            "channel that drains one square kilometre.",
            "Stream beds with soft banks, darker where they are deeper.", "depth", shape, at_other_sizes="home",
        ),
        Reading(
            "channel_width", "Channel width", "water", "m", "linear", 1, 0.0, None, True,
            "How wide the channel is that a place lies in.",
            "Telling rivers from runnels.", "depth", shape, numbers_of="channel_depth", at_other_sizes="home",
        ),
        Reading(
            "standing_water", "Standing water", "water", "m", "linear", 2, 0.0, None, True,
            "How deep water would stand in hollows that have no way out.",
            "Bog pools, lochans, reed margins.", "depth", at_other_sizes="home",
        ),
        Reading(
            "height_over_water", "Height over water", "water", "m", "linear", 1, 0.0, None, True,
            "Metres above the channel, pool or water level that a place drains to.",
            "Flood margins, damp meadows, reeds.", "height", (_THRESHOLD,), at_other_sizes="home",
        ),
        Reading(
            "distance_to_water", "Distance to water", "water", "m", "linear", 0, 0.0, None, True,
            "Metres to the nearest channel, pool or water below the water level.",
            "Bank plants, wet sand, paths that keep away from water.", "distance", (_THRESHOLD,),
            at_other_sizes="home",
        ),
    )  # fmt: skip


def _erosion() -> tuple[Reading, ...]:
    run = (
        Param("rain", "Rain", "drops a sample", 0.2, 0.01, 4, 0.05, 2),
        Param("strength", "Strength", "", 0.5, 0.02, 2, 0.05, 2),
        Param("hardness", "Hardness", kind="map", default=""),
        _SEED,
    )

    def of_run(name: str, title: str, unit: str, low: float | None, scale: str, words: tuple[str, str], ramp: str,
               decimals: int) -> Reading:  # fmt: skip
        return Reading(
            name, title, "erosion", unit, "log" if scale == "log" else "linear", decimals, low, None, True, words[0],
            words[1], ramp, run, numbers_of="" if name == "scour" else "scour", at_other_sizes="home",
        )  # fmt: skip

    return (
        of_run("scour", "Scour", "m", 0.0, "linear", (
            "Metres of earth that rain takes away in an erosion run.",
            "Bare earth, gully walls, fresh rock."), "scour", 2),
        of_run("deposition", "Deposition", "m", 0.0, "linear", (
            "Metres of earth that an erosion run lays down.",
            "Gravel fans, silt, soil that grows things."), "laid", 2),
        of_run("carried_load", "Carried load", "m", 0.0, "linear", (
            "How much earth runs through a place in an erosion run.",
            "Muddy runs, debris paths."), "laid", 1),
        of_run("rain_flow", "Rain flow", "m²", None, "log", (
            "How much rain runs through each place in an erosion run.",
            "Fine wet lines on slopes, finer than flow."), "flow", 0),
        of_run("eroded_height", "Eroded height", "m", None, "linear", (
            "The ground as the erosion run leaves it; the project's own heights stay as they are.",
            "Looking before you add an Erode step to the ground."), "height", 1),
        Reading(
            "talus", "Talus", "erosion", "m", "linear", 2, 0.0, None, True,
            "Metres of debris that lie below faces once everything steeper than an angle has slid down.",
            "Scree and rubble where it would really lie.", "laid", (Param("angle", "Angle", "°", 33.0, 5, 80, 1),),
            at_other_sizes="home",
        ),
    )  # fmt: skip


def _breakup() -> tuple[Reading, ...]:
    kinds = (("gradient", "soft"), ("ridged", "ridged"), ("cellular", "cellular"), ("banded", "banded"))
    ways = (("direction", "along a direction"), ("slope", "down the slope"))
    return (
        Reading(
            "noise", "Noise", "breakup", "", "linear", 2, 0.0, 1.0, False,
            "Chance with a size in metres: the same at any map size.",
            "Breaking up edges and even ground.", "grey",
            (
                Param("kind", "Kind", kind="choice", default="gradient", choices=kinds),
                Param("size", "Size", "m", 0.05, high=20000, step=5, decimals=1, of="extent"),
                Param("octaves", "Octaves", "", 5.0, 1, 10, 1),
                Param("stretch", "Stretched", "×", 1.0, 1, 20, 0.5, 1),
                Param("way", "Stretched", kind="choice", default="direction", choices=ways),
                Param("direction", "Direction", "°", 0.0, 0, 360, 5),
                _SEED,
            ),
            at_other_sizes="fine",
        ),
        Reading(
            "strata", "Strata", "breakup", "", "linear", 2, 0.0, 1.0, False,
            "Beds of rock by height, tilted and bent, each with a tone of its own.",
            "Layered cliffs; hardness for an erosion run.", "grey",
            (
                Param("thickness", "Thickness", "m", 12.0, 0.1, 2000, 1, 1),
                Param("dip", "Dip", "°", 3.0, 0, 60, 1),
                Param("direction", "Falling towards", "°", 90.0, 0, 360, 5),
                Param("bend", "Bend", "m", 8.0, 0, 2000, 1, 1),
                _SEED,
            ),
        ),
        Reading(
            "picture", "Picture", "picture", "", "linear", 2, 0.0, 1.0, False,
            "A picture laid over the ground: where it lies, how it is turned, and what is black and white in it.",
            "Painted masks, aerial images, maps from elsewhere.", "grey",
            (
                Param("asset", "File", kind="file", default=""),
                Param("channel", "Channel", kind="choice", default="luma",
                      choices=(("luma", "brightness"), ("r", "red"), ("g", "green"), ("b", "blue"), ("a", "alpha"))),
                Param("black", "Black", "", 0.0, -1, 2, 0.01, 2),
                Param("white", "White", "", 1.0, -1, 2, 0.01, 2),
                Param("east", "East", "m", 0.0, -100000, 100000, 1, 1),
                Param("north", "North", "m", 0.0, -100000, 100000, 1, 1),
                Param("wide", "Size", "×", 1.0, 0.01, 100, 0.01, 3),
                Param("turn", "Turned", "°", 0.0, -360, 360, 1, 1),
                Param("flip", "Flipped", kind="choice", default="none", choices=(
                    ("none", "not"), ("east_west", "east–west"), ("north_south", "north–south"))),
            ),
        ),
    )  # fmt: skip


# Measured on a rough ground of 1009² samples (a test does it again): in the unit of the reading, how far 95 % of the
# ground is at most off where a map has half as many samples, and twice as many. A coarser sample is the mean of what it
# stands for; finer maps pass through the samples of the ground, horizons find the ridges between them.
_WITHIN: dict[str, tuple[float, float]] = {
    "height": (1.0, 0.0), "altitude": (0.0025, 0.0), "slope": (7.5, 0.0), "aspect": (17.0, 0.0),
    "profile_curvature": (0.01, 0.0), "plan_curvature": (0.03, 0.0), "tangential_curvature": (0.013, 0.0),
    "mean_curvature": (0.008, 0.0), "relative_height": (1.0, 0.0), "ruggedness": (1.3, 0.0),
    "texture_stretch": (0.09, 0.0), "occlusion_near": (0.055, 0.035), "occlusion_mid": (0.05, 0.025),
    "occlusion_far": (0.05, 0.025), "occlusion": (0.05, 0.025), "sky_share": (0.035, 0.025), "shade": (22.0, 0.0),
    "strata": (0.035, 0.0),
}  # fmt: skip

READINGS: tuple[Reading, ...] = tuple(
    replace(kind, within=_WITHIN.get(kind.name))
    for kind in (*_relief(), *_light(), *_water(), *_erosion(), *_breakup())
)

_BY_NAME = {r.name: r for r in READINGS}


def reading(name: str) -> Reading:
    """The declaration of a kind of reading. Raises :class:`NotFound` with the names there are."""
    try:
        return _BY_NAME[name]
    except KeyError:
        known = ", ".join(_BY_NAME)
        raise NotFound(f"There is no reading called {name!r}. There are: {known}.") from None
