"""The kinds of record that have a picture as a file, each with its table and its folder."""

from __future__ import annotations

from lucid_ridge.app.photographs.files import CAME_BACK, REFERENCE, PictureFolder
from lucid_ridge.app.photographs.tables import PhotographRow
from lucid_ridge.app.pictures.tables import PictureRow

PICTURED: dict[str, tuple[type[PhotographRow] | type[PictureRow], PictureFolder]] = {
    "photographs": (PhotographRow, REFERENCE),
    "pictures": (PictureRow, CAME_BACK),
}
