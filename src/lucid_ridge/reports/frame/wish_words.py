"""What a wish of the picture is answered with: the button, what it gives, the numbers reached, or why nothing grants it."""

from __future__ import annotations

import math

from lucid_ridge.core.camera.geometry import build_geometry
from lucid_ridge.core.camera.keep_out import crossed_line
from lucid_ridge.core.changes.camera_moves import SetHeight
from lucid_ridge.core.framing.crop import PRINT_PER_INCH, crop_rectangle, print_side_m
from lucid_ridge.core.records import record
from lucid_ridge.core.solve.common import anchor_point, in_picture, only
from lucid_ridge.core.solve.sizing import frame_height
from lucid_ridge.core.solve.wishes import CropInstead, Part, PlaceTwo, Refusal, ShareOf, SizeRatio, Solution, Wish
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, degrees_text, distance_text
from lucid_ridge.reports.frame.words import KEEP_BACK


@record
class Fact:
    """A named number of an answer."""

    name: str
    figure: Readout


def _name(state: State, element_id: str | None) -> str:
    return next((one.name for one in state.scene.composition.elements if one.id == element_id), "")


def _capital(text: str) -> str:
    return text[0].upper() + text[1:]


def _shared(state: State, wish: ShareOf) -> str:
    return f"the {_name(state, wish.element_id)}'s reflection" if wish.of == "reflection" else "foreground"


def _pair(state: State, wish: Part) -> str:
    return f"{_name(state, wish.element_id)} and the {_name(state, wish.other_id)}"


def _height_label(before: State, height_m: float, exactly: bool) -> str:
    verb = "Raise" if height_m > before.scene.composition.camera_height_m else "Lower"
    metric = before.scene.units == "metric"
    return f"{verb} to {f'{height_m:.3g} m' if exactly and metric else distance_text(height_m, before.scene.units)}"


def _step_label(before: State, right_m: float) -> str:
    return f"Step {distance_text(abs(right_m), before.scene.units)} to the {'right' if right_m > 0 else 'left'}"


def label(before: State, wish: Wish, found: Solution, after: State) -> str:
    """What the button says."""
    was, now, units = before.scene.composition, after.scene.composition, before.scene.units
    match wish:
        case Part(by="height") | ShareOf():
            return _height_label(before, now.camera_height_m, isinstance(wish, Part))
        case Part():
            step = found.changes[0]
            return _step_label(before, getattr(step, "right_m", 0.0))
        case PlaceTwo():
            words = f"{_step_label(before, found.amounts['step_m'])}, aim at {degrees_text(now.azimuth_deg, 1)}"
            if abs(now.pitch_deg - was.pitch_deg) > 1e-3:
                words += f", pitch {degrees_text(now.pitch_deg, 1)}"
            if any(isinstance(one, SetHeight) for one in found.changes) and (
                abs(now.camera_height_m - was.camera_height_m) > 1e-3
            ):
                words += f", lens {distance_text(now.camera_height_m, units)} up"
            return words
        case SizeRatio():
            back = found.amounts["back_m"]
            way = "back" if back > 0 else "closer"
            return f"Go {distance_text(abs(back), units)} {way}, {now.settings.focal_length_mm:.0f} mm"
        case CropInstead():
            return f"Crop to {wish.focal_length_mm:g} mm"


def gives(before: State, wish: Wish, found: Solution) -> str:
    """What the changes give."""
    match wish:
        case Part():
            apart = f"The {_pair(before, wish)} are then apart"
            return f"{apart}: no skyline cuts the subject." if math.isinf(found.amounts["gap"]) else f"{apart}."
        case ShareOf():
            what, reached = _shared(before, wish), found.amounts["share"]
            if wish.of == "reflection":
                return f"{reached:.0%} of {what} is then seen."
            return f"{_capital(what)} then fills {reached:.0%} of the picture."
        case PlaceTwo():
            first, second = (_name(before, one.element_id) for one in (wish.first, wish.second))
            return f"The {first} and the {second} fall on the chosen points."
        case SizeRatio():
            kept, other = _name(before, wish.keep_id), _name(before, wish.change_id)
            return f"The size of the {kept} stays; the {other} comes out {wish.factor:g} times as large."
        case CropInstead():
            lens, wanted = before.scene.kit.lens, wish.focal_length_mm
            words = f"The crop takes in what {wanted:g} mm would: {found.amounts['scale']:.0%} of the frame's sides."
            if wanted <= lens.longest_mm:
                words += f" The {lens.name} itself reaches that: zooming keeps every pixel."
            return words


