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
from sqlalchemy import select

from lucid_ridge.app.accounts.secrets import fresh_token, hash_password, token_hash
from lucid_ridge.app.accounts.tables import AccountRow, SignInRow
from lucid_ridge.app.database import LOCAL_PHOTOGRAPHER
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


def signed_in(made):
    """The application, asked by the owner of an installation: whatever is sent, they are signed in."""
    token = fresh_token()
    with made.extensions["database"].transaction() as session:
        session.add(
            AccountRow(
                id=LOCAL_PHOTOGRAPHER, name="Ada", name_key="ada", role="owner", password_hash=hash_password(token)
            )
        )
    plain = made.wsgi_app

    def answer(environ, start_response):
        with made.extensions["database"].transaction() as session:
            # Signing out is one of the things that are tried.
            if session.scalar(select(SignInRow.id).where(SignInRow.token_hash == token_hash(token))) is None:
                session.add(SignInRow(account_id=LOCAL_PHOTOGRAPHER, token_hash=token_hash(token), device="test"))
        environ |= {"HTTP_COOKIE": f"ridge={token}", "HTTP_ORIGIN": f"http://{environ['HTTP_HOST']}"}
        return plain(environ, start_response)

    made.wsgi_app = answer


@pytest.fixture(scope="module", params=["one person", "accounts"])
def described(request, databases, tmp_path_factory):
    """One application for all of them: what is sent at random needs no fresh database each time."""
    files, accounts = tmp_path_factory.mktemp("files"), request.param == "accounts"
    made = create_app(Configuration(databases.fresh(demo=False), files, document=DOCUMENT, accounts=accounts))
    if accounts:
        signed_in(made)
    yield schemathesis.openapi.from_wsgi("/api/openapi.json", made)
    close(made)


@pytest.mark.parametrize(("mode", "path", "method"), operations())
def test_api(described, mode, path, method):
    operation = described[path][method.upper()]

    @settings(
        max_examples=12 if described.app.config["ACCOUNTS"] is False else 5, deadline=None, suppress_health_check=list(HealthCheck), derandomize=True, database=None,
        phases=[Phase.generate],
    )  # fmt: skip
    @given(case=operation.as_strategy(generation_mode=mode))
    def check(case):
        case.call_and_validate(checks=CHECKS)

    check()
