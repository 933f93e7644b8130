"""What makes a scene impossible to compute: contradictions that no limit on one field shows."""

from __future__ import annotations

from datetime import datetime
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from lucid_ridge.core.camera.mounted_lens import optical_focal_mm
from lucid_ridge.core.camera.panorama import MOST_PANELS, panel_grid
from lucid_ridge.core.light.ephemeris import FIRST_YEAR, LAST_YEAR
from lucid_ridge.core.light.tide import KINDS
from lucid_ridge.core.model.gear import check_gear
from lucid_ridge.core.model.kit import Body, Kit, Lens, Support
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.model.scene import Composition, Scene
from lucid_ridge.core.records import FieldProblem, SceneError
from lucid_ridge.core.stops.filters import check_filter
from lucid_ridge.core.stops.scales import nominal

# A nominal f-number or time is up to a sixth of a stop from its exact value.
_NOMINAL_SLACK = 2 ** (1 / 12)
_TIME_SLACK = 2 ** (1 / 6)


def _f_number(aperture_n: float) -> str:
    return nominal(aperture_n, "aperture") or f"{aperture_n:.3g}"


def widest_aperture(lens: Lens, focal_length_mm: float) -> float:
    """Widest f-number at a focal length; in between, in proportion to the focal length."""
    span = lens.longest_mm - lens.shortest_mm
    share = (focal_length_mm - lens.shortest_mm) / span if span > 0 else 0.0
    return lens.widest_f_number + share * (lens.widest_f_number_long - lens.widest_f_number)


def check_place(place: Place, pointer: str = "") -> list[FieldProblem]:
    """The time zone, and the tide's constituents, must be known ones; a skyline goes round once."""
    found = []
    try:
        ZoneInfo(place.time_zone)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        message = f"'{place.time_zone}' is no known time zone; use a name such as Europe/Paris or UTC."
        found.append(FieldProblem(pointer=f"{pointer}/time_zone", message=message))
    for i, one in enumerate(place.tide.constituents if place.tide else ()):
        if one.name not in KINDS:
            message = f"'{one.name}' is no constituent that is known here; known are {', '.join(KINDS)}."
            found.append(FieldProblem(pointer=f"{pointer}/tide/constituents/{i}/name", message=message))
    azimuths = [round(p.azimuth_deg % 360, 3) for p in place.skyline]
    for i, azimuth in enumerate(azimuths):
        if azimuth in azimuths[:i]:
            message = f"{azimuth:g}° is measured twice; keep one of the two."
            found.append(FieldProblem(pointer=f"{pointer}/skyline/{i}/azimuth_deg", message=message))
    return found


def check_body(body: Body, pointer: str = "") -> list[FieldProblem]:
    """ISO and shutter limits must not be the wrong way round."""
    found = []
    if body.highest_iso < body.base_iso:
        found.append(
            FieldProblem(pointer=f"{pointer}/highest_iso", message="The highest ISO must not be below the base ISO.")
        )
    if body.longest_timed_s < body.shortest_shutter_s:
        found.append(
            FieldProblem(
                pointer=f"{pointer}/longest_timed_s",
                message="The longest timed shutter must not be shorter than the shortest.",
            )
        )
    return found


def check_lens(lens: Lens, pointer: str = "") -> list[FieldProblem]:
    """Focal length and aperture limits must not be the wrong way round."""
    found = []
    if lens.longest_mm < lens.shortest_mm:
        found.append(
            FieldProblem(
                pointer=f"{pointer}/longest_mm", message="The longest focal length must not be below the shortest."
            )
        )
    if lens.narrowest_f_number < max(lens.widest_f_number, lens.widest_f_number_long):
        found.append(
            FieldProblem(
                pointer=f"{pointer}/narrowest_f_number",
                message="The narrowest f-number must not be below the widest.",
            )
        )
    return found