def facts(before: State, wish: Wish, found: Solution, after: State) -> tuple[Fact, ...]:
    """The numbers that the changes reach."""
    match wish:
        case Part():
            return _gap_fact(wish, found.amounts["gap"] * 100)
        case ShareOf():
            reached = found.amounts["share"]
            key = f"reflection_share:{wish.element_id}" if wish.of == "reflection" else "foreground_share"
            figure = Readout(value=reached * 100, text=f"{reached:.1%}", explain=f"framing.{key}")
            return (Fact(name="share then", figure=figure),)
        case PlaceTwo():
            return _place_facts(wish, after)
        case SizeRatio():
            return _size_facts(wish, after)
        case CropInstead():
            return _crop_facts(after)


def _gap_fact(wish: Part, reached: float) -> tuple[Fact, ...]:
    if math.isinf(reached):
        return ()
    key = f"framing.pair:{wish.element_id} {wish.other_id}"
    return (Fact(name="gap then", figure=Readout(value=reached, text=f"{reached:.1f} %", explain=key)),)


def _place_facts(wish: PlaceTwo, after: State) -> tuple[Fact, ...]:
    found = []
    for anchor in (wish.first, wish.second):
        index = next(i for i, e in enumerate(after.geometry.elements) if e.id == anchor.element_id)
        x, y = in_picture(after.geometry, anchor_point(after.geometry, index, anchor.part))
        key = f"framing.placing:{anchor.element_id} {anchor.part}"
        figure = Readout(value=float(x), text=f"{x:.1%} across, {y:.1%} down", explain=key)
        found.append(Fact(name=after.geometry.elements[index].name, figure=figure))
    return tuple(found)


def _size_facts(wish: SizeRatio, after: State) -> tuple[Fact, ...]:
    elements = {e.id: e for e in after.geometry.elements}
    pair = build_geometry(only(after.scene, (elements[wish.keep_id], elements[wish.change_id])))
    found = []
    for n, element in enumerate(pair.elements):
        height, _ = frame_height(pair, n)
        figure = Readout(value=height * 100, text=f"{height:.1%}", explain=f"framing.height:{element.id}")
        found.append(Fact(name=f"{element.name}, height in the frame", figure=figure))
    return tuple(found)


def _crop_facts(after: State) -> tuple[Fact, ...]:
    body, units = after.scene.kit.body, after.scene.units
    _, _, width, height = crop_rectangle(after.scene.composition.crop, after.geometry.aspect)
    across, down = max(body.pixels_across, body.pixels_down), min(body.pixels_across, body.pixels_down)
    if after.geometry.aspect < 1:
        across, down = down, across
    pixels = (across * width, down * height)
    megapixels = pixels[0] * pixels[1] / 1e6
    print_m = tuple(print_side_m(side) for side in pixels)
    left = Readout(
        value=megapixels,
        text=f"{pixels[0]:.0f} × {pixels[1]:.0f}, {megapixels:.1f} MP",
        explain="framing.pixel_sides",
    )
    size = " × ".join(distance_text(side, units) for side in print_m)
    return (
        Fact(name="pixels left", figure=left),
        Fact(
            name=f"print at {PRINT_PER_INCH:.0f} per inch",
            figure=Readout(value=print_m[0], text=size, explain="framing.print"),
        ),
    )


def why_not(state: State, wish: Wish, refusal: Refusal) -> str:
    """Why no change grants a wish, and what to try instead."""
    if refusal.kind == "keep_out":
        line = crossed_line(state.scene.composition, refusal.amounts["east_m"], refusal.amounts["north_m"])
        return f"It would take you beyond the {line.name if line else 'line'}. {KEEP_BACK}"
    match wish:
        case Part():
            return _not_parted(state, wish, refusal)
        case ShareOf():
            return _no_share(state, wish, refusal)
        case PlaceTwo():
            return _not_placed(state, wish, refusal)
        case SizeRatio():
            return _no_ratio(state, wish, refusal)
        case CropInstead():
            return _no_crop(state, wish, refusal)


def _reach(state: State, refusal: Refusal, between: str) -> str:
    low, high = (distance_text(refusal.amounts[name], state.scene.units) for name in ("low_m", "high_m"))
    return f"{low} {between} {high}"


