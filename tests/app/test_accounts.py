"""Accounts: who gets in, who stays out, and that nobody reaches what is somebody else's."""

from __future__ import annotations

import re
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from typing import Any
from uuid import UUID, uuid4

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select, update

from lucid_ridge.app.accounts import attempts, operations
from lucid_ridge.app.accounts.people import new_invitation
from lucid_ridge.app.accounts.secrets import name_key, token_hash, verify_password, weakness
from lucid_ridge.app.accounts.tables import AccountRow, AttemptRow, InvitationRow, SignInRow
from lucid_ridge.app.database import LOCAL_PHOTOGRAPHER, now
from lucid_ridge.app.factory import FEATURES, Configuration, create_app
from lucid_ridge.app.gate import COMPUTES, OPEN, OWN

from .conftest import add_kit, add_place, close, example_scene

HOST = "ridge.example"
PASSWORD = "four dull words here"


@pytest.fixture
def shared(databases, tmp_path_factory):
    """An installation in which people sign in."""
    made = create_app(
        Configuration(
            databases.fresh(demo=False), tmp_path_factory.mktemp("files"), accounts=True, hosts=frozenset({HOST})
        )
    )
    yield made
    close(made)


class AtHost(FlaskClient):
    """A client that reaches the installation by its name, over HTTPS."""

    def open(self, *args: Any, **options: Any) -> Any:
        return super().open(*args, **({"base_url": f"https://{HOST}"} | options))


def visitor(app) -> FlaskClient:
    """A browser of somebody who has not signed in, at the installation's own address."""
    made = AtHost(app, use_cookies=True)
    made.environ_base = {"HTTP_ORIGIN": f"https://{HOST}", "REMOTE_ADDR": "192.0.2.7", "HTTP_USER_AGENT": "test"}
    return made


def link(app, role: str = "photographer") -> str:
    with app.extensions["database"].transaction() as session:
        return new_invitation(session, role)[1]


def member(app, name: str, role: str = "photographer") -> FlaskClient:
    """Somebody who has joined, signed in."""
    made = visitor(app)
    joined = made.post("/api/account/join", json={"token": link(app, role), "name": name, "password": PASSWORD})
    assert joined.status_code == 200, joined.json
    assert joined.json["role"] == role
    return made


def sign_in(client: FlaskClient, name: str, password: str = PASSWORD) -> Any:
    return client.post("/api/account/sign-in", json={"name": name, "password": password})


def routes() -> list[tuple[str, str, str]]:
    """Every route of the API: endpoint, method, and its address with ids that nobody has."""
    found = []
    for feature in FEATURES:
        name, _, prefix = feature._place
        for method, rule, _, function in feature._routes:
            address = re.sub(
                r"<int:\w+>",
                "1",
                re.sub(r"<uuid:\w+>", lambda _: str(uuid4()), prefix + rule).replace("<name>", "a.lucidridge.zip"),
            )
            found.append((f"{name}.{function.__name__}", method, address))
    return found


@pytest.mark.parametrize(("endpoint", "method", "address"), routes(), ids=lambda part: str(part)[:40])
def test_a_stranger_is_told_to_sign_in_whatever_is_asked(stranger, endpoint, method, address):
    for client in (stranger, AtHost(stranger.application)):
        answer = client.open(address, method=method, json={})
        assert (answer.status_code == 401) == (endpoint not in OPEN), answer.data
        assert answer.headers.get("Set-Cookie") is None


@pytest.fixture(scope="module")
def stranger(databases, tmp_path_factory):
    made = create_app(
        Configuration(
            databases.fresh(demo=True), tmp_path_factory.mktemp("files"), accounts=True, hosts=frozenset({HOST})
        )
    )
    yield visitor(made)
    close(made)


def test_every_way_in_that_is_named_is_there():
    names = {endpoint for endpoint, _, _ in routes()}
    features = {endpoint.split(".")[0] for endpoint in names}
    assert names >= OPEN - {"document", "authority", "metrics", "web.page"}
    assert names >= OWN
    assert names | features >= COMPUTES


