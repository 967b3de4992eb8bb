"""Pictures kept with a job: read, turned upright, scaled down sensibly, and looked at in grey."""

from __future__ import annotations

import hashlib
import io
import struct
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageOps, UnidentifiedImageError

from urial.measure.rectify import PictureError

LONGEST = 2400  # pixels: half a millimetre over a metre, and a file a job can carry
QUALITY = 90
FOLDER = "photos/"


Image.MAX_IMAGE_PIXELS = None  # sizes are looked at here, before anything is unpacked
FORMATS = ("JPEG", "PNG", "TIFF", "WEBP")
"""What a camera or a scanner writes; nothing that an outside program would have to read."""
PIXELS, DEEP_PIXELS, KEPT_PIXELS = 100_000_000, 40_000_000, 24_000_000
"""What is unpacked of a picture, of one of more than eight bits a grey, and of one that a job has kept: none
takes more than half a gigabyte so.
"""
LEAST = 16
"""Pixels; in less there is nothing to measure."""
UNREADABLE = (
    UnidentifiedImageError,
    OSError,
    ValueError,
    SyntaxError,
    Image.DecompressionBombError,
    EOFError,
    TypeError,
    KeyError,
    IndexError,
    AttributeError,
    OverflowError,
    MemoryError,
    struct.error,
    ZeroDivisionError,
)
"""What reading a damaged picture may end in."""


def _eight_bit(picture: Image.Image) -> Image.Image:
    """Sixteen-bit and floating greys, scaled from their own darkest to their lightest instead of cut off."""
    if not picture.mode.startswith(("I", "F")):
        return picture
    step = max(max(picture.size) // LONGEST, 1)
    values = np.asarray(picture)[::step, ::step].astype(np.float64)
    finite = values[np.isfinite(values)]
    low, high = (
        (0.0, 65535.0)
        if picture.mode.startswith("I") and finite.size and finite.min() >= 0 and 255 < finite.max() <= 65535
        else (float(finite.min(initial=0.0)), float(finite.max(initial=1.0)))
    )
    return Image.fromarray(
        (255 * np.clip((np.nan_to_num(values) - low) / max(high - low, 1e-12), 0, 1)).astype(np.uint8)
    )


@dataclass(frozen=True)
class Stored:
    """A picture ready to be attached: its name there and its JPEG."""

    name: str
    data: bytes
    size: tuple[int, int]


def store(data: bytes, called: str = "The file", longest: int = LONGEST) -> Stored:
    """Make a picture fit to be kept: EXIF orientation applied, longest side at most ``longest`` px, JPEG
    without other EXIF.

    PictureError when it is not a picture. The name is made from the contents, so the same picture is kept
    once.
    """
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as opened:
            most = DEEP_PIXELS if opened.mode.startswith(("I", "F")) else PIXELS
            if opened.width * opened.height > most:
                raise PictureError(
                    f"{called} has {opened.width} × {opened.height} pixels, more than the "
                    f"{most // 1_000_000} million that are taken; scale it down first."
                )
            _wide_enough(opened.size, called)
            opened.draft("RGB", (2 * longest, 2 * longest))  # a JPEG is unpacked no larger than it is used
            picture = _eight_bit(opened)
            picture.thumbnail((longest, longest), Image.Resampling.LANCZOS)  # before anything is copied
            picture = ImageOps.exif_transpose(picture).convert("RGB")
    except PictureError:
        raise
    except UNREADABLE:
        raise PictureError(
            f"{called} is not a picture Urial can read; take a JPEG, PNG, TIFF or WebP."
        ) from None
    _wide_enough(picture.size, called)
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=QUALITY)
    packed = out.getvalue()
    return Stored(f"{FOLDER}{hashlib.sha256(packed).hexdigest()[:16]}.jpg", packed, picture.size)


def _wide_enough(size: tuple[int, int], called: str) -> None:
    """PictureError for a strip that nothing can be measured in."""
    if min(size) < LEAST:
        raise PictureError(
            f"{called} is only {size[0]} × {size[1]} pixels; there is nothing to measure in it."
        )


@lru_cache(maxsize=6)
def grey(data: bytes) -> NDArray[np.float64]:
    """A stored picture in grey, (rows, columns), 0–1."""
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as opened:
            if opened.width * opened.height > KEPT_PIXELS:
                raise PictureError(
                    f"The picture kept in the job has more than {KEPT_PIXELS // 1_000_000} million pixels; "
                    "take a smaller one in again."
                )
            return (
                np.asarray(_eight_bit(ImageOps.exif_transpose(opened)).convert("L"), dtype=np.float64) / 255
            )
    except PictureError:
        raise
    except UNREADABLE:
        raise PictureError("The picture kept in the job is damaged; take it in again.") from None
