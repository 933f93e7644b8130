"""How an installation is reached: where it listens, by which names, with which certificate, and whether people sign in."""

from __future__ import annotations

import ipaddress
import json
import re
import ssl
from dataclasses import dataclass
from pathlib import Path

from lucid_ridge.runtime.certificates import (
    Certificate,
    given_certificate,
    is_private,
    own_addresses,
    own_certificate,
    own_names,
)
from lucid_ridge.runtime.settings import Settings, SettingsError

LOOPBACK = "127.0.0.1"
_EVERYWHERE = ("0.0.0.0", "::")
_NAME = re.compile(r"(?=.{1,253}$)[a-z0-9]([a-z0-9-]*[a-z0-9])?(\.[a-z0-9]([a-z0-9-]*[a-z0-9])?)*")


@dataclass(frozen=True)
class Reach:
    """Where a server listens (``listen``), and by which names and addresses others reach it (``hosts``, the best first).

    ``accounts`` says that people sign in; ``proxy`` is the address of a web server in front, which does HTTPS.
    """

    listen: str = LOOPBACK
    hosts: tuple[str, ...] = ()
    certificate: Certificate | None = None
    accounts: bool = False
    proxy: str | None = None

    def address(self, port: int) -> str:
        """The address to open."""
        if self.proxy is not None:
            return f"https://{self.hosts[0]}/"
        scheme = "http" if self.certificate is None else "https"
        host = self.hosts[0] if self.hosts else LOOPBACK
        return f"{scheme}://{_bracketed(host)}:{port}/"

    def bound(self, port: int) -> str:
        """What the web server is told to listen on."""
        return f"{_bracketed(self.listen)}:{port}"

    def ready_address(self, port: int) -> str:
        """The address at which this machine itself asks whether it is ready."""
        host = {"0.0.0.0": LOOPBACK, "::": "::1"}.get(self.listen, self.listen)
        scheme = "http" if self.certificate is None else "https"
        return f"{scheme}://{_bracketed(host)}:{port}/api/health/ready"

    def trust(self) -> ssl.SSLContext | None:
        """How this machine itself trusts the server that it started; None without HTTPS."""
        if self.certificate is None:
            return None
        if self.certificate.authority is not None:
            return ssl.create_default_context(cafile=str(self.certificate.authority))
        # It is asked by its address, which a certificate for a name does not hold, and it is this very machine.
        context = ssl.create_default_context(cafile=str(self.certificate.chain))
        context.check_hostname = False
        context.verify_mode = ssl.CERT_NONE
        return context

    def told(self) -> str:
        """All of it that the web server needs to know, as one text."""
        authority = self.certificate.authority if self.certificate else None
        return json.dumps(
            {
                "accounts": self.accounts,
                "hosts": self.hosts,
                "proxy": self.proxy,
                "authority": str(authority) if authority else None,
            }
        )


AT_HOME = Reach()
"""Loopback alone, for one person."""


def _bracketed(host: str) -> str:
    return f"[{host}]" if ":" in host else host


def _checked_host(host: str) -> str:
    plain = host.lower().rstrip(".")
    try:
        return str(ipaddress.ip_address(plain.strip("[]")))
    except ValueError:
        if not _NAME.fullmatch(plain):
            raise SettingsError(
                f"{host!r} is no host name. Write it as in an address, without https:// and port."
            ) from None
    return plain


def _checked_address(what: str, address: str) -> str:
    try:
        return str(ipaddress.ip_address(address))
    except ValueError:
        raise SettingsError(f"{what} has to be an address such as 192.168.1.5, not {address!r}.") from None


def reach_of(settings: Settings, folder: Path) -> Reach:
    """How an installation is reached by somebody's settings; *folder* is where its own authority is kept.

    Raises
    ------
    SettingsError, CertificateError
        If they contradict each other, or there is no certificate to serve with.

    """
    hosts = tuple(_checked_host(one) for one in settings.hosts)
    bind = None if settings.bind is None else _checked_address("--bind", settings.bind)
    if (settings.certificate is None) != (settings.certificate_key is None):
        raise SettingsError("A certificate needs its key: give both --certificate and --certificate-key.")
    if settings.behind_proxy is not None:
        if not hosts:
            raise SettingsError("Behind a proxy nobody can guess the name people use: give it with --host.")
        proxy = _checked_address("--behind-proxy", settings.behind_proxy)
        return Reach(bind or (_EVERYWHERE[0] if settings.lan else LOOPBACK), hosts, None, True, proxy)
    if bind is None and not settings.lan:
        return Reach(hosts=hosts, accounts=settings.accounts) if settings.accounts else AT_HOME
    listen = bind or _EVERYWHERE[0]
    if listen in (LOOPBACK, "::1"):
        return Reach(listen, hosts if settings.accounts else (), accounts=settings.accounts)
    here = tuple(own_addresses(both=listen == "::")) if listen in _EVERYWHERE else (listen,)
    if not here:
        raise SettingsError("This machine is in no network now. Connect it, or start without --lan.")
    if settings.certificate is not None and settings.certificate_key is not None:
        certificate = given_certificate(settings.certificate.absolute(), settings.certificate_key.absolute())
        return Reach(listen, (*hosts, *here, *own_names()), certificate, True)
    if listen in _EVERYWHERE:
        # An address that everybody can reach is not what was asked for, and nothing vouches for it.
        here = tuple(filter(is_private, here)) or here
    certificate = own_certificate(folder, (*hosts, *here))
    return Reach(listen, (*(hosts or here), *here, *own_names()), certificate, True)