def test_the_first_owner_takes_over_what_was_made_without_accounts(databases, tmp_path):
    url = databases.fresh(demo=False)
    alone = create_app(Configuration(url, tmp_path))
    place = add_place(alone.test_client(), name="Ling Moss")
    close(alone)
    app = create_app(Configuration(url, tmp_path, accounts=True, hosts=frozenset({HOST})))
    owner, other = member(app, "Ada", "owner"), member(app, "Ben", "owner")
    assert [p["id"] for p in owner.get("/api/places").json["places"]] == [place]
    assert owner.get("/api/account").json["id"] == str(LOCAL_PHOTOGRAPHER)
    assert other.get("/api/places").json["places"] == []
    close(app)


def test_signing_in_and_out(shared):
    ada = member(shared, "Ada")
    assert ada.get("/api/account").json["name"] == "Ada"
    fresh = visitor(shared)
    assert fresh.get("/api/account").json == {"accounts": True, "id": None, "name": "", "role": None}
    assert sign_in(fresh, "Ada", "another one").status_code == 422
    assert fresh.get("/api/places").status_code == 401
    answer = sign_in(fresh, "  aDA ")
    assert answer.status_code == 200
    cookie = answer.headers["Set-Cookie"]
    assert cookie.startswith("__Host-ridge=")
    assert {"Secure", "HttpOnly", "Path=/", "SameSite=Lax"} <= {part.strip() for part in cookie.split(";")}
    assert fresh.get("/api/places").status_code == 200
    assert len(ada.get("/api/account/devices").json["devices"]) == 2
    assert fresh.post("/api/account/sign-out").status_code == 204
    assert fresh.get("/api/places").status_code == 401
    assert ada.get("/api/places").status_code == 200
    sign_in(fresh, "Ada")
    assert ada.post("/api/account/sign-out-everywhere").status_code == 204
    assert (ada.get("/api/places").status_code, fresh.get("/api/places").status_code) == (401, 401)


def test_a_token_that_was_signed_out_is_worth_nothing(shared):
    ada = member(shared, "Ada")
    stolen = ada.get_cookie("__Host-ridge", domain=HOST) or ada.get_cookie("__Host-ridge")
    ada.post("/api/account/sign-out")
    thief = visitor(shared)
    thief.environ_base["HTTP_COOKIE"] = f"__Host-ridge={stolen.value}" if stolen else ""
    assert stolen is not None
    assert thief.get("/api/places").status_code == 401


def test_one_device_is_signed_out_from_another_and_nobody_elses(shared):
    ada, ben = member(shared, "Ada"), member(shared, "Ben")
    phone = visitor(shared)
    sign_in(phone, "Ada")
    (other,) = [d["id"] for d in ada.get("/api/account/devices").json["devices"] if not d["this"]]
    assert ben.delete(f"/api/account/devices/{other}").status_code == 404
    assert phone.get("/api/kit").status_code == 200
    assert ada.delete(f"/api/account/devices/{other}").status_code == 204
    assert phone.get("/api/kit").status_code == 401


def test_another_password_ends_what_the_old_one_opened(shared):
    ada, phone = member(shared, "Ada"), visitor(shared)
    sign_in(phone, "Ada")
    change = {"old": PASSWORD, "new": "quite another handful"}
    assert ada.put("/api/account/password", json=change | {"old": "no"}).status_code == 422
    for weak in ("short", "aaaaaaaaaaaa", "abababababab"):
        assert ada.put("/api/account/password", json=change | {"new": weak}).status_code == 422
    assert ada.put("/api/account/password", json=change).status_code == 204
    assert ada.get("/api/kit").status_code == 200
    assert phone.get("/api/kit").status_code == 401
    assert sign_in(phone, "Ada").status_code == 422
    assert sign_in(phone, "Ada", change["new"]).status_code == 200


