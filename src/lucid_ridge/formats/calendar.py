"""Windows of light and events as iCalendar.

References
----------
.. [1] RFC 5545, Internet Calendaring and Scheduling Core Object Specification, 2009.

"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import NAMESPACE_URL, uuid5

from icalendar import Alarm, Calendar, Event

_NAMESPACE = uuid5(NAMESPACE_URL, "urn:lucid-ridge:calendar")


@dataclass(frozen=True)
class CalendarEntry:
    """Something to be there for. ``ready`` is when to stand there, before ``start``; times are aware.

    ``alarm`` is what is said at ``ready``, "Stand ready" where it is empty. ``identity`` is what stays when the times change; without
    it place, title and start are.
    """

    title: str
    start: datetime
    end: datetime
    ready: datetime | None
    place_name: str
    latitude_deg: float
    longitude_deg: float
    notes: str
    alarm: str = ""
    identity: str = ""


def calendar_text(entries: list[CalendarEntry], made_at: datetime) -> bytes:
    """A calendar [1]_ with an event for each entry, and an alarm when it is time to stand there.

    The same entry always has the same identity, so that a calendar that has it already changes it.
    """
    made = Calendar()
    made.add("prodid", "-//Lucid Ridge//windows of light//EN")
    made.add("version", "2.0")
    made.add("method", "PUBLISH")
    for entry in entries:
        event = Event()
        identity = entry.identity or f"{entry.place_name}/{entry.title}/{entry.start.isoformat()}"
        event.add("uid", f"{uuid5(_NAMESPACE, identity)}@lucid-ridge")
        event.add("dtstamp", made_at)
        event.add("dtstart", entry.start)
        event.add("dtend", max(entry.end, entry.start + timedelta(minutes=1)))
        event.add("summary", entry.title)
        event.add("location", entry.place_name)
        event.add("geo", (entry.latitude_deg, entry.longitude_deg))
        if entry.notes:
            event.add("description", entry.notes)
        if entry.ready is not None and entry.ready < entry.start:
            alarm = Alarm()
            alarm.add("action", "DISPLAY")
            alarm.add("description", entry.alarm or f"Stand ready: {entry.title}")
            alarm.add("trigger", entry.ready - entry.start)
            event.add_component(alarm)
        made.add_component(event)
    return bytes(made.to_ical())
