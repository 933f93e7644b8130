"""The application on a real PostgreSQL, called through Flask's client."""

from __future__ import annotations

import threading
from typing import Any

import pytest
from flask import Flask
from flask.testing import FlaskClient

from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.calc.topics import TOPICS


def close(app: Flask) -> None:
    """Close the application's database once nothing in the background uses it any more."""
    for thread in threading.enumerate():
        if thread.name.startswith("job "):
            thread.join(60)
    app.extensions["database"].dispose()


@pytest.fixture
def app(databases, tmp_path_factory):
    made = create_app(Configuration(databases.fresh(demo=False), tmp_path_factory.mktemp("files")))
    yield made
    close(made)


@pytest.fixture
def demo_app(databases):
    made = create_app(Configuration(databases.fresh(demo=True), databases.files))
    yield made
    close(made)


@pytest.fixture
def client(app) -> FlaskClient:
    return app.test_client()


@pytest.fixture
def demo(demo_app) -> FlaskClient:
    return demo_app.test_client()


def example_scene() -> dict[str, Any]:
    """The worked example as JSON."""
    scene: dict[str, Any] = TOPICS["evaluate"].example.model_dump(mode="json")["scene"]
    return scene


def add_kit(client: FlaskClient) -> dict[str, str]:
    """Put the example's kit in; ids by kind."""
    kit = example_scene()["kit"]
    ids = {}
    for kind in ("body", "lens", "support"):
        made = client.post("/api/kit", json={"item": {"kind": kind, "details": kit[kind]}})
        assert made.status_code == 201, made.json
        ids[f"{kind}_id"] = made.json["id"]
    return ids


def add_place(client: FlaskClient, **parts: Any) -> str:
    place = {"name": "Ling Moss", "latitude_deg": 54.1, "longitude_deg": -2.4, "time_zone": "Europe/London"} | parts
    made = client.post("/api/places", json={"place": place})
    assert made.status_code == 201, made.json
    return str(made.json["id"])