def test_only_hashes_of_secrets_are_kept(shared):
    ada = member(shared, "Ada")
    cookie = ada.get_cookie("__Host-ridge", domain=HOST) or ada.get_cookie("__Host-ridge")
    assert cookie is not None
    with shared.extensions["database"].transaction() as session:
        account = session.scalars(select(AccountRow)).one()
        device = session.scalars(select(SignInRow)).one()
    assert PASSWORD not in account.password_hash
    assert account.password_hash.startswith("$argon2id$")
    assert device.token_hash == token_hash(cookie.value) != cookie.value.encode()


@pytest.mark.parametrize("aged", ["seen_at", "made_at"])
def test_a_device_signs_in_again_after_a_long_time(shared, aged):
    ada = member(shared, "Ada")
    longest = operations.UNUSED if aged == "seen_at" else operations.LONGEST
    for age, status in ((longest - timedelta(minutes=1), 200), (longest + timedelta(minutes=1), 401)):
        with shared.extensions["database"].transaction() as session:
            session.execute(update(SignInRow).values({aged: now() - age}))
        assert ada.get("/api/kit").status_code == status


def test_guessing_ends_soon_and_only_for_whoever_guesses(shared):
    member(shared, "Ada")
    guesser, ada = visitor(shared), visitor(shared)
    ada.environ_base["REMOTE_ADDR"] = "198.51.100.1"
    with ThreadPoolExecutor(6) as many:
        answers = list(many.map(lambda i: sign_in(_same(guesser), "Ada", f"guess {i}").status_code, range(24)))
    assert answers.count(422) == attempts.FROM_ONE_ADDRESS_FOR_ONE_NAME
    assert set(answers) == {422, 429}
    refused = sign_in(guesser, "Ada")
    assert refused.status_code == 429
    assert 0 < int(refused.headers["Retry-After"]) <= attempts.WITHIN.total_seconds()
    assert sign_in(ada, "Ada").status_code == 200
    with shared.extensions["database"].transaction() as session:
        session.execute(update(AttemptRow).values(at=now() - attempts.WITHIN - timedelta(seconds=1)))
    assert sign_in(guesser, "Ada").status_code == 200


def _same(client: FlaskClient) -> FlaskClient:
    """Another client at the same address: one of Flask's is for one thread."""
    made = visitor(client.application)
    made.environ_base |= client.environ_base
    return made


def test_addresses_of_one_network_count_as_one():
    assert attempts._network("2001:db8:1:2:3::4") == attempts._network("2001:db8:1:2:ffff::1")
    assert attempts._network("2001:db8:1:2::1") != attempts._network("2001:db8:1:3::1")
    assert attempts._network("192.0.2.1") != attempts._network("192.0.2.2")


def test_a_link_is_good_once_and_for_some_days(shared):
    token = link(shared)
    assert visitor(shared).post("/api/account/invited", json={"token": token}).json["role"] == "photographer"
    sent = [{"token": token, "name": f"Guest {i}", "password": PASSWORD} for i in range(6)]
    with ThreadPoolExecutor(6) as many:
        statuses = list(many.map(lambda body: visitor(shared).post("/api/account/join", json=body).status_code, sent))
    assert sorted(statuses) == [200] + [422] * 5
    late = link(shared)
    with shared.extensions["database"].transaction() as session:
        session.execute(update(InvitationRow).values(ends_at=now() - timedelta(seconds=1)))
    body = {"token": late, "name": "Late", "password": PASSWORD}
    assert visitor(shared).post("/api/account/join", json=body).status_code == 422


def test_names_that_look_the_same_are_one(shared):
    member(shared, "Zoë")
    for name in ("ZOË", "Zoe\u0308", " zoë "):
        body = {"token": link(shared), "name": name, "password": PASSWORD}
        assert visitor(shared).post("/api/account/join", json=body).json["errors"][0]["pointer"] == "/name"
    assert name_key("Straße") == name_key("STRASSE")


