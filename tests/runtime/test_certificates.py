"""HTTPS by an authority of one's own: whom it vouches for, checked by two other implementations, and when it is made anew."""

from __future__ import annotations

import socket
import ssl
import subprocess
import threading
from datetime import UTC, datetime, timedelta

import pytest
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID
from cryptography.x509.verification import PolicyBuilder, Store, VerificationError

from lucid_ridge.app.trust.fingerprint import fingerprint
from lucid_ridge.runtime import certificates
from lucid_ridge.runtime.certificates import (
    CertificateError,
    given_certificate,
    is_private,
    own_certificate,
)

AT = "192.168.1.5"


def read(path):
    return x509.load_pem_x509_certificate(path.read_bytes())


def test_a_client_that_trusts_the_authority_trusts_the_server_under_its_names_alone(tmp_path):
    made = own_certificate(tmp_path, [AT, "ridge.local"])
    with socket.create_server(("127.0.0.1", 0)) as listener:
        context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        context.load_cert_chain(made.chain, made.key)

        def answer() -> None:
            for _ in range(4):
                connection, _ = listener.accept()
                try:
                    context.wrap_socket(connection, server_side=True).close()
                except OSError:
                    connection.close()

        thread = threading.Thread(target=answer)
        thread.start()
        trusting = ssl.create_default_context(cafile=str(made.authority))
        names = {}
        for name in (AT, "ridge.local", "192.168.1.6", "elsewhere.example"):
            with socket.create_connection(listener.getsockname()) as plain:
                try:
                    trusting.wrap_socket(plain, server_hostname=name).close()
                    names[name] = True
                except ssl.SSLError:
                    names[name] = False
        thread.join()
    assert names == {AT: True, "ridge.local": True, "192.168.1.6": False, "elsewhere.example": False}
    # OpenSSL's own program, by the strictest reading of RFC 5280.
    command = ["openssl", "verify", "-x509_strict", "-CAfile", str(made.authority), "-verify_ip", AT, str(made.chain)]
    assert subprocess.run(command, capture_output=True, text=True, check=False).returncode == 0


def test_what_the_authority_signs_for_everybodys_names_is_worth_nothing(tmp_path):
    """Whoever steals the authority's key cannot pass for a bank: its certificate bars other names."""
    own_certificate(tmp_path, [AT])
    authority = read(tmp_path / "authority.pem")
    signer = serialization.load_pem_private_key((tmp_path / "authority.key").read_bytes(), None)
    verdicts = {}
    for host in ("bank.example", "ridge.local"):
        key = ec.generate_private_key(ec.SECP256R1())
        at = datetime.now(UTC)
        forged = (
            x509.CertificateBuilder(
                authority.subject,
                x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, host)]),
                key.public_key(),
                7,
            )
            .not_valid_before(at - timedelta(days=1))
            .not_valid_after(at + timedelta(days=9))
            .add_extension(x509.SubjectAlternativeName([x509.DNSName(host)]), critical=False)
            .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
            .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(authority.public_key()), critical=False)
            .add_extension(x509.ExtendedKeyUsage([x509.ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
            .sign(signer, hashes.SHA256())
        )
        forged_at = tmp_path / f"{host}.pem"
        forged_at.write_bytes(forged.public_bytes(serialization.Encoding.PEM))
        command = ["openssl", "verify", "-CAfile", str(tmp_path / "authority.pem"), str(forged_at)]
        verdicts[host] = subprocess.run(command, capture_output=True, text=True, check=False).returncode == 0
    assert verdicts == {"bank.example": False, "ridge.local": True}


def test_another_library_verifies_it_too(tmp_path):
    made = own_certificate(tmp_path, ["ridge.local"])
    verifier = PolicyBuilder().store(Store([read(made.authority)]))
    assert verifier.build_server_verifier(x509.DNSName("ridge.local")).verify(read(made.chain), [])
    with pytest.raises(VerificationError):
        verifier.build_server_verifier(x509.DNSName("elsewhere.local")).verify(read(made.chain), [])


def test_it_is_kept_while_it_fits_and_made_anew_when_not(tmp_path, monkeypatch):
    first = own_certificate(tmp_path, [AT])
    before, authority = first.chain.read_bytes(), fingerprint(first.authority)
    assert own_certificate(tmp_path, [AT]).chain.read_bytes() == before
    moved = own_certificate(tmp_path, ["10.1.2.3"])
    assert moved.chain.read_bytes() != before
    assert fingerprint(moved.authority) == authority
    # Its time is nearly over.
    before = moved.chain.read_bytes()
    monkeypatch.setattr(certificates, "RENEWED_BEFORE", timedelta(days=400))
    assert own_certificate(tmp_path, ["10.1.2.3"]).chain.read_bytes() != before
    # The same while it runs: for the names that it has.
    before = moved.chain.read_bytes()
    certificates.keep_fresh(moved)
    assert moved.chain.read_bytes() != before
    assert {"10.1.2.3", "127.0.0.1"} <= certificates._named(read(moved.chain))
    monkeypatch.undo()
    before = moved.chain.read_bytes()
    certificates.keep_fresh(moved)
    assert moved.chain.read_bytes() == before
    # Cut off between key and certificate, and a certificate that is none.
    for damage in (moved.chain.unlink, lambda: moved.chain.write_text("no"), moved.key.unlink):
        damage()
        again = own_certificate(tmp_path, ["10.1.2.3"])
        ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER).load_cert_chain(again.chain, again.key)
        assert fingerprint(again.authority) == authority
    (tmp_path / "authority.pem").write_text("no")
    with pytest.raises(CertificateError, match="Move the folder away"):
        own_certificate(tmp_path, [AT])


def test_it_lasts_as_long_as_phones_take_it_and_its_keys_are_its_owners_alone(tmp_path):
    made = own_certificate(tmp_path / "authority", [AT])
    kept = read(made.chain)
    assert kept.not_valid_after_utc - kept.not_valid_before_utc <= timedelta(days=398)
    for path in (tmp_path / "authority").iterdir():
        assert path.stat().st_mode & 0o077 == 0
    assert (tmp_path / "authority").stat().st_mode & 0o077 == 0


@pytest.mark.parametrize("host", ["8.8.8.8", "2606:4700::1", "ridge.example", "com", "ridge", "notlocal"])
def test_it_vouches_for_nothing_that_is_everybodys(tmp_path, host):
    with pytest.raises(CertificateError, match="--certificate"):
        own_certificate(tmp_path / "none", [host])
    assert not (tmp_path / "none").exists()
    own_certificate(tmp_path, [AT])
    with pytest.raises(CertificateError, match="--certificate"):
        own_certificate(tmp_path, [host])


@pytest.mark.parametrize(
    ("address", "private"),
    [("192.168.0.1", True), ("172.31.255.255", True), ("172.32.0.0", False), ("11.0.0.1", False), ("fd00::2", True),
     ("fe80::1", True), ("2001:db9::1", False), ("100.64.0.1", True), ("100.128.0.1", False)],
)  # fmt: skip
def test_private_networks(address, private):
    assert is_private(address) is private


def test_a_certificate_that_is_given_is_looked_at_first(tmp_path):
    one, other = own_certificate(tmp_path / "a", [AT]), own_certificate(tmp_path / "b", [AT])
    assert given_certificate(one.chain, one.key).authority is None
    for chain, key, told in (
        (one.chain, other.key, "is not the key of"),
        (tmp_path / "none.pem", one.key, "no file"),
        (one.key, one.key, "as PEM"),
        (one.chain, one.chain, "as PEM"),
    ):
        with pytest.raises(CertificateError, match=told):
            given_certificate(chain, key)