def _not_parted(state: State, wish: Part, refusal: Refusal) -> str:
    names, amounts, units = _pair(state, wish), refusal.amounts, state.scene.units
    if refusal.kind == "stand_apart":
        return f"The {names} already stand {'clear' if amounts['skyline'] else f'{wish.gap_percent:g} % apart'}."
    if refusal.kind == "no_step_parts":
        within = distance_text(wish.farthest_step_m, units)
        return f"No step within {within} to either side parts the {names}. Raise or lower the camera."
    most = ""
    if "most" in amounts:
        most = f" The most is {amounts['most'] * 100:.1f} % at {distance_text(amounts['most_at_m'], units)}."
    reach = _reach(state, refusal, "to")
    return f"No height from {reach} parts the {names}.{most} Step sideways, or come closer."


def _no_share(state: State, wish: ShareOf, refusal: Refusal) -> str:
    amounts, units, what = refusal.amounts, state.scene.units, _shared(state, wish)
    if refusal.kind == "no_still_water":
        return "No still water lies in the frame: add water that does not move, or aim at it."
    if refusal.kind == "no_foreground":
        return "No element is a foreground: give one that role."
    span = _reach(state, refusal, "and")
    if refusal.kind == "share_stays":
        return f"At every height between {span}, {what} stays at {amounts['share']:.0%}. Tilt the camera instead."
    return (
        f"Between {span} {what} runs from {amounts['least']:.0%} at {distance_text(amounts['least_at_m'], units)} to "
        f"{amounts['most']:.0%} at {distance_text(amounts['most_at_m'], units)}. Tilt the camera, come closer or change "
        "the lens."
    )


def _not_placed(state: State, wish: PlaceTwo, refusal: Refusal) -> str:
    amounts, units = refusal.amounts, state.scene.units
    if refusal.kind == "height_beyond_reach":
        needed = distance_text(amounts["needed_m"], units)
        reach = _reach(state, refusal, "to")
        return (
            f"Both on their points would need the lens {needed} up; the support reaches {reach}. Leave one of the heights "
            "free."
        )
    off = f" The nearest leaves one {amounts['miss']:.0%} of the picture off." if "miss" in amounts else ""
    first, second = (_name(state, one.element_id) for one in (wish.first, wish.second))
    return (
        f"No standpoint within {distance_text(wish.farthest_step_m, units)} to either side puts the {first} and the "
        f"{second} on these points.{off} A longer or shorter lens spreads them differently; so does coming closer."
    )


def _no_ratio(state: State, wish: SizeRatio, refusal: Refusal) -> str:
    lens, amounts = state.scene.kit.lens, refusal.amounts
    kept, other = _name(state, wish.keep_id), _name(state, wish.change_id)
    if refusal.kind == "focal_length_locked":
        return "The focal length is locked; free it first."
    if refusal.kind == "equally_far":
        return f"The {kept} and the {other} stand equally far: no distance changes their ratio."
    if refusal.kind == "ratio_missed":
        return f"The {other} cannot be made {wish.factor:g} times as large while the {kept} stays."
    if refusal.kind == "focal_length_beyond_lens":
        return f"That would take {amounts['needed_mm']:.0f} mm, out of the reach of the {lens.name}."
    span = f"{amounts['least']:.2f} to {amounts['most']:.2f} times" if "least" in amounts else "less"
    reach = f"{lens.longest_mm:g} mm"
    if lens.longest_mm > lens.shortest_mm:
        reach = f"{lens.shortest_mm:g}–{lens.longest_mm:g} mm"
    return (
        f"The {other} can be made {span} as large against the {kept} with the {lens.name} ({reach}); "
        f"{wish.factor:g} times is out of its reach."
    )


def _no_crop(state: State, wish: CropInstead, refusal: Refusal) -> str:
    wanted = wish.focal_length_mm
    if refusal.kind == "does_not_focus":
        return f"A {wanted:g} mm lens does not focus at {distance_text(refusal.amounts['focus_m'], state.scene.units)}."
    if refusal.kind == "takes_in_no_more":
        return f"The picture already takes in no more than {wanted:g} mm would; give a longer focal length, or widen the crop."
    return f"Too little would be left of the frame; the most is {refusal.amounts['most_mm']:.0f} mm."