def test_the_owner_invites_lets_in_again_and_closes(shared):
    owner = member(shared, "Ada", "owner")
    made = owner.post("/api/people/invitations", json={"role": "viewer"}).json
    assert made["link"].startswith(f"https://{HOST}/join#")
    assert len(made["qr"]) == len(made["qr"][0]) >= 21
    ben = visitor(shared)
    body = {"token": made["link"].split("#")[1], "name": "Ben", "password": PASSWORD}
    assert ben.post("/api/account/join", json=body).json["role"] == "viewer"
    who = {p["name"]: p for p in owner.get("/api/people").json["people"]}
    again = owner.post("/api/people/invitations", json={"account_id": who["Ben"]["id"]}).json
    assert again["invitation"]["name"] == "Ben"
    body = {"token": again["link"].split("#")[1], "name": "anything", "password": "five dull words by now"}
    assert visitor(shared).post("/api/account/join", json=body).json["name"] == "Ben"
    assert ben.get("/api/kit").status_code == 401
    assert sign_in(ben, "Ben", body["password"]).status_code == 200
    assert owner.put(f"/api/people/{who['Ben']['id']}", json={"role": "viewer", "open": False}).status_code == 200
    assert ben.get("/api/kit").status_code == 401
    assert sign_in(ben, "Ben", body["password"]).status_code == 422
    owner.put(f"/api/people/{who['Ben']['id']}", json={"role": "photographer", "open": True})
    assert sign_in(ben, "Ben", body["password"]).json["role"] == "photographer"


def test_an_invitation_is_taken_back(shared):
    owner = member(shared, "Ada", "owner")
    made = owner.post("/api/people/invitations", json={}).json
    (waiting,) = owner.get("/api/people").json["invitations"]
    assert waiting == made["invitation"]
    assert owner.delete(f"/api/people/invitations/{waiting['id']}").status_code == 204
    token = {"token": made["link"].split("#")[1]}
    assert visitor(shared).post("/api/account/invited", json=token).status_code == 422


def test_somebody_always_runs_the_installation(shared):
    ada, ben = member(shared, "Ada", "owner"), member(shared, "Ben", "owner")
    ids = {p["name"]: p["id"] for p in ada.get("/api/people").json["people"]}
    bodies = [(ada, ids["Ben"]), (ben, ids["Ada"])]
    with ThreadPoolExecutor(2) as both:
        answers = list(
            both.map(lambda b: b[0].put(f"/api/people/{b[1]}", json={"role": "photographer", "open": True}), bodies)
        )
    assert sorted(a.status_code for a in answers)[0] == 200
    with shared.extensions["database"].transaction() as session:
        assert session.scalars(select(AccountRow).where(AccountRow.role == "owner")).all()


def test_others_do_not_see_who_is_there(shared):
    member(shared, "Ada", "owner")
    for role in ("photographer", "viewer"):
        other = member(shared, role, role)
        assert other.get("/api/people").status_code == 403
        assert other.post("/api/people/invitations", json={"role": "owner"}).status_code == 403
        assert other.put(f"/api/people/{LOCAL_PHOTOGRAPHER}", json={"role": "owner", "open": True}).status_code == 403


def test_backups_hold_everybodys_and_are_the_owners_alone(shared):
    owner = member(shared, "Ada", "owner")
    assert owner.get("/api/backups").json["offered"] is False
    for role in ("photographer", "viewer"):
        other = member(shared, role, role)
        for method, path in (
            ("GET", ""),
            ("POST", ""),
            ("GET", "/a.lucidridge.zip"),
            ("POST", "/a.lucidridge.zip/bring-back"),
        ):
            assert other.open(f"/api/backups{path}", method=method).status_code == 403


def test_whoever_only_looks_on_changes_nothing(shared):
    viewer = member(shared, "Vera", "viewer")
    for endpoint, method, address in routes():
        if method == "get" or endpoint in OPEN | OWN:
            continue
        answer = viewer.open(address, method=method, json={})
        computes = not COMPUTES.isdisjoint({endpoint, endpoint.split(".")[0]})
        assert (answer.status_code == 403) != computes, (endpoint, answer.data)
    assert viewer.post("/api/evaluate", json={"scene": example_scene()}).status_code == 200
    assert viewer.put("/api/preferences", json={"highest_iso": 800}).status_code == 200


