"""Pictures of the simulated camera as files: JPEG, with Exif where they are to be frames, and masks as small PNG."""

from __future__ import annotations

import io
from datetime import datetime

import numpy as np
from numpy.typing import NDArray
from PIL import ExifTags, Image

from lucid_ridge.core.records import record

QUALITY = 88


@record
class FrameFacts:
    """What a camera writes into a frame. ``taken_at`` is by its own clock, which may be wrong, without a zone.

    ``focus_m`` is None for infinity; ``compensation_stops`` what the frame is exposed beyond the metered exposure.
    """

    body: str
    lens: str
    taken_at: datetime
    shutter_s: float
    aperture_n: float
    iso: float
    focal_length_mm: float
    focus_m: float | None
    compensation_stops: float = 0.0
    number: int = 1


def jpeg_of(picture: NDArray[np.uint8], facts: FrameFacts | None = None) -> bytes:
    """A picture (rows, columns, 3) as JPEG; the same picture and facts give the same bytes."""
    made = io.BytesIO()
    exif = None if facts is None else _exif(facts)
    Image.fromarray(picture).save(made, "JPEG", quality=QUALITY, **({} if exif is None else {"exif": exif}))
    return made.getvalue()


def _exif(facts: FrameFacts) -> Image.Exif:
    """The tags of Exif 2.32 (CIPA DC-008) that tell how a frame was taken."""
    made = Image.Exif()
    base = ExifTags.Base
    when = facts.taken_at.strftime("%Y:%m:%d %H:%M:%S")
    made[base.Model] = facts.body
    made[base.Software] = "Lucid Ridge, simulated camera"
    made[base.DateTime] = when
    own = made.get_ifd(ExifTags.IFD.Exif)
    own[base.ExposureTime] = _rational(facts.shutter_s)
    own[base.FNumber] = round(facts.aperture_n, 1)
    own[base.ISOSpeedRatings] = round(facts.iso)
    own[base.DateTimeOriginal] = own[base.DateTimeDigitized] = when
    own[base.SubsecTimeOriginal] = f"{facts.taken_at.microsecond // 10_000:02}"
    own[base.FocalLength] = round(facts.focal_length_mm, 1)
    own[base.ExposureBiasValue] = round(facts.compensation_stops, 2)
    own[base.ExposureMode] = 1
    own[base.ExposureProgram] = 1
    own[base.WhiteBalance] = 1
    own[base.LensModel] = facts.lens
    own[base.ImageNumber] = facts.number
    if facts.focus_m is not None:
        own[base.SubjectDistance] = round(facts.focus_m, 4)
    return made


def _rational(seconds: float) -> float | tuple[int, int]:
    """Fractions of a second as cameras write them, one over a whole number."""
    return (1, round(1 / seconds)) if seconds < 0.3 else round(seconds, 2)


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
