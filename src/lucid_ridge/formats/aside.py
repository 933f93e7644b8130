"""Photographs read in a process without rights: a hostile file costs that process, and nothing else.

What pictures tell of themselves is read of several in one process; where that fails, of each in one of its own.

The reader is started once and forks for each picture, so that what it needs is loaded already. What is forked may take so much
memory and time, opens and writes no file, and is nobody where it was started by root. It answers with plain numbers, text and a
JPEG, which are looked at before they are believed.
"""

from __future__ import annotations

import io
import os
import resource
import signal
import sys
import threading
from collections.abc import Sequence
from contextlib import suppress
from typing import Annotated, NoReturn

from PIL import ExifTags, Image
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from lucid_ridge.formats.framed import LENGTH, NOBODY, receive, send
from lucid_ridge.formats.own_process import OwnProcess
from lucid_ridge.formats.photographs import (
    ENDINGS,
    LONGEST_SIDE,
    MEDIA_TYPES,
    Facts,
    Head,
    Photograph,
    PhotographError,
    read_head,
    read_photograph,
)

_MOST_MEMORY = 2 * 1024**3
"""Twice what the largest picture takes that is let in, measured."""
_MOST_SECONDS = 40
_GRACE_S = 2
_MOST_SAID = 256 * 1024
_MOST_SHOWN = 32 * 1024 * 1024
_TOO_MUCH = "The picture takes more memory or time than any photograph should; save it anew as JPEG."


_COPY, _HEADS = b"copy", b"heads"
"""What is asked for: all of one picture with its small copy, or what several tell of themselves."""


class _Answer(BaseModel):
    """What the reader tells of a picture, its small copy aside."""

    model_config = ConfigDict(extra="forbid")

    refused: Annotated[str, Field(max_length=500)] = ""
    media_type: str = ""
    width_px: Annotated[int, Field(ge=0, le=LONGEST_SIDE)] = 0
    height_px: Annotated[int, Field(ge=0, le=LONGEST_SIDE)] = 0
    facts: Facts = Facts()


_READER, _LOCK = OwnProcess(__name__), threading.Lock()


class _Answers(BaseModel):
    """What the reader tells of several pictures."""

    model_config = ConfigDict(extra="forbid")

    answers: list[_Answer]


def _asked(what: bytes, *pictures: bytes) -> tuple[bytes, bytes]:
    """What is said of pictures, and the small copy of one; one after the other.

    Raises
    ------
    EOFError
        If the reader ended before it had answered.

    """
    with _LOCK:
        pipes = _READER.ready()
        try:
            send(pipes.hears, what, LENGTH.pack(len(pictures)), *pictures)
            return receive(pipes.tells, _MOST_SAID), receive(pipes.tells, _MOST_SHOWN)
        except (OSError, EOFError):
            _READER.end()
            raise EOFError from None


def _head_of(answer: _Answer) -> Head:
    if answer.refused:
        raise PhotographError(answer.refused)
    if answer.media_type not in ENDINGS:
        raise PhotographError(_TOO_MUCH)
    return Head(answer.media_type, answer.width_px, answer.height_px, answer.facts)


def read_aside(data: bytes) -> Photograph:
    """A photograph as `read_photograph` gives it, read by a process without rights.

    Raises
    ------
    PhotographError
        If it cannot be used, or takes too much to read; says what to do.

    """
    try:
        said, shown = _asked(_COPY, data)
        answer = _Answer.model_validate_json(said)
    except (EOFError, ValidationError):
        raise PhotographError(_TOO_MUCH) from None
    head = _head_of(answer)
    return Photograph(head.media_type, head.width_px, head.height_px, head.facts, shown)


def read_heads_aside(pictures: Sequence[bytes]) -> list[Head | PhotographError]:
    """What pictures tell of themselves as `read_head` gives it, read by a process without rights; or why one cannot be used.

    Parameters
    ----------
    pictures
        The bytes of files. All of them are held twice: no more at once than there is memory for.

    """
    try:
        answers = _Answers.model_validate_json(_asked(_HEADS, *pictures)[0]).answers
    except (EOFError, ValidationError):
        answers = []
    if len(answers) != len(pictures):
        if len(pictures) == 1:
            return [PhotographError(_TOO_MUCH)]
        # One of them is to blame: each in a process of its own tells which.
        return [found for one in pictures for found in read_heads_aside([one])]
    found: list[Head | PhotographError] = []
    for answer in answers:
        try:
            found.append(_head_of(answer))
        except PhotographError as error:
            found.append(error)
    return found


