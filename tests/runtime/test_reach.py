"""How an installation is reached: what the settings ask for, what contradicts itself, and a phone in the same network."""

from __future__ import annotations

import http.client
import json
import re
import shutil
import ssl
import subprocess
import sys
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest
from flask import Flask, request

from lucid_ridge.app.trust.fingerprint import fingerprint
from lucid_ridge.runtime import reach as module
from lucid_ridge.runtime.errors import RUNTIME_ERRORS
from lucid_ridge.runtime.proxy import behind
from lucid_ridge.runtime.reach import reach_of
from lucid_ridge.runtime.settings import Settings

from .served import Served

PASSWORD = "four dull words here"


@pytest.fixture(autouse=True)
def network(monkeypatch):
    monkeypatch.setattr(module, "own_addresses", lambda both: ["192.168.1.5"])


def reached(tmp_path: Path, **given: Any) -> module.Reach:
    return reach_of(Settings(data=tmp_path, **given), tmp_path / "authority")


def test_loopback_for_one_person_is_what_it_is_unless_somebody_says_otherwise(tmp_path):
    for found in (reached(tmp_path), reached(tmp_path, bind="127.0.0.1"), reached(tmp_path, hosts=["ridge.local"])):
        assert (found.listen, found.hosts, found.accounts, found.certificate) == ("127.0.0.1", (), False, None)
        assert found.address(8420) == "http://127.0.0.1:8420/"
    assert not (tmp_path / "authority").exists()
    assert reached(tmp_path, accounts=True).accounts


@pytest.mark.parametrize("given", [{"lan": True}, {"bind": "192.168.1.5"}, {"bind": "::"}, {"bind": "0.0.0.0"}])
def test_whoever_is_reached_from_elsewhere_has_accounts_and_https(tmp_path, given):
    found = reached(tmp_path, **given)
    assert found.accounts
    assert found.certificate is not None
    assert "192.168.1.5" in found.hosts
    assert found.address(8420) == "https://192.168.1.5:8420/"
    assert found.ready_address(1).startswith("https://")


def test_behind_a_proxy_the_name_is_the_proxys(tmp_path):
    found = reached(tmp_path, behind_proxy="127.0.0.1", hosts=["Pictures.Example."])
    assert (found.accounts, found.certificate, found.proxy) == (True, None, "127.0.0.1")
    assert found.address(8420) == "https://pictures.example/"
    assert found.bound(8420) == "127.0.0.1:8420"


def test_an_address_that_everybody_reaches_does_not_keep_a_network_out(tmp_path, monkeypatch):
    """Most machines at home have one, of IPv6."""
    monkeypatch.setattr(module, "own_addresses", lambda both: ["192.168.1.5", *(["2a02:1210::7"] if both else [])])
    for found in (reached(tmp_path, lan=True), reached(tmp_path, bind="::")):
        assert "192.168.1.5" in found.hosts and "2a02:1210::7" not in found.hosts
    monkeypatch.setattr(module, "own_addresses", lambda both: ["8.8.8.8"])
    with pytest.raises(RUNTIME_ERRORS, match="from outside"):
        reached(tmp_path, lan=True)


@pytest.mark.parametrize(
    ("given", "told"),
    [
        ({"behind_proxy": "127.0.0.1"}, "--host"),
        ({"behind_proxy": "proxy", "hosts": ["a.example"]}, "--behind-proxy has to be an address"),
        ({"bind": "here"}, "--bind has to be an address"),
        ({"lan": True, "hosts": ["https://x/"]}, "no host name"),
        ({"lan": True, "hosts": ["a b"]}, "no host name"),
        ({"lan": True, "certificate": "a.pem"}, "both"),
        ({"lan": True, "certificate": "a.pem", "certificate_key": "b.pem"}, "no file"),
        ({"bind": "8.8.8.8"}, "from outside"),
    ],
)
def test_what_contradicts_itself_is_told(tmp_path, given, told):
    with pytest.raises(RUNTIME_ERRORS, match=told):
        reached(tmp_path, **given)


def test_without_a_network_it_is_said(tmp_path, monkeypatch):
    monkeypatch.setattr(module, "own_addresses", lambda both: [])
    with pytest.raises(RUNTIME_ERRORS, match="no network"):
        reached(tmp_path, lan=True)


