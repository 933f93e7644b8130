"""What the camera can be told to do."""

from __future__ import annotations

from uuid import UUID

from lucid_ridge.app.camera.schemas import CameraFrameBody, CameraFrameOut, CameraOut
from lucid_ridge.app.camera.source import Camera, CameraSettings, camera
from lucid_ridge.app.field import operations as field
from lucid_ridge.app.pictures import operations as pictures
from lucid_ridge.app.problems import CameraTrouble, Refused
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.core.rehearsal.shots import shots_of
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.evaluate import changed_state
from lucid_ridge.reports.rehearsal.report import MishapOffered, mishaps_offered

NONE = "This server has no camera; take the frames by hand."


def what_camera(sequence_id: UUID | None) -> CameraOut:
    """The camera of this server, and how it is; for a sequence, what a simulated one can let go wrong in it."""
    one = camera()
    if one is None:
        return CameraOut(there=False, name="", simulated=False, state_text="", trouble=NONE)
    try:
        able, now = one.capabilities(), one.state()
    except CameraTrouble as trouble:
        return CameraOut(there=True, name="camera", simulated=False, state_text="", trouble=str(trouble))
    told = f"battery {now.battery * 100:.0f} %, {now.frames_left} frames left on the card"
    mishaps: tuple[MishapOffered, ...] = ()
    if able.simulated and sequence_id is not None:
        state = _state_of(sequence_id)
        mishaps = mishaps_offered(state, shots_of(state))
    return CameraOut(there=True, name=able.name, simulated=able.simulated, state_text=told, trouble="", mishaps=mishaps)


def _the_camera() -> Camera:
    one = camera()
    if one is None:
        raise Refused("/camera", NONE)
    return one


def _state_of(sequence_id: UUID) -> State:
    """What a sequence that was taken to the field was computed from."""
    scene = field.one(sequence_id).plan.scene
    if scene is None:
        raise Refused("/sequence_id", "This sequence was made by an earlier version. Take it to the field anew.")
    return changed_state(scene, terrain=terrain_of(scene.place))


def _set_up(one: Camera, body: CameraFrameBody) -> None:
    """Set the camera for a frame of a sequence that was taken to the field."""
    state = _state_of(body.sequence_id)
    shots = shots_of(state)
    if body.number > len(shots):
        raise Refused("/number", f"This sequence has {len(shots)} frames.")
    shot = shots[body.number - 1]
    one.stand(state.scene, body.number, body.mishaps, body.clock_off_s)
    one.set(CameraSettings(shot.shutter_s, shot.aperture_n, shot.iso, shot.focus_m))


def take_frame(frame_id: UUID, body: CameraFrameBody) -> CameraFrameOut:
    """Take a frame, or say how far it is; once the camera has it, it is kept as a picture under the same id.

    Asked again with the same id nothing is taken twice, whatever was lost on the way.

    Raises
    ------
    CameraTrouble
        If the camera does not do it.
    Refused
        If there is no camera, or no such frame.

    """
    kept = pictures.one(frame_id)
    if kept is not None:
        return CameraFrameOut(state="kept", exposed_s=0.0)
    one = _the_camera()
    now = one.exposure(frame_id)
    if now is None:
        _set_up(one, body)
        now = one.expose(frame_id)
    if now.state == "exposing":
        return CameraFrameOut(state="exposing", exposed_s=now.exposed_s)
    frame = pictures.Frame(body.sequence_id, body.number, body.take_id)
    pictures.keep(frame_id, f"frame {body.number}.jpg", one.fetch(frame_id), frame)
    return CameraFrameOut(state="kept", exposed_s=now.exposed_s)


def stop_frame(frame_id: UUID) -> None:
    """Close the shutter now."""
    _the_camera().stop(frame_id)
