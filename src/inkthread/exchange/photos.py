"""Photographs from the bench: read whole, turned upright, made smaller, and nothing kept but the picture."""

from __future__ import annotations

import io
import warnings

PHOTO_BYTES_AT_MOST = 20_000_000
PIXELS_AT_MOST = 60_000_000
SIDE_AT_MOST = 2000
"""A contact that fills the picture still shows its strands (typical)."""
_QUALITY = 82


class NotAPhoto(ValueError):
    """It is no picture that can be kept. The message says why, and what can."""


def clean_photo(data: bytes) -> bytes:
    """A photograph as a JPEG that carries nothing but its picture: no place, no camera, no day.

    Turned as the camera was held. Raises NotAPhoto for what is no whole JPEG or PNG, or is too large.
    """
    from PIL import Image, ImageOps, UnidentifiedImageError

    if len(data) > PHOTO_BYTES_AT_MOST:
        raise NotAPhoto(
            f"It has {len(data) / 1e6:.0f} MB; a photograph has {PHOTO_BYTES_AT_MOST / 1e6:.0f} at most."
        )
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(data), formats=("JPEG", "PNG")) as opened:
                wide, high = opened.size
                if wide * high > PIXELS_AT_MOST:
                    raise NotAPhoto(
                        f"It has {wide * high / 1e6:.0f} megapixels; {PIXELS_AT_MOST / 1e6:.0f} are taken "
                        "at most. Take it smaller."
                    )
                opened.draft("RGB", (SIDE_AT_MOST, SIDE_AT_MOST))
                upright = ImageOps.exif_transpose(opened).convert("RGB")
    except (UnidentifiedImageError, OSError, SyntaxError, Image.DecompressionBombError) as error:
        raise NotAPhoto("It is no whole picture. Send a photograph as JPEG or PNG.") from error
    upright.thumbnail((SIDE_AT_MOST, SIDE_AT_MOST))
    kept = Image.new("RGB", upright.size)
    kept.paste(upright)
    out = io.BytesIO()
    kept.save(out, "JPEG", quality=_QUALITY, optimize=True)
    return out.getvalue()
