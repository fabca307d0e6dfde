"""What a control frame comes to in numbers: boundaries of the feature of size it is on, what a measured size
adds, how far a measured place is off, and what the fasteners of the assembly ask for."""

from dataclasses import dataclass, replace

import numpy as np

from drafting.annotation.kinds.control_frame_words import ControlFrame
from drafting.annotation.measuring import others
from drafting.annotation.measuring.contacts import LEVEL, contacts, side_of
from drafting.annotation.measuring.frames import FrameRow
from drafting.annotation.measuring.toleranced import Feature, feature_at
from drafting.context import Context
from drafting.errors import SizeError
from drafting.standards.characteristics import DERIVED
from drafting.tolerancing import boundaries as bounding
from drafting.tolerancing import fasteners, position
from drafting.tolerancing.boundaries import Boundaries, Sized


@dataclass(frozen=True)
class Meaning:
    """Of a row on a feature of size, mm. sized: its limits; bounds: its boundaries; bonus: sizes and the
    tolerance at each, empty without a material condition; square: ± of both coordinates within a round
    zone."""

    sized: Sized
    bounds: Boundaries
    bonus: list[tuple[float, float]]
    square: float | None


@dataclass(frozen=True)
class Measured:
    """A part that was measured. allowed: the tolerance at its size; off: what its place would need, None
    where no place is given; passes: whether that is within it."""

    allowed: float
    off: float | None
    passes: bool | None


def meaning(f: ControlFrame, context: Context, row: int = 0) -> Meaning:
    """What a row means. Raises SizeError where the frame is on no feature of size with limits."""
    r, sized = f.rows[row], sized_of(f, context)
    modifier = r.modifier
    bounds = bounding.boundaries(sized, r.value, modifier)
    bonus = bounding.bonus_table(sized, r.value, modifier) if modifier else []
    return Meaning(sized, bounds, bonus, position.square_within(r.value) if r.shape == "Ø" else None)


def sized_of(f: ControlFrame, context: Context) -> Sized:
    """The feature of size that a frame is on, with its limits. Raises SizeError."""
    feature = feature_at(f.tip, context)
    size = context.sheet.annotation(feature.size) if feature.size else None
    if size is None or feature.on not in DERIVED:
        raise SizeError("Boundaries are those of a feature of size: the frame is on a surface.")
    said = others.measured_of(size, context)
    if said is None or said.upper is None or said.lower is None:
        if _is_thread(feature, context):
            raise SizeError(
                "This is a thread: its position is that of its pitch cylinder, not of what is drilled."
            )
        raise SizeError("The size has no limits: say its tolerance, or a general one.")
    return Sized(said.value + said.lower, said.value + said.upper, _is_internal(feature, context))


def _is_thread(feature: Feature, context: Context) -> bool:
    found = context.facts.part_of(feature.instance)
    return found is not None and any(t.face in feature.faces for t in found[1].threads)


def _is_internal(feature: Feature, context: Context) -> bool:
    faces = [context.facts.face_of(feature.instance, n) for n in feature.faces]
    known = [f for f in faces if f is not None]
    if known and known[0].hollow is not None:
        return known[0].hollow
    if len(known) == 2:  # the sides of a slot look at each other
        a, b = (np.array(f.origin) for f in known)
        return float((b - a) @ np.array(known[0].axis)) > 0
    raise SizeError("It is not known whether this is a hole or a shaft.")


def measured(
    f: ControlFrame,
    context: Context,
    size: float | None,
    place: tuple[float, float] | None,
    row: int = 0,
) -> Measured:
    """A measured size and how far the place is off, mm. Raises SizeError."""
    r = f.rows[row]
    if r.modifier and size is None:
        raise SizeError("With a material condition the measured size is needed too.")
    allowed = r.value if size is None else bounding.allowed(sized_of(f, context), r.value, r.modifier, size)
    if place is None:
        return Measured(allowed, None, None)
    off = position.error(*place) if r.shape else 2 * max(abs(p) for p in place)
    return Measured(allowed, off, off <= allowed + 1e-9)


# ---- fasteners ---------------------------------------------------------------------------------------------
@dataclass(frozen=True)
class Passed:
    """A hole that a fastener goes through or into. least: its least diameter, the nominal one where no limits
    are drawn; is_held: whether it is the hole's thread, or no clearance, that holds it; depth: in which it is
    held, mm; frame: the id of the position frame on it, empty without."""

    path: str
    called: str
    least: float
    is_held: bool
    depth: float
    frame: str


@dataclass(frozen=True)
class Fastening:
    """A fastener and the holes on its way. greatest: its diameter at most, the nominal one where no limits
    are drawn, mm."""

    called: str
    greatest: float
    holes: tuple[Passed, ...]

    @property
    def is_fixed(self) -> bool:
        """Whether a part holds it."""
        return any(h.is_held for h in self.holes)


