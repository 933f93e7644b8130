"""How old a reading is, in light."""

from __future__ import annotations

from datetime import datetime
from zoneinfo import ZoneInfo

from lucid_ridge.core.camera.panorama import brightest_reading
from lucid_ridge.core.light.drift import STALE_DRIFT_STOPS, stale_at
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, clock_text, stops_change_text


@record
class Freshness:
    """How old a reading is at the moment, in light and not in minutes.

    ``stale`` from a third of a stop on; ``until_text`` says when that is, or was, by the place's clock.
    """

    read_text: str
    change: Readout
    stale: bool
    until_text: str


def _read_at(state: State) -> float | None:
    """When the reading that counts was taken, unix seconds; None without one."""
    composition = state.scene.composition
    if brightest_reading(composition) is not None:
        at = composition.panorama.read_at_utc
        return None if at is None else at.timestamp()
    return None if composition.reading is None else composition.reading.taken_at_utc.timestamp()


def freshness(state: State) -> Freshness | None:
    """How far the light has moved since the reading, and when that passes a third of a stop."""
    read = _read_at(state)
    if read is None:
        return None
    zone = ZoneInfo(state.scene.place.time_zone)
    change = state.exposure.metered.light_since_stops
    late = stale_at(state.light_curve.exact, read)

    def clock(at: float) -> str:
        local = datetime.fromtimestamp(at, zone)
        same = local.date() == datetime.fromtimestamp(state.unix_s, zone).date()
        return clock_text(at, zone) if same else f"{local:%-d %b} {clock_text(at, zone)}"

    if late is None:
        until = "good for hours under an even sky"
    else:
        until = f"good until {clock(late)}" if late > state.unix_s >= read else f"was good until {clock(late)}"
    stale = abs(change) > STALE_DRIFT_STOPS
    if state.unix_s < read:
        until = "read after this moment"
    return Freshness(
        read_text=f"read {clock(read)}",
        change=Readout(value=change, text=_change_text(change), explain="exposure.fresh"),
        stale=stale,
        until_text=until,
    )


def _change_text(stops: float) -> str:
    change = stops_change_text(stops)
    return "no change of light" if change == "0" else f"light {change} stops since"
