"""Records as earlier versions saved them open today, whole, and stay so when they are saved again.

A file in ``golden`` is named by the migration that its rows stood under; they are put into tables of that time, which are then
brought up to date. Files there are never made anew: they are what is out there.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import psycopg
import pytest

from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.app.migrations import migrate

from .conftest import close

GOLDEN = sorted((Path(__file__).parent / "golden").glob("*.json"))
ORDER = ("photographers", "kit_items", "places", "compositions", "variants", "tracks", "sequences", "takes")


def lost(saved: Any, shown: Any, path: str = "") -> list[str]:
    """What of a saved document is missing or different in what is shown of it."""
    if isinstance(saved, dict):
        if not isinstance(shown, dict):
            return [path]
        # The version is of the document, and no part of what is shown.
        told = {k: v for k, v in saved.items() if k != "schema_version"}
        return [
            p for k, v in told.items() for p in (lost(v, shown[k], f"{path}/{k}") if k in shown else [f"{path}/{k}"])
        ]
    if isinstance(saved, list):
        if not isinstance(shown, list) or len(saved) != len(shown):
            return [path]
        return [p for i, (a, b) in enumerate(zip(saved, shown, strict=True)) for p in lost(a, b, f"{path}/{i}")]
    if isinstance(saved, (int, float)) and isinstance(shown, (int, float)):
        return [] if saved == shown else [path]
    # Times may be written otherwise: with Z or with an offset.
    same = saved == shown or (
        isinstance(saved, str) and str(shown).rstrip("Z") == saved.replace("+00:00", "").rstrip("Z")
    )
    return [] if same else [path]


RENAMED = {
    "/orientation": "/orientation", "/stand_lines": "/keep_out_lines", "/wants/criterion": "/wants/sharpness_standard",
    "/settings/offset_stops": "/settings/compensation_stops", "/close_up/count_wave": "/close_up/count_diffraction",
    "/technique/hand_foci_m": "/technique/manual_foci_m", "/technique/hand_offsets_stops": "/technique/manual_offsets_stops",
    "/technique/slices": "/technique/slices", "/technique/bracket": "/technique/bracket", "/shade_mm": "/hood_mm",
}  # fmt: skip
"""Where a value stands today that stood elsewhere, or was another word."""
WORDS = {"level": "landscape", "upright": "portrait", "hand": "manual"}


def at(document: Any, path: str) -> Any:
    for name in path.strip("/").split("/"):
        document = document[name]
    return document


def gone(saved: Any, shown: Any) -> list[str]:
    """What is lost of a saved document but for what has another name today, and then the same value."""
    return [
        path
        for path in lost(saved, shown)
        if path not in RENAMED or lost(WORDS.get(str(at(saved, path)), at(saved, path)), at(shown, RENAMED[path]))
    ]


@pytest.fixture(params=GOLDEN, ids=lambda path: path.stem)
def old(request, databases, tmp_path):
    """The application on a database that holds old rows, and the rows."""
    rows = json.loads(request.param.read_text("utf-8"))
    url = databases.fresh(demo=False)
    # As the version that wrote them had its tables.
    migrate(url, "base", down=True)
    migrate(url, request.param.stem.split("-")[0])
    with psycopg.connect(url.replace("+psycopg", "")) as connection:
        for table in ORDER:
            for row in rows[table]:
                columns = ", ".join(f'"{name}"' for name in row)
                connection.execute(
                    f'INSERT INTO "{table}" ({columns}) SELECT {columns} FROM json_populate_record(NULL::"{table}", %s) '
                    "ON CONFLICT DO NOTHING",
                    (json.dumps(row),),
                )
    migrate(url)
    app = create_app(Configuration(url, tmp_path))
    yield app.test_client(), rows
    close(app)


def test_every_saved_composition_opens_whole_and_is_saved_whole(old):
    client, rows = old
    for row in rows["compositions"]:
        shown = client.get(f"/api/compositions/{row['id']}").json
        assert gone(row["document"], shown["composition"]) == [], row["name"]
        fields = ("name", "place_id", "body_id", "lens_id", "support_id", "composition", "version")
        saved = client.put(f"/api/compositions/{row['id']}", json={k: shown[k] for k in fields})
        assert saved.status_code == 200, saved.json
        assert gone(row["document"], saved.json["composition"]) == [], row["name"]


def test_kit_places_tracks_and_variants_open_whole(old):
    client, rows = old
    kit = {one["id"]: one["item"] for one in client.get("/api/kit").json["items"]}
    for row in rows["kit_items"]:
        assert gone(row["details"], {**kit[row["id"]]["details"], "id": row["details"].get("id")}) == [], row["name"]
    places = {one["id"]: one for one in client.get("/api/places").json["places"]}
    for row in rows["places"]:
        assert places[row["id"]]["place"]["name"] == row["name"]
        assert lost(row["sky"], places[row["id"]]["place"]) == [], row["name"]
        tracks = {one["id"]: one for one in client.get("/api/tracks").json["tracks"]}
    for row in rows["tracks"]:
        assert row["id"] in tracks
    for row in rows["variants"]:
        variants = client.get(f"/api/compositions/{row['composition_id']}/variants").json["variants"]
        assert row["id"] in {one["id"] for one in variants}


def test_sequences_and_takes_open_whole(old):
    client, rows = old
    for row in rows["sequences"]:
        answer = client.get(f"/api/sequences/{row['id']}")
        assert answer.status_code == 200, answer.json
        assert lost(row["document"], answer.json["plan"]) == [], row["composition_name"]
        # A number that came later is worked out from what was kept.
        sequence = answer.json["plan"]["sequence"]
        assert sequence["count"]["text"] == str(len(sequence["frames"]))
    for row in rows["takes"]:
        shown = client.get(f"/api/takes/{row['id']}")
        assert shown.status_code == 200
        assert shown.json["rating"] == row["rating"] and shown.json["faults"] == row["faults"]
        assert len(shown.json["compared"]) >= len(row["document"]["frames"])
