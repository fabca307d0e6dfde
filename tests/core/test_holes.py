"""Holes of random solids against what they were made with, and of demo parts in the disguises of other
writers."""

from collections import Counter
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from OCP.BRep import BRep_Builder
from OCP.BRepPrimAPI import BRepPrimAPI_MakeCone
from OCP.TopoDS import TopoDS_Shell

from bench.files import others
from drafting.features.body import Body
from drafting.features.hole import Hole
from drafting.features.holes import holes
from drafting.features.recognized import features
from drafting.kernel.measure import faces_of
from drafting.kernel.topology import solids
from drafting.model.model import PartFacts
from drafting.model.names import part_facts
from drafting.model.step import read_model
from tests.core.conftest import demo
from tests.core.disguises import DISGUISES, disguised
from tests.core.random_holes import Known, Made, made, turned
from tests.core.zoo import ZOO, ball, box, cut, rod, splines, split

SOLIDS = 520
CHUNKS = 8
EXACT = 1e-6


def is_same_line(hole: Hole, known: Known) -> bool:
    away = np.array(hole.entry) - known.entry
    return (
        abs(abs(float(np.dot(hole.direction, known.direction))) - 1) < 1e-9
        and float(np.linalg.norm(np.cross(known.direction, away))) < 1e-5
    )


def differences(hole: Hole, known: Known) -> list[str]:
    """What of a hole is not as it was made."""
    out = []
    if abs(hole.diameter - known.diameter) > EXACT:
        out.append(f"diameter {hole.diameter} for {known.diameter}")
    if hole.kind != known.kind:
        out.append(f"{hole.kind} for {known.kind}")
    if (hole.depth is None) != (known.depth is None) or (
        hole.depth is not None and known.depth is not None and abs(hole.depth - known.depth) > EXACT
    ):
        out.append(f"depth {hole.depth} for {known.depth}")
    if hole.bottom != known.bottom:
        out.append(f"bottom {hole.bottom} for {known.bottom}")
    if known.angle and (hole.angle is None or abs(hole.angle - known.angle) > EXACT):
        out.append(f"angle {hole.angle} for {known.angle}")
    found = [(h.kind, h.diameter, h.depth) for h in hole.heads]
    if len(found) != len(known.heads) or any(
        a[0] != b[0] or abs(a[1] - b[1]) > EXACT or abs(a[2] - b[2]) > EXACT
        for a, b in zip(found, known.heads, strict=True)
    ):
        out.append(f"heads {found} for {known.heads}")
    if (known.heads or known.depth is not None) and float(np.dot(hole.direction, known.direction)) < 0:
        out.append("from the other end")
    if hole.is_cut != known.is_cut:
        out.append("cut open" if hole.is_cut else "whole")
    return out


def counted(solid: Made) -> tuple[Counter[str], list[str]]:
    found = holes(Body(part_facts(solid.shape, "x", measured=False)))
    count: Counter[str] = Counter(made=len(solid.holes))
    said = []
    for known in solid.holes:
        match = next(
            (
                h
                for h in found
                if is_same_line(h, known)
                and not (known.depth is not None and np.linalg.norm(np.array(h.entry) - known.entry) > 1e-5)
            ),
            None,
        )
        if match is None:
            count["lost"] += 1
            said.append(f"lost {known.kind} {known.diameter} {known.depth}")
            continue
        found.remove(match)
        wrong = differences(match, known)
        count["right" if not wrong else "wrong"] += 1
        said += wrong
    count["false"] = len(found)
    said += [f"false {h.kind} {h.diameter:.2f}" for h in found]
    return count, said


