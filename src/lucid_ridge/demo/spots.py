"""What was measured on the spot in the invented valley: two bearings to the boathouse, and a note."""

from __future__ import annotations

import math
from datetime import UTC, datetime

from lucid_ridge.app.compositions import operations as compositions
from lucid_ridge.app.paging import PageQuery
from lucid_ridge.app.places import operations as places
from lucid_ridge.app.spots import operations as spots
from lucid_ridge.app.spots.schemas import BearingMeasured, Fix, Measured, NoteMeasured, SpotNew
from lucid_ridge.core.light.terrain import position_of
from lucid_ridge.demo.names import demo_id

SPOTS = ("first bearing", "second bearing", "note")
_MEASURED = datetime(2026, 10, 18, 6, 40, tzinfo=UTC)


def load_spots() -> None:
    """Put them in: from the standpoint and from 60 m to its side, a degree or two off as a compass is."""
    composition_id = demo_id("composition/boathouse")
    saved = compositions.one(composition_id)
    place = next(p.place for p in places.list_places(PageQuery(limit=200)).places if p.id == saved.place_id)
    stands = saved.composition
    boathouse = next(e for e in stands.elements if e.name == "boathouse")
    for name, aside, off in (("first bearing", 0.0, 1.2), ("second bearing", 60.0, -1.6)):
        east, north = stands.east_m + aside, stands.north_m
        latitude, longitude = position_of(place.latitude_deg, place.longitude_deg, east, north)
        azimuth = math.degrees(math.atan2(boathouse.east_m - east, boathouse.north_m - north))
        _put(
            name,
            BearingMeasured(
                kind="bearing",
                what="element",
                name="boathouse",
                azimuth_deg=round((azimuth + off) % 360, 1),
                north="true",
                error_deg=5,
                stand=Fix(latitude_deg=round(latitude, 6), longitude_deg=round(longitude, 6), accuracy_m=4),
            ),
        )
    _put("note", NoteMeasured(kind="note", text="The outer boulder stands in water after rain; boots will do."))


def _put(name: str, measured: Measured) -> None:
    new = SpotNew(composition_id=demo_id("composition/boathouse"), measured_at=_MEASURED, measured=measured)
    spots.record(demo_id(f"spot/{name}"), new)
