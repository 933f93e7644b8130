"""Pictures from a folder on disk: each once, resumed where it was cut off; what cannot be used is named and the rest goes on."""

from __future__ import annotations

import io
import os
import random
from pathlib import Path

import pytest
from PIL import Image
from sqlalchemy import func, select

from lucid_ridge.app.pictures import folders
from lucid_ridge.app.problems import Refused
from lucid_ridge.app.tables import PictureRow
from lucid_ridge.formats.sidecars import Judged, with_judged


def jpeg(seed: int) -> bytes:
    made = io.BytesIO()
    Image.frombytes("RGB", (32, 24), random.Random(seed).randbytes(32 * 24 * 3)).save(made, "JPEG")
    return made.getvalue()


@pytest.fixture
def card(tmp_path: Path) -> Path:
    """Two folders with pictures of the same names, their sidecars, and much that is none."""
    for k, name in enumerate(("100", "101")):
        folder = tmp_path / "card" / name
        folder.mkdir(parents=True)
        for n in range(6):
            (folder / f"IMG_{n:04d}.JPG").write_bytes(jpeg(300 * k + n))
        (folder / "IMG_0003.xmp").write_bytes(with_judged(None, Judged(4 + k, False, (name,))))
    root = tmp_path / "card"
    (root / "100" / "cut.jpg").write_bytes(jpeg(7)[:200])
    (root / "100" / "empty.jpg").write_bytes(b"")
    (root / "100" / "words.jpg").write_text("no picture at all")
    (root / "100" / "copy of 0001.jpg").write_bytes(jpeg(1))
    (root / "100" / "lonely.xmp").write_bytes(with_judged(None, Judged(1)))
    (root / "100" / "notes.txt").write_text("not looked at")
    (root / "101" / "link.jpg").symlink_to("/etc/passwd")
    (root / "101" / "loop").symlink_to(root)
    (root / "101" / ".hidden.jpg").write_bytes(jpeg(999))
    os.mkfifo(root / "101" / "pipe.jpg")
    (root / "101" / "folder.jpg").mkdir()
    return root


def kept(app) -> list[PictureRow]:
    with app.extensions["database"].transaction() as session:
        return list(session.scalars(select(PictureRow).order_by(PictureRow.name)))


def test_each_picture_comes_in_once_and_what_is_none_is_named(app, card):
    with app.app_context():
        made = folders.bring_folder(card)
        again = folders.bring_folder(card)
    assert (made.fresh, made.known, made.judged) == (12, 1, 2)
    named = {path.name: why for path, why in made.refused}
    assert set(named) == {"cut.jpg", "empty.jpg", "words.jpg", "lonely.xmp", "link.jpg", "pipe.jpg"}
    assert (
        "link" in named["link.jpg"] and "no file" in named["pipe.jpg"] and "Bring the picture in" in named["lonely.xmp"]
    )
    assert (again.fresh, again.known, again.judged) == (0, 13, 2)
    rows = kept(app)
    assert len(rows) == 12
    judged = {row.keywords[0]: row.rating for row in rows if row.keywords}
    assert judged == {"100": 4, "101": 5}, "each sidecar is for the picture of its own folder, the second time too"
    assert (card / "100" / "IMG_0000.JPG").read_bytes() == jpeg(0)


def test_what_was_killed_goes_on_without_loss_or_doubles(app, card):
    def killed(doing: str, done: int, whole: int) -> None:
        if done >= 7:
            raise KeyboardInterrupt

    with app.app_context():
        with pytest.raises(KeyboardInterrupt):
            folders.bring_folder(card, killed)
        before = len(kept(app))
        made = folders.bring_folder(card)
    assert 0 < before < 12 and made.fresh == 12 - before
    with app.extensions["database"].transaction() as session:
        assert session.scalar(select(func.count(func.distinct(PictureRow.sha256)))) == len(kept(app)) == 12


def test_a_folder_without_pictures_says_so(app, tmp_path):
    with app.app_context():
        with pytest.raises(Refused, match="no picture in"):
            folders.bring_folder(tmp_path)
        with pytest.raises(Refused, match="no folder here"):
            folders.bring_folder(tmp_path / "gone")
