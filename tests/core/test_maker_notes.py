"""How far pictures are focused by what only their makers' programs write: ExifTool writes it here, and nothing else does."""

from __future__ import annotations

import io
import os
import subprocess
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from lucid_ridge.formats import maker_notes
from lucid_ridge.formats.maker_notes import distance_in, focus_of
from lucid_ridge.formats.photographs import read_head


def jpeg() -> bytes:
    made = io.BytesIO()
    Image.new("RGB", (40, 30), (90, 120, 60)).save(made, "JPEG")
    return made.getvalue()


def written(folder: Path, *tags: str) -> bytes:
    file = folder / "one.jpg"
    file.write_bytes(jpeg())
    subprocess.run(["exiftool", "-q", "-overwrite_original", *tags, str(file)], check=True)
    return file.read_bytes()


def test_what_the_standards_own_tags_do_not_tell_is_read(tmp_path):
    told = written(tmp_path, "-XMP-aux:ApproximateFocusDistance=1.25")
    assert read_head(told).facts.focus_m is None, "Pillow does not know it"
    plain = jpeg()
    assert focus_of([plain, told, plain]) == [None, pytest.approx(1.25), None]
    assert focus_of([]) == []


def test_one_that_is_no_picture_keeps_nothing_from_the_others(tmp_path):
    told = written(tmp_path, "-ExifIFD:SubjectDistance=0.62")
    junk = [b"", b"\x00" * 5000, os.urandom(20_000), jpeg()[:60], b"%!PS-Adobe\n" * 100]
    assert focus_of([*junk, told]) == [None] * 5 + [pytest.approx(0.62)]


def test_what_takes_too_long_is_ended_and_nothing_is_told_of_it(tmp_path, monkeypatch):
    told = written(tmp_path, "-XMP-aux:ApproximateFocusDistance=3")
    monkeypatch.setattr(maker_notes, "_START_S", 0.0)
    monkeypatch.setattr(maker_notes, "_EACH_S", 0.0)
    maker_notes._READER.end()
    assert focus_of([told, told]) == [None, None]
    monkeypatch.undo()
    assert focus_of([told]) == [pytest.approx(3)]


def test_without_the_program_nothing_is_told(monkeypatch):
    monkeypatch.setattr(maker_notes, "PROGRAM", "no such program here")
    assert focus_of([jpeg()]) == [None]


@given(
    st.dictionaries(
        st.sampled_from(
            [f"{group}:{tag}" for group in ("EXIF", "MakerNotes") for tag in maker_notes._TAGS] + ["SourceFile"]
        ),
        st.one_of(st.floats(), st.integers(), st.text(max_size=8), st.none(), st.lists(st.integers(), max_size=2)),
    )
)
def test_whatever_is_in_the_tags_it_is_a_distance_or_nothing(tags):
    found = distance_in(tags)
    assert found is None or 0.02 <= found <= 100_000


def test_limits_are_taken_for_what_lies_between_and_nought_for_unknown():
    assert distance_in({"MakerNotes:FocusDistanceLower": 1.0, "MakerNotes:FocusDistanceUpper": 4.0}) == pytest.approx(2)
    assert distance_in({"MakerNotes:FocusDistance": 0, "EXIF:SubjectDistance": 3.5}) == 3.5
    assert distance_in({"MakerNotes:FocusDistance": "inf"}) is None
