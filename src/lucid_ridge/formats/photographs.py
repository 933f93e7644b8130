"""Reading photographs: what kind of file, a copy for the screen, and what their metadata tell.

JPEG, PNG, WebP and TIFF by Pillow, HEIF by libheif, camera raw by the preview that LibRaw finds in it. Nothing is ever
written into a photograph.

References
----------
.. [1] CIPA DC-008, Exchangeable image file format for digital still cameras: Exif version 2.32, tables 4 to 16.

"""

from __future__ import annotations

import contextlib
import io
import math
import threading
import warnings
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta, timezone
from typing import Any

import rawpy
from PIL import ExifTags, Image, ImageOps, UnidentifiedImageError
from pillow_heif import register_heif_opener

from lucid_ridge.core.framing.camera import view_of_equivalent_deg

LARGEST_BYTES = 80 * 1024 * 1024
MOST_PIXELS = 120_000_000
LONGEST_SIDE = 65_535
"""As long as a side of a JPEG may be; a sliver of so many pixels costs far more memory than a picture of them."""
MOST_PIXELS_OF = {"image/webp": 50_000_000}
"""Fewer where the decoder holds several whole pictures at once."""
LONGEST_SHOWN_PX = 2000
RAW_TYPE = "image/x-raw"
MEDIA_TYPES = {
    "JPEG": "image/jpeg",
    "PNG": "image/png",
    "WEBP": "image/webp",
    "TIFF": "image/tiff",
    "HEIF": "image/heic",
    "MPO": "image/jpeg",
}
_OPENED = [name for name in MEDIA_TYPES if name != "MPO"]
"""What is asked of Pillow; a JPEG with several pictures in it comes back as MPO."""
ENDINGS = {
    "image/jpeg": ".jpg",
    "image/png": ".png",
    "image/webp": ".webp",
    "image/tiff": ".tif",
    "image/heic": ".heic",
    RAW_TYPE: ".raw",
}

# Pillow's own guard only warns; the limit above is checked instead.
Image.MAX_IMAGE_PIXELS = None
register_heif_opener()

_ON_ITS_SIDE = (5, 6, 7, 8)
_SCALED = ("RGB", "RGBA", "RGBX", "L", "LA", "CMYK", "YCbCr")
"""Modes that are scaled as they are; others, among them palettes and 16 bits, are made RGB first."""
_ONE_AT_A_TIME = threading.Lock()
"""A large picture takes half a gigabyte while it is decoded: a process decodes one at a time."""
_DNG_VERSION = 50706
_CM_PER_UNIT = {2: 2.54, 3: 1.0, 4: 0.1, 5: 0.0001}


class PhotographError(ValueError):
    """A file that cannot be used as a photograph; says what to do."""


@dataclass(frozen=True)
class Facts:
    """What a photograph's metadata tell; None for what they do not.

    ``taken`` has an offset from UTC where the file tells one, and is the camera's own clock otherwise. ``direction_deg`` is
    where the camera looked, from magnetic north if ``magnetic``. ``sensor_mm`` are the sides of the sensor, worked out of the
    35 mm equivalent or the focal plane's resolution. ``lens_range`` is shortest and longest focal length and the widest
    f-number at each, as the lens tells of itself.
    """

    taken: datetime | None = None
    latitude_deg: float | None = None
    longitude_deg: float | None = None
    elevation_m: float | None = None
    direction_deg: float | None = None
    magnetic: bool = False
    camera: str | None = None
    lens: str | None = None
    focal_length_mm: float | None = None
    equivalent_mm: float | None = None
    f_number: float | None = None
    exposure_s: float | None = None
    iso: float | None = None
    focus_m: float | None = None
    sensor_mm: tuple[float, float] | None = None
    lens_range: tuple[float, float, float, float] | None = None


@dataclass(frozen=True)
class Head:
    """What a picture tells of itself: its type, its sides as seen (turned by its metadata), its facts."""

    media_type: str
    width_px: int
    height_px: int
    facts: Facts


