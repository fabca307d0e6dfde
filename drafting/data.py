"""Base of everything stored, and the plain values that all of it uses."""

import uuid
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

Identifier = Annotated[str, Field(min_length=1, max_length=64)]
Text = Annotated[str, Field(max_length=400)]
Coordinate = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
Length = Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)]


def new_id() -> str:
    """Twelve hexadecimal digits that no other thing has."""
    return uuid.uuid4().hex[:12]


class Data(BaseModel):
    """Base of what is stored: fields that it does not have are refused."""

    model_config = ConfigDict(extra="forbid")


class Point(Data):
    """A place in two dimensions; what it counts, its holder says."""

    x: Coordinate
    y: Coordinate
