"""The API fuzzed from its own OpenAPI document: no 500, no unvalidated body, answers as described."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    negative_data_rejection,
    response_schema_conformance,
    status_code_conformance,
)

from lucid_ridge.app.factory import Configuration, create_app

from .conftest import close

DOCUMENT = Path(__file__).resolve().parents[2] / "docs/openapi.json"
CHECKS = [
    not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance,
    negative_data_rejection,
]  # fmt: skip


def operations():
    """Mode, path and method of everything in the document, which `./ridge test stale` holds against the code.

    What takes no input, or the bytes of any file, cannot be called wrongly.
    """
    document = json.loads(DOCUMENT.read_text())
    return [
        (mode, path, method)
        for path, methods in document["paths"].items()
        for method, operation in methods.items()
        for mode in schemathesis.GenerationMode
        if mode is schemathesis.GenerationMode.POSITIVE
        or "parameters" in operation
        or "application/json" in operation.get("requestBody", {}).get("content", {})
    ]


@pytest.fixture(scope="module")
def described(databases, tmp_path_factory):
    """One application for all of them: what is sent at random needs no fresh database each time."""
    files = tmp_path_factory.mktemp("files")
    made = create_app(Configuration(databases.fresh(demo=False), files, document=DOCUMENT))
    yield schemathesis.openapi.from_wsgi("/api/openapi.json", made)
    close(made)


@pytest.mark.parametrize(("mode", "path", "method"), operations())
def test_api(described, mode, path, method):
    operation = described[path][method.upper()]

    @settings(
        max_examples=12, deadline=None, suppress_health_check=list(HealthCheck), derandomize=True, database=None,
        phases=[Phase.generate],
    )  # fmt: skip
    @given(case=operation.as_strategy(generation_mode=mode))
    def check(case):
        case.call_and_validate(checks=CHECKS)

    check()
