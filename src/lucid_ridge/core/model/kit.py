"""Kit: bodies, lenses, supports, and what is in use together. Settings as exact values."""

from __future__ import annotations

from typing import Annotated, Literal

from annotated_types import Ge, Gt, Le, MaxLen

from lucid_ridge.core.model.gear import Gear, LightSource
from lucid_ridge.core.range.brackets import BracketMode
from lucid_ridge.core.records import Name, record
from lucid_ridge.core.stops.filters import Filter

Aperture = Annotated[float, Ge(0.5), Le(256)]
SHORTEST_S, LONGEST_S = 1e-6, 1e6
"""No shutter time is reckoned with beyond these."""
ShutterSeconds = Annotated[float, Ge(SHORTEST_S), Le(LONGEST_S)]
Iso = Annotated[float, Ge(1), Le(10_000_000)]
FocalLength = Annotated[float, Ge(1), Le(5000)]
SupportKind = Literal["tripod", "bag", "hand"]


@record
class Body:
    """A camera body: format, range and what it can do by itself.

    A burst runs at ``burst_per_s`` until ``buffer_frames`` wait to be written, then at ``written_per_s``.
    ``flash_sync_s`` is the shortest shutter time that a flash lights whole. With film, a time t above one
    second is held open for t to the power of ``reciprocity_p``; None for a sensor. Its dials have ``clicks_per_stop``.
    A battery lasts ``frames_per_charge`` at room temperature; a frame takes ``frame_mb`` on the card, None for what is usual.
    """

    name: Name
    sensor_width_mm: Annotated[float, Ge(3), Le(300)]
    sensor_height_mm: Annotated[float, Ge(3), Le(300)]
    pixels_across: Annotated[int, Ge(100), Le(100_000)]
    pixels_down: Annotated[int, Ge(100), Le(100_000)]
    base_iso: Iso = 100.0
    highest_iso: Iso = 25600.0
    usable_range_stops: Annotated[float, Ge(2), Le(20)] = 10.0
    headroom_stops: Annotated[float, Ge(0.5), Le(10)] = 3.0
    shortest_shutter_s: ShutterSeconds = 2.0**-13
    longest_timed_s: ShutterSeconds = 32.0
    has_bulb: bool = True
    dark_frame: bool = False
    stabiliser_stops: Annotated[float, Ge(0), Le(8)] = 0.0
    bracket_modes: Annotated[tuple[BracketMode, ...], MaxLen(20)] = ()
    burst_per_s: Annotated[float, Ge(0.1), Le(200)] = 6.0
    buffer_frames: Annotated[int, Ge(1), Le(10_000)] = 30
    written_per_s: Annotated[float, Ge(0.05), Le(200)] = 2.0
    flash_sync_s: ShutterSeconds = 2.0 ** -(23 / 3)
    reciprocity_p: Annotated[float, Ge(1), Le(2)] | None = None
    clicks_per_stop: Annotated[int, Ge(1), Le(3)] = 3
    frames_per_charge: Annotated[int, Ge(10), Le(20_000)] = 400
    frame_mb: Annotated[float, Gt(0), Le(2000)] | None = None


@record
class Lens:
    """A lens; its widest aperture may close towards the long end.

    ``largest_magnification`` is what it reaches by itself at its nearest focus, None where it is not known.
    ``front_mm`` is from the sensor to its front when set to infinity; one that ``lengthens`` moves its front
    by the magnification times its focal length. ``hood_mm`` is how far the shade stands out.
    """

    name: Name
    shortest_mm: FocalLength
    longest_mm: FocalLength
    widest_f_number: Aperture
    widest_f_number_long: Aperture
    narrowest_f_number: Aperture = 22.627416997969522
    minimum_focus_m: Annotated[float, Ge(0.01), Le(100)]
    pupil_magnification: Annotated[float, Ge(0.1), Le(10)] = 1.0
    stabiliser_stops: Annotated[float, Ge(0), Le(8)] = 0.0
    largest_magnification: Annotated[float, Gt(0), Le(20)] | None = None
    front_mm: Annotated[float, Ge(10), Le(1500)] | None = None
    lengthens: bool = False
    hood_mm: Annotated[float, Ge(0), Le(300)] = 0.0
    filter_thread_mm: Annotated[float, Ge(10), Le(200)] | None = None


@record
class Support:
    """What carries the camera, and the heights of the lens it reaches.

    ``lowest_m`` and ``highest_m`` are on the legs alone; an extended column adds ``column_m``;
    ``inverted_lowest_m`` is reached with the camera hung upside down, None where it cannot. One that itself moves, on
    a boat say, rocks and drifts by degrees a second.
    """

    name: Name
    kind: SupportKind
    lowest_m: Annotated[float, Ge(0), Le(100)] = 0.0
    highest_m: Annotated[float, Ge(0), Le(100)] = 1.7
    column_m: Annotated[float, Ge(0), Le(10)] = 0.0
    inverted_lowest_m: Annotated[float, Ge(0), Le(100)] | None = None
    rocking_deg_s: Annotated[float, Ge(0), Le(90)] = 0.0
    drift_deg_s: Annotated[float, Ge(0), Le(90)] = 0.0


@record
class Kit:
    """What is in use now, and the filters, close-up gear and lights owned (the only ones that are proposed)."""

    body: Body
    lens: Lens
    support: Support
    filters: Annotated[tuple[Filter, ...], MaxLen(40)] = ()
    gear: Annotated[tuple[Gear, ...], MaxLen(40)] = ()
    lights: Annotated[tuple[LightSource, ...], MaxLen(20)] = ()