def test_only_the_proxy_is_believed():
    app = Flask("told")
    app.add_url_rule("/", "told", lambda: f"{request.scheme} {request.host} {request.remote_addr}")
    app.wsgi_app = behind("192.0.2.1", app.wsgi_app)
    said = {"X-Forwarded-For": "198.51.100.9", "X-Forwarded-Proto": "https", "X-Forwarded-Host": "pictures.example"}
    for address, told in (
        ("192.0.2.1", "https pictures.example 198.51.100.9"),
        ("192.0.2.2", "http localhost 192.0.2.2"),
    ):
        answer = app.test_client().get("/", headers=said, environ_base={"REMOTE_ADDR": address})
        assert answer.text == told


class Phone:
    """Somebody in the same network, who trusts the installation's authority and keeps its cookie."""

    def __init__(self, served: Served, at: str) -> None:
        self.at, self.port, self.cookie = at, served.port, ""
        self.trust = ssl.create_default_context(cafile=str(served.folder.root / "authority" / "authority.pem"))

    def ask(self, method: str, path: str, body: Any = None, host: str | None = None) -> tuple[int, Any]:
        connection = http.client.HTTPSConnection(self.at, self.port, timeout=60, context=self.trust)
        headers = {
            "Content-Type": "application/json",
            "Origin": f"https://{self.at}:{self.port}",
            "Cookie": self.cookie,
            "Host": host or f"{self.at}:{self.port}",
        }
        connection.request(method, path, None if body is None else json.dumps(body), headers)
        answer = connection.getresponse()
        data = answer.read()
        self.cookie = (answer.headers.get("Set-Cookie") or self.cookie).split(";")[0]
        connection.close()
        return answer.status, json.loads(data) if data else None


def test_a_phone_comes_in_by_the_link_and_nobody_else_does(tmp_path_factory):
    served = Served(tmp_path_factory.mktemp("served"))
    served.start()
    place = {"name": "Moss", "latitude_deg": 54.1, "longitude_deg": -2.4, "time_zone": "Europe/London"}
    assert served.ask("POST", "/api/places", {"place": place})[0] == 201
    refused = served.run("invite", "--data", str(served.folder.root))
    assert refused.returncode == 1 and "--lan" in refused.stderr
    served.stop()
    try:
        served.start("--bind", "127.0.0.2")
        served.until(lambda: "join#" in served.words(), "no link is printed")
        phone, stranger = Phone(served, "127.0.0.2"), Phone(served, "127.0.0.2")
        assert stranger.ask("GET", "/api/places")[0] == 401
        token = re.findall(r"https://127\.0\.0\.2:\d+/join#(\S+)", served.words())[-1]
        body = {"token": token, "name": "Ada", "password": PASSWORD}
        assert phone.ask("POST", "/api/account/join", body)[1]["role"] == "owner"
        assert phone.ask("GET", "/api/places")[1]["places"][0]["place"]["name"] == "Moss"
        assert phone.ask("GET", "/api/places", host="elsewhere.example")[0] == 400
        assert stranger.ask("POST", "/api/account/join", body)[0] == 422
        # The password is lost: whoever sits at the machine helps.
        helped = served.run("invite", "--data", str(served.folder.root), "--password-of", "ada")
        assert helped.returncode == 0, helped.stderr
        again = {"token": helped.stdout.split("#")[1].split()[0], "name": "x", "password": "five dull words by now"}
        assert stranger.ask("POST", "/api/account/join", again)[1]["name"] == "Ada"
        assert phone.ask("GET", "/api/places")[0] == 401
        nobody = served.run("invite", "--data", str(served.folder.root), "--password-of", "Eve")
        assert nobody.returncode == 1 and "Nobody here is called Eve" in nobody.stderr
        # Plain HTTP gets no page, and the certificate that vouches is there to be trusted.
        plain = http.client.HTTPConnection("127.0.0.2", served.port, timeout=30)
        plain.request("GET", "/")
        with pytest.raises((OSError, http.client.HTTPException)):
            plain.getresponse()
        # Back on loopback, accounts stay on.
        served.stop()
        served.start()
        assert served.ask("GET", "/api/places")[0] == 401
    finally:
        served.stop()


