"""Standard scales and the choice of a fitting one. Sources: ISO 5455; ASME Y14.1 / common practice for inch
scales."""

from pydantic import BaseModel, Field


class Scale(BaseModel):
    """Drawn size over true size as two whole numbers, as it is written: 2:1, 1:5."""

    drawn: int = Field(default=1, ge=1, le=100_000)
    true: int = Field(default=1, ge=1, le=100_000)

    @property
    def factor(self) -> float:
        """Paper over model."""
        return self.drawn / self.true

    def __str__(self) -> str:
        return f"{self.drawn}:{self.true}"


def _series(*pairs: tuple[int, int]) -> list[Scale]:
    return [Scale(drawn=a, true=b) for a, b in pairs]


ISO = _series(
    (50, 1),
    (20, 1),
    (10, 1),
    (5, 1),
    (2, 1),
    (1, 1),
    (1, 2),
    (1, 5),
    (1, 10),
    (1, 20),
    (1, 50),
    (1, 100),
    (1, 200),
    (1, 500),
    (1, 1000),
    (1, 2000),
    (1, 5000),
    (1, 10000),
)
ASME = _series(
    (10, 1),
    (4, 1),
    (2, 1),
    (1, 1),
    (1, 2),
    (1, 4),
    (1, 8),
    (1, 10),
    (1, 20),
    (1, 40),
    (1, 100),
    (1, 200),
    (1, 400),
    (1, 1000),
)
SERIES = {"ISO": ISO, "ASME": ASME}


def fitting(
    standard: str, width: float, height: float, room_width: float, room_height: float, largest: float = 10.0
) -> Scale:
    """The largest standard scale at which width x height (true mm) fits into a room (paper mm); the smallest
    where none does."""
    for scale in SERIES[standard]:
        f = scale.factor
        if f <= largest and width * f <= room_width and height * f <= room_height:
            return scale
    return SERIES[standard][-1]
