"""What is measured in a reference photograph, as it is shown."""

from __future__ import annotations

from lucid_ridge.core.records import record
from lucid_ridge.core.solve import measure
from lucid_ridge.core.solve.measure import Marks, PhotographAim
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, degrees_text, distance_text


@record
class MeasuredElement:
    """What a marked thing measures, ready to be placed."""

    bearing: Readout
    angular_height: Readout
    distance: Readout
    height: Readout
    width: Readout
    east_m: float
    north_m: float
    base_m: float


def measured_element(state: State, aim: PhotographAim, marks: Marks) -> MeasuredElement:
    """Bearing, distance and size of a thing marked in a photograph; see `measure_element` for errors."""
    found, units = measure.measure_element(state, aim, marks), state.scene.units
    return MeasuredElement(
        bearing=Readout(value=found.bearing_deg, text=degrees_text(found.bearing_deg, 1)),
        angular_height=Readout(value=found.angular_height_deg, text=degrees_text(found.angular_height_deg, 2)),
        distance=Readout(value=found.distance_m, text=distance_text(found.distance_m, units)),
        height=Readout(value=found.height_m, text=distance_text(found.height_m, units)),
        width=Readout(value=found.width_m, text=distance_text(found.width_m, units)),
        east_m=found.east_m,
        north_m=found.north_m,
        base_m=found.base_m,
    )
