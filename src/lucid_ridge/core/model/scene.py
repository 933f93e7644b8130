"""The scene: a place, the kit in use and one composition at one moment.

These records are the input of everything in `technique`. Distances in metres, angles in degrees,
azimuths from true north clockwise, times aware, exposure settings as exact values.
"""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from annotated_types import Ge, Gt, Le, MaxLen

from lucid_ridge.core.framing.crop import Crop
from lucid_ridge.core.framing.guides import GuideName
from lucid_ridge.core.framing.silhouettes import SilhouetteKind
from lucid_ridge.core.light.definitions import GoldenHour
from lucid_ridge.core.model.gear import CloseUp
from lucid_ridge.core.model.kit import Aperture, FocalLength, Iso, Kit, ShutterSeconds
from lucid_ridge.core.model.place import Forecast, Place
from lucid_ridge.core.model.wanted import LightWish
from lucid_ridge.core.motion.travel import MotionSchool, OwnLook, WaterLook
from lucid_ridge.core.optics.circle_of_confusion import SharpnessStandard
from lucid_ridge.core.optics.focus_schools import FocusSchool
from lucid_ridge.core.records import Identifier, Name, record
from lucid_ridge.core.stops.filters import FilterInUse

Metres = Annotated[float, Ge(-100_000), Le(100_000)]
Size = Annotated[float, Ge(0), Le(100_000)]

Units = Literal["metric", "feet"]
Orientation = Literal["landscape", "portrait"]
Role = Literal["foreground", "subject", "middle", "background", "sky", "water"]
Motion = Literal["still", "water", "foliage", "animal", "cloud"]
SettingName = Literal["focal_length", "aperture", "shutter", "iso", "focus"]
LockName = Literal["focal_length", "aperture", "shutter", "iso", "focus", "filters"]
SliceMode = Literal["one", "gapless", "manual", "rail", "sway"]
BracketSet = Literal["none", "range", "manual"]
FrameOrder = Literal["brackets_inside", "slices_inside"]
LayerPurpose = Literal["foliage", "wave"]
ReadingLight = Literal["as_found", "sun", "shade"]


@record
class Reading:
    """A meter reading. Its time tells how far the light has moved since.

    ``light`` says whether it was taken in sun or in shade, where that is not as the ground lets expect. ``through_lens``
    is False for a hand-held meter, which does not see the lens's extension. An ``incident``
    reading is of the light that falls on the scene, whatever it falls on; it is never taken through a lens. What
    ``filters_on`` took, which were before the lens when the meter looked through it, is in the reading already.
    """

    aperture_n: Aperture
    shutter_s: ShutterSeconds
    iso: Iso
    taken_at_utc: datetime
    element_id: Identifier | None = None
    through_lens: bool = True
    incident: bool = False
    light: ReadingLight = "as_found"
    filters_on: Annotated[tuple[FilterInUse, ...], MaxLen(10)] = ()

    def __post_init__(self) -> None:
        """Put right what cannot be: a meter that does not look through the lens sees nothing of what is before it."""
        if self.incident and self.through_lens:
            object.__setattr__(self, "through_lens", False)
        if not self.through_lens and self.filters_on:
            object.__setattr__(self, "filters_on", ())


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
    ``reading_ev100`` is its spot reading at the time of the meter reading; ``reflectance`` the share of light it
    gives back, None for what is usual. A ``warm`` one is saturated red, orange or yellow: one channel clips first.
    A ``wet`` one shines, and a polariser takes that sheen off.
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
    reflectance: Annotated[float, Gt(0), Le(1)] | None = None
    warm: bool = False
    wet: bool = False
    ridgeline: Annotated[tuple[RidgePoint, ...], MaxLen(200)] = ()


@record
class KeepOutLine:
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


WARM_BACK_OFF_STOPS = 0.5
"""Back off for saturated red, orange or yellow, where one channel clips first: 1/3 to 2/3 stop (common practice)."""


