"""A house style: what an office sets up once. Profile, frames with title blocks, logo and general notes;
kept, copied, sent as JSON."""

import base64
import io
from typing import Annotated, Any, Literal

from PIL import Image, UnidentifiedImageError
from pydantic import Field, ValidationError, model_validator

from drafting.data import Data, Text
from drafting.errors import CommandError
from drafting.refusals import lower_first, sentence
from drafting.sheet.template import ASME_FRAME, ISO_FRAME, SMALL_FRAME, FrameTemplate
from drafting.standards.profile import ASME_INCH, ISO_MM, LineKind, Profile
from drafting.text import RefusedData, parsed

VERSION = 1
LARGEST_FILE = 2_000_000
MOST_PIXELS = 4_000_000
KEPT_PIXELS = 1200
"""Longer side of a logo as kept: 600 to the inch on a cell of 50 mm."""


class HouseStyle(Data):
    """One office's style. frame: which of the frames a new sheet takes. logo: PNG, base64. notes: general
    notes of a new drawing."""

    moorcrest: Literal["house style"] = "house style"
    version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=120)]
    profile: Profile
    frames: Annotated[list[FrameTemplate], Field(min_length=1, max_length=20)]
    frame: Text = ""
    logo: Annotated[str, Field(max_length=700_000)] = ""
    notes: Annotated[list[Text], Field(max_length=40)] = []

    @model_validator(mode="after")
    def _named(self) -> "HouseStyle":
        names = [f.name for f in self.frames]
        if len(set(names)) < len(names):
            raise ValueError("two frames of the house style have the same name")
        if self.frame and self.frame not in names:
            raise ValueError(f"the house style has no frame called {self.frame!r}")
        if self.logo:
            png_of(base64.b64decode(self.logo))
        return self

    @property
    def default_frame(self) -> FrameTemplate:
        """The frame that new sheets get."""
        return next((f for f in self.frames if f.name == self.frame), self.frames[0])


def built_in() -> dict[str, HouseStyle]:
    """The styles that ship with the application, by the key of their profile."""
    iso = HouseStyle(name=ISO_MM.title, profile=ISO_MM, frames=[ISO_FRAME, SMALL_FRAME])
    asme = HouseStyle(name=ASME_INCH.title, profile=ASME_INCH, frames=[ASME_FRAME, SMALL_FRAME])
    return {ISO_MM.key: iso, ASME_INCH.key: asme}


def read(text: str) -> HouseStyle:
    """A house style from JSON. Raises CommandError with a sentence for anything else."""
    if len(text) > LARGEST_FILE:
        raise CommandError(
            f"The file is larger than {LARGEST_FILE // 1_000_000} MB, the most a house style may be."
        )
    try:
        data = parsed(text)
    except RefusedData:
        raise CommandError("The file is not JSON; a house style is exported from this page.") from None
    if not isinstance(data, dict) or data.get("moorcrest") != "house style":
        raise CommandError("The file is not a house style of Moorcrest.")
    if data.get("version") != VERSION:
        raise CommandError(
            f"The house style is of version {str(data.get('version'))[:20]}; "
            f"this Moorcrest reads version {VERSION}."
        )
    return checked(data)


def checked(data: Any) -> HouseStyle:
    """Validated data. Raises CommandError that names the first wrong value."""
    try:
        return HouseStyle.model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"])
        said = lower_first(sentence(first))
        raise CommandError(f"The house style is wrong at {where or 'its top'}: {said}") from None


def png_of(data: bytes) -> bytes:
    """A raster picture as PNG of at most KEPT_PIXELS, without anything but its pixels. Raises
    CommandError."""
    try:
        with Image.open(io.BytesIO(data), formats=["PNG"]) as picture:
            if picture.width * picture.height > MOST_PIXELS:
                raise CommandError(
                    f"The logo has {picture.width} x {picture.height} pixels; it may "
                    f"have {MOST_PIXELS // 1_000_000} million in all."
                )
            clean = picture.convert("RGBA")
    except CommandError:
        raise
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise CommandError("The logo is not a PNG or SVG picture that can be read.") from None
    clean.thumbnail((KEPT_PIXELS, KEPT_PIXELS))
    out = io.BytesIO()
    clean.save(out, "PNG")
    return out.getvalue()


def departures(style: HouseStyle) -> dict[str, Any]:
    """Values of the profile that depart from the standard's own, by path, with the standard's value."""
    own, standard = (
        style.profile.model_dump(mode="json"),
        with_all_lines(standard_of(style.profile)).model_dump(mode="json"),
    )
    out: dict[str, Any] = {}
    for name, value in own.items():
        if name in ("key", "title"):
            continue
        if name == "lines":
            for line, kind in value.items():
                for part, v in kind.items():
                    expected = standard["lines"].get(line, {}).get(part)
                    if v != expected:
                        out[f"lines.{line}.{part}"] = expected
        elif value != standard[name]:
            out[name] = standard[name]
    return out


def standard_of(profile: Profile) -> Profile:
    """The values the standard itself gives."""
    return ISO_MM if profile.standard == "ISO" else ASME_INCH


def with_all_lines(profile: Profile) -> Profile:
    """The profile with every kind of line spelled out, so that each can be changed."""
    names = [
        *profile.lines,
        "hatch",
        "break",
        "thread",
        "outline",
        "cutting",
        "cutting_end",
        "phantom",
        "thread_hidden",
    ]
    lines: dict[str, LineKind] = {name: profile.line(name) for name in names}
    return profile.model_copy(update={"lines": lines})
