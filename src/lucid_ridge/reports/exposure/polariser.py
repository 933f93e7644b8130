"""What the polariser does to each thing in the picture, and the turns that make a look."""

from __future__ import annotations

from lucid_ridge.core.changes.kinds import Change, PolariserLook, TurnPolariser
from lucid_ridge.core.exposure.closing import filters_in_use
from lucid_ridge.core.exposure.polarised import degree_of, passed_stops
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, stops_words

_NOTICED_STOPS = 1 / 12
LOOKS: tuple[tuple[PolariserLook, str], ...] = (
    ("deep_sky", "deepest sky"),
    ("no_glare", "no sheen on water and wet stone"),
    ("even", "neither more nor less"),
    ("keep_reflection", "reflections as strong as they get"),
)


@record
class PolarisedThing:
    """What the polariser takes from a thing beyond its common loss, as it is turned and at its strongest."""

    id: str
    name: str
    degree: Readout
    now: Readout
    most: Readout


@record
class PolariserLookRow:
    """A look that the polariser can be turned to."""

    look: PolariserLook
    name: str
    in_use: bool
    changes: tuple[Change, ...]


@record
class PolariserStudy:
    """The polariser in use, or the one owned; ``on`` says which. ``note`` says what is left out."""

    name: str
    on: bool
    strength: float
    things: tuple[PolarisedThing, ...]
    looks: tuple[PolariserLookRow, ...]
    note: str


def _taken(stops: float) -> str:
    if abs(stops) < _NOTICED_STOPS:
        return "nothing"
    return f"{stops_words(round(abs(stops) * 6) / 6)} {'darker' if stops > 0 else 'brighter'}"


def polariser_study(state: State) -> PolariserStudy | None:
    """What the polariser does; None where none is owned."""
    owned = next((f for f in state.scene.kit.filters if f.kind == "polariser"), None)
    used = next(((f, use) for f, use in filters_in_use(state.scene) if f.kind == "polariser"), None)
    if owned is None and used is None:
        return None
    strength = used[1].strength if used else 1.0
    sun = (state.sun_azimuth_deg, state.sun_altitude_deg)
    things = []
    for i, element in enumerate(state.scene.composition.elements):
        degree = degree_of(state.scene, state.geometry, i, sun) if state.geometry.seen(i) else 0.0
        if degree < 0.02:
            continue
        now = passed_stops(degree, strength) if used else 0.0
        most = passed_stops(degree, 1.0)
        things.append(
            PolarisedThing(
                id=element.id,
                name=element.name,
                degree=Readout(value=degree, text=f"{degree:.0%}", explain=f"exposure.polarised:{element.id}"),
                now=Readout(value=now, text=_taken(now), explain=f"exposure.polarised_now:{element.id}"),
                most=Readout(value=most, text=_taken(most), explain=f"exposure.polarised_most:{element.id}"),
            )
        )
    name = used[0].name if used else owned.name if owned else ""
    looks = tuple(
        PolariserLookRow(
            look=look,
            name=words,
            in_use=used is not None and abs(strength - TurnPolariser(look=look).strength) < 1e-6,
            changes=(TurnPolariser(look=look),),
        )
        for look, words in LOOKS
    )
    return PolariserStudy(
        name=name,
        on=used is not None,
        strength=strength,
        things=tuple(things),
        looks=looks,
        note="Each as if the filter were turned for it: sky and water at once may ask for different turns.",
    )
