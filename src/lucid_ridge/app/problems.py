"""Errors as RFC 9457 problem documents with field pointers. The one way errors are reported."""

from __future__ import annotations

import errno
import time
from typing import Any
from uuid import uuid4

from flask import Flask, Response, current_app, g, request
from pydantic import BaseModel, ValidationError
from sqlalchemy.exc import IntegrityError, OperationalError
from werkzeug.exceptions import HTTPException

from lucid_ridge.app.disk import disk_trouble
from lucid_ridge.app.documents import UnreadableError
from lucid_ridge.core.records import SceneError

PROBLEM_TYPE = "application/problem+json"


class FieldError(BaseModel):
    """One field at fault: JSON pointer into the request, and what to do."""

    pointer: str
    message: str


class Problem(BaseModel):
    """RFC 9457 problem details."""

    type: str
    title: str
    status: int
    detail: str
    errors: list[FieldError] = []
    instance: str = ""
    """This very request, as the server's log and the header ``X-Request-Id`` name it."""


class ConflictProblem(Problem):
    """A stale write: what is saved now stands in ``current``."""

    your_version: int
    current_version: int
    current: dict[str, Any]


class NotFound(Exception):
    """There is no such record (or it was deleted)."""

    def __init__(self, what: str) -> None:
        super().__init__(what)
        self.what = what


class Conflict(Exception):
    """The record was changed by somebody since it was read."""

    def __init__(self, what: str, your_version: int, current_version: int, current: BaseModel) -> None:
        super().__init__(what)
        self.what, self.your_version, self.current_version, self.current = (
            what,
            your_version,
            current_version,
            current,
        )


class Refused(Exception):
    """A request that is well formed but cannot be carried out; says what to do."""

    def __init__(self, pointer: str, message: str) -> None:
        super().__init__(message)
        self.pointer, self.message = pointer, message


class TooOften(Exception):
    """Somebody tries again and again; says for how long to wait."""

    def __init__(self, wait_s: float) -> None:
        super().__init__(wait_s)
        self.wait_s = max(1, round(wait_s))


class StoreTrouble(Exception):
    """The object store does not answer, or refuses; says what it said."""


class CameraTrouble(Exception):
    """The camera does not do what it is asked; the message says why and what to do. ``busy`` where that passes by itself."""

    def __init__(self, message: str, busy: bool = False) -> None:
        super().__init__(message)
        self.busy = busy


class Busy(Exception):
    """Others have asked for what takes long, and wait for it."""


def request_id() -> str:
    """The name of the request that is answered, for the log and for whoever asks what happened."""
    known: str | None = g.get("request_id")
    if known is None:
        known = g.request_id = uuid4().hex[:12]
    return known


def problem_response(problem: Problem, headers: dict[str, str] | None = None) -> Response:
    """A problem as an HTTP response."""
    problem.instance = f"/requests/{request_id()}"
    return Response(problem.model_dump_json(), status=problem.status, content_type=PROBLEM_TYPE, headers=headers)


_MESSAGES = {
    "missing": "This field is missing.",
    "unexpected_keyword_argument": "This field is not known here; check its name.",
    "extra_forbidden": "This field is not known here; check its name.",
    "float_type": "This must be a number.",
    "int_type": "This must be a whole number.",
    "int_from_float": "This must be a whole number.",
    "string_type": "This must be text.",
    "bool_type": "This must be true or false.",
    "datetime_from_date_parsing": "This must be a time such as 2026-10-18T07:25:00Z.",
    "datetime_type": "This must be a time such as 2026-10-18T07:25:00Z.",
    "datetime_parsing": "This must be a time such as 2026-10-18T07:25:00Z.",
    "timezone_aware": "Give the time with its offset from UTC, for example 2026-10-18T07:25:00Z.",
    "uuid_parsing": "This must be a UUID.",
    "uuid_type": "This must be a UUID.",
}


