"""Drawn lines and areas as GeoJSON, in metres east and north of the ground's south-west corner."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

import orjson
from pydantic import ValidationError

from zigzag_meadow.core.errors import BadFile, TooLarge, WrongFormat
from zigzag_meadow.core.project.model.features import Feature

__all__ = ["features_as_geojson", "features_from_geojson"]

MOST_FEATURES = 500
MOST_DEEP = 20
_KINDS = ("path", "wall", "bank", "clearing")


def features_as_geojson(features: Sequence[Feature], length: float) -> bytes:
    """The features as one FeatureCollection (RFC 7946 but for its degrees); ``length``: the ground's, in metres."""

    def geometry(feature: Feature) -> dict[str, Any]:
        points = [[round(x, 3), round(length - y, 3)] for x, y in feature.points]
        if feature.closed:
            return {"type": "Polygon", "coordinates": [[*points, points[0]]]}
        return {"type": "LineString", "coordinates": points}

    return orjson.dumps(
        {
            "type": "FeatureCollection",
            "units": "metres east and north of the south-west corner of the ground",
            "features": [
                {"type": "Feature", "properties": {"name": f.name, "kind": f.kind}, "geometry": geometry(f)}
                for f in features
            ],
        },
        option=orjson.OPT_INDENT_2,
    )


def _lines(geometry: Any, where: str, deep: int = 0) -> Iterator[tuple[bool, Any]]:
    """(closed, coordinates) of everything in a geometry that is a line or an area; holes are left out."""
    if not isinstance(geometry, dict):
        return
    kind, places = geometry.get("type"), geometry.get("coordinates")
    if kind == "GeometryCollection":
        parts = geometry.get("geometries")
        if deep >= MOST_DEEP or not isinstance(parts, list):
            raise BadFile(f"{where}: its collection of shapes is no list, or too deep.")
        for part in parts:
            yield from _lines(part, where, deep + 1)
        return
    if kind == "LineString":
        yield False, places
    elif kind == "MultiLineString" and isinstance(places, list):
        yield from ((False, line) for line in places)
    elif kind == "Polygon" and isinstance(places, list) and places:
        yield True, places[0]
    elif kind == "MultiPolygon" and isinstance(places, list):
        yield from ((True, polygon[0]) for polygon in places if isinstance(polygon, list) and polygon)


def features_from_geojson(data: bytes, name: str, width: float, length: float, prefix: str) -> list[Feature]:
    """Lines and areas of a GeoJSON file as features; points and holes are left out.

    ``width``, ``length``: the ground's, in metres; ``prefix`` begins their ids. Raises :class:`WrongFormat` when it is
    no GeoJSON, holds nothing to draw or lies wholly beside the ground, :class:`BadFile` with the place that is wrong,
    :class:`TooLarge` for too many.
    """
    try:
        root = orjson.loads(data)
    except orjson.JSONDecodeError:
        raise WrongFormat(f"{name} is not GeoJSON: it cannot be read as JSON.") from None
    if not isinstance(root, dict):
        raise WrongFormat(f"{name} is not GeoJSON: it holds no features.")
    entries = root.get("features") if root.get("type") == "FeatureCollection" else [root]
    features: list[Feature] = []
    for number, entry in enumerate(entries if isinstance(entries, list) else [], 1):
        told = entry.get("properties") if isinstance(entry, dict) else None
        told = told if isinstance(told, dict) else {}
        shape = entry.get("geometry", entry) if isinstance(entry, dict) else None
        where = f"{name}, feature {number}"
        for closed, points in _lines(shape, where):
            if len(features) >= MOST_FEATURES:
                raise TooLarge(f"{name} holds more than {MOST_FEATURES} lines. Bring in a part of them.")
            features.append(_feature(told, closed, points, where, length, f"{prefix}{len(features)}"))
    if not features:
        raise WrongFormat(f"{name} holds no lines and no areas.")
    if not any(0 <= x <= width and 0 <= y <= length for f in features for x, y in f.points):
        raise WrongFormat(
            f"Everything in {name} lies beside the ground. Its numbers must be metres east and north of the south-west "
            "corner, not degrees."
        )
    return features


def _feature(told: dict[str, Any], closed: bool, points: Any, where: str, length: float, new_id: str) -> Feature:
    try:
        places = [(float(p[0]), length - float(p[1])) for p in points]
    except (TypeError, ValueError, IndexError, KeyError, OverflowError):
        raise BadFile(f"{where}: its coordinates are no list of numbers.") from None
    if closed and len(places) > 1 and places[0] == places[-1]:
        places = places[:-1]
    kind = told.get("kind") if told.get("kind") in _KINDS else ("clearing" if closed else "path")
    wanted = told.get("name")
    title = "".join(" " if ord(c) < 32 or c in "/\\:" else c for c in wanted[:60]) if isinstance(wanted, str) else ""
    title = title if title.strip() else f"{str(kind).capitalize()} {new_id[-4:]}"
    try:
        return Feature.model_validate({"id": new_id, "name": title, "kind": kind, "closed": closed, "points": places})
    except ValidationError as error:
        first = error.errors()[0]
        raise BadFile(f"{where}: {first['loc'][0]}: {first['msg']}.") from None
