"""Reading a picture that somebody uploads: what it is, whether it is whole, what it tells of its lens."""

from __future__ import annotations

import io
from dataclasses import dataclass

from PIL import ExifTags, Image, ImageOps, UnidentifiedImageError

from lucid_ridge.app.problems import Refused
from lucid_ridge.core.framing.camera import view_of_equivalent_deg

LARGEST_BYTES = 40 * 1024 * 1024
MOST_PIXELS = 120_000_000
LONGEST_SHOWN_PX = 2000
MEDIA_TYPES = {"JPEG": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp"}
ENDINGS = {"image/jpeg": ".jpg", "image/png": ".png", "image/webp": ".webp"}

# Pillow's own guard only warns; the limit above is checked instead.
Image.MAX_IMAGE_PIXELS = None

_ON_ITS_SIDE = (5, 6, 7, 8)


@dataclass(frozen=True)
class Picture:
    """A picture that can be used: its type, its sides as seen (turned by its metadata), its field of view."""

    media_type: str
    width_px: int
    height_px: int
    view_deg: float | None
    shown: bytes


def _view_deg(exif: Image.Exif, width: int, height: int) -> float | None:
    """Field of view across, where the file tells the 35 mm equivalent focal length."""
    equivalent = exif.get_ifd(ExifTags.IFD.Exif).get(ExifTags.Base.FocalLengthIn35mmFilm)
    if not isinstance(equivalent, int) or not 1 <= equivalent <= 5000:
        return None
    return round(view_of_equivalent_deg(equivalent, width / height), 2)


def read_picture(data: bytes) -> Picture:
    """A picture from the bytes of a file, and a copy small enough to show.

    Raises
    ------
    Refused
        If it is no JPEG, PNG or WebP, is broken, or has too many pixels.

    """
    if not data:
        raise Refused("/file", "The file is empty; choose a JPEG, PNG or WebP picture.")
    try:
        image = Image.open(io.BytesIO(data), formats=list(MEDIA_TYPES))
        width, height = image.size
        if width * height > MOST_PIXELS:
            # Told before any pixel is decoded.
            limit = MOST_PIXELS // 1_000_000
            raise Refused("/file", f"The picture has more than {limit} megapixels; save it smaller.")
        media_type = MEDIA_TYPES[image.format or ""]
        exif = image.getexif()
        # JPEG decodes at a fraction of its size, which is enough to show.
        image.draft("RGB", (LONGEST_SHOWN_PX, LONGEST_SHOWN_PX))
        image.load()
    except UnidentifiedImageError:
        raise Refused("/file", "This is no JPEG, PNG or WebP picture; export it as one of these.") from None
    except (OSError, SyntaxError, ValueError, KeyError, EOFError):
        raise Refused("/file", "The picture is broken or cut off; copy it again from the card or camera.") from None
    upright = ImageOps.exif_transpose(image)
    if exif.get(ExifTags.Base.Orientation, 1) in _ON_ITS_SIDE:
        width, height = height, width
    upright = upright.convert("RGB")
    upright.thumbnail((LONGEST_SHOWN_PX, LONGEST_SHOWN_PX))
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=82)
    return Picture(media_type, width, height, _view_deg(exif, width, height), out.getvalue())