def _give_up_rights() -> None:
    """Keep to what a picture needs, whatever is in it."""
    resource.setrlimit(resource.RLIMIT_DATA, (_MOST_MEMORY, _MOST_MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (_MOST_SECONDS, _MOST_SECONDS))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    signal.signal(signal.SIGALRM, signal.SIG_DFL)
    signal.alarm(_MOST_SECONDS)
    if os.geteuid() == 0:
        os.setgroups([])
        os.setgid(NOBODY)
        os.setuid(NOBODY)
    # Not one file more than are open: after this none of the machine's can be read.
    resource.setrlimit(resource.RLIMIT_NOFILE, (0, 0))


def _told_of(data: bytes) -> _Answer:
    try:
        head = read_head(data)
    except PhotographError as error:
        return _Answer(refused=str(error)[:500])
    return _answer_of(head)


def _answer_of(head: Head) -> _Answer:
    return _Answer(media_type=head.media_type, width_px=head.width_px, height_px=head.height_px, facts=head.facts)


def _told_and_shown(data: bytes) -> tuple[_Answer, bytes]:
    try:
        found = read_photograph(data)
    except PhotographError as error:
        return _Answer(refused=str(error)[:500]), b""
    return _answer_of(found), found.shown


def _answer(what: bytes, pictures: list[bytes], out: int) -> NoReturn:
    """Read pictures, say what they are to *out*, and end; nothing else is open meanwhile, nor what others send."""
    os.dup2(out, 1)
    os.close(0)
    os.closerange(3, resource.getrlimit(resource.RLIMIT_NOFILE)[0])
    _give_up_rights()
    shown = b""
    said: BaseModel
    if what == _HEADS:
        said = _Answers(answers=[_told_of(one) for one in pictures])
    else:
        said, shown = _told_and_shown(pictures[0])
    with os.fdopen(1, "wb", closefd=False) as told:
        send(told, said.model_dump_json().encode(), shown)
    os._exit(0)


def _answered(what: bytes, pictures: list[bytes]) -> tuple[bytes, bytes]:
    """What a process of its own says of pictures, and the small copy of one."""
    source, out = os.pipe()
    child = os.fork()
    if child == 0:
        _answer(what, pictures, out)
    os.close(out)
    # What has been taken over may well do without its own alarm.
    signal.signal(signal.SIGALRM, lambda *_: os.kill(child, signal.SIGKILL))
    signal.alarm(_MOST_SECONDS + _GRACE_S)
    try:
        with os.fdopen(source, "rb") as heard:
            found = receive(heard, _MOST_SAID), receive(heard, _MOST_SHOWN)
    except EOFError:
        found = _Answer(refused=_TOO_MUCH).model_dump_json().encode(), b""
    signal.alarm(0)
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    return found


def _load_all() -> None:
    """Have everything loaded that reading a picture loads when it first comes to it: later no file can be opened."""
    Image.init()
    exif = Image.Exif()
    exif[ExifTags.Base.Orientation] = 6
    exif.get_ifd(ExifTags.IFD.Exif)[ExifTags.Base.DateTimeOriginal] = "2026:01:02 03:04:05"
    exif.get_ifd(ExifTags.IFD.GPSInfo)[ExifTags.GPS.GPSLatitude] = (1.0, 2.0, 3.0)
    for kind in MEDIA_TYPES:
        made = io.BytesIO()
        Image.new("RGB", (16, 8)).save(made, kind, exif=exif)
        read_photograph(made.getvalue())
    with suppress(PhotographError):
        read_photograph(b"neither of these, so looked at as a raw file")


def main() -> None:
    """Read pictures from standard input for as long as somebody sends any."""
    os.nice(5)
    _load_all()
    while True:
        try:
            what = receive(sys.stdin.buffer, len(_HEADS))
            (count,) = LENGTH.unpack(receive(sys.stdin.buffer, LENGTH.size))
            pictures = [receive(sys.stdin.buffer, sys.maxsize) for _ in range(count)]
        except EOFError:
            return
        send(sys.stdout.buffer, *_answered(what, pictures))


if __name__ == "__main__":
    main()
