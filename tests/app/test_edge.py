"""The edge: evaluation over HTTP, guards, malformed requests, a missing database."""

from __future__ import annotations

import pytest

from lucid_ridge.app.factory import Configuration, create_app

from .conftest import add_kit, add_place, example_scene


def test_evaluate_applies_changes_and_answers_whole(client):
    changes = [{"kind": "nudge", "setting": "aperture", "steps": 3}, {"kind": "slices", "mode": "gapless"}]
    made = client.post("/api/evaluate", json={"scene": example_scene(), "changes": changes}).json
    assert made["setting_summaries"][1]["text"] == "f/16"
    assert {"framing", "light", "depth", "ledger", "range", "motion", "sequence", "tensions"} <= made.keys()


def test_a_mend_sent_back_removes_its_tension(client):
    first = client.post("/api/evaluate", json={"scene": example_scene()}).json
    for tension in first["tensions"]:
        mended = client.post("/api/evaluate", json={"scene": example_scene(), "changes": tension["mend"]["changes"]})
        assert tension["kind"] not in {t["kind"] for t in mended.json["tensions"]}


def test_a_wish_is_granted_or_it_says_why(client):
    wish = {"kind": "part", "element_id": "boathouse", "other_id": "far-shore"}
    answer = client.post("/api/solve", json={"scene": example_scene(), "wish": wish}).json
    assert bool(answer["changes"]) != bool(answer["why_not"])
    assert (answer["picture"] is None) == bool(answer["why_not"])
    unknown = client.post("/api/solve", json={"scene": example_scene(), "wish": wish | {"other_id": "nobody"}})
    assert unknown.status_code == 422
    assert unknown.json["errors"][0]["pointer"] == "/wish/other_id"


def test_explain_tells_formula_inputs_and_source(client):
    made = client.post("/api/explain", json={"scene": example_scene(), "key": "depth.hyperfocal"}).json
    assert made["formula"] == "H = f² / (N c′) + f"
    assert "Ray" in made["source"]
    assert client.post("/api/explain", json={"scene": example_scene(), "key": "depth.luck"}).status_code == 422


def test_scene_problems_name_their_field(client):
    scene = example_scene()
    scene["composition"]["settings"]["focal_length_mm"] = 300
    answer = client.post("/api/evaluate", json={"scene": scene})
    assert answer.status_code == 422
    assert answer.json["errors"][0]["pointer"] == "/composition/settings/focal_length_mm"
    scene["composition"]["settings"]["aperture_n"] = 0
    answer = client.post("/api/evaluate", json={"scene": scene})
    assert answer.json["errors"][0]["pointer"].endswith("/settings/aperture_n")


@pytest.mark.parametrize(
    ("data", "status"), [(b"{", 400), (b"", 400), (b"[]", 422), (b"\xff\xfe", 400), (b"null", 422)]
)
def test_what_is_no_json_is_told_so(client, data, status):
    answer = client.post("/api/evaluate", data=data, content_type="application/json")
    assert (answer.status_code, answer.content_type) == (status, "application/problem+json")


def test_guards(client):
    scene = {"scene": example_scene()}
    assert client.post("/api/evaluate", json=scene, headers={"Host": "evil.example"}).status_code == 400
    assert client.post("/api/evaluate", json=scene, headers={"Origin": "http://evil.example"}).status_code == 403
    assert client.post("/api/evaluate", data=b"{}", content_type="text/plain").status_code == 415
    assert client.post("/api/evaluate", data=b"x" * 5_000_000, content_type="application/json").status_code == 413
    assert client.get("/api/evaluate").status_code == 405
    assert "POST" in client.get("/api/evaluate").headers["Allow"]
    headers = client.get("/api/places").headers
    assert "default-src 'self'" in headers["Content-Security-Policy"]
    assert headers["Cache-Control"] == "no-store"


def test_a_database_that_is_gone_is_told_and_nothing_breaks():
    app = create_app(Configuration("postgresql+psycopg://nobody:x@127.0.0.1:1/none"))
    answer = app.test_client().get("/api/places")
    assert (answer.status_code, answer.content_type) == (503, "application/problem+json")
    assert app.test_client().post("/api/evaluate", json={"scene": example_scene()}).status_code == 200


