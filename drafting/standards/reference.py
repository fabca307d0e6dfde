"""The standards' tables as one looks them up."""

from collections.abc import Callable
from dataclasses import dataclass

from drafting.errors import ModelError
from drafting.standards import drills, pipe_threads, screw_holes
from drafting.standards.center_holes import TYPE_A
from drafting.standards.clearance import ASME_B18_2_8, ISO_273
from drafting.standards.keys import ASME_B17_1, asme_key, iso_keys
from drafting.standards.relief_grooves import iso_reliefs
from drafting.standards.thread_limits import limits
from drafting.standards.threads import (
    METRIC_COARSE,
    METRIC_FINE,
    UNIFIED,
    UNIFIED_EXTRA_FINE,
    thread,
)
from drafting.standards.units import INCH

Cell = str | float | None


@dataclass(frozen=True)
class Table:
    """A table: what it is of, where its figures come from, the heads of its columns (the first one names the
    row), and its rows; None where a row has nothing."""

    name: str
    source: str
    columns: tuple[str, ...]
    rows: tuple[tuple[Cell, ...], ...]


def tables() -> list[Table]:
    """All tables, in the order in which they are offered."""
    return [make() for make in TABLES]


def _threads() -> Table:
    metric = [
        *((f"M{d:g}", ISO_273.get(float(d), ())) for d in METRIC_COARSE),
        *((f"M{d}×{p:g}", ISO_273.get(float(d), ())) for d, p in METRIC_FINE),
    ]
    rows = [_thread(name, holes) for name, holes in metric]
    return Table(
        "Metric threads",
        "ISO 261, 262 and 68-1, drills of ISO 2306, clearance holes of ISO 273; mm",
        ("Thread", "Major", "Pitch", "Tap drill", "Minor", "Clearance, fine", "medium", "coarse"),
        tuple(rows),
    )


def _thread(name: str, holes: tuple[float, ...]) -> tuple[Cell, ...]:
    t = thread(name)
    return (name, t.major, t.pitch, t.tap_drill, round(t.minor, 3), *(holes or (None, None, None)))


def _unified() -> Table:
    rows: list[tuple[Cell, ...]] = []
    for size, (_, coarse, fine) in UNIFIED.items():
        holes = ASME_B18_2_8.get(size, (None, None, None))
        names = [(f"{size}-{coarse} UNC", coarse), (f"{size}-{fine} UNF", fine)]
        if size in UNIFIED_EXTRA_FINE:
            names.append((f"{size}-{UNIFIED_EXTRA_FINE[size]} UNEF", UNIFIED_EXTRA_FINE[size]))
        for name, per_inch in names:
            t = thread(name)
            drill, minor = round(t.tap_drill / INCH, 4), round(t.minor / INCH, 4)
            rows.append((name, round(t.major / INCH, 4), float(per_inch), drill, minor, *holes))
    return Table(
        "Unified threads",
        "ASME B1.1 and B18.2.8, drills of shop tables or major less pitch; inches",
        ("Thread", "Major", "An inch", "Tap drill", "Minor", "Clearance, close", "normal", "loose"),
        tuple(rows),
    )


def _limits() -> Table:
    rows: list[tuple[Cell, ...]] = []
    names = [f"M{d:g}" for d in METRIC_COARSE] + [f"M{d}×{p:g}" for d, p in METRIC_FINE]
    for name in names:
        try:
            nut, bolt = limits(name, "6H"), limits(name, "6g")
        except ModelError:
            continue
        rows.append((f"{name}-6H", nut.major[0], None, *nut.pitch, *nut.minor))
        rows.append((f"{name}-6g", *bolt.major, *bolt.pitch, bolt.minor[1], None))
    return Table(
        "Limits of metric threads",
        "ISO 965-1; of nuts the major diameter is at least, of bolts the minor one at most; mm",
        ("Thread", "Major, most", "least", "Pitch dia., most", "least", "Minor, most", "least"),
        tuple(rows),
    )


def _trapezoidal() -> Table:
    return Table(
        "Trapezoidal threads",
        "ISO 2903 and 2904, first choice; mm",
        ("Thread", "Major", "Pitch", "Pitch dia.", "Minor, screw", "Minor, nut", "Major, nut"),
        tuple(
            (t.designation, t.major, t.pitch, t.pitch_diameter, t.screw_minor, t.nut_minor, t.nut_major)
            for t in pipe_threads.trapezoidal()
        ),
    )