def test_what_computes_writes_nothing(shared):
    """Routes that viewers may call are read here for a write to the database."""
    viewer = member(shared, "Vera", "viewer")
    engine = shared.extensions["database"].engine
    from sqlalchemy import event

    written = []

    def look(_c: Any, _cursor: Any, statement: str, *_: Any) -> None:
        if re.match(r"\s*(INSERT|UPDATE|DELETE)", statement, re.IGNORECASE) and "sign_ins" not in statement:
            written.append(statement)

    event.listen(engine, "before_cursor_execute", look)
    for endpoint, method, address in routes():
        if method == "post" and not COMPUTES.isdisjoint({endpoint, endpoint.split(".")[0]}):
            viewer.post(address, json={"scene": example_scene()})
    assert written == []


def test_writes_from_other_pages_are_refused(shared):
    ada = member(shared, "Ada")
    place = {"place": {"name": "Moss", "latitude_deg": 1, "longitude_deg": 1, "time_zone": "UTC"}}
    for origin in ("https://elsewhere.example", f"http://{HOST}", f"https://{HOST}:444", "null", ""):
        ada.environ_base["HTTP_ORIGIN"] = origin
        assert ada.post("/api/places", json=place).status_code == 403, origin
    del ada.environ_base["HTTP_ORIGIN"]
    assert ada.post("/api/places", json=place).status_code == 403
    ada.environ_base["HTTP_ORIGIN"] = f"https://{HOST}"
    assert ada.post("/api/places", json=place).status_code == 201
    assert ada.get("/api/places", base_url="https://elsewhere.example").status_code == 400


def test_headers_keep_pages_apart(shared):
    answer = visitor(shared).get("/api/account")
    policy = answer.headers["Content-Security-Policy"]
    assert "frame-ancestors 'none'" in policy
    assert "script-src" not in policy
    assert "default-src 'self'" in policy
    assert answer.headers["X-Content-Type-Options"] == "nosniff"
    assert answer.headers["Referrer-Policy"] == "no-referrer"
    assert "microphone=()" in answer.headers["Permissions-Policy"]
    # It would hold for everything else that this machine serves under its name, on whatever port.
    assert "Strict-Transport-Security" not in answer.headers
    assert answer.headers["Cache-Control"] == "no-store"


def test_without_accounts_nobody_signs_in(client):
    assert client.get("/api/account").json["accounts"] is False
    assert client.get("/api/people").status_code == 422
    assert sign_in(client, "Ada").status_code == 422
    assert client.post("/api/account/join", json={"token": "x", "name": "A", "password": PASSWORD}).status_code == 422


@pytest.mark.parametrize(
    ("password", "name", "good"),
    [
        ("four dull words here", "Ada", True),
        ("Ada", "Ada", False),
        ("ninechars", "Ada", False),
        ("tenletters", "Ada", True),
        ("aaaaaaaaaaaaaaa", "Ada", False),
        ("Gwendolyn1234", "gwendolyn", False),
    ],
)
def test_weak_passwords_are_told_why(password, name, good):
    assert (weakness(password, name) is None) is good


def test_a_name_that_nobody_has_is_looked_at_as_long():
    assert not verify_password(None, PASSWORD)
    assert not verify_password("no hash at all", PASSWORD)


def records_of(client: FlaskClient) -> dict[str, str]:
    """One record of each kind, by the part of its address."""
    ids = add_kit(client)
    place = add_place(client)
    scene = example_scene()
    scene["composition"]["settings"]["filters"] = []
    body = {"name": "Mine", "place_id": place, **ids, "composition": scene["composition"]}
    made = client.post("/api/compositions", json=body)
    assert made.status_code == 201, made.json
    composition = made.json["id"]
    kept = {"id": str(uuid4()), "name": "A", **ids, "composition": scene["composition"]}
    variant = client.post(f"/api/compositions/{composition}/variants", json=kept)
    points = [[54.1, -2.4, None], [54.2, -2.4, 300.0]]
    track = client.post("/api/tracks", json={"place_id": place, "name": "Path", "kind": "path", "points": points})
    job = client.post("/api/archives/export")
    found = {"kit": ids["body_id"], "places": place, "compositions": composition}
    for name, answer in (("variants", variant), ("tracks", track), ("jobs", job)):
        assert answer.status_code in (201, 202), answer.json
        found[name] = answer.json["id"]
    return found


