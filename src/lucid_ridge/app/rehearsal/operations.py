"""Drawing what a request asks for, in turn with what else takes long."""

from __future__ import annotations

from base64 import b64encode
from dataclasses import replace

from lucid_ridge.app.evaluation.operations import state_of
from lucid_ridge.app.problems import Busy, Refused
from lucid_ridge.app.rehearsal.messages import Asked, Drawn, NoSuchFrame
from lucid_ridge.app.rehearsal.schemas import FrameBody, FrameOut, PieceOf, ProofBody, ProofOut
from lucid_ridge.app.rehearsal.studio import STUDIO
from lucid_ridge.app.turns import turn
from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.reports.rehearsal.report import FrameReport, ProofReport


def _coded(data: bytes | None) -> str | None:
    return None if data is None else b64encode(data).decode()


def _piece(piece: PieceOf | None) -> tuple[float, float, int, int] | None:
    return None if piece is None else (piece.x, piece.y, piece.across, piece.down)


def _drawn(body: FrameBody | ProofBody) -> Drawn:
    # A scene that cannot be computed is refused here, with its fields named.
    state = state_of(body)
    place = state.scene.place
    asked = Asked(
        scene=apply_changes(body.scene, body.changes),
        terrain=None if state.terrain is None else (place.terrain_id, id(state.terrain)),
        mishaps=body.mishaps,
        longest_px=body.longest_px,
        piece=_piece(body.piece),
    )
    if isinstance(body, FrameBody):
        asked = replace(asked, number=body.number, shutter_s=body.shutter_s, aperture_n=body.aperture_n)
    else:
        asked = replace(asked, merged=True)
    try:
        with turn():
            made = STUDIO.draw(asked, state.terrain)
    except EOFError:
        raise Busy from None
    if isinstance(made, NoSuchFrame):
        raise Refused("/number", f"This sequence has {made.count} frames.")
    assert isinstance(made, Drawn)
    return made


def frame(body: FrameBody) -> FrameOut:
    """One frame.

    Raises
    ------
    SceneError, Refused, Busy
        If the scene cannot be computed, has no such frame, or too many wait.

    """
    made = _drawn(body)
    assert isinstance(made.told, FrameReport)
    return FrameOut(
        told=made.told,
        width=made.width,
        height=made.height,
        jpeg=b64encode(made.jpeg).decode(),
        clipped=_coded(made.masks["clipped"]),
        blocked=_coded(made.masks["blocked"]),
    )


def proof(body: ProofBody) -> ProofOut:
    """The frames merged.

    Raises
    ------
    SceneError, Busy
        If the scene cannot be computed, or too many wait.

    """
    made = _drawn(body)
    assert isinstance(made.told, ProofReport)
    return ProofOut(
        told=made.told,
        width=made.width,
        height=made.height,
        jpeg=b64encode(made.jpeg).decode(),
        soft=_coded(made.masks["soft"]),
        lost=_coded(made.masks["lost"]),
        ghosts=_coded(made.masks["ghosts"]),
    )