@contextmanager
def another_host(number: int):
    """A host of its own in a network with this machine: its name, this machine's address there."""
    name, ours, theirs = f"lucidridge{number}", f"lr{number}a", f"lr{number}b"
    address, other = f"10.213.{number}.1", f"10.213.{number}.2"
    inside = ["ip", "netns", "exec", name, "ip"]
    if (
        not shutil.which("ip")
        or subprocess.run(["ip", "netns", "add", name], check=False, capture_output=True).returncode
    ):
        pytest.skip("no network namespace can be made here")
    try:
        for command in (
            ["ip", "link", "add", ours, "type", "veth", "peer", "name", theirs, "netns", name],
            ["ip", "addr", "add", f"{address}/24", "dev", ours],
            ["ip", "link", "set", ours, "up"],
            [*inside, "addr", "add", f"{other}/24", "dev", theirs],
            [*inside, "link", "set", theirs, "up"],
        ):
            subprocess.run(command, check=True)
        yield name, address
    finally:
        subprocess.run(["ip", "netns", "del", name], check=False)
        subprocess.run(["ip", "link", "del", ours], check=False, capture_output=True)


_FROM_THERE = """
import http.client, json, ssl, sys
address, port, authority, token, password = sys.argv[1:]
trust = ssl.create_default_context(cafile=authority)
cookie = ""
def ask(method, path, body=None):
    global cookie
    connection = http.client.HTTPSConnection(address, int(port), timeout=60, context=trust)
    headers = {"Content-Type": "application/json", "Origin": f"https://{address}:{port}", "Cookie": cookie}
    connection.request(method, path, None if body is None else json.dumps(body), headers)
    answer = connection.getresponse()
    data = answer.read()
    cookie = (answer.headers.get("Set-Cookie") or cookie).split(";")[0]
    return answer.status, data.decode()
def signed_out():
    global cookie
    cookie = ""
    return ask("GET", "/api/places")[0]
print(json.dumps([
    ask("GET", "/api/places")[0],
    ask("POST", "/api/account/join", {"token": token, "name": "Ada", "password": password})[0],
    ask("GET", "/api/places")[0],
    "<div id=" in ask("GET", "/")[1],
    ask("GET", "/metrics")[0],
    (link := json.loads(ask("POST", "/api/account/devices/link")[1])["link"]).startswith(f"https://{address}:{port}/pair#"),
    signed_out(),
    json.loads(ask("GET", "/api/trust")[1])["fingerprint"],
    ask("GET", "/authority.crt")[1].startswith("-----BEGIN CERTIFICATE"),
    "<div id=" in ask("GET", "/trust")[1],
    ask("POST", "/api/account/pair", {"token": link.split("#")[1]})[0],
    ask("GET", "/api/places")[0],
    ask("GET", "/sw.js")[0],
]))
"""


def test_another_host_of_the_network_reaches_it_and_loopback_alone_is_not_reached(tmp_path_factory):
    served = Served(tmp_path_factory.mktemp("served"))
    with another_host(7) as (host, address):
        from_there = ["ip", "netns", "exec", host, sys.executable, "-c"]
        plain = "import socket, sys; socket.create_connection((sys.argv[1], int(sys.argv[2])), 5)"
        served.start()
        try:
            asked = subprocess.run([*from_there, plain, address, str(served.port)], capture_output=True, check=False)
            assert asked.returncode != 0, "a server that is for this machine alone was reached from another"
        finally:
            served.stop()
        served.start("--bind", address)
        try:
            served.until(lambda: "join#" in served.words(), "no link is printed")
            token = re.findall(rf"https://{re.escape(address)}:\d+/join#(\S+)", served.words())[-1]
            authority = str(served.folder.root / "authority" / "authority.pem")
            said = subprocess.run(
                [*from_there, _FROM_THERE, address, str(served.port), authority, token, PASSWORD],
                capture_output=True, text=True, check=True, timeout=120,
            )  # fmt: skip
            seen = fingerprint(served.folder.root / "authority" / "authority.pem")
            assert json.loads(said.stdout) == [
                401, 200, 200, True, 404, True, 401, seen, True, True, 200, 200, 200,
            ]  # fmt: skip
        finally:
            served.stop()
