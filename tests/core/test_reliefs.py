"""Relief grooves: every one of ISO 18388's table (memory), on shafts and in bores, is found with its sizes
and called by its designation, whoever wrote the file."""

import math
from pathlib import Path
from typing import Any

import pytest

from drafting.annotation.wording.callout_words import plain
from drafting.annotation.wording.feature_words import rows
from drafting.features.feature import Feature
from drafting.features.recognized import features
from drafting.model.model import Model, PartFacts
from drafting.standards.profile import ASME_INCH, ISO_MM
from drafting.standards.relief_grooves import FACE_SLOPE, SLOPE, Relief, iso_reliefs, relief
from tests.core.conftest import part
from tests.core.disguises import DISGUISES, disguised

LONG, ROUND, OUTER = 40.0, 15.0, 24.0
ALL = {f"{r.form} {r.radius:g}x{r.depth:g}": r for r in iso_reliefs()}


def groove(r: Relief, mirror: float = 1.0, bend: bool = True) -> list[dict[str, Any]]:
    """The outline of a groove from the round surface into a shoulder at LONG. mirror: -1 in a bore."""

    def at(x: float, down: float) -> list[float]:
        return [x, ROUND - mirror * down]

    slope, lean = math.radians(SLOPE), math.radians(FACE_SLOPE)
    begin = LONG - r.width
    low = begin + r.depth / math.tan(slope)
    out: list[dict[str, Any]] = []
    if bend:
        tangent = r.radius * math.tan(slope / 2)
        out += [
            {"line": at(low - tangent * math.cos(slope), r.depth - tangent * math.sin(slope))},
            {
                "arc": at(low + tangent, r.depth),
                "through": at(
                    low + tangent - r.radius * math.sin(slope / 2),
                    r.depth - r.radius * (1 - math.cos(slope / 2)),
                ),
            },
        ]
    else:
        out.append({"line": at(low, r.depth)})
    center = LONG + r.face_depth - r.radius
    turn = math.pi / 2 + (lean if r.face_depth else 0.0)
    out += [
        {"line": at(center, r.depth)},
        {
            "arc": at(
                center + r.radius * math.sin(turn),
                r.depth - r.radius * (1 - math.cos(turn)),
            ),
            "through": at(
                center + r.radius * math.sin(turn / 2), r.depth - r.radius * (1 - math.cos(turn / 2))
            ),
        },
    ]
    if r.face_depth:
        x, down = center + r.radius * math.sin(turn), r.depth - r.radius * (1 - math.cos(turn))
        out.append({"line": at(LONG, down - (x - LONG) / math.tan(lean))})
    return out


def shaft(r: Relief, bend: bool = True) -> Model:
    to = [{"line": [0, ROUND]}, {"line": [LONG - r.width, ROUND]}, *groove(r, 1.0, bend)]
    to += [{"line": [LONG, OUTER]}, {"line": [LONG + 20, OUTER]}, {"line": [LONG + 20, 0]}, {"line": [0, 0]}]
    return turned(to, [0, 0])


def bore(r: Relief) -> Model:
    """A bore that ends in a shoulder, through which a smaller one goes on."""
    to = [{"line": [0, OUTER]}, {"line": [LONG + 20, OUTER]}, {"line": [LONG + 20, 6]}, {"line": [LONG, 6]}]
    back = groove(r, -1.0)
    ends = [*(step.get("line") or step["arc"] for step in back)]
    to += [{"line": ends[-1]}]
    for n in range(len(back) - 1, 0, -1):
        step, before = back[n], ends[n - 1]
        to.append({"arc": before, "through": step["through"]} if "arc" in step else {"line": before})
    to += [{"line": [LONG - r.width, ROUND]}, {"line": [0, ROUND]}]
    return turned(to, [0, ROUND])


def turned(to: list[Any], start: list[float]) -> Model:
    plane = {"origin": [0, 0, 0], "x": [1, 0, 0], "normal": [0, -1, 0]}
    profile = {"start": start, "to": to}
    return part(
        [{"id": "t", "kind": "revolve", "plane": plane, "axis": [[0, 0], [1, 0]], "profile": profile}]
    )


def found(facts: PartFacts) -> list[Feature]:
    others = features(facts).others
    assert not [f.kind for f in others if f.kind not in ("relief groove", "chamfer")]
    return [f for f in others if f.kind == "relief groove"]


def of(model: Model) -> PartFacts:
    (facts,) = model.facts.parts.values()
    return facts


