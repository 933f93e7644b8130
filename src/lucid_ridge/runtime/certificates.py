"""HTTPS inside one's own network: an authority of this installation's own, and the certificate it gives the server.

A phone that has been told to trust the authority once trusts every later certificate of the server, and nothing else: the
authority can only vouch for private addresses and for names that end in .local (RFC 5280, section 4.2.1.10).
"""

from __future__ import annotations

import ipaddress
import os
import socket
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

AUTHORITY_LASTS = timedelta(days=3650)
LASTS = timedelta(days=397)
"""No longer than phones accept of a server: 398 days (CA/Browser Forum baseline requirements, section 6.3.2; from memory)."""
RENEWED_BEFORE = timedelta(days=60)
_EARLIER = timedelta(days=1)
"""Clocks of other machines may be behind."""
_PRIVATE = (
    "10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "127.0.0.0/8", "100.64.0.0/10",
    "192.0.2.0/24", "198.18.0.0/15", "198.51.100.0/24", "203.0.113.0/24", "fc00::/7", "fe80::/10", "::1/128",
)  # fmt: skip
"""Networks that nobody reaches from outside (RFC 1918, 2544, 3927, 4193, 4291, 5737, 6598)."""
_PRIVATE_NAMES = ("local", "localhost")
"""And names that nobody owns (RFC 6761, 6762)."""


class CertificateError(RuntimeError):
    """There is no certificate to serve with; says what to do."""


@dataclass(frozen=True)
class Certificate:
    """Files to serve HTTPS with; ``authority`` is who vouches for them, where that is this installation itself."""

    chain: Path
    key: Path
    authority: Path | None = None


def own_names() -> list[str]:
    """The names that this machine goes by in its own network."""
    host = socket.gethostname().split(".")[0].lower()
    return ["localhost", host, f"{host}.local"] if host and host != "localhost" else ["localhost"]


def own_addresses(both: bool) -> list[str]:
    """The addresses at which others in the network reach this machine, the likeliest first: those of IPv4, or of *both*.

    No packet is sent for it.
    """
    found = []
    ways = ((socket.AF_INET, "192.0.2.1"), (socket.AF_INET6, "2001:db8::1"))
    for family, somewhere in ways if both else ways[:1]:
        with socket.socket(family, socket.SOCK_DGRAM) as probe:
            try:
                probe.connect((somewhere, 9))
                found.append(str(probe.getsockname()[0]))
            except OSError:
                continue
    return [one for one in found if not ipaddress.ip_address(one).is_loopback]


def _is_name(host: str) -> bool:
    try:
        ipaddress.ip_address(host)
    except ValueError:
        return True
    return False


def is_private(host: str) -> bool:
    """Whether the authority can vouch for a name or an address: nobody outside of the network may go by it.

    A name without a dot will not do: some are the ends of everybody's names.
    """
    if _is_name(host):
        return any(host == name or host.endswith(f".{name}") for name in _PRIVATE_NAMES)
    one = ipaddress.ip_address(host)
    return any(one.version == net.version and one in net for net in map(ipaddress.ip_network, _PRIVATE))


