"""Carrying a job out: begun, told of, stopped, ended once, whatever becomes of the process that does it."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from flask import Flask, g
from sqlalchemy import select, update
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from lucid_ridge.app.database import now
from lucid_ridge.app.disk import disk_trouble
from lucid_ridge.app.editing import database
from lucid_ridge.app.identity import Who
from lucid_ridge.app.jobs.operations import STOPPED, Undone
from lucid_ridge.app.jobs.tables import JobRow
from lucid_ridge.app.problems import NotFound, Refused, StoreTrouble
from lucid_ridge.formats.sealed import SealedError
from lucid_ridge.formats.terrain_grids import TerrainError

MOST_CUT_OFF = 3
_TELL_EVERY_S = 0.4
_LOG = logging.getLogger(__name__)


class Stopped(Exception):
    """Somebody wants no more of it."""


class Overtaken(Exception):
    """It was begun anew elsewhere meanwhile: this process was thought dead. What it did is taken back."""


class Running:
    """A job that this process carries out."""

    def __init__(self, row: JobRow, work: Work) -> None:
        self.id, self.owner_id, self.work = row.id, row.owner_id, work
        self.arguments: dict[str, Any] = dict(row.arguments)
        self._attempt = row.attempt
        self._told_at = 0.0
        self.ended = False

    def tell(self, doing: str, done: int = 0, whole: int = 0) -> None:
        """Say how far it is, now and then, and hear whether it is to stop.

        Raises
        ------
        Stopped, Overtaken
            If it is to go no further.

        """
        at = time.monotonic()
        if at - self._told_at < _TELL_EVERY_S:
            return
        self._told_at = at
        with database().transaction() as session:
            stop = session.scalar(
                update(JobRow)
                .where(JobRow.id == self.id, JobRow.attempt == self._attempt, JobRow.state == "running")
                .values(doing=doing[:80], done=done, whole=whole, seen_at=now())
                .returning(JobRow.stop_asked)
            )
        if stop is None:
            raise Overtaken
        if stop:
            raise Stopped

    def finish(self, session: Session, result: dict[str, Any]) -> None:
        """End it in the transaction that does what it is for: both are done, or neither.

        Raises
        ------
        Overtaken
            If another process has begun it anew.

        """
        self._end(session, "done", result=result)
        self.ended = True

    def _end(self, session: Session, state: str, result: dict[str, Any] | None = None, problem: str = "") -> None:
        mine = update(JobRow).where(JobRow.id == self.id, JobRow.attempt == self._attempt, JobRow.state == "running")
        ended = mine.values(state=state, result=result, problem=problem[:2000], ended_at=now(), doing="")
        if session.scalar(ended.returning(JobRow.id)) is None:
            raise Overtaken

    def end(self, state: str, problem: str = "", final: bool = False) -> None:
        """End it otherwise than it was meant to; *final* where the same again would end the same."""
        with database().transaction() as session:
            self._end(session, state, {"final": True} if final else None, problem)
            self.work.undone(session, self.arguments, problem or STOPPED)


@dataclass(frozen=True)
class Work:
    """What a kind of job does; and what else is to be noted, in the same transaction, when it ends without being done."""

    run: Callable[[Running], None]
    undone: Undone = lambda session, arguments, problem: None


Works = Mapping[str, Work]


def _begin(job_id: UUID, works: Works) -> Running | None:
    """Begin a job; None where it has ended, or was cut off so often that it is to blame itself."""
    with database().transaction() as session:
        row = session.scalars(select(JobRow).where(JobRow.id == job_id).with_for_update()).one_or_none()
        if row is None or row.state not in ("waiting", "running"):
            return None
        row.cut_off += row.state == "running"
        if row.stop_asked or row.cut_off >= MOST_CUT_OFF:
            row.state, row.ended_at, row.doing = "stopped" if row.stop_asked else "failed", now(), ""
            if not row.stop_asked:
                row.problem = (
                    f"It was cut off {row.cut_off} times. Try again when the machine has more memory to spare."
                )
            works[row.kind].undone(session, row.arguments, row.problem or STOPPED)
            return None
        row.state, row.attempt, row.seen_at = "running", row.attempt + 1, now()
        row.done = row.whole = 0
        session.flush()
        return Running(row, works[row.kind])


def carry_out(app: Flask, job_id: UUID, works: Works) -> None:
    """Carry a job out, in this thread."""
    with app.app_context():
        job = _begin(job_id, works)
        if job is None:
            return
        g.who = Who(job.owner_id, "", "owner")
        try:
            job.work.run(job)
            if not job.ended:
                with database().transaction() as session:
                    job.finish(session, {})
        except Overtaken:
            _LOG.warning("job %s was begun anew elsewhere", job_id)
        except Stopped:
            job.end("stopped")
        except (SealedError, TerrainError) as error:
            job.end("failed", str(error), final=True)
        except Refused as error:
            job.end("failed", error.message)
        except NotFound as error:
            job.end("failed", f"This {error.what} does not exist any more.")
        except StoreTrouble:
            _LOG.exception("job %s: the object store", job_id)
            job.end("failed", "The store of files does not answer. Try again in a while.")
        except OperationalError:
            # The database went away. It is begun anew when it is back.
            raise
        except Exception as error:
            if isinstance(error, OSError) and (told := disk_trouble(error)):
                job.end("failed", told)
                return
            _LOG.exception("job %s failed", job_id)
            job.end("failed", f"Something went wrong here. The server's log has the details under {job_id}.")
