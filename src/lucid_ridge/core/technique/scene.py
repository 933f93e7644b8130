"""The scene: a place, the kit in use and one composition at one moment.

These records are the input of everything in `technique`. Distances in metres, angles in degrees,
azimuths from true north clockwise, times aware, exposure settings as exact values.
"""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from annotated_types import Ge, Gt, Le, MaxLen

from lucid_ridge.core.figures import Units
from lucid_ridge.core.framing.crop import Crop
from lucid_ridge.core.framing.guides import GuideName
from lucid_ridge.core.framing.silhouettes import SilhouetteKind
from lucid_ridge.core.light.definitions import GoldenHour
from lucid_ridge.core.motion.travel import WaterLook
from lucid_ridge.core.optics.criteria import Criterion
from lucid_ridge.core.optics.focus_schools import FocusSchool
from lucid_ridge.core.range.brackets import BracketMode
from lucid_ridge.core.records import Identifier, Name, record
from lucid_ridge.core.stops.filters import Filter, FilterInUse
from lucid_ridge.core.technique.gear import CloseUp, Gear, LightSource
from lucid_ridge.core.technique.place import Forecast, Place
from lucid_ridge.core.technique.wanted import LightWish

Metres = Annotated[float, Ge(-100_000), Le(100_000)]
Size = Annotated[float, Ge(0), Le(100_000)]
Aperture = Annotated[float, Ge(0.5), Le(256)]
ShutterSeconds = Annotated[float, Ge(1e-6), Le(1_000_000)]
Iso = Annotated[float, Ge(1), Le(10_000_000)]
FocalLength = Annotated[float, Ge(1), Le(5000)]

Orientation = Literal["level", "upright"]
Role = Literal["foreground", "subject", "middle", "background", "sky", "water"]
Motion = Literal["still", "water", "foliage", "animal", "cloud"]
SettingName = Literal["focal_length", "aperture", "shutter", "iso", "focus"]
LockName = Literal["focal_length", "aperture", "shutter", "iso", "focus", "filters"]
SupportKind = Literal["tripod", "bag", "hand"]
SliceMode = Literal["one", "gapless", "hand", "rail", "sway"]
BracketSet = Literal["none", "range", "hand"]
FrameOrder = Literal["brackets_inside", "slices_inside"]


@record
class Body:
    """A camera body: format, range and what it can do by itself.

    A burst runs at ``burst_per_s`` until ``buffer_frames`` wait to be written, then at ``written_per_s``.
    ``flash_sync_s`` is the shortest shutter time that a flash lights whole.
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


@record
class Lens:
    """A lens; its widest aperture may close towards the long end.

    ``largest_magnification`` is what it reaches by itself at its nearest focus, None where it is not known.
    ``front_mm`` is from the sensor to its front when set to infinity; one that ``lengthens`` moves its front
    by the magnification times its focal length. ``shade_mm`` is how far the shade stands out.
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
    shade_mm: Annotated[float, Ge(0), Le(300)] = 0.0


@record
class Support:
    """What carries the camera, and the heights of the lens it reaches.

    ``lowest_m`` and ``highest_m`` are on the legs alone; an extended column adds ``column_m``;
    ``inverted_lowest_m`` is reached with the camera hung upside down, None where it cannot.
    """

    name: Name
    kind: SupportKind
    lowest_m: Annotated[float, Ge(0), Le(100)] = 0.0
    highest_m: Annotated[float, Ge(0), Le(100)] = 1.7
    column_m: Annotated[float, Ge(0), Le(10)] = 0.0
    inverted_lowest_m: Annotated[float, Ge(0), Le(100)] | None = None


@record
class Kit:
    """What is in use now, and the filters, close-up gear and lights owned (the only ones that are proposed)."""

    body: Body
    lens: Lens
    support: Support
    filters: Annotated[tuple[Filter, ...], MaxLen(40)] = ()
    gear: Annotated[tuple[Gear, ...], MaxLen(40)] = ()
    lights: Annotated[tuple[LightSource, ...], MaxLen(20)] = ()


@record
class Reading:
    """A meter reading without filters. Its time tells how far the light has moved since.

    ``through_lens`` is False for a hand-held meter, which does not see the lens's extension.
    """

    aperture_n: Aperture
    shutter_s: ShutterSeconds
    iso: Iso
    taken_at_utc: datetime
    element_id: Identifier | None = None
    through_lens: bool = True


@record
class RidgePoint:
    """A point of a ridgeline: bearing and level distance from where it was measured, height above 0."""

    bearing_deg: Annotated[float, Ge(-360), Le(360)]
    distance_m: Annotated[float, Gt(0), Le(100_000)]
    height_m: Metres


@record
class Element:
    """One thing in the picture, in metres from the place's origin.

    A box: ``east_m``, ``north_m`` and ``base_m`` locate the middle of the foot of its near face;
    ``turned_deg`` is the azimuth in which it runs away from there. What lies (water, ground) is a
    patch at the level ``base_m``. With two or more points in ``ridgeline`` it is the curtain below
    that line instead, measured from ``east_m``, ``north_m`` and reaching down to ``base_m``.
    ``reading_ev100`` is its spot reading at the time of the meter reading.
    """

    id: Identifier
    name: Name
    role: Role
    silhouette: SilhouetteKind
    east_m: Metres
    north_m: Metres
    base_m: Metres = 0.0
    turned_deg: Annotated[float, Ge(-360), Le(360)] = 0.0
    width_m: Size = 1.0
    depth_m: Size = 1.0
    height_m: Size = 1.0
    sharp: bool = True
    motion: Motion = "still"
    speed_m_s: Annotated[float, Ge(0), Le(100)] = 0.0
    reading_ev100: Annotated[float, Ge(-20), Le(30)] | None = None
    holds_detail: bool = True
    ridgeline: Annotated[tuple[RidgePoint, ...], MaxLen(200)] = ()


