"""An outing as a photographer writes it down: days, where they start, what is to be visited, how one gets about.

Times of day are by the clock of the place that they are about; what becomes of them on a day is for `core.outing`.
"""

from __future__ import annotations

from datetime import date, datetime, time
from typing import Annotated, Literal

from annotated_types import Ge, Le, MaxLen, MinLen

from lucid_ridge.core.records import Identifier, Name, record

Wanted = Literal["must", "want", "if_fits"]
Goal = Literal["light", "moment", "any"]
WalkingRule = Literal["naismith", "langmuir", "tobler"]
Slower = Annotated[float, Ge(0.5), Le(5)]
Minutes = Annotated[int, Ge(0), Le(720)]
Line = Annotated[str, MaxLen(400)]

SET_UP_MIN = 10
"""From arriving to being ready for the first frame (common practice)."""
MARGIN_MIN = 15
"""For what takes longer than one thought (common practice)."""


@record
class Pace:
    """How somebody walks. Each factor is of time: 1.2 takes a fifth longer.

    ``own`` is the walker's against the rule, ``load`` of what is carried, ``darkness`` of walking by lamp, ``ground`` of snow, bog
    or boulders. ``off_path`` is Tobler's alone.
    """

    rule: WalkingRule = "naismith"
    off_path: bool = False
    own: Slower = 1.0
    load: Slower = 1.0
    darkness: Slower = 1.0
    ground: Slower = 1.0

    @property
    def factor(self) -> float:
        """All of them together."""
        return self.own * self.load * self.darkness * self.ground


@record
class Spot:
    """A point that is no composition: a car park, a hut, a jetty. Its clock is the zone's; empty asks for the position's."""

    name: Name
    latitude_deg: Annotated[float, Ge(-90), Le(90)]
    longitude_deg: Annotated[float, Ge(-180), Le(180)]
    elevation_m: Annotated[float, Ge(-450), Le(9000)] | None = None
    time_zone: Annotated[str, MaxLen(64)] = ""


@record
class Ride:
    """A stretch that is not walked, both ways: by car, boat or whatever else; its minutes are typed."""

    from_spot: Spot
    to_spot: Spot
    minutes: Annotated[int, Ge(1), Le(1440)]
    by: Literal["car", "boat", "other"] = "car"


@record
class OutingDay:
    """A time out. Back at or before the hour of leaving means the day after. Where a day has no start or end of its own, the outing's hold."""

    date: date
    leave_from: time
    back_by: time
    start: Spot | None = None
    end: Spot | None = None


@record
class OutingVisit:
    """A composition to be taken on an outing.

    ``goal`` says when: in its light, at a moment of the clock, or at any time. ``day`` ties it to one of the days by its index.
    ``frames_min`` is how long its sequence takes, None as worked out; ``ready_min`` how long before the light one wants to stand
    there, None as its wish for light says. ``first_at`` nails the first frame to an instant, whatever the light. A ground that is ``daylight_only`` is walked on in
    no other light; one with a tide is reached below or above a height of it.
    """

    id: Identifier
    composition_id: Identifier
    wanted: Wanted = "want"
    goal: Goal = "light"
    moment: time | None = None
    tolerance_min: Minutes = 10
    day: Annotated[int, Ge(0), Le(13)] | None = None
    first_at: datetime | None = None
    set_up_min: Minutes = SET_UP_MIN
    frames_min: Minutes | None = None
    margin_min: Minutes = MARGIN_MIN
    ready_min: Minutes | None = None
    daylight_only: bool = False
    tide_below_m: Annotated[float, Ge(-50), Le(50)] | None = None
    tide_above_m: Annotated[float, Ge(-50), Le(50)] | None = None
    note: Line = ""


@record
class DoneVisit:
    """A visit that was made, and when it was left."""

    visit_id: Identifier
    left_at: datetime


@record
class Contact:
    """What whoever waits at home should know: whom to call, and what to look for."""

    left_with: Line = ""
    call: Line = ""
    overdue_min: Annotated[int, Ge(0), Le(2880)] = 120
    vehicle: Line = ""
    party: Line = ""
    note: Annotated[str, MaxLen(2000)] = ""


@record
class Packing:
    """What there is for a day out, and what has been packed. ``ticked`` are keys of lines; ``forgotten`` names of what was left at home."""

    batteries: Annotated[int, Ge(0), Le(50)] = 2
    cards_gb: Annotated[float, Ge(0), Le(20_000)] = 64.0
    coldest_c: Annotated[float, Ge(-60), Le(50)] = 8.0
    own_lines: Annotated[tuple[Name, ...], MaxLen(60)] = ()
    ticked: Annotated[tuple[Annotated[str, MinLen(1), MaxLen(120)], ...], MaxLen(400)] = ()
    forgotten: Annotated[tuple[Annotated[str, MinLen(1), MaxLen(120)], ...], MaxLen(60)] = ()


@record
class Outing:
    """A day or a trip. Without an end of its own it comes back to its start."""

    days: Annotated[tuple[OutingDay, ...], MinLen(1), MaxLen(14)]
    start: Spot
    end: Spot | None = None
    visits: Annotated[tuple[OutingVisit, ...], MaxLen(40)] = ()
    rides: Annotated[tuple[Ride, ...], MaxLen(20)] = ()
    pace: Pace = Pace(darkness=1.3)
    detour: Annotated[float, Ge(1), Le(5)] = 1.3
    packing: Packing = Packing()
    contact: Contact = Contact()
    done: Annotated[tuple[DoneVisit, ...], MaxLen(40)] = ()
    note: Annotated[str, MaxLen(4000)] = ""