def test_what_is_somebody_elses_cannot_be_told_from_what_is_not_there(shared):
    """Every route with an id, asked by another with the id of a record and with one that nobody has: one answer."""
    ada, ben = member(shared, "Ada"), member(shared, "Ben")
    mine = records_of(ada)
    before = {kind: ada.get(f"/api/{kind}").data for kind in ("kit", "places", "compositions", "tracks")}
    for endpoint, method, address in routes():
        kind = next((k for k in mine if address.startswith(f"/api/{k}/")), None)
        wanted = re.search(r"[0-9a-f]{8}-[0-9a-f-]{27}", address)
        if kind is None or wanted is None:
            continue
        answers = []
        for record in (mine[kind], str(uuid4())):
            answer = ben.open(address.replace(wanted[0], record, 1), method=method, json={"version": 1})
            told = dict(answer.json) if answer.is_json else {"data": answer.data}
            told.pop("instance", None)
            answers.append((answer.status_code, told))
        assert answers[0] == answers[1], endpoint
        assert answers[0][0] in (404, 422, 415), endpoint
    after = {kind: ada.get(f"/api/{kind}").data for kind in before}
    assert after == before
    for kind in before:
        assert mine.get(kind, "nothing") not in ben.get(f"/api/{kind}").get_data(as_text=True)


def test_nobody_hangs_a_record_on_somebody_elses(shared):
    ada, ben = member(shared, "Ada"), member(shared, "Ben")
    theirs = records_of(ada)
    ids, scene = add_kit(ben), example_scene()
    body = {"name": "B", "place_id": theirs["places"], **ids, "composition": scene["composition"]}
    answer = ben.post("/api/compositions", json=body)
    missing = ben.post("/api/compositions", json=body | {"place_id": str(uuid4())})
    assert (answer.status_code, answer.json["errors"]) == (missing.status_code, missing.json["errors"])
    assert answer.status_code == 422
    mine = add_place(ben)
    for part in ("body_id", "lens_id", "support_id"):
        other = body | {"place_id": mine, part: str(UUID(theirs["kit"]))}
        assert ben.post("/api/compositions", json=other).status_code == 422


def lent(ada: FlaskClient, ben: FlaskClient, may_copy: bool, kind: str = "composition") -> tuple[dict[str, str], Any]:
    """Something of Ada's that she shares with Ben, and the share."""
    mine = records_of(ada)
    body = {"kind": kind, "record_id": mine[f"{kind}s"], "with_id": ben.get("/api/account").json["id"]}
    made = ada.put("/api/shares", json=body | {"may_copy": may_copy})
    assert made.status_code == 200, made.json
    return mine, made.json


def test_what_is_shared_is_looked_at_and_nothing_else(shared):
    ada, ben, eve = member(shared, "Ada"), member(shared, "Ben"), member(shared, "Eve")
    mine, made = lent(ada, ben, may_copy=False)
    assert (made["name"], made["person"]) == ("Mine", "Ben")
    (seen,) = ben.get("/api/shares").json["theirs"]
    assert (seen["name"], seen["person"], seen["may_copy"]) == ("Mine", "Ada", False)
    whole = ben.get(f"/api/shares/{seen['id']}").json
    assert whole["place"]["place"]["name"] == "Ling Moss"
    (one,) = whole["compositions"]
    assert one["brief"]["name"] == "Mine" and one["outlook"]["view"] and len(one["facts"]) == 3
    # It is looked at through the share alone, changed by nobody else, and copied only where that is allowed.
    assert ben.get(f"/api/compositions/{mine['compositions']}").status_code == 404
    assert ben.get("/api/compositions").json["compositions"] == []
    refused = ben.post(f"/api/shares/{seen['id']}/copy")
    assert refused.status_code == 422 and "not copy it" in refused.json["detail"]
    for method, path in (("GET", ""), ("POST", "/copy"), ("DELETE", "")):
        assert eve.open(f"/api/shares/{seen['id']}{path}", method=method).status_code == 404
    assert eve.get("/api/shares").json["theirs"] == []
    # What is deleted is not seen any more; brought back, it is again; a share that has ended is gone.
    ada.delete(f"/api/compositions/{mine['compositions']}")
    assert ben.get(f"/api/shares/{seen['id']}").status_code == 404
    assert ben.get("/api/shares").json["theirs"] == []
    ada.post(f"/api/compositions/{mine['compositions']}/restore")
    assert ben.get(f"/api/shares/{seen['id']}").status_code == 200
    assert ada.delete(f"/api/shares/{seen['id']}").status_code == 204
    assert ben.get(f"/api/shares/{seen['id']}").status_code == 404


