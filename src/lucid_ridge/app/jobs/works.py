"""What each kind of job does."""

from __future__ import annotations

from sqlalchemy.orm import Session

from lucid_ridge.app.archives.export import write_archive
from lucid_ridge.app.archives.importing import Taken, take_in
from lucid_ridge.app.archives.records import KINDS
from lucid_ridge.app.database import now
from lucid_ridge.app.editing import database
from lucid_ridge.app.files import drop, fetched, share
from lucid_ridge.app.jobs.operations import folder
from lucid_ridge.app.jobs.running import Running, Work, Works
from lucid_ridge.app.pictures.folders import carry_out_bring
from lucid_ridge.app.review.looking import carry_out_look
from lucid_ridge.app.terrains.operations import import_given, note_undone
from lucid_ridge.formats.sealed import SealedError

_PLURAL = {
    "kit item": "kit items", "terrain": "terrains", "place": "places", "mark or path": "marks and paths",
    "composition": "compositions", "variant": "variants", "photograph": "photographs", "sequence": "sequences",
    "take": "takes", "picture": "pictures", "outing": "outings", "measurement": "measurements",
}  # fmt: skip


def counted(counts: dict[str, int]) -> str:
    """So many of each kind, in words."""
    told = []
    for kind in KINDS:
        count = counts.get(kind.name, 0)
        if count:
            told.append(f"{count} {kind.what if count == 1 else _PLURAL[kind.what]}")
    return ", ".join(told)


def _export(job: Running) -> None:
    name = f"{job.id.hex}.zip"
    write_archive(folder() / name, job.tell)
    share(folder() / name, f"jobs/{name}")
    with database().transaction() as session:
        size = (folder() / name).stat().st_size
        job.finish(
            session,
            {
                "file": name,
                "name": f"Lucid Ridge {now():%Y-%m-%d}.zip",
                "text": f"{size / 1e6:.1f} MB",
            },
        )


def _told_of(taken: Taken) -> str:
    fresh, known = counted(taken.added), counted(taken.known)
    if not fresh:
        return "Nothing new in it: all of it is here already." if known else "There was nothing in it."
    return f"New here: {fresh}." + (f" Here already: {known}." if known else "")


def _import(job: Running) -> None:
    def finish(session: Session, taken: Taken) -> None:
        job.finish(session, {"text": _told_of(taken)})

    try:
        sent = fetched(folder() / str(job.arguments["file"]))
    except FileNotFoundError:
        raise SealedError("The file that was sent is not here any more. Send it again.") from None
    try:
        take_in(sent, job.tell, finish, called="This file")
    except SealedError:
        drop(sent)
        raise
    drop(sent)


def _terrain(job: Running) -> None:
    def finish(session: Session) -> None:
        job.finish(session, {"text": "It is on the map."})

    import_given(job.arguments, lambda share: job.tell("reading heights", round(share * 100), 100), finish)


WORKS: Works = {
    "bring": Work(carry_out_bring),
    "export": Work(_export),
    "import": Work(_import),
    "look": Work(carry_out_look),
    "terrain": Work(_terrain, note_undone),
}
