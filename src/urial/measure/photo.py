"""Pictures kept with a job: read, turned upright, scaled down sensibly, and looked at in grey."""

from __future__ import annotations

import hashlib
import io
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageOps, UnidentifiedImageError

from urial.measure.rectify import PictureError

LONGEST = 2400  # pixels: half a millimetre over a metre, and a file a job can carry
QUALITY = 90
FOLDER = "photos/"


@dataclass(frozen=True)
class Stored:
    """A picture ready to be attached: its name there and its JPEG."""

    name: str
    data: bytes
    size: tuple[int, int]


def store(data: bytes, called: str = "The file") -> Stored:
    """Make a picture fit to be kept: EXIF orientation applied, longest side at most 2400 px, JPEG without other EXIF.

    PictureError when it is not a picture.  The name is made from the contents, so the same picture is kept once.
    """
    try:
        with Image.open(io.BytesIO(data)) as opened:
            if opened.width * opened.height > 200_000_000:
                raise PictureError(f"{called} is larger than any camera's picture ({opened.width} × {opened.height}); scale it down first.")
            upright = ImageOps.exif_transpose(opened)
            picture = upright.convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError, EOFError):
        raise PictureError(f"{called} is not a picture Urial can read; take a JPEG or PNG.") from None
    if min(picture.size) < 16:
        raise PictureError(f"{called} is only {picture.width} × {picture.height} pixels; there is nothing to measure in it.")
    picture.thumbnail((LONGEST, LONGEST), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=QUALITY)
    packed = out.getvalue()
    return Stored(f"{FOLDER}{hashlib.sha256(packed).hexdigest()[:16]}.jpg", packed, picture.size)


@lru_cache(maxsize=6)
def grey(data: bytes) -> NDArray[np.float64]:
    """A stored picture in grey, (rows, columns), 0–1."""
    try:
        with Image.open(io.BytesIO(data)) as opened:
            return np.asarray(ImageOps.exif_transpose(opened).convert("L"), dtype=np.float64) / 255
    except (UnidentifiedImageError, OSError, ValueError):
        raise PictureError("The picture kept in the job is damaged; take it in again.") from None