def _write(path: Path, data: bytes) -> None:
    """Write a file that only its owner may read, whole or not at all."""
    part = path.with_name(f".part {path.name}")
    part.unlink(missing_ok=True)
    with os.fdopen(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as file:
        file.write(data)
        file.flush()
        os.fsync(file.fileno())
    part.replace(path)


def _pem_key(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )


def _read_authority(folder: Path) -> tuple[x509.Certificate, ec.EllipticCurvePrivateKey] | None:
    try:
        found = x509.load_pem_x509_certificate((folder / "authority.pem").read_bytes())
        key = serialization.load_pem_private_key((folder / "authority.key").read_bytes(), None)
    except FileNotFoundError:
        return None
    except ValueError as error:
        raise CertificateError(
            f"The authority in {folder} cannot be read: {error}. Move the folder away and a new one is made; "
            "every phone then has to trust that one."
        ) from None
    assert isinstance(key, ec.EllipticCurvePrivateKey)
    if found.not_valid_after_utc - LASTS < datetime.now(UTC):
        return None
    return found, key


def _make_authority(folder: Path) -> tuple[x509.Certificate, ec.EllipticCurvePrivateKey]:
    key = ec.generate_private_key(ec.SECP256R1())
    at = datetime.now(UTC)
    host = socket.gethostname().split(".")[0]
    name = x509.Name(
        [
            x509.NameAttribute(NameOID.ORGANIZATION_NAME, "Lucid Ridge"),
            x509.NameAttribute(NameOID.COMMON_NAME, f"Lucid Ridge on {host}"[:64]),
        ]
    )
    allowed: list[x509.GeneralName] = [x509.DNSName(one) for one in _PRIVATE_NAMES]
    allowed += [x509.IPAddress(ipaddress.ip_network(one)) for one in _PRIVATE]
    usage = x509.KeyUsage(
        key_cert_sign=True, crl_sign=True, digital_signature=False, content_commitment=False, key_encipherment=False,
        data_encipherment=False, key_agreement=False, encipher_only=False, decipher_only=False,
    )  # fmt: skip
    made = (
        x509.CertificateBuilder(name, name, key.public_key(), x509.random_serial_number())
        .not_valid_before(at - _EARLIER)
        .not_valid_after(at + AUTHORITY_LASTS)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(usage, critical=True)
        .add_extension(x509.NameConstraints(allowed, None), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )
    folder.mkdir(parents=True, exist_ok=True)
    folder.chmod(0o700)
    # The key first: a certificate is there only with it.
    _write(folder / "authority.key", _pem_key(key))
    _write(folder / "authority.pem", made.public_bytes(serialization.Encoding.PEM))
    return made, key


def _general_names(hosts: Iterable[str]) -> list[x509.GeneralName]:
    return [x509.DNSName(one) if _is_name(one) else x509.IPAddress(ipaddress.ip_address(one)) for one in hosts]


def _still_good(made: Certificate, hosts: set[str], authority: x509.Certificate) -> bool:
    if not made.key.is_file() or not made.chain.is_file():
        return False
    try:
        kept = x509.load_pem_x509_certificate(made.chain.read_bytes())
        kept.verify_directly_issued_by(authority)
    except (ValueError, InvalidSignature):
        return False
    return hosts <= _named(kept) and kept.not_valid_after_utc - RENEWED_BEFORE > datetime.now(UTC)


def own_certificate(folder: Path, hosts: Iterable[str]) -> Certificate:
    """The server's certificate for some names and addresses, and for this machine's own names.

    It is made where there is none that fits and holds for two months more.

    Raises
    ------
    CertificateError
        If one of *hosts* is everybody's: the authority vouches for what is private only.

    """
    asked = {*hosts, "127.0.0.1"}
    for host in sorted(asked):
        if not is_private(host):
            raise CertificateError(
                f"{host} may be reached from outside your own network, and an authority of this installation's own is for "
                "addresses inside and for names that end in .local. Give a certificate with --certificate and "
                "--certificate-key, or put a web server that has one in front and use --behind-proxy."
            )
    authority, authority_key = _read_authority(folder) or _make_authority(folder)
    wanted = asked | {name for name in own_names() if is_private(name)}
    made = Certificate(folder / "server.pem", folder / "server.key", folder / "authority.pem")
    if not _still_good(made, wanted, authority):
        _make_server(made, wanted, authority, authority_key)
    return made


def keep_fresh(made: Certificate) -> None:
    """Make the server's certificate anew where its time is nearly over; a server that runs takes it at the next connection."""
    if made.authority is None:
        return
    named = _named(x509.load_pem_x509_certificate(made.chain.read_bytes()))
    known = _read_authority(made.authority.parent)
    if known is not None and not _still_good(made, named, known[0]):
        _make_server(made, named, *known)


def _named(certificate: x509.Certificate) -> set[str]:
    """The names and addresses that a certificate is for."""
    named = certificate.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    return {*named.get_values_for_type(x509.DNSName), *map(str, named.get_values_for_type(x509.IPAddress))}


def _make_server(
    made: Certificate, hosts: set[str], authority: x509.Certificate, authority_key: ec.EllipticCurvePrivateKey
) -> None:
    key = ec.generate_private_key(ec.SECP256R1())
    at = datetime.now(UTC)
    usage = x509.KeyUsage(
        digital_signature=True, key_cert_sign=False, crl_sign=False, content_commitment=False, key_encipherment=False,
        data_encipherment=False, key_agreement=False, encipher_only=False, decipher_only=False,
    )  # fmt: skip
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Lucid Ridge")])
    given = (
        x509.CertificateBuilder(authority.subject, name, key.public_key(), x509.random_serial_number())
        .not_valid_before(at - _EARLIER)
        .not_valid_after(at + LASTS - _EARLIER)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(usage, critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(x509.SubjectAlternativeName(_general_names(sorted(hosts))), critical=False)
        .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(authority_key.public_key()), critical=False)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(authority_key, hashes.SHA256())
    )
    # Never a certificate beside another key, wherever this is cut off.
    made.chain.unlink(missing_ok=True)
    _write(made.key, _pem_key(key))
    _write(made.chain, given.public_bytes(serialization.Encoding.PEM))


def given_certificate(chain: Path, key: Path) -> Certificate:
    """A certificate that somebody else vouches for.

    Raises
    ------
    CertificateError
        If the files are none, belong to different keys, or the time of the certificate is over.

    """
    for path in (chain, key):
        if not path.is_file():
            raise CertificateError(f"There is no file {path}.")
    try:
        found = x509.load_pem_x509_certificate(chain.read_bytes())
        private = serialization.load_pem_private_key(key.read_bytes(), None)
    except (ValueError, TypeError) as error:
        raise CertificateError(
            f"{chain} and {key} have to be a certificate and its key without password, as PEM: {error}."
        ) from None
    except OSError as error:
        raise CertificateError(f"{error.filename} cannot be read: {error.strerror}.") from None
    if found.not_valid_after_utc < datetime.now(UTC):
        raise CertificateError(f"The time of {chain} ended on {found.not_valid_after_utc:%d %B %Y}. Have it renewed.")
    of_key = private.public_key().public_bytes(
        serialization.Encoding.DER, serialization.PublicFormat.SubjectPublicKeyInfo
    )
    of_chain = found.public_key().public_bytes(
        serialization.Encoding.DER, serialization.PublicFormat.SubjectPublicKeyInfo
    )
    if of_key != of_chain:
        raise CertificateError(f"{key} is not the key of {chain}.")
    return Certificate(chain, key)
