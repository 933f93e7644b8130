"""What can be done with the light ahead."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from lucid_ridge.app.database import now
from lucid_ridge.app.editing import database, find
from lucid_ridge.app.light.schemas import CalendarBody, ForecastOut
from lucid_ridge.app.light.weather import ForecastTrouble, source
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.problems import Refused
from lucid_ridge.formats.calendar import CalendarEntry, calendar_text


def calendar(sent: CalendarBody) -> bytes:
    """Events as iCalendar.

    Raises
    ------
    Refused
        If an event ends before it starts.

    """
    for i, one in enumerate(sent.events):
        if one.end_utc < one.start_utc:
            raise Refused(f"/events/{i}/end_utc", "An event must not end before it starts.")
    return calendar_text(
        [
            CalendarEntry(
                title=one.title,
                start=one.start_utc,
                end=one.end_utc,
                ready=one.ready_utc,
                place_name=sent.place_name,
                latitude_deg=sent.latitude_deg,
                longitude_deg=sent.longitude_deg,
                notes="\n\n".join(text for text in (one.notes, sent.notes) if text),
            )
            for one in sent.events
        ],
        now(),
    )


def forecast(place_id: UUID, start: datetime) -> ForecastOut:
    """The forecast for a place; without one, why."""
    with database().transaction() as session:
        row = find(session, PlaceRow, place_id, "place")
        latitude, longitude = row.latitude_deg, row.longitude_deg
    asked = source()
    if asked is None:
        return ForecastOut(forecast=None, trouble="This server asks no forecast; the light counts a clear sky.")
    try:
        return ForecastOut(forecast=asked.forecast(latitude, longitude, start), trouble="")
    except ForecastTrouble as trouble:
        return ForecastOut(forecast=None, trouble=str(trouble))