@record
class StandLine:
    """A line not to cross, such as an edge or a fence: stand to its left, facing from its first point to its second."""

    name: Name
    from_east_m: Metres
    from_north_m: Metres
    to_east_m: Metres
    to_north_m: Metres


@record
class PanelReading:
    """A spot reading of a panorama, EV at ISO 100, at an azimuth."""

    azimuth_deg: Annotated[float, Ge(-360), Le(720)]
    ev100: Annotated[float, Ge(-20), Le(30)]


@record
class Panorama:
    """A picture of several panels, turned about the lens's entrance pupil or near it.

    The span runs clockwise from ``from_deg`` to ``to_deg``. Without heights there is one row at the
    composition's pitch. ``pupil_offset_mm`` is how far the entrance pupil lies from the turning axis.
    ``read_at_utc`` is when the readings were taken, None for the moment itself.
    """

    on: bool = False
    from_deg: Annotated[float, Ge(0), Le(360)] = 0.0
    to_deg: Annotated[float, Ge(0), Le(360)] = 90.0
    bottom_deg: Annotated[float, Ge(-89), Le(89)] | None = None
    top_deg: Annotated[float, Ge(-89), Le(89)] | None = None
    overlap: Annotated[float, Ge(0.1), Le(0.8)] = 1 / 3
    pupil_offset_mm: Annotated[float, Ge(0), Le(1000)] = 0.0
    readings: Annotated[tuple[PanelReading, ...], MaxLen(60)] = ()
    read_at_utc: datetime | None = None


@record
class Underlay:
    """A reference photograph shown under the drawn view: where it looked and what it took in.

    ``view_deg`` is its field of view across, ``aspect`` its width over its height.
    """

    photograph_id: Identifier
    azimuth_deg: Annotated[float, Ge(-360), Le(720)]
    pitch_deg: Annotated[float, Ge(-89), Le(89)]
    roll_deg: Annotated[float, Ge(-180), Le(180)] = 0.0
    view_deg: Annotated[float, Ge(0.1), Le(170)]
    aspect: Annotated[float, Ge(0.05), Le(20)]
    opacity: Annotated[float, Ge(0), Le(1)] = 0.5


@record
class Wants:
    """What the photographer asks for, and the schools they follow."""

    criterion: Criterion = "print"
    focus_school: FocusSchool = "balanced"
    water_look: WaterLook = "any"
    sharp_foliage: bool = False
    hold_range: bool = True
    highest_iso: Iso = 1600.0


@record
class Settings:
    """The camera's settings. ``focus_m`` is from the lens, None for infinity.

    ``offset_stops`` is how much brighter than metered the photographer wants the frame.
    """

    focal_length_mm: FocalLength
    aperture_n: Aperture
    shutter_s: ShutterSeconds
    iso: Iso
    focus_m: Annotated[float, Gt(0.002), Le(100_000)] | None
    filters: Annotated[tuple[FilterInUse, ...], MaxLen(10)] = ()
    offset_stops: Annotated[float, Ge(-10), Le(10)] = 0.0
    bulb: bool = False
    timer_s: Annotated[float, Ge(0), Le(60)] = 2.0


@record
class Technique:
    """How the picture is put together from frames.

    With ``only_critical`` gapless slices hold what must be sharp, and may leave the air between soft.
    """

    slices: SliceMode = "one"
    hand_foci_m: Annotated[tuple[Annotated[float, Gt(0.002), Le(100_000)], ...], MaxLen(60)] = ()
    overlap: Annotated[float, Ge(0), Le(0.8)] = 0.2
    bracket: BracketSet = "none"
    hand_offsets_stops: Annotated[tuple[Annotated[float, Ge(-15), Le(15)], ...], MaxLen(25)] = ()
    order: FrameOrder = "brackets_inside"
    only_critical: bool = False


@record
class Composition:
    """A standpoint, aim, elements, wants, settings and locks, at a moment."""

    moment_utc: datetime
    east_m: Metres = 0.0
    north_m: Metres = 0.0
    ground_m: Metres = 0.0
    camera_height_m: Annotated[float, Ge(0), Le(100)] = 1.5
    azimuth_deg: Annotated[float, Ge(0), Le(360)] = 0.0
    pitch_deg: Annotated[float, Ge(-89), Le(89)] = 0.0
    roll_deg: Annotated[float, Ge(-45), Le(45)] = 0.0
    orientation: Orientation = "level"
    crop: Crop = Crop()
    guide: GuideName = "thirds"
    stand_lines: Annotated[tuple[StandLine, ...], MaxLen(12)] = ()
    panorama: Panorama = Panorama()
    underlay: Underlay | None = None
    hand_held: bool = False
    cloud_stops: Annotated[float, Ge(0), Le(12)] = 0.0
    elements: Annotated[tuple[Element, ...], MaxLen(500)] = ()
    reading: Reading | None = None
    wants: Wants = Wants()
    settings: Settings
    locks: Annotated[tuple[LockName, ...], MaxLen(6)] = ()
    technique: Technique = Technique()
    light_wish: LightWish = LightWish()
    close_up: CloseUp = CloseUp()
    golden_hour: GoldenHour = "six_to_minus_four"


@record
class Scene:
    """Everything one evaluation needs; the forecast where there is one."""

    place: Place
    kit: Kit
    composition: Composition
    forecast: Forecast | None = None
    units: Units = "metric"
