"""Words that several reports share."""

from __future__ import annotations

from datetime import datetime
from zoneinfo import ZoneInfo

from lucid_ridge.core.daylight.skyline import ground_m
from lucid_ridge.core.daylight.surfaces import CLOUD_WITHOUT_SHADOWS
from lucid_ridge.core.light.day import EventName, LightDay
from lucid_ridge.core.light.direction import SUN_UP_DEG, LightSide, relative_azimuth_deg
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.light_windows.light_wish import Condition, name_by_id
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.model.wanted import LightWish
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import clock_text, degrees_text

SIDE_TEXT: dict[LightSide, str] = {
    "none": "no sun",
    "front": "front light",
    "side_left": "side light, left",
    "side_right": "side light, right",
    "back_left": "back light, left",
    "back_right": "back light, right",
}

EVENT_TEXT: dict[EventName, str] = {
    "astronomical_dawn": "first light in the sky",
    "nautical_dawn": "nautical dawn",
    "civil_dawn": "civil dawn",
    "blue_morning": "blue hour begins",
    "blue_morning_end": "blue hour ends",
    "golden_morning": "golden hour begins",
    "sunrise": "sunrise",
    "golden_morning_end": "golden hour ends",
    "noon": "sun highest",
    "golden_evening": "golden hour begins",
    "sunset": "sunset",
    "golden_evening_end": "golden hour ends",
    "blue_evening": "blue hour begins",
    "blue_evening_end": "blue hour ends",
    "civil_dusk": "civil dusk",
    "nautical_dusk": "nautical dusk",
    "astronomical_dusk": "last light in the sky",
    "moonrise": "moonrise",
    "moonset": "moonset",
}


def light_words(state: State, index: int | None) -> str:
    """What light reaches something at the moment: sun, its own shade, the ground's shade, cloud, twilight, night."""
    surface, clear = state.lighting.surface(index), state.scene.composition.cloud_stops < CLOUD_WITHOUT_SHADOWS
    altitude = state.sun_altitude_deg
    if altitude < -12:
        return "at night"
    if altitude < SUN_UP_DEG:
        return "in twilight"
    if not clear:
        return "under cloud"
    if surface.kind == "sky":
        return "clear"
    if not state.lighting.sunlit(index, state.unix_s):
        return "in the shade of the land"
    off = abs(float(relative_azimuth_deg(state.sun_azimuth_deg, surface.faces_deg)))
    return "in its own shade" if surface.kind == "upright" and off >= 90 else "in the sun"


def spans_text(spans: tuple[tuple[float, float], ...], day: LightDay, zone: ZoneInfo, never: str) -> str:
    """Stretches in words: "08:14 to 15:52", "all day"."""
    if not spans:
        return never
    if len(spans) == 1 and spans[0][0] <= day.unix_s[0] and spans[0][1] >= day.unix_s[-1]:
        return "all day"
    return ", ".join(f"{clock_text(a, zone)} to {clock_text(b, zone)}" for a, b in spans)


def moon_words(day: LightDay) -> str:
    """The moon's phase and lit share in words."""
    e, lit = day.moon_elongation_deg, day.moon_lit
    if lit < 0.02:
        return "new moon"
    if lit > 0.98:
        return "full moon"
    return f"{'waxing' if e < 180 else 'waning'} moon, {lit:.0%} lit"


def when_text(state: State, unix_s: float) -> str:
    """An instant near the moment by the place's clock, with its day where that is another."""
    zone = ZoneInfo(state.scene.place.time_zone)
    days = (datetime.fromtimestamp(unix_s, zone).date() - datetime.fromtimestamp(state.unix_s, zone).date()).days
    return clock_text(unix_s, zone) + ("" if days == 0 else " the next day" if days > 0 else " the day before")


_AROUND_TEXT = {
    "sunrise": "sunrise", "sunset": "sunset", "arrives": "the sun reaching the subject",
    "leaves": "the sun leaving the subject", "moonrise": "moonrise", "moonset": "moonset",
}  # fmt: skip


def condition_words(state: State, condition: Condition, wish: LightWish | None = None) -> str:
    """A condition of a wish for light in words; of the composition's own wish unless another is given."""
    wish = state.scene.composition.light_wish if wish is None else wish
    match condition.kind:
        case "side":
            return " or ".join(SIDE_TEXT[s] for s in wish.sides)
        case "height":
            return _height_words(wish.lowest_deg, wish.highest_deg)
        case "lit":
            one = wish.lit[condition.index]
            name = name_by_id(state, one.element_id)
            return f"direct sun on the {name}" if one.lit else f"no direct sun on the {name}"
        case "around":
            event = _AROUND_TEXT[wish.around or "sunrise"]
            return f"{wish.before_min:g} min before to {wish.after_min:g} min after {event}"
        case "moon":
            return f"moon {wish.moon}"
        case "moon_lit":
            return f"moon lit {wish.moon_lit_from:.0%} or more"
        case "clock":
            return f"between {_hour_text(wish.from_hour)} and {_hour_text(wish.to_hour)}"


def _height_words(lowest_deg: float | None, highest_deg: float | None) -> str:
    if highest_deg is None or highest_deg == 90:
        return f"sun above {degrees_text(-90.0 if lowest_deg is None else lowest_deg)}"
    if lowest_deg is None or lowest_deg <= -90:
        return f"sun below {degrees_text(highest_deg)}"
    return f"sun at {degrees_text(lowest_deg)} to {degrees_text(highest_deg)}"


def _hour_text(hour: float) -> str:
    whole, minutes = divmod(round(hour * 60), 60)
    return f"{whole:02d}:{minutes:02d}"


def why_not_terrain(scene: Scene, terrain: Terrain | None) -> str:
    """Why a level horizon stands in for the one the place asks for; empty where none does."""
    place, composition = scene.place, scene.composition
    if place.horizon == "measured" and not place.skyline:
        return "No point of the skyline is measured yet; the horizon counts as level."
    if place.horizon != "terrain":
        return ""
    if terrain is None:
        return "No terrain is chosen for this place, or it is not at hand; the horizon counts as level."
    if ground_m(place, terrain, composition.east_m, composition.north_m) is None:
        return "The terrain does not reach the standpoint; the horizon counts as level."
    return ""


def next_light_text(starts: datetime, ends: datetime, side: LightSide, zone: str, now: datetime) -> str:
    """A window of light as it is said: "Thu 07:52, side light, 18 min; in 3 days"."""
    local, today = starts.astimezone(ZoneInfo(zone)), now.astimezone(ZoneInfo(zone))
    days = (local.date() - today.date()).days
    minutes = round((ends - starts).total_seconds() / 60)
    # The parts of a length of time stay on one line.
    lasts = f"{minutes}\u00a0min" if minutes < 100 else f"{minutes // 60}\u00a0h\u00a0{minutes % 60:02d}\u00a0min"
    plain = SIDE_TEXT[side].split(",")[0] if side != "none" else "sun down"
    if starts <= now:
        return f"now, {plain}, until {clock_text(ends.timestamp(), ZoneInfo(zone))}"
    if days == 0:
        when, ahead = "today", ""
    elif days == 1:
        when, ahead = "tomorrow", ""
    elif days < 7:
        when, ahead = f"{local:%a}", f"; in {days} days"
    else:
        when, ahead = f"{local:%a} {local.day} {local:%b}", f"; in {days} days"
    return f"{when} {local:%H:%M}, {plain}, {lasts}{ahead}"