@dataclass(frozen=True)
class Photograph(Head):
    """A picture that can be used, with a small JPEG of it."""

    shown: bytes

    @property
    def view_deg(self) -> float | None:
        """Field of view across, where the file tells the lens: 2 atan(w / 2f) of the frame's width as seen."""
        facts = self.facts
        upright = self.height_px > self.width_px
        if facts.sensor_mm is not None and facts.focal_length_mm:
            across = facts.sensor_mm[1 if upright else 0]
            return round(math.degrees(2 * math.atan(across / 2 / facts.focal_length_mm)), 2)
        if facts.equivalent_mm:
            return round(view_of_equivalent_deg(facts.equivalent_mm, self.width_px / self.height_px), 2)
        return None


def _sides_of_diagonal(diagonal: float, aspect: float) -> tuple[float, float]:
    height = diagonal / math.hypot(1, aspect)
    return height * aspect, height


def _number(value: Any, low: float, high: float) -> float | None:
    """A number within limits; None for anything else, among it 0/0 and what is no number."""
    try:
        number = float(value[0] if isinstance(value, tuple | list) else value)
    except (TypeError, ValueError, ZeroDivisionError, IndexError, OverflowError):
        return None
    return number if math.isfinite(number) and low <= number <= high else None


def _text(value: Any) -> str | None:
    if isinstance(value, bytes):
        value = value.decode("utf-8", "replace")
    if not isinstance(value, str):
        return None
    plain = "".join(c for c in value.split("\x00")[0] if c.isprintable()).strip()
    return plain[:80] or None


def _taken(exif: Mapping[int, Any], base: Mapping[int, Any], gps: Mapping[int, Any]) -> datetime | None:
    """When the picture was taken: by its clock and offset, else by the satellites' clock, else by its clock alone."""
    words = _text(exif.get(ExifTags.Base.DateTimeOriginal)) or _text(exif.get(ExifTags.Base.DateTimeDigitized))
    words = words or _text(base.get(ExifTags.Base.DateTime))
    clock = None
    if words:
        with contextlib.suppress(ValueError):
            clock = datetime.strptime(words[:19], "%Y:%m:%d %H:%M:%S")
    offset = _text(exif.get(ExifTags.Base.OffsetTimeOriginal)) or _text(exif.get(ExifTags.Base.OffsetTime))
    if clock and offset:
        with contextlib.suppress(ValueError):
            sign, hours, minutes = (-1 if offset[0] == "-" else 1), int(offset[1:3]), int(offset[4:6])
            return clock.replace(tzinfo=timezone(sign * timedelta(hours=hours, minutes=minutes)))
    stamp, day = gps.get(ExifTags.GPS.GPSTimeStamp), _text(gps.get(ExifTags.GPS.GPSDateStamp))
    if stamp is not None and day:
        with contextlib.suppress(TypeError, ValueError, ZeroDivisionError):
            late = dict(zip(("hours", "minutes", "seconds"), (float(part) for part in stamp), strict=True))
            start = datetime.strptime(day, "%Y:%m:%d").replace(tzinfo=UTC)
            return start + timedelta(**late)
    return clock if clock is None or 1900 <= clock.year <= 2049 else None


def _angle(value: Any, reference: Any, low: float) -> float | None:
    """Degrees of three rationals and their letter; nothing where all are nought and the letter is missing."""
    try:
        degrees, minutes, seconds = (float(part) for part in value)
    except (TypeError, ValueError, ZeroDivisionError):
        return None
    letter = _text(reference)
    whole = degrees + minutes / 60 + seconds / 3600
    if letter is None or not math.isfinite(whole) or whole > -low:
        return None
    return -whole if letter in ("S", "W") else whole


