"""The fingerprint by which people compare certificates."""

from __future__ import annotations

from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes


def fingerprint(path: Path) -> str:
    """The SHA-256 fingerprint of a certificate, as phones show it."""
    digest = x509.load_pem_x509_certificate(path.read_bytes()).fingerprint(hashes.SHA256())
    return ":".join(f"{byte:02X}" for byte in digest)
