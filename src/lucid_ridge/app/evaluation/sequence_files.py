"""The sequence to take along: a field card as PDF, its frames as CSV, all of it as JSON."""

from __future__ import annotations

import csv
import io
import json
from dataclasses import asdict
from typing import Any, Literal
from zoneinfo import ZoneInfo

from pydantic import TypeAdapter

from lucid_ridge.core.state.state import State
from lucid_ridge.formats.cards import Card, CardTable, card_pdf
from lucid_ridge.reports.depth.focus_check import check_card
from lucid_ridge.reports.sequence.build import whole_sequence
from lucid_ridge.reports.sequence.frames import Sequence
from lucid_ridge.reports.ways.way import settings_text, technique_text

SequenceForm = Literal["pdf", "csv", "json"]

_SEQUENCE: TypeAdapter[Sequence] = TypeAdapter(Sequence)
COLUMNS = (
    "number", "panel", "slice", "bracket", "layer", "offset_stops", "focus_m", "aperture_n", "shutter_s", "iso", "filters",
    "bulb", "timer_s", "exposure_s", "dark_frame_s", "duration_s", "starts_after_s", "actions",
)  # fmt: skip
_CAUTION = (
    "Mind edges, water, tide, cold and the way back before the picture; local rules, forecasts and land managers say what "
    "may be done. Do not look at the sun, least of all through a long lens."
)


def _rows(sequence: Sequence) -> list[dict[str, Any]]:
    return [
        {
            "number": f.number,
            "panel": f.panel_number,
            "slice": f.slice_number,
            "bracket": f.bracket_number,
            "layer": f.layer or "",
            "offset_stops": f.offset_stops,
            "focus_m": "" if f.focus.value is None else f.focus.value,
            "aperture_n": f.aperture.value,
            "shutter_s": f.exposure_s,
            "iso": f.iso.value,
            "filters": f.filters,
            "bulb": f.bulb,
            "timer_s": f.timer_s,
            "exposure_s": f.exposure_s,
            "dark_frame_s": f.dark_frame_s,
            "duration_s": f.duration_s,
            "starts_after_s": f.starts_after_s,
            "actions": "; ".join(f.actions),
        }
        for f in sequence.frames
    ]


_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def _cell(value: Any) -> Any:
    """A cell as it is; text that a spreadsheet would take for a formula is marked as text by an apostrophe."""
    return f"'{value}" if isinstance(value, str) and value.startswith(_FORMULA) else value


def sequence_csv(state: State) -> str:
    """One line for each frame, numbers as they are set, times in seconds, distances in metres (empty: infinity)."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, lineterminator="\r\n")
    writer.writeheader()
    writer.writerows({name: _cell(value) for name, value in row.items()} for row in _rows(whole_sequence(state)))
    return out.getvalue()


def sequence_json(state: State, name: str) -> str:
    """The sequence with the composition it carries out."""
    composition = state.scene.composition
    return json.dumps(
        {
            "format": "lucid-ridge-sequence",
            "version": 1,
            "name": name,
            "place": {
                "name": state.scene.place.name,
                "latitude_deg": state.scene.place.latitude_deg,
                "longitude_deg": state.scene.place.longitude_deg,
            },
            "moment_utc": composition.moment_utc.isoformat(),
            "settings": settings_text(state),
            "technique": asdict(composition.technique),
            "sequence": _SEQUENCE.dump_python(whole_sequence(state), mode="json"),
        },
        indent=1,
        ensure_ascii=False,
    )


def sequence_pdf(state: State, name: str) -> bytes:
    """The field card: settings, every frame with what to do before it, and what to check."""
    scene, sequence = state.scene, whole_sequence(state)
    local = scene.composition.moment_utc.astimezone(ZoneInfo(scene.place.time_zone))
    frames = tuple(
        (
            f"{f.number}",
            f"{f.title}\n{'; '.join(f.actions)}" if f.actions else f.title,
            f.focus.text,
            f"{f.shutter.text}{' bulb' if f.bulb else ''}\n{f.aperture.text} ISO {f.iso.text}",
            f.filters,
        )
        for f in sequence.frames
    )
    checks = tuple(
        (row.name, row.distance.text, row.where, "sharp" if row.sharp else "soft") for row in check_card(state)
    )
    tables = [
        CardTable("Frame by frame", ("", "do", "focus", "exposure", "filters"), frames, (0.07, 0.42, 0.14, 0.2, 0.17))
    ]
    if checks:
        tables.append(
            CardTable("Magnify and check", ("what", "at", "where", "ought to be"), checks, (0.46, 0.16, 0.22, 0.16))
        )
    card = Card(
        title=name,
        under=f"{scene.place.name}, {local:%d %B %Y, %H:%M} {local.tzname()}",
        facts=(
            ("settings", settings_text(state)),
            ("technique", technique_text(state)),
            ("body, lens, support", f"{scene.kit.body.name}; {scene.kit.lens.name}; {scene.kit.support.name}"),
            ("camera height", f"{scene.composition.camera_height_m:.2f} m"),
            ("takes", f"{sequence.total.text}; the light changes by {sequence.drift.text}"),
        ),
        tables=tuple(tables),
        notes=(_CAUTION,),
    )
    return card_pdf(card)
