"""What all explanations are made of: the record, sources, and common inputs."""

from __future__ import annotations

from lucid_ridge.core.model.scene import Element
from lucid_ridge.core.records import FieldProblem, SceneError, record
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import aperture_text, distance_text

RAY = "S. F. Ray, Applied Photographic Optics, 3rd ed., 2002"
BORN_WOLF = "M. Born and E. Wolf, Principles of Optics: Airy disk 2.44 λN at 550 nm"
PRACTICE = "common practice"
APEX = "CIPA DC-008 (Exif), Annex on APEX"
JANICZEK = "Janiczek and DeYoung, U.S. Naval Observatory Circular 171, 1987; clear sky, level ground"
JPL = "JPL ephemeris DE421 through Skyfield, interpolated from daily nodes"
MOON = "Krisciunas and Schaefer, PASP 103, 1033, 1991; airglow and stars are common practice"
CLEAR_SKY = "Janiczek and DeYoung, U.S. Naval Observatory Circular 171, 1987: beam and sky of a clear day"
PINHOLE = "pinhole camera; Hartley and Zisserman, Multiple View Geometry, 2nd ed., 2004"


@record
class Input:
    """One thing a formula was fed with."""

    name: str
    text: str


@record
class Explanation:
    """Formula, inputs, result and source of one number."""

    title: str
    formula: str
    inputs: tuple[Input, ...]
    result: str
    source: str
    note: str = ""


Inputs = dict[str, str]


def made(title: str, formula: str, inputs: Inputs, result: str, source: str, note: str = "") -> Explanation:
    """An explanation from its parts."""
    return Explanation(
        title=title,
        formula=formula,
        inputs=tuple(Input(name=k, text=v) for k, v in inputs.items()),
        result=result,
        source=source,
        note=note,
    )


def distance_of(state: State, metres: float) -> str:
    """A distance in the units the person chose."""
    return distance_text(metres, state.scene.units)


def lens_inputs(state: State) -> Inputs:
    """Focal length and aperture, as inputs."""
    settings = state.scene.composition.settings
    exact = f"{aperture_text(settings.aperture_n)} (exactly {settings.aperture_n:.3f})"
    return {"f, focal length": f"{settings.focal_length_mm:g} mm", "N, aperture": exact}


def index_of(state: State, element_id: str) -> tuple[int, Element]:
    """Position and record of an element by its id, for keys that name one.

    Raises
    ------
    SceneError
        If the scene has no such element.

    """
    for i, element in enumerate(state.scene.composition.elements):
        if element.id == element_id:
            return i, element
    raise SceneError([FieldProblem(pointer="/key", message=f"No element has the id '{element_id}'.")])
