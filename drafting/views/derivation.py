"""What a view's geometry depends on, as data: direction, perspective, parts left out, cuts. Its hash is the
key of the derived view."""

import hashlib
from typing import Literal

from pydantic import BaseModel

from drafting.model.model import ThreadFact
from drafting.views.orientation import Orientation

Side = Literal["cut", "step", "break", "far"]


class Cut(BaseModel):
    """A prism that cuts the model. polygon: points in model mm; sweep: model mm; sides: what each side of the
    polygon makes.

    cut: a hatched face. step: a face square to the paper that no line shows. break: the wall of a broken-out
    place. far: outside. The caps (at the polygon and at the end of the sweep) come after the sides: for a
    broken-out place the first is its floor.
    """

    polygon: list[list[float]]
    sweep: list[float]
    sides: list[Side]
    caps: tuple[Side, Side] = ("far", "far")


class Leg(BaseModel):
    """One leg of an aligned section: what lies within the prism is kept, and turned into the paper by a rigid
    matrix (rows, mm)."""

    keep: Cut
    turn: list[list[float]]


class TrailPath(BaseModel):
    """Where parts of an exploded view come from and go to: points in model mm."""

    instances: list[str]
    points: list[list[float]]


class SaidThread(BaseModel):
    """A thread that the office says is on a part, by the part's key."""

    part: str
    thread: ThreadFact


class Derivation(BaseModel):
    """cuts take away one after another; legs keep instead. whole: instances a cut leaves whole; without:
    instances left out.

    steps: draw the edges of steps (pictorial views of a stepped section do). only_cut: nothing behind the
    cut.
    """

    orientation: Orientation
    distance: float | None = None
    without: list[str] = []
    moves: dict[str, list[float]] = {}
    """How far instances are moved in an exploded view, model mm."""
    trails: list[TrailPath] = []
    cuts: list[Cut] = []
    legs: list[Leg] = []
    whole: list[str] = []
    steps: bool = False
    only_cut: bool = False
    shaded: bool = False
    clear: list[str] = []
    """Instances that a shaded view is seen through."""
    threads: list[SaidThread] = []

    @property
    def is_cut(self) -> bool:
        """Whether anything is cut away."""
        return bool(self.cuts or self.legs)

    def key(self, engine: str, archive: str) -> str:
        """Hash of all that the geometry depends on; equal directions give equal keys whatever the last
        digits."""
        same = self.model_copy(update={"orientation": self.orientation.rounded()})
        text = same.model_dump_json(exclude=None if self.threads else {"threads"})  # keys of old hold
        return hashlib.sha256(f"{engine}|{archive}|{text}".encode()).hexdigest()