def _pipes() -> Table:
    found = [*pipe_threads.parallel(), *pipe_threads.tapered()]
    return Table(
        "Pipe threads, G and R",
        "ISO 228-1 and ISO 7-1, tapered ones 1:16 and in the gauge plane; mm",
        ("Thread", "An inch", "Major", "Pitch dia.", "Minor", "Gauge length"),
        tuple((t.designation, t.per_inch, t.major, t.pitch_diameter, t.minor, t.gauge) for t in found),
    )


def _npt() -> Table:
    rows: list[tuple[Cell, ...]] = []
    for name, (per_inch, d, engaged) in pipe_threads.NPT.items():
        e0, e1, l2 = pipe_threads.npt(name)
        rows.append(
            (f"{name}-{per_inch:g} NPT", d, per_inch, round(e0, 5), round(e1, 5), engaged, round(l2, 4))
        )
    return Table(
        "Pipe threads, NPT",
        "ASME B1.20.1, tapered 1:16; inches",
        ("Thread", "Pipe", "An inch", "E0", "E1", "L1, by hand", "L2, effective"),
        tuple(rows),
    )


def _screws(name: str, source: str, found: list[screw_holes.ScrewHole]) -> Table:
    has_angle = any(h.angle for h in found)
    last = "Angle, °" if has_angle else "Depth"
    return Table(
        name,
        source,
        ("Screw", "Head", "Head height", "Ø of the hole's head", last),
        tuple(
            (h.screw, h.head, h.height, round(h.diameter, 4), h.angle if has_angle else h.depth)
            for h in found
        ),
    )


def _iso_keys() -> Table:
    return Table(
        "Keys, metric",
        "ISO R 773; mm",
        ("Shaft over to", "Width", "Height", "Depth in shaft", "Depth in hub"),
        tuple((f"{k.over:g} to {k.to:g}", k.width, k.height, k.shaft, k.hub) for k in iso_keys()),
    )


def _asme_keys() -> Table:
    rows: list[tuple[Cell, ...]] = []
    for over, to, side in ASME_B17_1:
        key = asme_key(over, to, side, to)
        depths = round(key.shaft / INCH, 3), round(key.hub / INCH, 3)
        rows.append((f"{over:g} to {to:g}", side, side, *depths))
    return Table(
        "Keys, inch",
        "ASME B17.1, square keys; depths at the largest shaft; inches",
        ("Shaft over to", "Width", "Height", "Depth in shaft", "Depth in hub"),
        tuple(rows),
    )


def _drills() -> Table:
    rows = [(name, round(d, 4), round(d * INCH, 3)) for name, d in drills.inch_drills()]
    return Table("Drills, inch", "Numbers, letters and fractions", ("Drill", "Inches", "mm"), tuple(rows))


def _metric_drills() -> Table:
    rows = [(f"{d:g}", d, round(d / INCH, 4)) for d in drills.metric_drills()]
    return Table("Drills, metric", "ISO 235, usual diameters", ("Drill", "mm", "Inches"), tuple(rows))


def _centers() -> Table:
    rows = [(f"A {d:g}/{mouth:g}", d, mouth) for d, mouth in TYPE_A.items()]
    return Table(
        "Center holes", "ISO 866 and 6411, type A, 60°; mm", ("Center", "Pilot", "Cone"), tuple(rows)
    )


def _reliefs() -> Table:
    return Table(
        "Relief grooves",
        "ISO 18388, forms E and F; mm",
        ("Groove", "Radius", "Depth t1", "Width f", "Depth in the shoulder t2"),
        tuple(
            (f"{r.form} {r.radius:g}×{r.depth:g}", r.radius, r.depth, r.width, r.face_depth or None)
            for r in iso_reliefs()
        ),
    )


TABLES: tuple[Callable[[], Table], ...] = (
    _threads,
    _unified,
    _limits,
    _trapezoidal,
    _pipes,
    _npt,
    lambda: _screws(
        "Counterbores, metric",
        "ISO 4762, heads; bores by common practice; mm",
        screw_holes.socket_heads(),
    ),
    lambda: _screws(
        "Counterbores, inch",
        "ASME B18.3; heads and bores; inches",
        screw_holes.inch_sockets(),
    ),
    lambda: _screws(
        "Spotfaces",
        "ISO 4014 and 4017, across flats; spotfaces by common practice; mm",
        screw_holes.hexagons(),
    ),
    lambda: _screws(
        "Countersinks",
        "ISO 10642, ISO 7046 with ISO 15065; mm",
        screw_holes.countersinks(),
    ),
    _iso_keys,
    _asme_keys,
    _reliefs,
    _drills,
    _metric_drills,
    _centers,
)
