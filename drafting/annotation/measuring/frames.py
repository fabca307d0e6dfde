"""What a feature control frame says: its rows, and the datums that they refer to."""

import re
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from drafting.data import Data
from drafting.standards.characteristics import Characteristic, Indicator

Modifier = Literal["", "M", "L"]
LETTERS = re.compile(r"^[A-Z]{1,2}(-[A-Z]{1,2}){0,3}$")


def _lettered(value: str) -> str:
    if not LETTERS.match(value):
        raise ValueError(f"{value} is no datum; datums go by a letter or two, common ones as A-B")
    return value


Letters = Annotated[str, Field(min_length=1, max_length=11), AfterValidator(_lettered)]
Amount = Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)]
MOST_ROWS = 4


class DatumReference(Data):
    """A datum as a row refers to it. letters: A, or A-B for a common one; modifier: at its maximum or least
    material; note: what else is said of it, as it is typed (ISO 5459: [DV], [CF], [PL] …)."""

    letters: Letters
    modifier: Modifier = ""
    note: Annotated[str, Field(max_length=12, pattern=r"^[^()\[\]|;]*$")] = ""

    @property
    def single(self) -> list[str]:
        """The letters of the datum features that it is made of."""
        return self.letters.split("-")


class PlaneIndicator(Data):
    """An indicator beside a row: how its plane or direction lies to a datum (ISO 1101, 14 to 17)."""

    kind: Indicator
    relation: Literal["parallelism", "perpendicularity", "angularity", "circular runout", "symmetry"] = (
        "parallelism"
    )
    letters: Letters


class FrameRow(Data):
    """A row of a frame: a characteristic with its zone and datums. shape: of the zone, round or spherical;
    value: its width or diameter, mm, or of the drawing's unit; free: in free state; tangent: of the tangent
    plane; projected: how far the zone stands out; unequal: how much of a profile's zone lies outside the
    material (ASME) or how far its middle is moved (ISO UZ); zones: whether several features have one zone in
    common; per: the length that the value holds for."""

    characteristic: Characteristic
    shape: Literal["", "Ø", "SØ"] = ""
    value: Amount
    modifier: Modifier = ""
    free: bool = False
    tangent: bool = False
    projected: Amount | None = None
    unequal: Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False)] | None = None
    zones: Literal["", "CZ", "SZ"] = ""
    per: Amount | None = None
    datums: Annotated[list[DatumReference], Field(max_length=3)] = []
    indicators: Annotated[list[PlaneIndicator], Field(max_length=2)] = []

    @property
    def letters(self) -> list[str]:
        """All datum features that its datums are made of, in order."""
        return [letter for d in self.datums for letter in d.single]