@record
class Wants:
    """What the photographer asks for, and the schools they follow.

    ``frozen_wave`` asks for a frame with the water frozen beside the look that is wanted. ``print_width_mm`` is
    how wide a print the blur is told for. ``smooth_background`` is how large the background's blur disk must be at
    least, as a share of the picture's width; None asks for nothing. ``hand_held_factor`` is how much longer than the
    usual limit the photographer holds still; ``star_trail_px`` how far a star may trail. ``own_looks`` are what one's own rated takes
    say of looks of the water. ``warm_back_off_stops`` is how much room is left above saturated colours.
    """

    sharpness_standard: SharpnessStandard = "print"
    focus_school: FocusSchool = "balanced"
    water_look: WaterLook = "any"
    sharp_foliage: bool = False
    hold_range: bool = True
    highest_iso: Iso = 1600.0
    motion_school: MotionSchool = "seconds"
    frozen_wave: bool = False
    most_frames: Annotated[int, Ge(1), Le(2000)] = 200
    print_width_mm: Annotated[float, Ge(50), Le(5000)] = 600.0
    smooth_background: Annotated[float, Gt(0), Le(1)] | None = None
    hand_held_factor: Annotated[float, Ge(0.1), Le(16)] = 1.0
    star_trail_px: Annotated[float, Ge(0.5), Le(500)] = 5.0
    own_looks: Annotated[tuple[OwnLook, ...], MaxLen(8)] = ()
    warm_back_off_stops: Annotated[float, Ge(-1), Le(4)] = WARM_BACK_OFF_STOPS

    def own_look(self, look: WaterLook) -> OwnLook | None:
        """What the photographer's own takes say of a look of the water; None where common practice holds."""
        return next((one for one in self.own_looks if one.look == look), None)


@record
class Settings:
    """The camera's settings. ``focus_m`` is from the lens, None for infinity.

    ``compensation_stops`` is the exposure compensation: how much brighter than metered the photographer wants the frame.
    """

    focal_length_mm: FocalLength
    aperture_n: Aperture
    shutter_s: ShutterSeconds
    iso: Iso
    focus_m: Annotated[float, Gt(0.002), Le(100_000)] | None
    filters: Annotated[tuple[FilterInUse, ...], MaxLen(10)] = ()
    compensation_stops: Annotated[float, Ge(-10), Le(10)] = 0.0
    bulb: bool = False
    timer_s: Annotated[float, Ge(0), Le(60)] = 2.0


@record
class Layer:
    """A frame more from the same standpoint, for what moves otherwise than the rest: to be blended later.

    It is exposed as bright as the base frame, with its own shutter, ISO and filters; aperture and framing stay.
    """

    purpose: LayerPurpose
    shutter_s: ShutterSeconds
    iso: Iso
    filters: Annotated[tuple[FilterInUse, ...], MaxLen(10)] = ()


@record
class Technique:
    """How the picture is put together from frames.

    With ``only_critical`` gapless slices hold what must be sharp, and may leave the air between soft.
    """

    slices: SliceMode = "one"
    manual_foci_m: Annotated[tuple[Annotated[float, Gt(0.002), Le(100_000)], ...], MaxLen(60)] = ()
    overlap: Annotated[float, Ge(0), Le(0.8)] = 0.2
    bracket: BracketSet = "none"
    manual_offsets_stops: Annotated[tuple[Annotated[float, Ge(-15), Le(15)], ...], MaxLen(25)] = ()
    order: FrameOrder = "brackets_inside"
    only_critical: bool = False
    layers: Annotated[tuple[Layer, ...], MaxLen(6)] = ()


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
    orientation: Orientation = "landscape"
    crop: Crop = Crop()
    guide: GuideName = "thirds"
    keep_out_lines: Annotated[tuple[KeepOutLine, ...], MaxLen(12)] = ()
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
