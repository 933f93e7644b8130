"""How smooth the background gets in the picture that the frames are blended to."""

from __future__ import annotations

import numpy as np

from lucid_ridge.core.state.close_up import near
from lucid_ridge.core.state.depth import FARTHEST_FOCUSED_M
from lucid_ridge.core.state.state import State


def background_m(state: State) -> float:
    """Distance from the lens to the background that fills the picture behind the subject."""
    now = near(state)
    return min((now.subject_mm + now.behind_mm) / 1000, FARTHEST_FOCUSED_M)


def background_share(state: State) -> float:
    """Blur disk of the background as a share of the frame's width; of slices the one that blurs it least counts."""
    disk = state.depth.blur_at(np.array([background_m(state)])).defocus_mm
    return float(disk[0]) / state.geometry.picture_mm[0]
