"""By how much something may miss what is wanted before it counts; one for each thing, wherever it is judged."""

from __future__ import annotations

SHARP = 1.02
"""Blur over what counts as sharp: less than anyone can see, and more than rounding to marks brings."""
RANGE_STOPS = 1 / 6
"""Light beyond what the frames hold: half of the finest step that a camera sets."""
EXPOSURE_STOPS = 0.5
"""Brightness beside what was metered and wanted: more than a third-stop dial leaves."""
MARK_STOPS = 1 / 6
"""A time beside the one that is asked for: nominal marks lie so far from their names."""
MARK = 2**MARK_STOPS
"""The same as a factor."""
BACKGROUND = 0.03
"""Share of the wanted blur disk that rounding to marks may take."""
TILT_DEG = 0.5
"""A tilted horizon: people see half a degree (common practice)."""


def is_soft(total_mm: float, circle_mm: float) -> bool:
    """Whether a blur, diffraction included, is more than what counts as sharp."""
    return total_mm > circle_mm * SHARP