def _sensor(exif: Mapping[int, Any], focal: float | None, equivalent: float | None, sides: tuple[int, int]) -> Any:
    """Sides of the sensor in millimetres, the longer first.

    By the resolution of the focal plane where it is told and plausible, else by the ratio of the 35 mm equivalent to the
    focal length, which is that of the diagonals (43.27 mm).
    """
    across, down = max(sides), min(sides)
    unit = _CM_PER_UNIT.get(exif.get(ExifTags.Base.FocalPlaneResolutionUnit, 2))
    dense = _number(exif.get(ExifTags.Base.FocalPlaneXResolution), 1, 1e7)
    if unit and dense:
        told = _number(exif.get(ExifTags.Base.ExifImageWidth), 100, 100_000) or across
        width = max(told, across) / dense * unit * 10
        if 3 <= width <= 150:
            return width, width * down / across
    if focal and equivalent and 0.2 <= equivalent / focal <= 15:
        return _sides_of_diagonal(43.2666 * focal / equivalent, across / down)
    return None


def _lens_range(value: Any, focal: float | None) -> tuple[float, float, float, float] | None:
    """What a lens tells of itself; an unknown f-number is 0/0 there."""
    if not isinstance(value, tuple | list) or len(value) != 4:
        return None
    short, long = (_number(one, 1, 5000) for one in value[:2])
    wide, wide_long = (_number(one, 0.5, 64) for one in value[2:])
    if short is None or long is None or short > long or (focal and not short * 0.9 <= focal <= long * 1.1):
        return None
    wide = wide or wide_long
    return None if wide is None else (short, long, wide, wide_long or wide)


def facts_of(exif: Image.Exif, sides: tuple[int, int]) -> Facts:
    """What metadata tell of a picture of so many pixels."""
    inner = exif.get_ifd(ExifTags.IFD.Exif)
    gps = exif.get_ifd(ExifTags.IFD.GPSInfo)
    # Raw files of the TIFF kind may carry these beside the picture itself.
    found: dict[int, Any] = {**dict(exif), **inner}
    focal = _number(found.get(ExifTags.Base.FocalLength), 1, 5000)
    equivalent = _number(found.get(ExifTags.Base.FocalLengthIn35mmFilm), 1, 5000)
    north = _angle(gps.get(ExifTags.GPS.GPSLatitude), gps.get(ExifTags.GPS.GPSLatitudeRef), -90)
    east = _angle(gps.get(ExifTags.GPS.GPSLongitude), gps.get(ExifTags.GPS.GPSLongitudeRef), -180)
    placed = north is not None and east is not None
    height = _number(gps.get(ExifTags.GPS.GPSAltitude), 0, 9000)
    below = gps.get(ExifTags.GPS.GPSAltitudeRef) in (1, b"\x01")
    distance = _number(found.get(ExifTags.Base.SubjectDistance), 0.02, 100_000)
    return Facts(
        taken=_taken(found, exif, gps),
        latitude_deg=north if placed else None,
        longitude_deg=east if placed else None,
        elevation_m=None if height is None or not placed else -height if below and height <= 450 else height,
        direction_deg=_number(gps.get(ExifTags.GPS.GPSImgDirection), 0, 360),
        magnetic=_text(gps.get(ExifTags.GPS.GPSImgDirectionRef)) == "M",
        camera=_text(found.get(ExifTags.Base.Model)),
        lens=_text(found.get(ExifTags.Base.LensModel)),
        focal_length_mm=focal,
        equivalent_mm=equivalent,
        f_number=_number(found.get(ExifTags.Base.FNumber), 0.5, 256),
        exposure_s=_number(found.get(ExifTags.Base.ExposureTime), 1e-6, 1e5),
        iso=_number(found.get(ExifTags.Base.ISOSpeedRatings), 1, 1e7),
        focus_m=distance,
        sensor_mm=_sensor(found, focal, equivalent, sides),
        lens_range=_lens_range(found.get(ExifTags.Base.LensSpecification), focal),
    )


