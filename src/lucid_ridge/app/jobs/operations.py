"""What can be done with jobs."""

from __future__ import annotations

import shutil
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from uuid import UUID

from flask import current_app
from sqlalchemy import select
from sqlalchemy.orm import Session

from lucid_ridge.app.database import now
from lucid_ridge.app.editing import database, owner
from lucid_ridge.app.files import drop, fetched, files_folder
from lucid_ridge.app.jobs.queue import Queue
from lucid_ridge.app.jobs.schemas import JobOut, JobsOut
from lucid_ridge.app.jobs.tables import JobRow
from lucid_ridge.app.problems import NotFound, Refused

STOPPED = "It was stopped."
Undone = Callable[[Session, dict[str, Any], str], None]
"""What else is to be noted when a job ends without being done: told its arguments, and why."""
_LATEST = 100
_KEPT = timedelta(days=14)
PASSING = ".part-"
"""What folders and files begin with that nobody needs once the process that made them has ended."""
_PASSED = timedelta(days=1)
_LEFT = timedelta(seconds=20)
"""A job without a sign of life for so long is put into the queue once more; twice there is no more than once."""


def present(row: JobRow) -> JobOut:
    """The job as the API shows it."""
    over = row.state in ("done", "failed", "stopped")
    return JobOut.model_validate(
        {
            "id": row.id,
            "kind": row.kind,
            "name": row.name,
            "state": row.state,
            "doing": "stopping" if row.stop_asked and not over else row.doing,
            "done": row.done,
            "whole": row.whole,
            "text": row.problem or (row.result or {}).get("text", ""),
            "has_file": bool((row.result or {}).get("file")),
            "may_stop": not over and not row.stop_asked,
            "may_retry": row.state in ("failed", "stopped") and not (row.result or {}).get("final"),
            "created_at": row.created_at,
            "ended_at": row.ended_at,
        }
    )


def queue() -> Queue:
    """Where jobs are put."""
    found: Queue = current_app.extensions["queue"]
    return found


def add(session: Session, kind: str, name: str, arguments: dict[str, Any], job_id: UUID | None = None) -> JobRow:
    """Note a job; to be put into the queue when the transaction has ended."""
    row = JobRow(owner_id=owner(), kind=kind, name=name[:160], arguments=arguments)
    if job_id is not None:
        row.id = job_id
    session.add(row)
    session.flush()
    return row


def under_way(kind: str, arguments: dict[str, Any]) -> JobOut | None:
    """The job that does just that already; None where there is none."""
    with database().transaction() as session:
        row = session.scalars(
            select(JobRow)
            .where(
                JobRow.owner_id == owner(),
                JobRow.kind == kind,
                JobRow.arguments == arguments,
                JobRow.state.in_(("waiting", "running")),
            )
            .limit(1)
        ).one_or_none()
        return None if row is None else present(row)


def begin(kind: str, name: str, arguments: dict[str, Any], job_id: UUID | None = None) -> JobOut:
    """Have something done in the background."""
    with database().transaction() as session:
        row = add(session, kind, name, arguments, job_id)
        made = present(row)
    queue().put(made.id)
    return made


def _mine(session: Session, job_id: UUID) -> JobRow:
    row = session.scalars(
        select(JobRow).where(JobRow.id == job_id, JobRow.owner_id == owner()).with_for_update()
    ).one_or_none()
    if row is None:
        raise NotFound("job")
    return row


def latest() -> JobsOut:
    """The latest jobs of the asker."""
    with database().transaction() as session:
        rows = session.scalars(
            select(JobRow).where(JobRow.owner_id == owner()).order_by(JobRow.created_at.desc()).limit(_LATEST)
        )
        return JobsOut(jobs=[present(row) for row in rows])


def one(job_id: UUID) -> JobOut:
    """One job, with how far it is."""
    with database().transaction() as session:
        return present(_mine(session, job_id))


def stop(job_id: UUID) -> JobOut:
    """Have a job go no further. One that waits ends at once, one that runs at its next step."""
    with database().transaction() as session:
        row = _mine(session, job_id)
        if row.state == "waiting":
            row.state, row.ended_at = "stopped", now()
            undone: Undone | None = current_app.extensions["undone"].get(row.kind)
            if undone is not None:
                undone(session, row.arguments, STOPPED)
        elif row.state == "running":
            row.stop_asked = True
        session.flush()
        return present(row)


def retry(job_id: UUID) -> JobOut:
    """Begin a job anew that failed or was stopped.

    Raises
    ------
    NotFound, Refused
        If there is no such job, or it cannot be begun anew.

    """
    with database().transaction() as session:
        row = _mine(session, job_id)
        if not present(row).may_retry:
            raise Refused("", "Only what failed or was stopped can be tried again.")
        row.state, row.cut_off, row.stop_asked, row.problem = "waiting", 0, False, ""
        row.ended_at, row.seen_at, row.done, row.whole, row.result = None, now(), 0, 0, None
        session.flush()
        made = present(row)
    queue().put(job_id)
    return made


def forget(job_id: UUID) -> None:
    """Take a job that has ended out of the list, with the files that belong to it alone."""
    with database().transaction() as session:
        row = _mine(session, job_id)
        if row.state in ("waiting", "running"):
            raise Refused("", "Stop it first.")
        files = files_of(row)
        session.delete(row)
    for path in files:
        drop(path)


def files_of(row: JobRow) -> list[Path]:
    """The files that belong to a job alone: what was sent for it, and what came of it."""
    names = [row.arguments.get("file"), (row.result or {}).get("file")]
    return [folder() / name for name in names if name]


def folder() -> Path:
    """Where files lie that come of jobs, or wait for them; see `files_folder` for errors."""
    return files_folder("jobs")


def file(job_id: UUID) -> tuple[Path, str]:
    """The file that came of a job, and the name to keep it under.

    Raises
    ------
    NotFound
        If none came of it, or it was taken away.

    """
    with database().transaction() as session:
        result = _mine(session, job_id).result or {}
    if not result.get("file"):
        raise NotFound("job's file")
    try:
        path = fetched(folder() / str(result["file"]))
    except FileNotFoundError:
        raise NotFound("job's file") from None
    return path, str(result.get("name", path.name))


def put_left_ones() -> int:
    """Put jobs into the queue that seem to have fallen out of it; how many. For a worker, now and then."""
    with database().transaction() as session:
        left = session.scalars(
            select(JobRow.id).where(JobRow.state.in_(("waiting", "running")), JobRow.seen_at < now() - _LEFT)
        ).all()
    for job in left:
        queue().put(job)
    return len(left)


def forget_old_ones() -> int:
    """Take jobs out of the lists that ended two weeks ago, with their files; how many. For a worker, now and then."""
    with database().transaction() as session:
        old = session.scalars(select(JobRow).where(JobRow.ended_at < now() - _KEPT)).all()
        files = [path for row in old for path in files_of(row)]
        for row in old:
            session.delete(row)
    for path in files:
        drop(path)
    # What processes that were killed could not take away.
    for left in folder().glob(f"{PASSING}*"):
        if datetime.fromtimestamp(left.stat().st_mtime, UTC) < now() - _PASSED:
            shutil.rmtree(left, ignore_errors=True)
    return len(old)
