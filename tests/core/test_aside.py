"""Photographs read by a process without rights: the same is read, and whatever a file does stays in there."""

from __future__ import annotations

import io
import os
import subprocess
import sys
import threading
from dataclasses import replace

import numpy as np
import pytest
from PIL import ExifTags, Image
from pillow_heif import from_pillow

from lucid_ridge.formats import aside
from lucid_ridge.formats.aside import read_aside, read_heads_aside
from lucid_ridge.formats.photographs import MEDIA_TYPES, PhotographError, read_head, read_photograph


def told(kind: str) -> bytes:
    """A picture of some kind that tells when and where it was taken."""
    rng = np.random.default_rng(7)
    image = Image.fromarray(rng.integers(0, 255, (90, 140, 3), dtype=np.uint8))
    exif = Image.Exif()
    exif[ExifTags.Base.Model] = "Model"
    exif.get_ifd(ExifTags.IFD.Exif).update(
        {
            ExifTags.Base.DateTimeOriginal: "2026:03:04 05:06:07",
            ExifTags.Base.FocalLength: 24.0,
            ExifTags.Base.FNumber: 8.0,
        }
    )
    exif.get_ifd(ExifTags.IFD.GPSInfo).update(
        {1: "N", 2: (54.0, 6.0, 0.0), 3: "W", 4: (2.0, 24.0, 36.0), 7: (5.0, 6.0, 7.0), 29: "2026:03:04"}
    )
    out = io.BytesIO()
    if kind == "HEIF":
        from_pillow(image).save(out, quality=60, exif=exif.tobytes())
    else:
        image.save(out, kind, exif=exif.tobytes())
    return out.getvalue()


@pytest.mark.parametrize("kind", MEDIA_TYPES)
def test_it_reads_what_is_read_here(kind):
    data = told(kind)
    found = read_aside(data)
    assert found == read_photograph(data)
    assert found.facts.taken is not None and found.facts.latitude_deg == pytest.approx(54.1)


@pytest.mark.parametrize(
    "data", [b"", b"no photograph", told("JPEG")[:900], b"\xff\xd8\xff" * 40, b"II*\0" + b"\xff" * 90]
)
def test_what_cannot_be_used_is_refused_in_the_same_words(data):
    with pytest.raises(PhotographError) as here:
        read_photograph(data)
    with pytest.raises(PhotographError) as there:
        read_aside(data)
    assert str(there.value) == str(here.value)


def test_a_reader_that_dies_is_told_and_the_next_picture_is_read():
    data = told("JPEG")
    read_aside(data)
    aside._READER.process.kill()
    aside._READER.process.wait()
    assert read_aside(data).width_px == 140


def test_those_who_read_at_the_same_time_get_their_own():
    sizes = [(30 + n, 20 + n) for n in range(12)]
    found = {}

    def read(size):
        out = io.BytesIO()
        Image.new("RGB", size).save(out, "PNG")
        made = read_aside(out.getvalue())
        found[size] = (made.width_px, made.height_px)

    them = [threading.Thread(target=read, args=(size,)) for size in sizes]
    for one in them:
        one.start()
    for one in them:
        one.join()
    assert found == {size: size for size in sizes}


_WITHIN = """
import os, sys, time
from lucid_ridge.formats import aside

def taken_over(data):
    {what}

aside.read_photograph = taken_over
said, shown = aside._answered(aside._COPY, [b"any"])
print(said.decode(), shown)
said, shown = aside._answered(aside._COPY, [b"any"])
"""


@pytest.mark.parametrize(
    ("what", "says"),
    [
        ("bytearray(3 * 1024**3)", "more memory or time"),
        ("aside._MOST_SECONDS; time.sleep(60)", "more memory or time"),
        ("import signal; signal.alarm(0); time.sleep(60)", "more memory or time"),
        ("os._exit(0)", "more memory or time"),
        ("os.kill(os.getpid(), 11)", "more memory or time"),
        ("raise aside.PhotographError(str(os.getuid()))", "65534" if os.geteuid() == 0 else str(os.getuid())),
        ("open('/etc/hostname')", "more memory or time"),
        ("os.write(1, b'x' * 5000000); time.sleep(60)", "more memory or time"),
        ("raise aside.PhotographError(repr(os.fstat(0)))", "more memory or time"),
    ],
)
def test_whatever_a_picture_makes_of_its_reader_it_cannot(what, says):
    """Memory, time, a crash, files of the machine, answers without end, what others send: none of it is to be had."""
    program = _WITHIN.replace("{what}", what).replace(
        "from lucid_ridge.formats import aside", "from lucid_ridge.formats import aside\naside._MOST_SECONDS = 2"
    )
    done = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=False, timeout=60)
    assert done.returncode == 0, done.stderr
    assert says in done.stdout


def test_an_answer_that_no_reader_gives_is_not_believed(monkeypatch):
    good = read_photograph(told("JPEG"))
    for said in (
        b"",
        b"{}",
        b'{"media_type": "text/html"}',
        b'{"media_type": "image/jpeg", "width_px": -4}',
        b'{"more": 1}',
    ):
        monkeypatch.setattr(aside, "_asked", lambda *_, said=said: (said, b""))
        with pytest.raises(PhotographError, match="more memory or time"):
            read_aside(b"any")
    whole = aside._Answer(media_type=good.media_type, width_px=140, height_px=90, facts=good.facts)
    monkeypatch.setattr(aside, "_asked", lambda *_: (whole.model_dump_json().encode(), b"small"))
    assert read_aside(b"any") == replace(good, shown=b"small")


def test_heads_of_several_are_read_at_once_and_one_that_takes_its_reader_down_is_named_alone(monkeypatch):
    good = told("JPEG")
    head = read_head(good)
    found = read_heads_aside([good, b"no picture", b"", good])
    assert found[0] == found[3] == head
    assert all(isinstance(one, PhotographError) for one in found[1:3])
    asked = aside._asked

    def taken_down(what, *pictures):
        if b"hostile" in pictures:
            raise EOFError
        return asked(what, *pictures)

    monkeypatch.setattr(aside, "_asked", taken_down)
    found = read_heads_aside([good, b"hostile", good])
    assert found[0] == found[2] == head and "more memory or time" in str(found[1])
