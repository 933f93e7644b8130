"""Drawing what a request asks for."""

from __future__ import annotations

from base64 import b64encode
from typing import Any, TypeVar

from lucid_ridge.app.problems import Refused
from lucid_ridge.app.rehearsal.messages import Asked, Drawn, NoSuchFrame
from lucid_ridge.app.rehearsal.schemas import FrameBody, FrameOut, ProofBody, ProofOut
from lucid_ridge.app.rehearsal.studio import drawn
from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.check import check_scene

Out = TypeVar("Out", FrameOut, ProofOut)


def _drawn(out: type[Out], body: FrameBody | ProofBody, **parts: Any) -> Out:
    """What is drawn of a body's scene. One that cannot be computed is refused here, with its fields named."""
    scene, piece = apply_changes(body.scene, body.changes), body.piece
    check_scene(scene)
    made = drawn(
        Asked(
            scene=scene,
            mishaps=body.mishaps,
            longest_px=body.longest_px,
            piece=None if piece is None else (piece.x, piece.y, piece.across, piece.down),
            **parts,
        )
    )
    if isinstance(made, NoSuchFrame):
        raise Refused("/number", f"This sequence has {made.count} frames.")
    assert isinstance(made, Drawn)
    masks = {name: None if mask is None else b64encode(mask).decode() for name, mask in made.masks.items()}
    shown = {"told": made.told, "width": made.width, "height": made.height, "jpeg": b64encode(made.jpeg).decode()}
    return out.model_validate(shown | masks)


def frame(body: FrameBody) -> FrameOut:
    """One frame.

    Raises
    ------
    SceneError, Refused, Busy
        If the scene cannot be computed, has no such frame, or too many wait.

    """
    return _drawn(FrameOut, body, number=body.number, shutter_s=body.shutter_s, aperture_n=body.aperture_n)


def proof(body: ProofBody) -> ProofOut:
    """The frames merged.

    Raises
    ------
    SceneError, Busy
        If the scene cannot be computed, or too many wait.

    """
    return _drawn(ProofOut, body, merged=True)
