"""Callouts of features besides holes: slots, keyways, grooves, pockets, bosses, flats, tapers, broken edges,
and threads of shafts. The words are made from the feature and follow the model."""

import contextlib
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field
from pydantic.config import JsonDict

from drafting.annotation.inking.callout_ink import callout_ink
from drafting.annotation.inking.dimension_ink import Array
from drafting.annotation.inking.leader import End
from drafting.annotation.kinds.kind import Kind, Request
from drafting.annotation.kinds.kind import Row as Told
from drafting.annotation.measuring.measure import located
from drafting.annotation.measuring.picked_features import faces_at, of_part
from drafting.annotation.measuring.traces import Straight, placed
from drafting.annotation.placing.rows import beside
from drafting.annotation.wording import callout_words, feature_words
from drafting.annotation.wording.label import Row
from drafting.annotation.wording.numbers import written
from drafting.context import Context
from drafting.data import Point
from drafting.document import AnnotationBase, Pick, Placement, in_view
from drafting.errors import SizeError
from drafting.features.feature import Feature
from drafting.features.naming import feature_name
from drafting.features.shafts import Shaft
from drafting.ink.elements import Element
from drafting.standards.keys import keyway_fault

Typed = Annotated[str, Field(max_length=40)]
Decimals = Annotated[int, Field(ge=0, le=6)]
AS_ALL: JsonDict = {"empty": "as all"}
PARTS = {"width": "width", "length": "length", "depth": "depth or height", "round": "diameter or radius"}
"""Numbers that take a tolerance, by their role."""


class FeatureCallout(AnnotationBase):
    """What is said of a feature and of all equal to it. place: where the words begin; count: how many there
    are, None for as many as the model has; named: whether it begins with what the feature is called;
    tolerances as they are typed; thread_class: of a shaft's thread; places: decimals of numbers that have
    none of their own; note: words at the end."""

    picks_taken: ClassVar[tuple[int, int]] = (1, 1)
    kind: Literal["feature_callout"] = "feature_callout"
    place: Placement
    count: (
        Annotated[int, Field(ge=1, le=9999, title="Count", json_schema_extra={"empty": "as modeled"})] | None
    ) = None
    named: Annotated[bool, Field(title="Say what it is")] = False
    width_tolerance: Annotated[Typed, Field(title="Tolerance of width")] = ""
    length_tolerance: Annotated[Typed, Field(title="Tolerance of length")] = ""
    depth_tolerance: Annotated[Typed, Field(title="Tolerance of depth")] = ""
    round_tolerance: Annotated[Typed, Field(title="Tolerance of Ø, R")] = ""
    thread_class: Annotated[str, Field(max_length=12, title="Class of thread")] = ""
    places: Annotated[Decimals, Field(title="Decimals")] | None = None
    width_places: Annotated[Decimals, Field(title="Decimals of width", json_schema_extra=AS_ALL)] | None = (
        None
    )
    length_places: Annotated[Decimals, Field(title="Decimals of length", json_schema_extra=AS_ALL)] | None = (
        None
    )
    depth_places: Annotated[Decimals, Field(title="Decimals of depth", json_schema_extra=AS_ALL)] | None = (
        None
    )
    round_places: Annotated[Decimals, Field(title="Decimals of Ø, R", json_schema_extra=AS_ALL)] | None = None
    note: Annotated[str, Field(max_length=200, title="Further words")] = ""

    def places_of(self, role: str) -> int | None:
        """Decimals of a number by its role: its own, else those of all; None for the profile's."""
        own: int | None = getattr(self, f"{role}_places") if role else None
        return self.places if own is None else own


@dataclass(frozen=True)
class Called:
    """What a callout is about, how many equal ones there are, where its leader points (view mm) and what the
    leader ends with there."""

    feature: Feature | Shaft
    count: int
    tip: Array
    end: End


def called(callout: FeatureCallout, context: Context) -> Called:
    """What a callout is about. Raises SizeError where what was picked belongs to no feature."""
    pick = callout.picks[0]
    known, part, instance = of_part(pick, context)
    edge, faces = part.edge(pick.source), faces_at(pick, part)
    numbers = known.others_at(faces)
    feature: Feature | Shaft
    if numbers:
        feature = known.others[numbers[0]]
        count = len(known.equals(numbers[0]))
        middle = list(feature.at)
    else:
        shaft = next((s for s in known.shafts if set(faces) & set(s.faces)), None)
        if shaft is None:
            raise SizeError("This belongs to no feature that a callout is made of; size it, or write a note.")
        feature, count = shaft, 1
        middle = [a + d * shaft.length / 2 for a, d in zip(shaft.start, shaft.direction, strict=True)]
    outline = None if edge else _outline(pick, context)
    if outline is not None:
        return Called(feature, count, context.frame.flat(outline), "arrow")
    at = list(edge.middle) if edge else middle
    tip = context.frame.flat(placed(context.frame.placed(instance, at), at))
    return Called(feature, count, tip, "arrow" if edge else "dot")


