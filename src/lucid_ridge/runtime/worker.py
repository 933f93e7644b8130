"""A worker: a process that carries out what goes on in the background. As many as one likes, on any machine with the files.

It takes jobs from the application's database. One whose worker ended without a word is taken up again by another, after
`CUT_OFF_S`; the worker itself is started again by whoever started it.
"""

from __future__ import annotations

import asyncio
import logging
import os
from pathlib import Path
from uuid import UUID

import procrastinate
from flask import Flask, current_app

from lucid_ridge.app.database import now
from lucid_ridge.app.editing import database
from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.app.jobs import operations
from lucid_ridge.app.jobs.queue import TASK
from lucid_ridge.app.jobs.running import Running, Work, Works, carry_out
from lucid_ridge.app.jobs.works import WORKS
from lucid_ridge.app.logbook.facts import work_out_left
from lucid_ridge.app.logs import write_json
from lucid_ridge.app.purging import forget_deleted
from lucid_ridge.demo.years import JOB, draw_past
from lucid_ridge.runtime.asking import address_of
from lucid_ridge.runtime.backup import SUFFIX, verify_backup, write_backup
from lucid_ridge.runtime.upgrade import program, revision_of
from lucid_ridge.runtime.web import PRIVATE

CUT_OFF_S = 15.0
_HEARTBEAT_S = 4.0
_SWEEP_S = 5.0
_AT_ONCE = 2
_LOG = logging.getLogger(__name__)


def _backup(job: Running) -> None:
    """Back everything up, and read it through: a backup that nobody can bring back is none."""
    url = database().engine.url.render_as_string(hide_password=False)
    files, backups = (current_app.extensions[name] for name in ("files_folder", "backups_folder"))
    store = os.environ.get("LUCID_RIDGE_OBJECT_STORE") or None
    target = backups / f"by-hand-{now():%Y-%m-%dT%H%M%S}{SUFFIX}"
    job.tell("writing")
    write_backup(url, files, revision_of(url) or "", program(), target, store)
    job.tell("reading it through")
    size = sum(part.size for part in verify_backup(target).parts)
    with database().transaction() as session:
        job.finish(session, {"text": f"{target.name}, {size / 1e6:.1f} MB, read through and whole."})


ALL_WORKS: Works = {**WORKS, "backup": Work(_backup), JOB: Work(draw_past)}


def make_queue(database_url: str, app: Flask) -> procrastinate.App:
    """The queue of a database, with what its jobs do."""
    connector = procrastinate.PsycopgConnector(conninfo=address_of(database_url), min_size=1, max_size=6)
    made = procrastinate.App(connector=connector)

    @made.task(name=TASK)
    def do(job: str) -> None:
        carry_out(app, UUID(job), ALL_WORKS)

    return made


async def sweep(queue: procrastinate.App, app: Flask) -> None:
    """Take up again what a worker that ended without a word left behind, and forget what is old."""
    manager = queue.job_manager
    for left in await manager.get_stalled_jobs(seconds_since_heartbeat=CUT_OFF_S):
        # Its place in the queue is given up rather than taken again: another may wait behind it for the same job by now.
        await manager.finish_job(left, procrastinate.jobs.Status.FAILED, delete_job=True)
    await asyncio.to_thread(_sweep_records, app)


async def _keep_sweeping(queue: procrastinate.App, app: Flask) -> None:
    while True:
        try:
            await sweep(queue, app)
        except Exception:
            # The database may just be gone: the worker itself ends then, and is started again.
            _LOG.exception("left jobs could not be looked for")
        await asyncio.sleep(_SWEEP_S)


def _sweep_records(app: Flask) -> None:
    with app.app_context():
        operations.put_left_ones()
        operations.forget_old_ones()
        forget_deleted()
        work_out_left()


async def work(database_url: str, app: Flask) -> None:
    """Carry out jobs until interrupted, or the database is gone."""
    queue = make_queue(database_url, app)
    async with queue.open_async():
        sweeping = asyncio.create_task(_keep_sweeping(queue, app))
        try:
            await queue.run_worker_async(
                concurrency=_AT_ONCE,
                fetch_job_polling_interval=2.0,
                update_heartbeat_interval=_HEARTBEAT_S,
                stalled_worker_timeout=CUT_OFF_S,
                delete_jobs="always",
                # What is not done when it is stopped is begun anew at the next start.
                shutdown_graceful_timeout=5.0,
            )
        finally:
            sweeping.cancel()


def main() -> None:
    """What a worker process runs; its settings come by the environment, as those of the web processes do."""
    os.umask(PRIVATE)
    # Whoever waits for an answer goes before what is done in the background.
    os.nice(10)
    write_json()
    # It would rather not be the main program; nothing of it is looked up by its name here.
    logging.getLogger("procrastinate.blueprints").setLevel(logging.ERROR)
    url = os.environ["LUCID_RIDGE_DATABASE_URL"]
    files, backups = Path(os.environ["LUCID_RIDGE_FILES"]), os.environ.get("LUCID_RIDGE_BACKUPS_FOLDER")
    app = create_app(
        Configuration(
            url,
            files_folder=files,
            workers=True,
            backups_folder=Path(backups) if backups else None,
            object_store=os.environ.get("LUCID_RIDGE_OBJECT_STORE") or None,
        )
    )
    asyncio.run(work(url, app))


if __name__ == "__main__":
    main()