def test_the_built_page_is_served_for_every_screen(tmp_path):
    (tmp_path / "index.html").write_text("<p>page</p>")
    (tmp_path / "assets").mkdir()
    (tmp_path / "assets" / "a.js").write_text("1")
    (tmp_path.parent / "secret.txt").write_text("no")
    client = create_app(Configuration("postgresql+psycopg://nobody@127.0.0.1/none", web_folder=tmp_path)).test_client()
    with client.get("/compositions/1234") as page:
        assert b"page" in page.data
    with client.get("/assets/a.js") as script:
        assert "immutable" in script.headers["Cache-Control"]
    assert client.get("/assets/b.js").status_code == 404
    assert client.get("/api/nothing").status_code == 404
    with client.get("/..%2fsecret.txt") as outside:
        assert outside.data != b"no"


def test_migrations_make_the_tables_that_the_code_has(databases):
    from alembic.autogenerate import compare_metadata
    from alembic.migration import MigrationContext
    from sqlalchemy import create_engine

    from lucid_ridge.app.tables import Base

    def ours(name, kind, _):
        """The tables of the queue are its library's."""
        return kind != "table" or not name.startswith("procrastinate_")

    engine = create_engine(databases.fresh())
    with engine.connect() as connection:
        context = MigrationContext.configure(connection, opts={"compare_type": True, "include_name": ours})
        assert compare_metadata(context, Base.metadata) == []
    engine.dispose()


def test_sequence_files_and_proposals_at_the_edge(client):
    body = {"scene": example_scene(), "changes": []}
    for form, kind, start in (
        ("pdf", "application/pdf", b"%PDF-"),
        ("csv", "text/csv", b"number,"),
        ("json", "application/json", b"{"),
    ):
        made = client.post("/api/sequence-file", json=body | {"form": form, "name": "Dawn"})
        assert made.status_code == 200 and made.content_type.startswith(kind) and made.data.startswith(start)
    refused = client.post("/api/sequence-file", json=body | {"form": "docx"})
    assert refused.status_code == 422 and refused.json["errors"][0]["pointer"] == "/form"
    gone = [{"kind": "filters", "filters": [{"filter_id": "nobody"}]}]
    wrong = client.post("/api/ways/why-not", json=body | {"proposal": gone})
    assert wrong.status_code == 422 and "not among the ones owned" in wrong.json["errors"][0]["message"]
    found = client.post("/api/ways", json=body)
    assert found.status_code == 200 and found.json["ways"]


def test_gear_and_lights_are_kept_under_their_own_ids(client):
    tube = {"id": "new", "name": "25 mm tube", "kind": "tube", "extension_mm": 25}
    made = client.post("/api/kit", json={"item": {"kind": "gear", "details": tube}})
    assert made.status_code == 201 and made.json["item"]["details"]["id"] == made.json["id"]
    refused = client.post("/api/kit", json={"item": {"kind": "gear", "details": tube | {"extension_mm": 0}}})
    assert refused.json["errors"][0]["pointer"] == "/item/details/extension_mm"
    lamp = client.post(
        "/api/kit", json={"item": {"kind": "light", "details": {"id": "x", "name": "lamp", "kind": "lamp"}}}
    )
    assert lamp.status_code == 201
    lens = example_scene()["kit"]["lens"] | {"longest_mm": 1}
    wrong = client.post("/api/close-up", json={"scene": example_scene(), "changes": [], "lenses": [lens]})
    assert wrong.status_code == 422 and wrong.json["errors"][0]["pointer"] == "/lenses/0/longest_mm"


def test_a_new_composition_takes_over_the_schools_of_the_last(client):
    ids = add_kit(client) | {"place_id": add_place(client)}
    first = client.post("/api/compositions", json={"name": "One", **ids}).json
    document = first["composition"]
    document["wants"] |= {"sharpness_standard": "pixel", "focus_school": "third_in"}
    client.put(f"/api/compositions/{first['id']}", json={"version": 1, "name": "One", **ids, "composition": document})
    wants = client.post("/api/compositions", json={"name": "Two", **ids}).json["composition"]["wants"]
    assert (wants["sharpness_standard"], wants["focus_school"]) == ("pixel", "third_in")


def test_two_that_save_under_one_id_at_the_same_moment(client, monkeypatch):
    """The second one slips past the check: the database refuses it, and that is told as a conflict."""
    monkeypatch.setattr("lucid_ridge.app.kit.operations.check_new_id", lambda *_: None)
    item = {
        "id": "00000000-0000-4000-8000-00000000abcd",
        "item": {"kind": "support", "details": example_scene()["kit"]["support"]},
    }
    assert client.post("/api/kit", json=item).status_code == 201
    second = client.post("/api/kit", json=item)
    assert second.status_code == 409 and second.content_type == "application/problem+json"
    assert "at the same moment" in second.json["title"] and "try once more" in second.json["detail"]
    assert len(client.get("/api/kit").json["items"]) == 1
