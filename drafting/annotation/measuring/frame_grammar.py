"""What a standard says of a row of a control frame: what it forbids, and what is unwise. Read from the tables
in `standards.characteristics`; each sentence names its clause and the remedy."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from drafting.annotation.measuring.frames import FrameRow
from drafting.standards.characteristics import (
    DERIVED,
    GROUPS,
    TABLES,
    Standard,
    Toleranced,
    named,
)

LIMITS = {"form": 0, "orientation": 1, "runout": 1, "profile": 2, "location": 2}
"""Of one feature, what refines what: the lower may not be larger than the higher."""
NAMED_ON = {
    "plane": "a plane",
    "cylinder": "a cylinder's surface",
    "cone": "a cone's surface",
    "sphere": "a sphere's surface",
    "surface": "a free surface",
    "line": "a line",
    "axis": "an axis",
    "median plane": "a median plane",
    "center point": "a center",
}


@dataclass(frozen=True)
class Said:
    """A sentence on a row. forbidden: the standard rules it out; else it is allowed and unwise."""

    sentence: str
    forbidden: bool


def judged(
    row: FrameRow,
    on: Toleranced | None,
    standard: Standard,
    sizes: Sequence[str] = (),
    own: Sequence[str] = (),
) -> list[Said]:
    """All that a standard says of a row by itself. on: what is toleranced, None where that is not known;
    sizes: those of its datums that are features of size; own: letters of the toleranced feature itself."""
    return list(_judged(row, on, standard, sizes, own))


def _judged(
    row: FrameRow, on: Toleranced | None, standard: Standard, sizes: Sequence[str], own: Sequence[str]
) -> Iterator[Said]:
    name, table = named(row.characteristic, standard), TABLES[standard]
    rules = table.get(row.characteristic)
    title = "ASME Y14.5" if standard == "ASME" else ""

    def no(sentence: str, clause: str) -> Said:
        where = f"{title}, {clause}" if title else clause
        return Said(f"{sentence} ({where}).", True)

    if rules is None:
        yield no(f"There is no {name} any more: say position, runout or profile", "2018, B.2")
        return
    if on is not None and on not in rules.on:
        yield no(f"{name.capitalize()} is not said of {NAMED_ON[on]}", rules.clause)
    if rules.datums == "none" and row.datums:
        yield no(f"{name.capitalize()} refers to no datum: leave {row.datums[0].letters} out", rules.clause)
    if rules.datums == "one at least" and not row.datums:
        yield no(f"{name.capitalize()} needs a datum: type its letter after the value", rules.clause)
    if row.shape and not rules.round_on:
        yield no(f"The zone of {name} is never round: leave {row.shape} out", rules.round_clause)
    elif row.shape and on is not None and on not in rules.round_on:
        yield no(
            f"The zone of {name} of {NAMED_ON[on]} is not round: leave {row.shape} out", rules.round_clause
        )
    elif row.shape == "SØ" and on not in (None, "center point"):
        yield no("A ball-shaped zone is one of a center: say Ø", rules.round_clause)
    if row.modifier and not rules.material:
        yield no(
            f"{name.capitalize()} has no material condition: leave ({row.modifier}) out",
            rules.material_clause,
        )
    elif row.modifier and on is not None and on not in DERIVED:
        yield no(
            f"({row.modifier}) goes with features of size: put the frame at the size, or leave it out",
            rules.material_clause,
        )
    yield from _on_datums(row, rules.on_datums, rules.material_clause, name, sizes, no)
    for is_said, allowed, what in (
        (row.projected is not None, rules.projected, "a projected zone (P)"),
        (row.tangent, rules.tangent, "a tangent plane (T)"),
        (row.unequal is not None, rules.unequal, "an unequal zone (U)"),
        (row.per is not None, rules.per_length, "a value per length"),
    ):
        if is_said and not allowed:
            yield no(
                f"{name.capitalize()} has no {what[2:] if what.startswith('a ') else what[3:]}", rules.clause
            )
    if row.projected is not None and on is not None and on not in DERIVED:
        yield no("A projected zone is one of an axis or a median plane", rules.clause)
    if row.indicators and standard == "ASME":
        yield no(f"An {row.indicators[0].kind} is ISO's: say it in a note", "9.1")
    if row.zones and standard == "ASME":
        yield no(f"{row.zones} is ISO's: say how many there are, as 4X", "10.5")
    if len(set(row.letters)) < len(row.letters):
        yield no("A datum stands twice in a row", rules.clause)
    for letter in row.letters:
        if letter in own:
            yield no(f"A feature is not toleranced to itself: leave {letter} out", rules.clause)
    if row.characteristic == "position" and not row.datums:
        yield Said("A position without datums only holds the features of a pattern to each other.", False)


def _on_datums(
    row: FrameRow, allowed: bool, clause: str, name: str, sizes: Sequence[str], no: object
) -> Iterator[Said]:
    for d in row.datums:
        if d.modifier and not allowed:
            yield no(f"Datums of {name} have no material condition: leave ({d.modifier}) out", clause)  # type: ignore[operator]
        elif d.modifier and not all(letter in sizes for letter in d.single):
            yield no(
                f"({d.modifier}) goes with datums that are features of size; {d.letters} is none", clause
            )  # type: ignore[operator]


def rows_judged(rows: Sequence[FrameRow], composite: bool, standard: Standard) -> list[Said]:
    """What is to be said of the rows of one frame together: each lower one refines the one above it."""
    out: list[Said] = []
    if len(rows) < 2:
        return out
    clause = "ASME Y14.5, 10.5.1" if standard == "ASME" else "ISO 1101, 8.2"
    for upper, lower in zip(rows, rows[1:], strict=False):
        same = upper.characteristic == lower.characteristic
        if (same or composite) and lower.value >= upper.value:
            out.append(Said(f"A lower row is narrower than the one above it ({clause}).", composite))
        elif (
            LIMITS[GROUPS[lower.characteristic]] < LIMITS[GROUPS[upper.characteristic]]
            and lower.value >= upper.value
        ):
            out.append(Said(_refines(upper, lower, standard), False))
    if composite and any(r.characteristic != rows[0].characteristic for r in rows):
        out.append(Said(f"All rows of a composite frame are of one characteristic ({clause}).", True))
    if composite and rows[0].characteristic not in ("position", "profile of a surface", "profile of a line"):
        out.append(Said(f"Composite frames are of position or profile ({clause}).", True))
    if composite and any(
        [d.letters for d in lower.datums] != [d.letters for d in upper.datums[: len(lower.datums)]]
        for upper, lower in zip(rows, rows[1:], strict=False)
    ):
        out.append(Said(f"Datums of a lower row repeat those above in their order ({clause}).", True))
    return out


def _refines(upper: FrameRow, lower: FrameRow, standard: Standard) -> str:
    a, b = named(lower.characteristic, standard), named(upper.characteristic, standard)
    return f"The {a} of {lower.value:g} refines nothing: the {b} of {upper.value:g} holds it already."


def refinement(rows: Sequence[FrameRow], standard: Standard) -> list[Said]:
    """Rows of several frames on one feature: form within orientation within location."""
    out = []
    for i, one in enumerate(rows):
        for other in rows[i + 1 :]:
            low, high = sorted((one, other), key=lambda r: LIMITS[GROUPS[r.characteristic]])
            if (
                LIMITS[GROUPS[low.characteristic]] < LIMITS[GROUPS[high.characteristic]]
                and low.value >= high.value
            ):
                out.append(Said(_refines(high, low, standard), False))
    return out


Envelope = Literal["held", "not held"]


def against_size(row: FrameRow, tolerance: float, envelope: Envelope, standard: Standard) -> Said | None:
    """Form of a feature of size against its size tolerance (mm, all of it), where the envelope holds."""
    if envelope != "held" or GROUPS[row.characteristic] != "form" or row.value < tolerance or row.shape:
        return None
    clause = "ASME Y14.5, 5.8" if standard == "ASME" else "ISO 8015 and ISO 14405-1, Ⓔ"
    name = named(row.characteristic, standard)
    return Said(
        f"The {name} of {row.value:g} says nothing: the size holds {tolerance:g} already ({clause}).", False
    )
