"""The frames of a sequence, and what is done and waited for between them."""

from __future__ import annotations

from lucid_ridge.core.model.scene import FrameOrder, LayerPurpose
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, distance_text


@record
class PlannedFrame:
    """One frame: what to set, what changed since the frame before, and how long it all takes.

    ``changed`` names the rows (aim, focus, filters, aperture, shutter, iso) to set anew. ``goes_on`` says
    that the body takes this frame by itself after the one before, ``hands_off`` that a camera which is told what to set needs
    nobody's hands before it.
    """

    number: int
    slice_number: int
    slice_count: int
    bracket_number: int
    bracket_count: int
    offset_stops: float
    title: str
    caption: str
    actions: tuple[str, ...]
    changed: tuple[str, ...]
    focus: Readout
    aperture: Readout
    shutter: Readout
    iso: Readout
    filters: str
    aim: str = ""
    bulb: bool
    goes_on: bool = False
    hands_off: bool = False
    layer: LayerPurpose | None = None
    panel_number: int = 1
    panel_count: int = 1
    timer_s: float
    exposure_s: float
    dark_frame_s: float = 0.0
    duration_s: float
    duration: Readout = Readout(value=None, text="")
    starts_after_s: float


@record
class Order:
    """An order of slices and brackets, and what it costs.

    ``refocused`` is how often the focus is turned; the rest is how far the light moves within the frames blended for
    focus, and within a bracket. ``why`` says what speaks for the one to ``take``.
    """

    order: FrameOrder
    total: Readout
    refocused: int
    within_stack: Readout
    within_bracket: Readout
    take: bool
    why: str


@record
class Sequence:
    """Frames in order, and what they amount to together; ``orders`` where both slices and brackets are several.

    Where there are too many to lay out, ``frames`` is empty, ``problem`` says so, and the rest is counted all the same.
    """

    frames: tuple[PlannedFrame, ...]
    count: Readout
    problem: str = ""
    slice_count: int
    bracket_count: int
    panel_count: int = 1
    layer_count: int = 0
    total: Readout
    drift: Readout
    drift_is_stale: bool
    by_body: bool
    orders: tuple[Order, ...] = ()


def move_words(state: State, index: int) -> tuple[str, str]:
    """What is done before a slice, and a title for it; both empty where the lens is focused anew."""
    means, depth = state.scene.composition.technique.slices, state.depth
    if means == "sway":
        if index == 0:
            return "Focus by leaning back, then sway forward through the subject in one burst", "Sway forward"
        return "", "The burst goes on"
    if means != "rail" or not depth.moved_m.any():
        return "", ""
    if index == 0:
        action = "Set the focus and leave it; bring the front of the subject just into focus with the rail"
        return action, "Front of the subject"
    step = distance_text(float(depth.moved_m[index] - depth.moved_m[index - 1]), state.scene.units)
    gone = distance_text(float(depth.moved_m[index] - depth.moved_m[0]), state.scene.units)
    return f"Rail {step} forward, to {gone}", f"Rail forward {step}"