def is_as_made(feature: Feature, r: Relief) -> bool:
    sizes = [feature.size(n) or 0.0 for n in ("radius", "depth", "width", "height")]
    return sizes == pytest.approx([r.radius, r.depth, r.width, r.face_depth], abs=1e-6)


@pytest.mark.parametrize("name", ALL)
def test_every_groove_is_found_on_shafts_and_in_bores(name: str) -> None:
    r = ALL[name]
    for model in (shaft(r), shaft(r, bend=False), bore(r)):
        (one,) = found(of(model))
        assert is_as_made(one, r)
        designation = f"ISO 18388 - {r.form} {r.radius:g} × {r.depth:g}".replace(".", ",")
        assert plain(rows(one, 1, ISO_MM), ISO_MM) == designation


@pytest.mark.parametrize("disguise", DISGUISES)
@pytest.mark.parametrize("form", "EF")
def test_grooves_are_found_in_every_disguise(form: str, disguise: str, tmp_path: Path) -> None:
    r = ALL[f"{form} 1.6x0.3"]
    (shape,) = shaft(r).shapes.values()
    (one,) = found(disguised(shape, disguise, tmp_path))
    assert [round(one.size(n) or 0.0, 4) for n in ("radius", "depth", "width", "height")] == [
        r.radius,
        r.depth,
        r.width,
        r.face_depth,
    ]


@pytest.mark.parametrize("name", ["E 0.6x0.3", "F 1x0.4"])
def test_a_bore_goes_on_through_its_groove_to_the_shoulder(name: str) -> None:
    (hole,) = features(of(bore(ALL[name]))).holes
    assert (hole.kind, hole.diameter, hole.is_through) == ("counterbored", 12, True)
    (head,) = hole.heads
    assert (head.diameter, head.depth) == pytest.approx((2 * ROUND, LONG))


def test_depths_are_measured_to_the_floor_where_its_corner_is_rounded() -> None:
    """Common practice."""
    to = [{"line": [0, OUTER]}, {"line": [60, OUTER]}, {"line": [60, 6]}, {"line": [40, 6]}]
    to += [{"line": [40, 13]}, {"arc": [38, 15], "through": [40 - 2 + math.sqrt(2), 13 + math.sqrt(2)]}]
    (hole,) = features(of(turned([*to, {"line": [0, 15]}], [0, 15]))).holes
    assert [(h.kind, h.diameter, h.depth) for h in hole.heads] == [("counterbore", 30, pytest.approx(40))]
    blind = [*to[:2], {"line": [60, 0]}, {"line": [40, 0]}, *to[4:], {"line": [0, 15]}]
    (hole,) = features(of(turned(blind, [0, 15]))).holes
    assert (hole.diameter, hole.depth, hole.bottom) == (30, pytest.approx(40), "flat")


def test_a_groove_of_other_sizes_is_said_by_its_sizes() -> None:
    odd = Relief("E", 0.7, 0.25, 3.0, 0.0)
    (one,) = found(of(shaft(odd)))
    assert plain(rows(one, 1, ISO_MM), ISO_MM) == "3 × 0,25 R0,7"
    standard = found(of(shaft(ALL["E 0.6x0.3"])))[0]
    assert plain(rows(standard, 2, ASME_INCH), ASME_INCH) == "2X .098 X .012 R.024"


def test_a_fillet_and_a_groove_with_other_slopes_are_none() -> None:
    to = [{"line": [0, ROUND]}, {"line": [LONG - 2, ROUND]}]
    to += [{"arc": [LONG, ROUND + 2], "through": [LONG - 2 + math.sqrt(2), ROUND + 2 - math.sqrt(2)]}]
    to += [{"line": [LONG, OUTER]}, {"line": [LONG + 20, OUTER]}, {"line": [LONG + 20, 0]}, {"line": [0, 0]}]
    kinds = {f.kind for f in features(of(turned(to, [0, 0]))).others}
    assert kinds == {"fillet"}


def test_what_holds_for_every_groove_of_the_table() -> None:
    """The rounding and the slope fit into the width; t1 is less than the radius or as deep; no two are called
    alike; and each is found by its own sizes."""
    assert len(ALL) == 24
    for r in ALL.values():
        slope = math.radians(SLOPE)
        assert r.width > r.radius - r.face_depth + r.depth / math.tan(slope) + r.radius * math.tan(slope / 2)
        assert r.depth <= r.radius / 2
        assert r.face_depth <= r.depth
        assert relief(r.radius, r.depth, r.width, r.face_depth) == r
    assert relief(0.6, 0.3, 2.6) is None
