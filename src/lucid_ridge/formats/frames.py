"""Pictures of the simulated camera as files: JPEG, and masks as small PNG."""

from __future__ import annotations

import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image

QUALITY = 88


def jpeg_of(picture: NDArray[np.uint8]) -> bytes:
    """A picture (rows, columns, 3) as JPEG; the same picture gives the same bytes."""
    made = io.BytesIO()
    Image.fromarray(picture).save(made, "JPEG", quality=QUALITY)
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
