"""What a file cannot know of its holes and shafts, and an office says: that they are threaded, which is
offered by the diameter, and how they are finished."""

from collections.abc import Sequence
from dataclasses import dataclass

from drafting.errors import ModelError
from drafting.features.hole import Hole
from drafting.features.shafts import Shaft
from drafting.model.model import FaceFact, PartFacts, ProcessFact, ThreadFact
from drafting.standards.clearance import clearance_for
from drafting.standards.processes import process
from drafting.standards.threads import METRIC_COARSE, TAP_DRILLS, UNIFIED_TAP_DRILLS, thread
from drafting.standards.units import INCH

NEAR = 0.06
"""How far a drawn tap drill may be from the table's, mm: some model the minor diameter."""


@dataclass(frozen=True)
class Offer:
    """What a diameter may stand for, in words, and the thread that would be said; empty where nothing is."""

    words: str
    thread: str = ""


def offers(hole: Hole) -> list[Offer]:
    """What a hole's diameter is common for, tap drills first."""
    d, out = hole.diameter, []
    for size, drill in TAP_DRILLS.items():
        if abs(drill - d) <= NEAR or abs(thread(f"M{size:g}").minor - d) <= NEAR:
            out.append(Offer(f"tap drill of M{size:g}", f"M{size:g}"))
    for (name, pitch), inches in UNIFIED_TAP_DRILLS.items():
        if abs(inches * INCH - d) <= 0.01:
            out.append(Offer(f"tap drill of {name}-{pitch} UNC", f"{name}-{pitch} UNC"))
    out += [
        Offer(f"clearance for {screw}, {series} ({standard})") for screw, series, standard in clearance_for(d)
    ]
    return out


def shaft_offers(shaft: Shaft) -> list[Offer]:
    """The coarse thread of a shaft's diameter."""
    return [
        Offer(f"major diameter of M{size:g}", f"M{size:g}")
        for size in METRIC_COARSE
        if abs(size - shaft.diameter) <= NEAR
    ]


def said_threads(
    part: PartFacts, faces: Sequence[str], designation: str, length: float | None
) -> list[ThreadFact]:
    """Threads on round faces of a part as an office says them. Raises ModelError for a face that is not
    there or not round, for an unknown thread, and for one that cannot be on a face of that size."""
    out = []
    screw = thread(designation)
    for name in faces:
        face = _cylinder(part, name, "A thread runs around")
        assert face.span is not None
        internal = bool(face.hollow)
        least, most = (
            (screw.minor - 0.2 * screw.pitch, screw.major) if internal else (screw.minor, screw.major)
        )
        if not least - NEAR <= 2 * face.radius <= most + NEAR:
            raise ModelError(
                f"{designation} does not go with a diameter of {2 * face.radius:.4g} mm: "
                + (
                    f"its hole is drilled {screw.tap_drill:.4g} mm wide."
                    if internal
                    else f"its shaft is {screw.major:.4g} mm thick."
                )
            )
        if length is not None and not 0 < length <= abs(face.span[1] - face.span[0]) + 1e-6:
            deep = abs(face.span[1] - face.span[0])
            raise ModelError(f"The thread is to be {length:.4g} mm long, and the face is {deep:.4g} mm long.")
        out.append(
            ThreadFact(face=name, designation=screw.designation, length=length, internal=internal, said=True)
        )
    return out


def said_processes(part: PartFacts, faces: Sequence[str], typed: str) -> list[ProcessFact]:
    """How round faces of a part are finished, as an office says it. Raises ModelError for a face that is not
    there or not round, and for a process that does not go with it."""
    found = [_cylinder(part, name, "This is said of") for name in faces]
    return [ProcessFact(face=face.name, process=process(typed, bool(face.hollow))) for face in found]


def _cylinder(part: PartFacts, name: str, what: str) -> FaceFact:
    """A round face by its name. what: how the sentence begins that refuses another one."""
    face = part.face(name)
    if face is None:
        raise ModelError("The part has no such face.")
    if face.kind != "cylinder" or face.span is None:
        kind = "flat" if face.kind == "plane" else "not a cylinder"
        raise ModelError(f"{what} a cylinder, and this face is {kind}.")
    return face
