"""Words of a rehearsal."""

from __future__ import annotations

from lucid_ridge.core.rehearsal.mishaps import MishapKind

INVENTED = (
    "A drawing of your numbers, not a promise about the place. Texture, colour and the roundness of things are invented.",
    "Mirrors of near things are not exact, and the uneven sky of a polariser on a wide lens is not drawn.",
)

MISHAPS: dict[MishapKind, tuple[str, str, str]] = {
    "camera_moved": ("Camera knocked", "From this frame on the camera points a little elsewhere.", "px"),
    "sinking": ("Tripod sinking", "The camera sinks a little more with every frame.", "px a frame"),
    "shake": ("Camera shake", "The camera moves while this frame is open.", "px"),
    "gust": ("Gust", "A gust takes the leaves in this frame.", "× the wind"),
    "focus_off": ("Focus off", "This frame is focused nearer than planned.", "× what is sharp"),
    "missed_slice": ("Missed slice", "The focus was not turned on for this frame.", "slices"),
    "stale_exposure": ("Old exposure", "The light has fallen since it was metered.", "stops"),
    "forgotten_polariser": ("Polariser left in the bag", "Every frame is taken without it.", ""),
    "clipped_red": ("Red clipped", "Exposed by the overall histogram: the red channel is full.", "stops"),
}
"""Name, meaning and unit of each mishap."""


def share_text(share: float) -> str:
    """A share of the picture."""
    if share <= 0:
        return "nothing"
    if share < 0.001:
        return "under 0.1%"
    return f"{share:.1%}" if share < 0.1 else f"{share:.0%}"