def _words(error: Any) -> str:
    kind, context = error["type"], error.get("ctx") or {}
    if kind in _MESSAGES:
        return _MESSAGES[kind]
    bounds = {
        "greater_than": f"This must be above {context.get('gt')}.",
        "greater_than_equal": f"This must be at least {context.get('ge')}.",
        "less_than": f"This must be below {context.get('lt')}.",
        "less_than_equal": f"This must be at most {context.get('le')}.",
        "string_too_short": "This must not be empty.",
        "string_too_long": f"This is longer than {context.get('max_length')} characters.",
        "literal_error": f"This must be one of {context.get('expected')}.",
        "too_long": f"There are more than {context.get('max_length')} of these.",
    }
    return bounds.get(kind, f"{error['msg']}.")


def _malformed(title: str) -> Response:
    detail = "Send a JSON document as described at /api/openapi.json."
    return problem_response(Problem(type="/problems/malformed", title=title, status=400, detail=detail))


def validation_problem(error: ValidationError) -> Response:
    """Field errors of a request that does not fit its schema; 400 where it is no JSON at all."""
    found = error.errors(include_url=False, include_input=False)
    if any(e["type"] == "json_invalid" for e in found):
        return _malformed("The request is not valid JSON")
    # Tags of unions and tuples of alternatives are no part of the document's path.
    errors = [FieldError(pointer="/" + "/".join(str(part) for part in e["loc"]), message=_words(e)) for e in found]
    return problem_response(
        Problem(
            type="/problems/invalid",
            title="Some fields need another value",
            status=422,
            detail="; ".join(f"{e.pointer}: {e.message}" for e in errors[:3]),
            errors=errors,
        )
    )


def _scene_problem(error: SceneError) -> Response:
    return problem_response(
        Problem(
            type="/problems/scene",
            title="This cannot be computed as it stands",
            status=422,
            detail="; ".join(p.message for p in error.problems[:3]),
            errors=[FieldError(pointer=p.pointer, message=p.message) for p in error.problems],
        )
    )


def _not_found(error: NotFound) -> Response:
    return problem_response(
        Problem(
            type="/problems/not-found",
            title=f"No such {error.what}",
            status=404,
            detail=f"This {error.what} does not exist, or was deleted.",
        )
    )


def _conflict(error: Conflict) -> Response:
    return problem_response(
        ConflictProblem(
            type="/problems/conflict",
            title=f"This {error.what} was saved elsewhere meanwhile",
            status=409,
            detail=f"You changed version {error.your_version}; version {error.current_version} is saved now. "
            "Take the saved one, or save yours over it by sending its version.",
            your_version=error.your_version,
            current_version=error.current_version,
            current=error.current.model_dump(mode="json"),
        )
    )


def _refused(error: Refused) -> Response:
    return problem_response(
        Problem(
            type="/problems/refused",
            title="This cannot be done",
            status=422,
            detail=error.message,
            errors=[FieldError(pointer=error.pointer, message=error.message)],
        )
    )