def check_support(support: Support, pointer: str = "") -> list[FieldProblem]:
    """The reach must not be the wrong way round."""
    found = []
    if support.highest_m < support.lowest_m:
        message = "The highest reach must not be below the lowest."
        found.append(FieldProblem(pointer=f"{pointer}/highest_m", message=message))
    if support.inverted_lowest_m is not None and support.inverted_lowest_m > support.highest_m:
        message = "Hung upside down the camera must not be higher than the highest reach."
        found.append(FieldProblem(pointer=f"{pointer}/inverted_lowest_m", message=message))
    return found


def check_kit(kit: Kit, pointer: str = "/kit") -> list[FieldProblem]:
    """Every piece, and filter ids that are unique."""
    found = [
        *check_body(kit.body, f"{pointer}/body"),
        *check_lens(kit.lens, f"{pointer}/lens"),
        *check_support(kit.support, f"{pointer}/support"),
    ]
    for i, owned in enumerate(kit.filters):
        found += check_filter(owned, f"{pointer}/filters/{i}")
    for i, gear in enumerate(kit.gear):
        found += check_gear(gear, f"{pointer}/gear/{i}")
    for field, owned_things in (("gear", kit.gear), ("lights", kit.lights)):
        if len({one.id for one in owned_things}) < len(owned_things):
            message = "Two pieces share an id; give each its own."
            found.append(FieldProblem(pointer=f"{pointer}/{field}", message=message))
    if len({f.id for f in kit.filters}) < len(kit.filters):
        found.append(FieldProblem(pointer=f"{pointer}/filters", message="Two filters share an id; give each its own."))
    return found


def _check_instant(instant: datetime, pointer: str) -> list[FieldProblem]:
    if instant.tzinfo is None:
        message = "Give the time with its offset from UTC, for example 2026-10-18T05:40:00Z."
        return [FieldProblem(pointer=pointer, message=message)]
    if not FIRST_YEAR <= instant.year <= LAST_YEAR:
        message = f"The sun is known for {FIRST_YEAR} to {LAST_YEAR}; choose a year among them."
        return [FieldProblem(pointer=pointer, message=message)]
    return []


def _check_panorama(composition: Composition, pointer: str) -> list[FieldProblem]:
    low, high = composition.panorama.bottom_deg, composition.panorama.top_deg
    if low is not None and high is not None and high <= low:
        return [FieldProblem(pointer=f"{pointer}/top_deg", message="The upper edge must lie above the lower one.")]
    return []


def _check_lines(composition: Composition, pointer: str) -> list[FieldProblem]:
    found = []
    for i, line in enumerate(composition.keep_out_lines):
        if line.from_east_m == line.to_east_m and line.from_north_m == line.to_north_m:
            message = "A line not to cross needs two different points."
            found.append(FieldProblem(pointer=f"{pointer}/keep_out_lines/{i}/to_east_m", message=message))
    for i, element in enumerate(composition.elements):
        if len(element.ridgeline) == 1:
            message = "A ridgeline needs at least two points."
            found.append(FieldProblem(pointer=f"{pointer}/elements/{i}/ridgeline", message=message))
    return found


def check_composition(composition: Composition, pointer: str = "/composition") -> list[FieldProblem]:
    """What can be judged without the kit: times, and ids that are unique and known."""
    found = _check_instant(composition.moment_utc, f"{pointer}/moment_utc")
    if composition.panorama.read_at_utc is not None:
        found += _check_instant(composition.panorama.read_at_utc, f"{pointer}/panorama/read_at_utc")
    found += _check_panorama(composition, f"{pointer}/panorama")
    found += _check_lines(composition, pointer)
    ids = [e.id for e in composition.elements]
    if len(set(ids)) < len(ids):
        found.append(
            FieldProblem(pointer=f"{pointer}/elements", message="Two elements share an id; give each its own.")
        )
    reading = composition.reading
    if reading is not None:
        found += _check_instant(reading.taken_at_utc, f"{pointer}/reading/taken_at_utc")
        if reading.element_id is not None and reading.element_id not in ids:
            found.append(
                FieldProblem(
                    pointer=f"{pointer}/reading/element_id",
                    message="The metered element is no longer in the composition; choose another or none.",
                )
            )
    mounted = [one.gear_id for one in composition.close_up.mounted]
    if len(set(mounted)) < len(mounted):
        found.append(FieldProblem(pointer=f"{pointer}/close_up/mounted", message="A piece can be put on only once."))
    used = [use.filter_id for use in composition.settings.filters]
    if len(set(used)) < len(used):
        found.append(FieldProblem(pointer=f"{pointer}/settings/filters", message="A filter can be put on only once."))
    return found


