"""What a device is told before it trusts this installation."""

from __future__ import annotations

from pathlib import Path

from cryptography import x509
from flask import Response, current_app
from pydantic import BaseModel

from lucid_ridge.app.describing import Feature
from lucid_ridge.app.responses import json_response
from lucid_ridge.app.trust.fingerprint import fingerprint

feature = Feature("trust", __name__, "/api/trust")


class TrustOut(BaseModel):
    """The certificate that vouches for this installation: its name and SHA-256 fingerprint; None where there is none of its own."""

    name: str | None
    fingerprint: str | None


@feature.get("", responses={200: TrustOut})
def read_trust() -> Response:
    """The certificate to trust, to be compared with what the start command printed."""
    path: Path | None = current_app.extensions["authority"]
    if path is None:
        return json_response(TrustOut(name=None, fingerprint=None))
    subject = x509.load_pem_x509_certificate(path.read_bytes()).subject
    names = subject.get_attributes_for_oid(x509.NameOID.COMMON_NAME)
    return json_response(TrustOut(name=str(names[0].value) if names else "", fingerprint=fingerprint(path)))