def fastening(f: ControlFrame, context: Context) -> Fastening:
    """The fastener through the hole that a frame is on, in the assembly that is drawn. Raises SizeError where
    there is none."""
    feature = feature_at(f.tip, context)
    if feature.on != "axis":
        raise SizeError("Fasteners go through holes: put the frame at the diameter of one.")
    fit = next(
        (
            c
            for c in contacts(context.facts)
            if c.is_fit and c.one.path == feature.instance and c.one.face in feature.faces
        ),
        None,
    )
    if fit is None:
        raise SizeError("No fastener goes through this hole in what is drawn; say its greatest diameter.")
    screw, shank = fit.other.path, fit.other
    holes = [
        _passed(c.one.path, c.one.face, False, context)
        for c in contacts(context.facts)
        if c.is_fit and c.other.path == screw and c.other.face == shank.face
    ]
    for i in context.facts.instances:
        part = context.facts.parts[i.part]
        threads = {t.face for t in part.threads if t.internal}
        for face in part.faces:
            if face.name in threads and face.kind == "cylinder" and i.path != screw:
                side = side_of(i, face)
                off = shank.at - side.at
                away = off - side.direction * float(off @ side.direction)
                if abs(float(side.direction @ shank.direction)) > 1 - 1e-8 and _length(away) < LEVEL:
                    holes.append(_passed(i.path, face.name, True, context))
    limits = _limits(screw, shank.face, context)
    greatest = limits[1] if limits else 2 * shank.radius
    return Fastening(_called(screw, context), greatest, tuple(holes))


def said_fastening(f: ControlFrame, context: Context, greatest: float, is_fixed: bool) -> Fastening:
    """A fastener whose greatest diameter is said, through the hole that a frame is on. is_fixed: whether the
    other part holds it. Raises SizeError."""
    feature = feature_at(f.tip, context)
    if feature.on != "axis":
        raise SizeError("Fasteners go through holes: put the frame at the diameter of one.")
    if _is_thread(feature, context):
        raise SizeError("A thread holds the fastener: figure the zones at the frame of the clearance hole.")
    mine = _passed(feature.instance, feature.faces[0], False, context)
    other = Passed(
        "", "the part that holds it" if is_fixed else "the other part", mine.least, is_fixed, 0.0, ""
    )
    return Fastening(
        "", greatest, (replace(mine, frame=f.id), other) if is_fixed else (replace(mine, frame=f.id),)
    )


def _length(v: np.ndarray) -> float:
    return float(np.linalg.norm(v))


def _called(path: str, context: Context) -> str:
    found = context.facts.part_of(path)
    return (found[1].name if found else "") or path


def _passed(path: str, face_name: str, is_held: bool, context: Context) -> Passed:
    face = context.facts.face_of(path, face_name)
    assert face is not None
    limits = _limits(path, face_name, context)
    span = face.span or [0.0, 0.0]
    return Passed(
        path,
        _called(path, context),
        limits[0] if limits else 2 * face.radius,
        is_held,
        abs(span[1] - span[0]),
        _frame_on(path, face_name, context),
    )


def _on_part(path: str, face: str, feature: Feature, context: Context) -> bool:
    """Whether a feature is a face of an instance, or the same face of another instance of its part."""
    one, two = context.facts.part_of(path), context.facts.part_of(feature.instance)
    return one is not None and two is not None and one[0].part == two[0].part and face in feature.faces


def _limits(path: str, face: str, context: Context) -> tuple[float, float] | None:
    """The limits of a diameter that the drawing says of a face."""
    for a, home in context.of_annotations():
        if not others.is_sized(a):
            continue
        try:
            said = others.measured_of(a, home)
            if said is None or not said.is_diameter or said.upper is None or said.lower is None:
                continue
            if any(_holds(p, path, face, said.value, home) for p in a.picks):
                return said.value + said.lower, said.value + said.upper
        except SizeError:
            continue
    return None


def _holds(pick: object, path: str, face: str, value: float, context: Context) -> bool:
    found = context.facts.part_of(pick.instance)  # type: ignore[attr-defined]
    own = context.facts.part_of(path)
    known = own[1].face(face) if own else None
    if found is None or own is None or known is None or found[0].part != own[0].part:
        return False
    edge = found[1].edge(pick.source)  # type: ignore[attr-defined]
    names = edge.faces if edge else [pick.source]  # type: ignore[attr-defined]
    return face in names and abs(2 * known.radius - value) < 1e-3


def _frame_on(path: str, face: str, context: Context) -> str:
    for a, home in context.of_annotations("control_frame"):
        if not isinstance(a, ControlFrame) or a.rows[0].characteristic != "position":
            continue
        try:
            if _on_part(path, face, feature_at(a.tip, home), home):
                return a.id
        except SizeError:
            continue
    return ""


def divided(
    found: Fastening, share: float, projected: bool, projection: float = 0.0
) -> list[tuple[Passed, float]]:
    """The zone of each hole, mm: of the clearance holes, and of the one that holds the fastener. share: of
    all that there is, what the clearance holes take; projected: whether the held hole's zone is; else
    projection: how far the fastener stands out, mm. Raises SizeError."""
    open_ = [h for h in found.holes if not h.is_held]
    held = next((h for h in found.holes if h.is_held), None)
    out = []
    for h in open_:
        if held is None:
            out.append((h, fasteners.floating(h.least, found.greatest)))
            continue
        far = 0.0 if projected else projection
        out.append((h, fasteners.fixed(h.least, found.greatest, share, far, held.depth).clearance))
    if held is not None and open_:
        least = min(h.least for h in open_)
        far = 0.0 if projected else projection
        out.append((held, fasteners.fixed(least, found.greatest, share, far, held.depth).held))
    return out


def with_zone(rows: list[FrameRow], zone: float, projected: float | None) -> list[FrameRow]:
    """Rows with the first one's zone, and where projected, its height, mm."""
    more = {} if projected is None else {"projected": projected}
    return [rows[0].model_copy(update={"value": round(zone, 6), **more}), *rows[1:]]
