"""Pictures from outside, as pixels alone: PNG, JPEG and SVG. Done in a child process."""

import io
from pathlib import Path
from typing import Any

from PIL import Image, ImageOps, UnidentifiedImageError

from drafting.errors import CommandError, ModelError
from drafting.standards.logo import svg_to_png

LARGEST = 20_000_000
"""Bytes of a file."""
MOST_PIXELS = 60_000_000
KEPT_PIXELS = 2400
"""On the longer side."""
ENDINGS = ("png", "jpg", "jpeg", "svg")


def cleaned(data: bytes, name: str) -> bytes:
    """PNG of a picture, turned as its camera says, without anything but its pixels. Raises ModelError with a
    sentence."""
    if len(data) > LARGEST:
        raise ModelError(f"The picture's file is larger than {LARGEST // 1_000_000} MB.")
    if name.lower().endswith(".svg"):
        try:
            return svg_to_png(data, "picture")
        except CommandError as error:
            raise ModelError(str(error)) from None
    try:
        with Image.open(io.BytesIO(data), formats=["PNG", "JPEG"]) as picture:
            if picture.width * picture.height > MOST_PIXELS:
                raise ModelError(
                    f"The picture has {picture.width} x {picture.height} pixels; it may have "
                    f"{MOST_PIXELS // 1_000_000} million in all."
                )
            clean = ImageOps.exif_transpose(picture).convert("RGBA")
    except ModelError:
        raise
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise ModelError("The picture is no PNG, JPEG or SVG that can be read.") from None
    clean.thumbnail((KEPT_PIXELS, KEPT_PIXELS))
    out = io.BytesIO()
    clean.save(out, "PNG")
    return out.getvalue()


def clean_file(source: Path, name: str, out: Path) -> dict[str, Any]:
    """A picture from a file, written as PNG; how many pixels it has. Raises ModelError."""
    if source.stat().st_size > LARGEST:
        raise ModelError(f"The picture's file is larger than {LARGEST // 1_000_000} MB.")
    data = cleaned(source.read_bytes(), name)
    out.write_bytes(data)
    with Image.open(io.BytesIO(data)) as picture:
        return {"wide": picture.width, "high": picture.height}