def _raw_preview(data: bytes) -> Image.Image:
    """The picture inside a camera raw file; its metadata are the raw file's where Pillow can read them.

    Raises
    ------
    PhotographError
        If there is none.

    """
    try:
        with rawpy.imread(io.BytesIO(data)) as raw:
            thumb = raw.extract_thumb()
    except rawpy.LibRawError:
        message = "This is no photograph that is read here; export it as JPEG, TIFF, HEIC, PNG or WebP."
        raise PhotographError(message) from None
    if isinstance(thumb.data, bytes):
        return Image.open(io.BytesIO(thumb.data), formats=["JPEG"])
    return Image.fromarray(thumb.data)


@contextlib.contextmanager
def _told_plainly(data: bytes) -> Iterator[None]:
    """Reading of a file: one at a time, and whatever is wrong with it is told in one way."""
    if not data:
        raise PhotographError("The file is empty; choose a photograph.")
    with warnings.catch_warnings():
        # What Pillow warns of in a file is told by what can be read of it.
        warnings.simplefilter("ignore")
        with _ONE_AT_A_TIME:
            try:
                yield
            except PhotographError:
                raise
            except (OSError, SyntaxError, ValueError, KeyError, EOFError, MemoryError):
                raise PhotographError(
                    "The picture is broken or cut off; copy it again from the card or camera."
                ) from None


def read_head(data: bytes) -> Head:
    """What a photograph tells of itself before any pixel of it is looked at: it may still turn out to be broken.

    Raises
    ------
    PhotographError
        If it is nothing that is read here, or has too many pixels; says what to do.

    """
    with _told_plainly(data):
        return _headed(data)[1]


def read_photograph(data: bytes) -> Photograph:
    """A photograph from the bytes of a file, and a copy small enough to show.

    Raises
    ------
    PhotographError
        If it is nothing that is read here, is broken, or has too many pixels; says what to do.

    """
    with _told_plainly(data):
        image, head = _headed(data)
        return Photograph(head.media_type, head.width_px, head.height_px, head.facts, _copy(image))


def _headed(data: bytes) -> tuple[Image.Image, Head]:
    """The picture in a file, not decoded yet, and what it tells of itself."""
    image: Image.Image
    try:
        image = Image.open(io.BytesIO(data), formats=_OPENED)
        media_type = MEDIA_TYPES[image.format or ""]
    except UnidentifiedImageError:
        image, media_type = _raw_preview(data), RAW_TYPE
    width, height = image.size
    if max(width, height) > LONGEST_SIDE:
        raise PhotographError(f"The picture has a side of more than {LONGEST_SIDE} pixels; save it smaller.")
    most = MOST_PIXELS_OF.get(media_type, MOST_PIXELS)
    if width * height > most:
        # Told before any pixel is decoded.
        raise PhotographError(f"The picture has more than {most // 1_000_000} megapixels; save it smaller.")
    exif = image.getexif()
    if _DNG_VERSION in exif:
        media_type = RAW_TYPE
    facts = facts_of(exif, (width, height))
    # Libheif turns the picture by itself and Pillow is told so.
    if exif.get(ExifTags.Base.Orientation, 1) in _ON_ITS_SIDE:
        width, height = height, width
    return image, Head(media_type, width, height, facts)


def _copy(image: Image.Image) -> bytes:
    """A JPEG of a picture, turned upright, small enough for the screen."""
    # JPEG decodes at a fraction of its size, which is enough to show.
    image.draft("RGB", (LONGEST_SHOWN_PX, LONGEST_SHOWN_PX))
    image.load()
    # Made small first: every other step copies the picture.
    if image.mode not in _SCALED:
        image = image.convert("RGB")
    image.thumbnail((LONGEST_SHOWN_PX, LONGEST_SHOWN_PX), reducing_gap=3.0)
    upright = ImageOps.exif_transpose(image).convert("RGB")
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=82)
    return out.getvalue()