@pytest.mark.parametrize("chunk", range(CHUNKS))
def test_holes_of_random_solids_are_found_and_told_right(chunk: int) -> None:
    total: Counter[str] = Counter()
    for seed in range(chunk * SOLIDS // CHUNKS, (chunk + 1) * SOLIDS // CHUNKS):
        solid = made(seed)
        count, said = counted(solid)
        total += count
        if said:
            print(seed, solid.what, said)
    print(dict(total))
    assert total["right"] >= 0.99 * total["made"]
    assert total["false"] <= 0.005 * total["made"]


# ---- demo parts --------------------------------------------------------------------------------------------
DRILLED = ["HB-202", "HB-204", "HB-206", "HB-207", "HB-210", "HB-211", "HB-221", "HB-222", "HB-233", "HB-234"]


def sizes(part: PartFacts) -> Counter[object]:
    """Holes by all their sizes, equal ones counted. Threads are said by recipes alone."""

    def told(hole: Hole) -> object:
        heads = [(h.kind, round(h.diameter, 3), round(h.depth, 3)) for h in (*hole.heads, *hole.far_heads)]
        depth = None if hole.depth is None else round(hole.depth, 3)
        return hole.kind, round(hole.diameter, 3), depth, hole.bottom, tuple(heads)

    return Counter(told(h) for h in holes(Body(part)))


@pytest.mark.parametrize("number", DRILLED)
def test_recipes_holes_are_all_found(number: str) -> None:
    """The recipe says what was drilled; what a hole goes through it does not."""
    (part,) = demo(number).facts.parts.values()
    found = holes(Body(part))
    for said in part.holes:
        mine = [
            h
            for h in found
            if h.diameter == pytest.approx(said.diameter) and (h.thread or None) == said.thread
        ]
        alike = [s for s in part.holes if (s.diameter, s.thread) == (said.diameter, said.thread)]
        assert len(mine) == sum(s.count for s in alike)
        for hole in mine:
            assert hole.depth is None or hole.depth == pytest.approx(said.depth)
            if said.depth is not None and hole.depth is None:
                assert number == "HB-207"  # its oil hole ends in the bore
    assert len(found) - sum(h.count for h in part.holes) == {"HB-207": 1, "HB-233": 1}.get(number, 0)


@pytest.mark.parametrize("disguise", DISGUISES)
@pytest.mark.parametrize("number", DRILLED)
def test_holes_are_the_same_in_every_disguise(number: str, disguise: str, tmp_path: Path) -> None:
    model = demo(number)
    (shape,), (part,) = model.shapes.values(), model.facts.parts.values()
    assert sizes(disguised(shape, disguise, tmp_path)) == sizes(part)


@pytest.mark.parametrize("number", DRILLED)
def test_holes_are_the_same_though_nobody_joined_the_faces(number: str) -> None:
    model = demo(number)
    (shape,), (part,) = model.shapes.values(), model.facts.parts.values()
    for parts in (2, 4):
        assert sizes(part_facts(split(shape, parts), "x", measured=False)) == sizes(part)
    assert sizes(part_facts(splines(shape), "x", measured=False)) == sizes(part)


def test_shafts_and_screws_have_no_holes() -> None:
    for number in ("HB-205", "HB-231", "HB-232"):
        (part,) = demo(number).facts.parts.values()
        assert not holes(Body(part))


# ---- anything ----------------------------------------------------------------------------------------------
@pytest.mark.parametrize("name", ZOO)
def test_hard_bodies_are_looked_at_without_a_crash(name: str) -> None:
    for shape in ZOO[name]():
        for hole in features(part_facts(shape, "x", measured=False)).holes:
            assert np.isfinite([hole.diameter, *hole.entry, *hole.direction]).all()
            assert hole.depth is None or hole.depth > 0


def test_a_flat_cone_an_open_shell_and_a_ball_have_no_holes() -> None:
    flat = BRepPrimAPI_MakeCone(100, 0, 0.9).Shape()  # 179 degrees
    (skin,) = read_skin()
    for shape in (flat, ball(7), skin):
        assert not features(part_facts(shape, "x", measured=False)).holes


def read_skin() -> list[Any]:
    """A box without its lid, as surfaces only."""
    builder, shell = BRep_Builder(), TopoDS_Shell()
    builder.MakeShell(shell)
    for face in faces_of(solids(box(40, 30, 20))[0])[:5]:
        builder.Add(shell, face)
    return [shell]


def test_every_hole_of_files_of_others_is_sound() -> None:
    for path in others().values():
        for part in read_model(path, path.stem).facts.parts.values():
            known = features(part)
            assert sorted(n for g in known.groups for n in g) == list(range(len(known.holes)))
            for hole in known.holes:
                assert hole.faces <= {f.name for f in part.faces}
                assert all(h.diameter > hole.diameter - 1e-6 for h in hole.heads)


def test_a_public_assembly_has_the_holes_it_is_known_for() -> None:
    """as1-tu-203.stp, among the test files of a mesher: its rod, bolts, nuts and holes are all of 10 mm, and
    its writer split every round face (facts of the file)."""
    parts = read_model(others()["as1-tu-203"], "as1").facts.parts.values()
    bores = {p.name: Counter(round(h.diameter, 6) for h in features(p).holes) for p in parts}
    assert bores == {"plate": {10: 6}, "l-bracket": {10: 4}, "nut": {10: 1}, "bolt": {}, "rod": {}}
    steps = {p.name: sorted(round(s.diameter, 6) for s in features(p).shafts) for p in parts}
    assert (steps["bolt"], steps["rod"]) == ([10, 15], [10])


# ---- what a callout must not get wrong ---------------------------------------------------------------------
def drilled_body(*profiles: tuple[tuple[float, float], ...]) -> Any:
    """A block of 60 by 60 by 40 with a body turned about its upright axis taken away; t from the top down."""
    shape = box(60, 60, 40)
    for profile in profiles:
        shape = cut(shape, turned(np.array([30.0, 30, 40]), np.array([0, 0, -1.0]), [*profile]))
    return part_facts(shape, "x", measured=False)


def test_heads_at_both_ends_are_each_as_deep_as_they_are_from_their_own_face() -> None:
    part = drilled_body(((-1, 0), (-1, 8), (9, 8), (9, 4), (33.5, 4), (33.5, 7), (41, 7), (41, 0)))
    (hole,) = holes(Body(part))
    assert [(h.kind, h.diameter, round(h.depth, 9)) for h in hole.heads] == [("counterbore", 16, 9)]
    assert [(h.kind, h.diameter, round(h.depth, 9)) for h in hole.far_heads] == [("counterbore", 14, 6.5)]
    assert hole.is_told


def test_a_counterdrilled_hole_says_its_angle() -> None:
    """1 : 1 from a radius of 8 to 4 is a cone of 90 degrees."""
    part = drilled_body(((-1, 0), (-1, 8), (10, 8), (14, 4), (41, 4), (41, 0)))
    (hole,) = holes(Body(part))
    assert hole.kind == "counterdrilled"
    (head,) = hole.heads
    assert (head.diameter, head.depth, head.angle) == pytest.approx((16, 10, 90))


def test_what_is_wider_within_is_not_told_by_a_callout() -> None:
    part = drilled_body(((-1, 0), (-1, 4), (10, 4), (10, 8), (30, 8), (30, 0)))
    (hole,) = holes(Body(part))
    assert not hole.is_told
    tapered = drilled_body(((-1, 0), (-1, 8), (41, 5), (41, 0)))
    assert [h.is_told for h in holes(Body(tapered))] == [False]


def test_equal_holes_are_equal_whatever_their_last_digits() -> None:
    """An eighth of an inch is 3.175 mm: halfway between hundredths."""
    shape = box(60, 60, 40)
    for n, noise in enumerate((-1e-9, 1e-9, -1e-7, 1e-7)):
        at, d = np.array([10 + 12.0 * n, 30, 40]), 3.175 / 2 + noise
        tool = turned(at, np.array([0, 0, -1.0]), [(-1, 0), (-1, d), (8.125 + noise, d), (8.125 + noise, 0)])
        shape = cut(shape, tool)
    known = features(part_facts(shape, "x", measured=False))
    assert [len(g) for g in known.groups] == [4]


def test_holes_that_run_other_ways_are_not_counted_together() -> None:
    shape = cut(box(60, 60, 40), rod(3, 60, 20, 20, -5))
    side = turned(np.array([0, 40.0, 20]), np.array([1.0, 0, 0]), [(-1, 0), (-1, 3), (61, 3), (61, 0)])
    known = features(part_facts(cut(shape, side), "x", measured=False))
    assert [len(g) for g in known.groups] == [1, 1]