def _too_often(error: TooOften) -> Response:
    minutes = -(-error.wait_s // 60)
    return problem_response(
        Problem(
            type="/problems/too-often",
            title="Too many attempts",
            status=429,
            detail=f"Wait {minutes} minute{'' if minutes == 1 else 's'}, then try again.",
        ),
        {"Retry-After": str(error.wait_s)},
    )


def _store(error: StoreTrouble) -> Response:
    current_app.logger.error("trouble with the object store: %s", error)
    return problem_response(
        Problem(
            type="/problems/store",
            title="The store of files does not answer",
            status=503,
            detail="Nothing of this was saved. Try again in a moment.",
        ),
        {"Retry-After": "5"},
    )


def _camera(error: CameraTrouble) -> Response:
    title = "The camera does not take this frame"
    kind = "/problems/camera-busy" if error.busy else "/problems/camera"
    return problem_response(Problem(type=kind, title=title, status=502, detail=str(error)))


def _busy(_: Busy) -> Response:
    return problem_response(
        Problem(
            type="/problems/busy",
            title="Others are searching at the moment",
            status=503,
            detail="It is tried again by itself. Nothing is lost.",
        ),
        {"Retry-After": "1"},
    )


def _take_the_rest(most_bytes: int = 32 * 1024 * 1024, within_s: float = 10.0) -> None:
    """Take what is still being sent, and forget it: a client that is cut off while it sends never hears why."""
    end = time.monotonic() + within_s
    body = request.environ["wsgi.input"]
    try:
        while most_bytes > 0 and time.monotonic() < end and (data := body.read(65536)):
            most_bytes -= len(data)
    except OSError:
        return


def _http(error: HTTPException) -> Response:
    if error.code == 413:
        _take_the_rest()
    code = error.code or 500
    headers = {k: v for k, v in error.get_headers() if k.lower() not in ("content-type", "content-length")}
    return problem_response(
        Problem(type="about:blank", title=error.name, status=code, detail=error.description or error.name), headers
    )


def _too_deep(_: RecursionError) -> Response:
    return _malformed("The request is nested too deeply")


_DISK_FULL = "53100"
"""PostgreSQL's own word for it; its manual, appendix A."""


def _no_room(detail: str) -> Response:
    return problem_response(
        Problem(type="/problems/disk", title="This cannot be kept", status=507, detail=detail), {"Retry-After": "10"}
    )


def _disk(error: OSError) -> Response:
    told = disk_trouble(error)
    if told is None:
        return _unexpected(error)
    current_app.logger.error("trouble with the disk: %s", error.strerror, extra={"path": request.path})
    return _no_room(told)


def _database_gone(error: OperationalError) -> Response:
    if getattr(error.orig, "sqlstate", None) == _DISK_FULL:
        current_app.logger.error("the database's disk is full", extra={"path": request.path})
        return _no_room(str(disk_trouble(OSError(errno.ENOSPC, ""))))
    current_app.logger.error("database unreachable", extra={"path": request.path})
    return problem_response(
        Problem(
            type="/problems/database",
            title="The database does not answer",
            status=503,
            detail="Nothing was saved. Try again in a moment; what you have on screen is kept.",
        ),
        {"Retry-After": "2"},
    )


def _taken(error: IntegrityError) -> Response:
    # Its whole message quotes the row: what people write and where they go has no business in a log.
    said = getattr(getattr(error.orig, "diag", None), "message_primary", None)
    current_app.logger.warning("refused by the database: %s", said)
    return problem_response(
        Problem(
            type="/problems/taken",
            title="Something else was saved at the same moment",
            status=409,
            detail="Nothing of this was saved. Load the page again to see what is there now, then try once more.",
        )
    )


def _unreadable(error: UnreadableError) -> Response:
    current_app.logger.error("unreadable record: %s", error)
    return problem_response(
        Problem(
            type="/problems/unreadable",
            title=f"This {error.what} cannot be read",
            status=500,
            detail=f"It was saved by another version of Lucid Ridge. It is still in the database; the server's "
            f"log says what this version misses in the {error.what}.",
        )
    )


def _unexpected(error: Exception) -> Response:
    reference = request_id()
    current_app.logger.exception("unexpected error %s", reference, exc_info=error)
    return problem_response(
        Problem(
            type="about:blank",
            title="Something went wrong here",
            status=500,
            detail=f"Nothing was saved. The server's log has the details under {reference}.",
        )
    )


def register(app: Flask) -> None:
    """Make every error of the application a problem document."""
    app.register_error_handler(SceneError, _scene_problem)
    app.register_error_handler(NotFound, _not_found)
    app.register_error_handler(Conflict, _conflict)
    app.register_error_handler(Refused, _refused)
    app.register_error_handler(TooOften, _too_often)
    app.register_error_handler(Busy, _busy)
    app.register_error_handler(CameraTrouble, _camera)
    app.register_error_handler(StoreTrouble, _store)
    app.register_error_handler(UnreadableError, _unreadable)
    app.register_error_handler(OperationalError, _database_gone)
    app.register_error_handler(IntegrityError, _taken)
    app.register_error_handler(OSError, _disk)
    app.register_error_handler(RecursionError, _too_deep)
    app.register_error_handler(HTTPException, _http)
    app.register_error_handler(Exception, _unexpected)