def _outline(pick: Pick, context: Context) -> Array | None:
    """The middle of a face's straight outline, in the model; None where it has none."""
    with contextlib.suppress(SizeError):
        thing = located(pick, context)
        if isinstance(thing, Straight):
            return (thing.a + thing.b) / 2
    return None


def told(callout: FeatureCallout, context: Context) -> tuple[Called, list[callout_words.Row]]:
    """What a callout is about, and its rows. Raises SizeError."""
    found = called(callout, context)
    if isinstance(found.feature, Shaft):
        return found, feature_words.shaft_rows(found.feature, context.profile, callout.thread_class)
    return found, feature_words.rows(
        found.feature, callout.count or found.count, context.profile, callout.named
    )


def lettered(callout: FeatureCallout, context: Context) -> tuple[Called, list[Row]]:
    """The rows of a callout as they are lettered. Raises SizeError."""
    found, rows = told(callout, context)
    return found, callout_words.lettered(
        rows,
        lambda role: str(getattr(callout, f"{role}_tolerance")),
        callout.places_of,
        callout.note,
        context.profile,
    )


def ink(callout: FeatureCallout, context: Context) -> list[Element]:
    """The leader, its shoulder, and the rows; paper mm about the view's position."""
    found, rows = lettered(callout, context)
    tip = context.frame.drawn(found.tip) * context.scale
    at = np.array(callout.place.at(context.scale))
    return callout_ink(tip, 0.0, at, rows, context.profile, found.end)


def words(callout: FeatureCallout, context: Context) -> str:
    """What it says, in one line."""
    return " ".join(row.plain for row in lettered(callout, context)[1])


def row(callout: FeatureCallout, context: Context) -> Told:
    """What lists show of it."""
    return Told(words(callout, context))


def check(callout: FeatureCallout, context: Context) -> None:
    """Raises SizeError where it cannot be lettered, and for a tolerance or a class of what is not there."""
    lettered(callout, context)
    found, rows = told(callout, context)
    said = callout_words.roles(rows)
    for role, name in PARTS.items():
        if getattr(callout, f"{role}_tolerance") and role not in said:
            raise SizeError(f"This callout says no {name}, so that it can have no tolerance.")
    if callout.thread_class and not (isinstance(found.feature, Shaft) and found.feature.thread):
        raise SizeError("This is no thread of a shaft, so that it has no class.")


def findings(callout: FeatureCallout, context: Context) -> list[str]:
    """A count that the model does not have, and a keyway that no key of the standards fits."""
    found = called(callout, context)
    out = []
    if callout.count is not None and callout.count != found.count:
        name = feature_name(found.feature) if isinstance(found.feature, Feature) else "shaft"
        many = f"{name} like it" if found.count == 1 else f"{name}s like it"
        out.append(f"A callout says {callout.count}, and the model has {found.count} {many}.")
    if isinstance(found.feature, Feature):
        out += _keyway(found.feature, context)
    return out


def _keyway(feature: Feature, context: Context) -> list[str]:
    """A keyway that the standard's key for its shaft does not go into."""
    width, depth, diameter = feature.size("width"), feature.size("depth"), feature.size("diameter")
    if feature.kind not in ("keyway", "hub keyway") or width is None or depth is None or diameter is None:
        return []
    profile = context.profile
    fault = keyway_fault(width, depth, diameter, feature.kind == "hub keyway", profile.standard)
    if fault is None:
        return []
    name, asked = fault
    found, wanted, shaft = (
        written(v, profile) for v in (width if name == "width" else depth, asked, diameter)
    )
    how, source = (
        ("wide", "deep")[name == "depth"],
        "ASME B17.1" if profile.standard == "ASME" else "ISO R 773",
    )
    return [f"A keyway is {found} {how}; {source} asks for {wanted} at Ø{shaft}."]


def propose(request: Request, context: Context) -> FeatureCallout:
    """The callout of what was picked, with its words at the pointer. Raises SizeError."""
    if not request.spots:
        raise SizeError("Pick a hole, a slot, a groove or another feature: one of its edges, or its side.")
    callout = FeatureCallout(
        id=request.identity,
        anchor=in_view(context.view_id, [request.spots[0].sided(context)]),
        place=Placement(model=Point(x=0, y=0), paper=Point(x=0, y=0)),
    )
    return stood(callout, np.array(request.pointer), context)


def stood(callout: FeatureCallout, place: Array, context: Context) -> FeatureCallout:
    """The callout with its words at a place, paper mm about the view's position; it keeps its distance from
    the feature on paper. Raises SizeError."""
    tip = context.frame.drawn(called(callout, context).tip)
    return callout.model_copy(update={"place": beside(tip, place, context.scale)})


KIND = Kind(
    FeatureCallout,
    "Callout",
    ink=ink,
    words=words,
    row=row,
    check=check,
    findings=findings,
    propose=propose,
)
