"""Pictures of the simulated camera as files: JPEG, and masks as small PNG."""

from __future__ import annotations

import io
import math
from dataclasses import dataclass
from datetime import datetime

import numpy as np
from numpy.typing import NDArray
from PIL import ExifTags, Image

QUALITY = 88


def jpeg_of(picture: NDArray[np.uint8]) -> bytes:
    """A picture (rows, columns, 3) as JPEG; the same picture gives the same bytes."""
    made = io.BytesIO()
    Image.fromarray(picture).save(made, "JPEG", quality=QUALITY)
    return made.getvalue()


@dataclass(frozen=True)
class Written:
    """What a camera writes into a frame. ``taken`` is what its own clock shows, without a zone, as most cameras have it."""

    taken: datetime
    camera: str
    lens: str
    exposure_s: float
    f_number: float
    iso: float
    focal_length_mm: float
    sensor_mm: tuple[float, float]
    focus_m: float


_FULL_FRAME_MM = 43.2666
"""The diagonal of 24 x 36 mm."""
_FARTHEST_M = 50_000.0


def with_exif(jpeg: bytes, written: Written) -> bytes:
    """A JPEG with what the camera writes into it; the picture's own bytes stay as they are.

    References
    ----------
    .. [1] CIPA DC-008, Exif version 2.32, tables 4 to 8: an unknown or infinite subject distance is left out here.

    """
    image = Image.open(io.BytesIO(jpeg))
    exif = image.getexif()
    exif[ExifTags.Base.Model] = written.camera
    exif[ExifTags.Base.Orientation] = 1
    inner = exif.get_ifd(ExifTags.IFD.Exif)
    inner[ExifTags.Base.DateTimeOriginal] = written.taken.strftime("%Y:%m:%d %H:%M:%S")
    inner[ExifTags.Base.SubsecTimeOriginal] = f"{written.taken.microsecond // 1000:03d}"
    inner[ExifTags.Base.ExposureTime] = written.exposure_s
    inner[ExifTags.Base.FNumber] = written.f_number
    inner[ExifTags.Base.ISOSpeedRatings] = min(round(written.iso), 65535)
    inner[ExifTags.Base.FocalLength] = written.focal_length_mm
    inner[ExifTags.Base.FocalLengthIn35mmFilm] = round(
        written.focal_length_mm * _FULL_FRAME_MM / math.hypot(*written.sensor_mm)
    )
    inner[ExifTags.Base.LensModel] = written.lens
    if written.focus_m < _FARTHEST_M:
        inner[ExifTags.Base.SubjectDistance] = written.focus_m
    made = io.BytesIO()
    image.save(made, "JPEG", quality="keep", exif=exif)
    return made.getvalue()


def mask_png(mask: NDArray[np.bool_]) -> bytes | None:
    """A mask as a transparent PNG of half its size, opaque where it holds; None where it holds nowhere."""
    if not mask.any():
        return None
    rows, columns = mask.shape[0] // 2 * 2, mask.shape[1] // 2 * 2
    small = mask[:rows, :columns].reshape(rows // 2, 2, columns // 2, 2).any(axis=(1, 3))
    made = io.BytesIO()
    grey = np.zeros((*small.shape, 2), dtype=np.uint8)
    grey[..., 1] = small * np.uint8(255)
    Image.fromarray(grey, "LA").save(made, "PNG", optimize=False)
    return made.getvalue()