@pytest.mark.parametrize("kind", ["composition", "place"])
def test_what_may_be_copied_becomes_ones_own(shared, kind):
    ada, ben = member(shared, "Ada"), member(shared, "Ben")
    mine, made = lent(ada, ben, may_copy=True, kind=kind)
    before = ada.get("/api/compositions").data
    copied = ben.post(f"/api/shares/{made['id']}/copy")
    assert copied.status_code == 201, copied.json
    (fresh,) = copied.json["composition_ids"]
    assert fresh != mine["compositions"]
    theirs = ben.get(f"/api/compositions/{fresh}").json
    original = ada.get(f"/api/compositions/{mine['compositions']}").json
    assert theirs["composition"] == original["composition"] and theirs["name"] == "Mine"
    assert len(ben.get("/api/kit").json["items"]) == 3
    assert len(ben.get("/api/tracks").json["tracks"]) == (1 if kind == "place" else 0)
    # It is a copy: what becomes of the one is nothing to the other.
    ben.delete(f"/api/compositions/{fresh}")
    assert ada.get("/api/compositions").data == before


def test_a_place_with_many_compositions_is_shared_and_copied_whole(shared):
    ada, ben = member(shared, "Ada"), member(shared, "Ben")
    mine, made = lent(ada, ben, may_copy=True, kind="place")
    for _ in range(29):
        assert ada.post(f"/api/compositions/{mine['compositions']}/duplicate").status_code == 201
    whole = ben.get(f"/api/shares/{made['id']}").json["compositions"]
    assert len(whole) == 30 and sum(one["outlook"] is not None for one in whole) == 24
    assert len(ben.post(f"/api/shares/{made['id']}/copy").json["composition_ids"]) == 30


def test_sharing_with_nobody_or_of_nothing_is_refused(shared):
    ada, ben = member(shared, "Ada"), member(shared, "Ben")
    mine = records_of(ada)
    me, him = (one.get("/api/account").json["id"] for one in (ada, ben))
    for body, status in (
        ({"kind": "place", "record_id": mine["places"], "with_id": me}, 422),
        ({"kind": "place", "record_id": mine["places"], "with_id": str(uuid4())}, 422),
        ({"kind": "place", "record_id": str(uuid4()), "with_id": him}, 404),
        ({"kind": "kit", "record_id": mine["kit"], "with_id": him}, 422),
    ):
        assert ada.put("/api/shares", json=body).status_code == status
    assert ben.put("/api/shares", json={"kind": "place", "record_id": mine["places"], "with_id": me}).status_code == 404
    viewer = member(shared, "Vera", "viewer")
    told = ada.put(
        "/api/shares",
        json={
            "kind": "place",
            "record_id": mine["places"],
            "with_id": viewer.get("/api/account").json["id"],
            "may_copy": True,
        },
    ).json
    assert viewer.get(f"/api/shares/{told['id']}").status_code == 200
    assert viewer.post(f"/api/shares/{told['id']}/copy").status_code == 403
    assert viewer.delete(f"/api/shares/{told['id']}").status_code == 204
