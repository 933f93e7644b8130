"""Words of exposure that several reports share."""

from __future__ import annotations

from lucid_ridge.core.motion.travel import WaterLook
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.ledger import LedgerLine
from lucid_ridge.reports.figures import aperture_text, iso_text, stops_words

LOOK_TEXT: dict[WaterLook, str] = {
    "any": "any",
    "freeze": "frozen",
    "texture": "texture",
    "soft": "soft, with force",
    "glass": "glass or mist",
}


def ledger_label(state: State, line: LedgerLine) -> str:
    """What a line of the ledger is of."""
    scene, metered, settings = state.scene, state.exposure.metered, state.exposure.settings
    named = next((one.name for one in scene.kit.filters if one.id == line.filter_id), "")
    match line.kind:
        case "reading":
            return "Reading"
        case "light":
            return "Light since the reading"
        case "polariser" | "nd":
            return named + _turned(state, line.filter_id)
        case "graduated":
            element = next(one.name for one in scene.composition.elements if one.id == line.scope)
            return f"{named} on {element}"
        case "seen":
            return f"{named} was on when metered"
        case "aperture":
            return f"Aperture {aperture_text(metered.aperture_n)} → {aperture_text(settings.aperture_n)}"
        case "iso":
            return f"ISO {iso_text(metered.iso)} → {iso_text(settings.iso)}"
        case "working":
            return f"Lens as it is extended, not {'in the prediction' if metered.predicted else 'seen by the meter'}"
        case "choice":
            return f"Exposed {stops_words(line.stops)} {'brighter' if line.stops < 0 else 'darker'} than metered"
        case "rounding":
            return "To the nearest mark"
        case "film":
            return f"Film, t to the power of {scene.kit.body.reciprocity_p:g}"


def _turned(state: State, filter_id: str) -> str:
    kinds = {one.id: one.kind for one in state.scene.kit.filters}
    use = next(one for one in state.scene.composition.settings.filters if one.filter_id == filter_id)
    return f", turned to {use.strength:.0%}" if kinds[filter_id] != "nd" and use.strength < 1 else ""
