"""What can be read off the ground: every kind of reading, in the order in which they are shown.

API, screens and documentation derive from these declarations.
"""

from __future__ import annotations

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.readings import channels, flow, height, occlusion, scour, slope, spreading
from zigzag_meadow.core.readings.aspect import ASPECT
from zigzag_meadow.core.readings.colours import LIKENESS
from zigzag_meadow.core.readings.curvature import CURVATURE_READINGS
from zigzag_meadow.core.readings.declare import Reading
from zigzag_meadow.core.readings.noise import NOISE
from zigzag_meadow.core.readings.picture import PICTURE
from zigzag_meadow.core.readings.relative_height import RELATIVE_HEIGHT
from zigzag_meadow.core.readings.ruggedness import RUGGEDNESS
from zigzag_meadow.core.readings.shade import SHADE
from zigzag_meadow.core.readings.strata import STRATA
from zigzag_meadow.core.readings.sun import SUN
from zigzag_meadow.core.readings.talus import TALUS

__all__ = ["FAMILIES", "READINGS", "Reading", "reading"]

FAMILIES = {
    "relief": "Relief",
    "light": "Light",
    "water": "Water",
    "erosion": "Erosion",
    "breakup": "Breakup",
    "picture": "Pictures",
}

READINGS: list[Reading] = [
    height.HEIGHT,
    height.ALTITUDE_IN_RANGE,
    slope.SLOPE,
    ASPECT,
    *CURVATURE_READINGS,
    RELATIVE_HEIGHT,
    RUGGEDNESS,
    slope.TEXTURE_STRETCH,
    occlusion.OCCLUSION_NEAR,
    occlusion.OCCLUSION_MID,
    occlusion.OCCLUSION_FAR,
    occlusion.OCCLUSION,
    occlusion.SKY_SHARE,
    SHADE,
    SUN,
    flow.FLOW,
    spreading.SPREADING_FLOW,
    flow.FLOW_EAST,
    flow.FLOW_NORTH,
    spreading.WETNESS,
    channels.CHANNEL_DEPTH,
    channels.CHANNEL_WIDTH,
    flow.STANDING_WATER,
    channels.HEIGHT_OVER_WATER,
    channels.DISTANCE_TO_WATER,
    scour.SCOUR,
    scour.DEPOSITION,
    scour.CARRIED_LOAD,
    scour.RAIN_FLOW,
    scour.ERODED_HEIGHT,
    TALUS,
    NOISE,
    STRATA,
    PICTURE,
    LIKENESS,
]


def reading(name: str) -> Reading:
    """The declaration of a kind of reading. Raises :class:`NotFound` with the names there are."""
    kind = next((kind for kind in READINGS if kind.name == name), None)
    if kind is None:
        known = ", ".join(kind.name for kind in READINGS)
        raise NotFound(f"There is no reading called {name!r}. There are: {known}.")
    return kind
