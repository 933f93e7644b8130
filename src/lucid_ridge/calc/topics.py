"""The topics: a request model, a response model, an example, and the function between them."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field, TypeAdapter

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.calc.light_topics import LIGHT_TOPICS
from lucid_ridge.calc.outing_topics import OUTING_TOPICS
from lucid_ridge.calc.requests import ExplainRequest, RehearseRequest, Request, SceneRequest, SolveRequest, Topic
from lucid_ridge.core.optics.circle_of_confusion import SharpnessStandard, circle_of_confusion_mm
from lucid_ridge.core.optics.depth_of_field import hyperfocal_m
from lucid_ridge.core.optics.gaps import Gap, gaps
from lucid_ridge.core.optics.pupils import Optics, Sharpness
from lucid_ridge.core.optics.slices import Slice, TooMuchDiffraction, gapless_slices, slice_at
from lucid_ridge.core.range.brackets import BracketMode, BracketPlan, plan_bracket
from lucid_ridge.core.records import FieldProblem, SceneError
from lucid_ridge.core.solve.wishes import ShareOf
from lucid_ridge.core.state.depth import FARTHEST_FOCUSED_M
from lucid_ridge.reports.close_up.report import CloseUpReport, close_up_report
from lucid_ridge.reports.depth.sharpness import SharpnessStudy, sharpness_study
from lucid_ridge.reports.depth.words import diffraction_words
from lucid_ridge.reports.evaluate import Evaluation, changed_state, evaluate
from lucid_ridge.reports.explain import Explanation, explain
from lucid_ridge.reports.exposure.report import LedgerReport, ledger_report
from lucid_ridge.reports.exposure.study import ExposureStudy, exposure_study
from lucid_ridge.reports.frame.answers import Answer, answer_to
from lucid_ridge.reports.frame.view import FramingReport, framing_report
from lucid_ridge.reports.rehearsal.report import RehearsalReport, rehearsal_report
from lucid_ridge.reports.sequence.build import whole_sequence
from lucid_ridge.reports.sequence.frames import Sequence
from lucid_ridge.reports.ways.report import WaysReport, ways

PupilMagnification = Annotated[float, Field(ge=0.1, le=10)]


class DepthRequest(Request):
    """One lens at one focus. Distances in metres from its principal plane; ``focus_m`` None is infinity."""

    focal_length_mm: Annotated[float, Field(ge=1, le=5000)]
    f_number: Annotated[float, Field(ge=0.5, le=256)]
    focus_m: Annotated[float, Field(gt=0.002, le=100_000)] | None
    blur_um: Annotated[float, Field(gt=0, le=1000)]
    pupil_magnification: PupilMagnification = 1.0


class DepthAnswer(BaseModel):
    """Depth of field; None is infinity. The Airy disk is that of the working f-number at this focus."""

    hyperfocal_m: float
    near_m: float
    far_m: float | None
    airy_um: float
    magnification: float
    working_f_number: float


class SlicesRequest(Request):
    """A stack to plan, or hand-chosen foci to check."""

    focal_length_mm: Annotated[float, Field(ge=1, le=5000)]
    f_number: Annotated[float, Field(ge=0.5, le=256)]
    near_m: Annotated[float, Field(gt=0.002, le=100_000)]
    far_m: Annotated[float, Field(gt=0.002, le=100_000)] | None
    overlap: Annotated[float, Field(ge=0, le=0.8)] = 0.2
    sharpness_standard: SharpnessStandard = "print"
    sensor_width_mm: Annotated[float, Field(ge=3, le=300)] = 36.0
    sensor_height_mm: Annotated[float, Field(ge=3, le=300)] = 24.0
    pixels_across: Annotated[int, Field(ge=100, le=100_000)] = 8192
    manual_foci_m: Annotated[tuple[Annotated[float, Field(gt=0.002, le=100_000)], ...], Field(max_length=60)] = ()
    pupil_magnification: PupilMagnification = 1.0


class SliceAnswer(BaseModel):
    """A slice; None is infinity. The Airy disk is its own, and so is what that leaves for defocus."""

    focus_m: float | None
    near_m: float
    far_m: float | None
    airy_um: float
    allowance_um: float


class GapAnswer(BaseModel):
    """A stretch left soft; None is infinity."""

    near_m: float
    far_m: float | None
    worst_blur_um: float


class SlicesAnswer(BaseModel):
    """Slices, nearest first, and gaps between them; the allowance for defocus is the least of any slice."""

    circle_of_confusion_um: float
    allowance_um: float
    slices: list[SliceAnswer]
    gaps: list[GapAnswer]


class BracketsRequest(Request):
    """A scene in stops relative to the metered mid-tone, and what one frame holds."""

    darkest_stops: Annotated[float, Field(ge=-30, le=30)]
    brightest_stops: Annotated[float, Field(ge=-30, le=30)]
    usable_range_stops: Annotated[float, Field(ge=1, le=20)]
    headroom_stops: Annotated[float, Field(ge=0.5, le=10)]
    modes: Annotated[tuple[BracketMode, ...], Field(max_length=20)] = ()


class BracketsAnswer(BaseModel):
    """The bracket, or None where the base exposure holds everything."""

    bracket: BracketPlan | None


def _finite(value: float) -> float | None:
    return value if value < 1e9 else None


def depth(request: DepthRequest) -> DepthAnswer:
    """Hyperfocal distance and limits."""
    f, n, c = request.focal_length_mm, request.f_number, request.blur_um / 1000
    focus = float("inf") if request.focus_m is None else request.focus_m
    if focus * 1000 <= f:
        raise SceneError(
            [FieldProblem(pointer="/focus_m", message=f"Focus must lie beyond the focal length ({f:g} mm).")]
        )
    optics = Optics(f, n, request.pupil_magnification)
    m = optics.magnification(focus)
    held = slice_at(optics, Sharpness(c, diffraction=False), focus)
    return DepthAnswer(
        hyperfocal_m=float(hyperfocal_m(f, n, c)),
        near_m=held.near_m,
        far_m=_finite(held.far_m),
        airy_um=optics.airy_mm(m) * 1000,
        magnification=m,
        working_f_number=optics.working_f_number(m),
    )


def _slice(one: Slice, optics: Optics, sharp: Sharpness) -> SliceAnswer:
    return SliceAnswer(
        focus_m=_finite(one.focus_m),
        near_m=one.near_m,
        far_m=_finite(one.far_m),
        airy_um=optics.airy_mm(optics.magnification(one.focus_m)) * 1000,
        allowance_um=sharp.allowance_mm(optics, one.focus_m) * 1000,
    )


def _gap(gap: Gap) -> GapAnswer:
    return GapAnswer(near_m=gap.near_m, far_m=_finite(gap.far_m), worst_blur_um=gap.worst_blur_mm * 1000)


def slices(request: SlicesRequest) -> SlicesAnswer:
    """The fewest gapless slices, or the gaps of a hand-chosen set."""
    f, n = request.focal_length_mm, request.f_number
    far = float("inf") if request.far_m is None else request.far_m
    problems = []
    if request.near_m > far:
        problems.append(
            FieldProblem(pointer="/near_m", message="The nearest distance must not be beyond the farthest.")
        )
    if min(request.near_m, *request.manual_foci_m, far) * 1000 <= f:
        problems.append(
            FieldProblem(pointer="/near_m", message=f"Distances must lie beyond the focal length ({f:g} mm).")
        )
    if problems:
        raise SceneError(problems)
    criterion = circle_of_confusion_mm(
        request.sharpness_standard,
        request.sensor_width_mm,
        request.sensor_height_mm,
        request.sensor_width_mm / request.pixels_across,
    )
    optics, sharp = Optics(f, n, request.pupil_magnification), Sharpness(criterion)
    try:
        if request.manual_foci_m:
            made = tuple(slice_at(optics, sharp, s) for s in sorted(request.manual_foci_m))
        else:
            made = gapless_slices(optics, sharp, request.near_m, far, request.overlap)
    except TooMuchDiffraction as problem:
        raise SceneError([FieldProblem(pointer="/f_number", message=diffraction_words(n * problem.times))]) from problem
    except ValueError as problem:
        raise SceneError([FieldProblem(pointer="/f_number", message=f"{problem}.")]) from problem
    found = gaps(optics, sharp, [min(s.focus_m, FARTHEST_FOCUSED_M) for s in made], request.near_m, far)
    return SlicesAnswer(
        circle_of_confusion_um=criterion * 1000,
        allowance_um=min(sharp.allowance_mm(optics, s.focus_m) for s in made) * 1000,
        slices=[_slice(s, optics, sharp) for s in made],
        gaps=[_gap(g) for g in found],
    )


def brackets(request: BracketsRequest) -> BracketsAnswer:
    """The smallest bracket that holds a scene."""
    if request.darkest_stops > request.brightest_stops:
        message = "The darkest reading must not be brighter than the brightest."
        raise SceneError([FieldProblem(pointer="/darkest_stops", message=message)])
    usable = request.usable_range_stops
    try:
        plan = plan_bracket(
            request.darkest_stops, request.brightest_stops, usable, min(request.headroom_stops, usable), request.modes
        )
    except ValueError as problem:
        raise SceneError([FieldProblem(pointer="/brightest_stops", message=f"{problem}.")]) from problem
    return BracketsAnswer(bracket=plan)


_SCENE = SceneRequest(scene=TARN_SCENE)

TOPICS: dict[str, Topic] = {
    "evaluate": Topic(
        SceneRequest, TypeAdapter(Evaluation), _SCENE, lambda r: evaluate(r.scene, r.changes), "one composition, whole"
    ),
    "explain": Topic(
        ExplainRequest,
        TypeAdapter(Explanation),
        ExplainRequest(scene=TARN_SCENE, key="depth.hyperfocal"),
        lambda r: explain(changed_state(r.scene, r.changes), r.key, r.lenses),
        "formula, inputs and source of one number",
    ),
    "framing": Topic(
        SceneRequest,
        TypeAdapter(FramingReport),
        _SCENE,
        lambda r: framing_report(changed_state(r.scene, r.changes)),
        "elements projected into the frame",
    ),
    "solve": Topic(
        SolveRequest,
        TypeAdapter(Answer),
        SolveRequest(scene=TARN_SCENE, wish=ShareOf(of="foreground", percent=15)),
        lambda r: answer_to(changed_state(r.scene, r.changes), r.wish),
        "the change that grants a wish of the picture, or why none does",
    ),
    "rehearse": Topic(
        RehearseRequest,
        TypeAdapter(RehearsalReport),
        RehearseRequest(scene=TARN_SCENE),
        lambda r: rehearsal_report(changed_state(r.scene, r.changes), r.mishaps),
        "the frames that the simulated camera can draw, and what can go wrong in them",
    ),
    "ledger": Topic(
        SceneRequest,
        TypeAdapter(LedgerReport),
        _SCENE,
        lambda r: ledger_report(changed_state(r.scene, r.changes)),
        "the stop ledger",
    ),
    "sequence": Topic(
        SceneRequest,
        TypeAdapter(Sequence),
        _SCENE,
        lambda r: whole_sequence(changed_state(r.scene, r.changes)),
        "frames in order with durations",
    ),
    "ways": Topic(
        SceneRequest,
        TypeAdapter(WaysReport),
        _SCENE,
        lambda r: ways(changed_state(r.scene, r.changes)),
        "techniques that give all that is wanted, none beaten by another",
    ),
    "sharpness": Topic(
        SceneRequest,
        TypeAdapter(SharpnessStudy),
        _SCENE,
        lambda r: sharpness_study(changed_state(r.scene, r.changes)),
        "blur in every measure, apertures, schools of focus, the focus check",
    ),
    "closeup": Topic(
        SceneRequest,
        TypeAdapter(CloseUpReport),
        _SCENE,
        lambda r: close_up_report(changed_state(r.scene, r.changes), (r.scene.kit.lens,)),
        "magnification, gear, background, stacks and lights",
    ),
    "exposure": Topic(
        SceneRequest,
        TypeAdapter(ExposureStudy),
        _SCENE,
        lambda r: exposure_study(changed_state(r.scene, r.changes)),
        "filters carried, grad against bracket, looks of water",
    ),
    **LIGHT_TOPICS,
    **OUTING_TOPICS,
    "depth": Topic(
        DepthRequest,
        TypeAdapter(DepthAnswer),
        DepthRequest(focal_length_mm=24, f_number=11, focus_m=0.8, blur_um=30),
        depth,
        "hyperfocal distance and depth of field",
    ),
    "slices": Topic(
        SlicesRequest,
        TypeAdapter(SlicesAnswer),
        SlicesRequest(focal_length_mm=24, f_number=8, near_m=0.35, far_m=None),
        slices,
        "gapless slices, or the gaps of hand-set ones",
    ),
    "brackets": Topic(
        BracketsRequest,
        TypeAdapter(BracketsAnswer),
        BracketsRequest(
            darkest_stops=-6,
            brightest_stops=4,
            usable_range_stops=8,
            headroom_stops=2.5,
            modes=(BracketMode(frames=3, step_stops=2),),
        ),
        brackets,
        "the smallest bracket for a scene",
    ),
}
