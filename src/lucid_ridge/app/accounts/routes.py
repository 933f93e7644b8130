"""Routes of accounts: one's own, and those of the others for whoever runs the installation."""

from __future__ import annotations

import re

from flask import Response, request

from lucid_ridge.app.accounts import operations, people
from lucid_ridge.app.accounts.cookie import clear_cookie, set_cookie
from lucid_ridge.app.accounts.schemas import (
    DevicesOut,
    InviteBody,
    InvitedOut,
    JoinBody,
    LinkOut,
    PairOut,
    PasswordBody,
    PeopleOut,
    PersonBody,
    PersonOut,
    SignInBody,
    TokenBody,
    WhoOut,
)
from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.responses import EMPTY, INVALID, LIMITED, MISSING, json_response, no_content

feature = Feature("accounts", __name__, "/api")

_SYSTEMS = ("iPhone", "iPad", "Android", "Windows", "Macintosh", "CrOS", "Linux")


def _device() -> str:
    """What a browser says it runs on, in a word or two: enough to know one's own devices by."""
    said = request.headers.get("User-Agent", "")
    system = next((one for one in _SYSTEMS if re.search(rf"\b{one}\b", said)), "")
    return {"Macintosh": "Mac", "CrOS": "Chromebook", "": "a program"}.get(system, system)


def _address() -> str:
    return request.remote_addr or ""


@feature.get("/account", responses={200: WhoOut})
def read_account() -> Response:
    """Who is asking, and whether people sign in here at all."""
    return json_response(operations.whoever())


@feature.post("/account/sign-in", responses={200: WhoOut, **INVALID, **LIMITED})
def sign_in(body: SignInBody) -> Response:
    """Sign in on this device."""
    return set_cookie(operations.sign_in(body, _address(), _device()))


@feature.post("/account/sign-out", responses={**EMPTY})
def sign_out() -> Response:
    """Sign out on this device."""
    operations.sign_out(everywhere=False)
    return clear_cookie()


@feature.post("/account/sign-out-everywhere", responses={**EMPTY})
def sign_out_everywhere() -> Response:
    """Sign out on every device, this one too."""
    operations.sign_out(everywhere=True)
    return clear_cookie()


@feature.put("/account/password", responses={**EMPTY, **INVALID, **LIMITED})
def change_password(body: PasswordBody) -> Response:
    """Choose another password; every other device signs in again."""
    operations.change_password(body, _address())
    return no_content()


@feature.get("/account/devices", responses={200: DevicesOut, **INVALID})
def list_devices() -> Response:
    """Where the asker is signed in."""
    return json_response(operations.devices())


@feature.delete("/account/devices/<uuid:id>", responses={**EMPTY, **MISSING, **INVALID})
def sign_out_device(path: IdPath) -> Response:
    """Sign out on one device."""
    operations.sign_out_device(path.id)
    return no_content()


@feature.post("/account/devices/link", responses={201: PairOut, **INVALID})
def link_device() -> Response:
    """A link and its QR code by which another device of one's own signs in."""
    return json_response(people.pairing(request.url_root), 201)


@feature.post("/account/pair", responses={200: WhoOut, **INVALID})
def pair(body: TokenBody) -> Response:
    """Sign this device in by the link that another one of the same person made."""
    return set_cookie(operations.pair(body.token, _device()))


@feature.post("/account/invited", responses={200: InvitedOut, **INVALID})
def read_invitation(body: TokenBody) -> Response:
    """What a link invites to."""
    return json_response(operations.invited(body.token))


@feature.post("/account/join", responses={200: WhoOut, **INVALID})
def join(body: JoinBody) -> Response:
    """Take an invitation, and be signed in on this device."""
    return set_cookie(operations.join(body, _device()))


@feature.get("/people", responses={200: PeopleOut, **INVALID})
def list_people() -> Response:
    """Everybody with an account, and the invitations that are open."""
    return json_response(people.people())


@feature.post("/people/invitations", responses={201: LinkOut, **INVALID, **MISSING})
def invite(body: InviteBody) -> Response:
    """Invite somebody: the link is told this once."""
    return json_response(people.invite(body, request.url_root), 201)


@feature.delete("/people/invitations/<uuid:id>", responses={**EMPTY, **MISSING, **INVALID})
def take_back_invitation(path: IdPath) -> Response:
    """Make the link of an invitation useless."""
    people.take_back(path.id)
    return no_content()


@feature.put("/people/<uuid:id>", responses={200: PersonOut, **INVALID, **MISSING})
def change_person(path: IdPath, body: PersonBody) -> Response:
    """Say what somebody may do from now on."""
    return json_response(people.change_person(path.id, body))
