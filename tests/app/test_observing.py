"""Logs and figures: one line of JSON for each request, with nothing of what people write or where they go."""

from __future__ import annotations

import io
import json
import logging
import re

import pytest

from lucid_ridge.app.logs import formatter

from .conftest import add_kit, add_place, example_scene

SECRET = "Unseen Hollow 54.123456"


@pytest.fixture
def lines():
    """What is logged, as the lines of the file."""
    out = io.StringIO()
    handler = logging.StreamHandler(out)
    handler.setFormatter(formatter())
    root = logging.getLogger()
    before = root.level
    root.addHandler(handler)
    root.setLevel(logging.INFO)
    yield lambda: [json.loads(line) for line in out.getvalue().splitlines()]
    root.removeHandler(handler)
    root.setLevel(before)


def test_a_request_is_a_line_without_anything_personal(client, lines):
    place = add_place(client, name=SECRET, latitude_deg=54.123456)
    client.get(f"/api/places?after={SECRET}")
    client.put(f"/api/places/{place}", json={"version": 7, "place": {"name": SECRET}})
    client.post("/api/evaluate", json={"scene": example_scene()})
    told = [line for line in lines() if line["event"] == "request"]
    assert [(line["method"], line["route"]) for line in told] == [
        ("POST", "/api/places"),
        ("GET", "/api/places"),
        ("PUT", "/api/places/<uuid:id>"),
        ("POST", "/api/evaluate"),
    ]
    for line in told:
        assert set(line) - {"message"} == {
            "event", "level", "logger", "timestamp", "route", "method", "status", "ms", "request",
        }  # fmt: skip
        assert re.fullmatch(r"[0-9a-f]{12}", line["request"])
    text = json.dumps(lines())
    assert SECRET not in text and "54.123456" not in text and place not in text


def test_what_went_wrong_is_found_by_its_name_in_the_log(client, lines, monkeypatch):
    from lucid_ridge.app.preferences import operations

    monkeypatch.setattr(operations, "read", lambda: 1 / 0)
    answer = client.get("/api/preferences")
    named = answer.headers["X-Request-Id"]
    assert answer.status_code == 500 and answer.json["instance"] == f"/requests/{named}"
    (line,) = [line for line in lines() if line["level"] == "error"]
    assert named in line["event"] and "ZeroDivisionError" in line["exception"]
    assert [line["request"] for line in lines() if line["event"] == "request"] == [named]


def test_health_is_quiet(client, lines):
    client.get("/api/health/ready")
    client.get("/metrics")
    assert lines() == []


def test_figures_are_told_on_this_machine_alone(client):
    add_kit(client)
    client.post("/api/archives/export")
    told = client.get("/metrics").get_data(as_text=True)
    assert re.search(r'lucid_ridge_answers_total\{method="POST",route="/api/kit",status="201"\} \d', told)
    assert re.search(r'lucid_ridge_request_seconds_bucket\{le="0.1",method="POST",route="/api/kit"\}', told)
    assert 'lucid_ridge_jobs{kind="export",state=' in told
    assert client.get("/metrics", environ_base={"REMOTE_ADDR": "192.168.1.9"}).status_code == 404


def test_figures_are_in_the_form_that_is_scraped(client):
    from prometheus_client.parser import text_string_to_metric_families

    names = {family.name for family in text_string_to_metric_families(client.get("/metrics").get_data(as_text=True))}
    assert {"lucid_ridge_request_seconds", "lucid_ridge_answers", "lucid_ridge_jobs", "lucid_ridge_version"} <= names