def _check_settings(scene: Scene, pointer: str) -> list[FieldProblem]:  # noqa: C901 -- a check for each setting
    settings, lens, body = scene.composition.settings, scene.kit.lens, scene.kit.body
    found = []

    def problem(field: str, message: str) -> None:
        found.append(FieldProblem(pointer=f"{pointer}/{field}", message=message))

    f = settings.focal_length_mm
    if not lens.shortest_mm - 1e-6 <= f <= lens.longest_mm + 1e-6:
        reach = (
            f"{lens.shortest_mm:g} to {lens.longest_mm:g} mm"
            if lens.longest_mm > lens.shortest_mm
            else f"{lens.shortest_mm:g} mm"
        )
        problem("focal_length_mm", f"The {lens.name} is {reach}, not {f:g} mm. Choose within it or change the lens.")
    else:
        widest = widest_aperture(lens, f)
        if not widest / _NOMINAL_SLACK <= settings.aperture_n <= lens.narrowest_f_number * _NOMINAL_SLACK:
            problem(
                "aperture_n",
                f"At {f:g} mm the {lens.name} opens from f/{_f_number(widest)} to "
                f"f/{_f_number(lens.narrowest_f_number)}.",
            )
    whole = optical_focal_mm(lens, f)
    if settings.focus_m is not None and settings.focus_m * 1000 <= whole * 1.001:
        problem("focus_m", f"Focus must lie beyond the focal length ({whole:g} mm); a lens cannot focus closer.")
    if not body.base_iso / _TIME_SLACK / 2 <= settings.iso <= body.highest_iso * _TIME_SLACK:
        problem("iso", f"The body's ISO runs from {body.base_iso:g} to {body.highest_iso:g}.")
    if settings.shutter_s < body.shortest_shutter_s / _TIME_SLACK:
        problem("shutter_s", "The body's shutter is not that fast.")
    close_up, base = scene.composition.close_up, pointer.removesuffix("/settings")
    pieces, lamps = {one.id for one in scene.kit.gear}, {one.id for one in scene.kit.lights}
    for i, one in enumerate(close_up.mounted):
        if one.gear_id not in pieces:
            message = "This piece is not among the gear owned; take it off or add it to the kit."
            found.append(FieldProblem(pointer=f"{base}/close_up/mounted/{i}/gear_id", message=message))
    for i, light in enumerate(close_up.lights):
        if light.light_id not in lamps:
            message = "This light is not among the ones owned; switch it off or add it to the kit."
            found.append(FieldProblem(pointer=f"{base}/close_up/lights/{i}/light_id", message=message))
    known = {owned.id for owned in scene.kit.filters}
    for i, use in enumerate(settings.filters):
        if use.filter_id not in known:
            problem(
                f"filters/{i}/filter_id", "This filter is not among the ones owned; take it off or add it to the kit."
            )
    return found


def check_scene(scene: Scene) -> None:
    """Refuse a scene that cannot be computed.

    Raises
    ------
    SceneError
        With every problem found, each naming its field.

    """
    found = [
        *check_place(scene.place, "/place"),
        *check_kit(scene.kit),
        *check_composition(scene.composition),
        *_check_settings(scene, "/composition/settings"),
    ]
    grid = panel_grid(scene.composition, scene.kit) if not found else None
    if grid is not None and grid.count > MOST_PANELS:
        message = (
            f"That takes {grid.count} panels, more than {MOST_PANELS}; choose a shorter lens, a smaller span or less "
            "overlap."
        )
        found.append(FieldProblem(pointer="/composition/panorama/to_deg", message=message))
    if found:
        raise SceneError(found)
