"""STEP files nobody here wrote, files of our own, and files that are none."""

import math
import re
import resource
import subprocess
import sys
from pathlib import Path

import pytest
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge
from OCP.collections import HArray1_double as Parameters
from OCP.collections import HArray1_gp_Pnt as Points
from OCP.GeomAPI import GeomAPI_Interpolate
from OCP.gp import gp_Pnt, gp_Vec

from drafting.child import ChildCrashed, FreshChildren, KernelChild
from drafting.errors import DraftingError, ModelError
from drafting.kernel import measure
from drafting.kernel.step import declared_units
from drafting.kernel.topology import _as_circle
from drafting.model import bill
from drafting.model.archive import pack, unpack
from drafting.model.model import Facts, Model
from drafting.model.preview import preview_glb
from drafting.model.step import clean_name, read_model, write_model
from drafting.model.step_words import product_words
from drafting.model.upload import check_header
from drafting.views.derive import Prepared, derive
from drafting.views.orientation import PRINCIPAL
from tests.core.conftest import ROOT, STEP_FILES, block


@pytest.mark.parametrize("name", STEP_FILES)
def test_files_from_elsewhere_are_read_and_give_views(name: str) -> None:
    told: list[float] = []
    model = read_model(STEP_FILES[name], name, lambda done, text: told.append(done))
    assert model.facts.kind == "part"
    assert model.facts.units == "mm"
    facts = model.facts.parts[model.facts.instances[0].part]
    assert facts.volume > 0
    assert len({e.name for e in facts.edges}) == len(facts.edges)
    assert told == sorted(told)
    assert len(told) >= 3
    if name != "linkrods":
        g = derive(Prepared(model), PRINCIPAL["front"])
        assert all(c.source for c in g.curves)
        spans = [h - low for low, h in zip(model.facts.low, model.facts.high, strict=True)]
        assert [g.high[0] - g.low[0], g.high[1] - g.low[1]] == pytest.approx([spans[0], spans[2]], rel=2e-3)


def test_a_placeholder_product_name_gives_way_to_the_file_name() -> None:
    assert read_model(STEP_FILES["screw"], "screw").facts.name == "screw"


def test_the_winder_written_as_step_comes_back_whole(winder: Model, tmp_path: Path) -> None:
    path = tmp_path / "winder.step"
    write_model(winder, path)
    back = read_model(path, "winder")
    assert back.facts.name == "Sluice winder"
    assert len(back.facts.instances) == len(winder.facts.instances)
    assert sorted(p.name for p in back.facts.parts.values()) == sorted(
        p.name for p in winder.facts.parts.values()
    )
    total = sum(winder.facts.parts[i.part].volume for i in winder.facts.instances)
    assert sum(back.facts.parts[i.part].volume for i in back.facts.instances) == pytest.approx(
        total, rel=1e-6
    )
    assert back.facts.low == pytest.approx(winder.facts.low, abs=1e-4)
    bronze = next(p for p in back.facts.parts.values() if p.name == "Flanged bush")
    assert bronze.color == pytest.approx([0.72, 0.56, 0.30], abs=0.01)


def test_a_prepared_model_survives_packing(winder: Model) -> None:
    again = unpack(pack(winder))
    assert again.facts.model_dump() == winder.facts.model_dump()
    assert measure.volume(again.shapes["bush"]) == pytest.approx(winder.facts.parts["bush"].volume, rel=1e-9)


def test_the_preview_is_binary_gltf_with_a_node_for_each_instance(winder: Model) -> None:
    data = preview_glb(winder)
    assert data[:4] == b"glTF"
    import io

    import trimesh

    scene = trimesh.load(io.BytesIO(data), file_type="glb")
    assert {i.path for i in winder.facts.instances} <= set(scene.graph.nodes)
    volume = sum(scene.geometry[scene.graph[i.path][1]].volume for i in winder.facts.instances) * 1e9
    assert volume == pytest.approx(
        sum(winder.facts.parts[i.part].volume for i in winder.facts.instances), rel=0.02
    )


@pytest.mark.parametrize(
    ("declaration", "unit"),
    [
        ("#1=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.));", "mm"),
        ("#1=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT($,.METRE.));", "m"),
        ("#1=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.CENTI.,.METRE.));", "cm"),
        ("#1=SI_UNIT(.MILLI.,.METRE.);#2=(CONVERSION_BASED_UNIT('INCH',#3)LENGTH_UNIT());", "in"),
        ("nothing", "mm"),
    ],
)
def test_declared_units_are_read(declaration: str, unit: str, tmp_path: Path) -> None:
    (tmp_path / "f.step").write_text(declaration)
    assert declared_units(tmp_path / "f.step") == unit


def _surface_only(path: Path) -> None:
    from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox
    from OCP.STEPControl import STEPControl_StepModelType, STEPControl_Writer
    from OCP.TopAbs import TopAbs_ShapeEnum

    from drafting.kernel.topology import subshapes

    writer = STEPControl_Writer()
    face = subshapes(BRepPrimAPI_MakeBox(10, 10, 10).Shape(), TopAbs_ShapeEnum.TopAbs_FACE)[0]
    writer.Transfer(face, STEPControl_StepModelType.STEPControl_AsIs)
    writer.Write(str(path))


def test_what_cannot_be_a_model_is_said_in_one_sentence(tmp_path: Path) -> None:
    whole = STEP_FILES["screw"].read_bytes()
    head, body = whole.split(b"DATA;", 1)
    cases = {
        "zeros": (b"\0" * 1_000_000, "not a STEP file"),
        "text": (b"dear all, the drawing is attached", "not a STEP file"),
        "nothing": (b"", "empty"),
        "truncated": (whole[: len(whole) // 2], "cut short"),
        "hollow": (head + b"DATA;\nENDSEC;\nEND-ISO-10303-21;\n", "no shape"),
        "mangled": (
            head + b"DATA;\n" + body[:3000] + b"\n#!!!(((;\nENDSEC;\nEND-ISO-10303-21;\n",
            "STEP file",
        ),
    }
    for name, (data, says) in cases.items():
        path = tmp_path / f"{name}.step"
        path.write_bytes(data)
        with pytest.raises(ModelError, match=says):
            read_model(path, name)
    _surface_only(tmp_path / "surface.step")
    with pytest.raises(ModelError, match="surfaces only"):
        read_model(tmp_path / "surface.step", "surface")
    with pytest.raises(ModelError, match="ISO-10303-21"):
        check_header(b"PK\x03\x04" + b"\0" * 4000)


def test_a_child_that_is_killed_or_hangs_is_a_sentence_and_the_next_request_works(tmp_path: Path) -> None:
    import os
    import signal

    path = tmp_path / "screw.step"
    path.write_bytes(STEP_FILES["screw"].read_bytes())
    asked = {
        "source": str(path),
        "name": "screw",
        "kind": "step",
        "folder": str(tmp_path),
        "root": "screw.step",
        "recipes": {},
        "archives": {},
    }
    with KernelChild() as child:
        child.request("read", 120, **asked)  # warm: the process is there

        def kill(done: float, text: str) -> None:
            os.kill(child.pid or 0, signal.SIGKILL)

        with pytest.raises(ChildCrashed, match="crashed on this file; nothing else"):
            child.request("read", 120, kill, **asked)
        child.request("read", 120, **asked)
        os.kill(child.pid or 0, signal.SIGSTOP)  # a hang
        with pytest.raises(ChildCrashed, match="did not finish within 1 seconds"):
            child.request("read", 1, **asked)
        path.write_bytes(b"nonsense")
        with pytest.raises(DraftingError, match="not a STEP file"):
            child.request("read", 120, **asked)


def test_each_file_is_read_by_a_process_that_has_read_nothing_before(tmp_path: Path) -> None:
    store = FreshChildren()
    wanted = {"kind": "step", "folder": str(tmp_path), "root": "screw.step", "recipes": {}, "archives": {}}
    seen = []
    for _ in range(2):
        with store.take() as child:
            seen.append(child.pid)
            child.request("read", 60, source=str(STEP_FILES["screw"]), name="screw", **wanted)
        assert child.pid is None
    with store.take() as child:
        seen.append(child.pid)
    assert len(set(seen)) == 3
    store.close()


def test_mass_of_steel_from_exact_volume() -> None:
    """7.85 g/cm3 (handbook, memory): a 100 mm cube of steel weighs 7.85 kg."""
    from drafting.standards.materials import DENSITIES, mass_kg

    volume = block(100, 100, 100).facts.parts["part"].volume
    assert mass_kg(volume, "steel S235") == pytest.approx(7.85)
    assert mass_kg(volume, "unobtainable") is None
    assert DENSITIES["aluminium 6061"] == 2.70
    assert math.isclose(mass_kg(math.pi * 1e3, "brass CuZn39Pb3") or 0, math.pi * 8.5e-3)


def test_splines_that_are_lines_and_circles_are_known_as_such() -> None:
    """t20_data.step gives every curve as a spline; its straight and round ones can be sized all the same."""
    model = read_model(STEP_FILES["t20"], "t20")
    edges = [e for p in model.facts.parts.values() for e in p.edges]
    lines, circles = [e for e in edges if e.kind == "line"], [e for e in edges if e.kind == "circle"]
    assert lines
    assert circles
    for e in lines:
        assert e.length == pytest.approx(math.dist(e.start, e.end), rel=1e-6)
    for e in circles:
        assert e.length == pytest.approx(e.radius * (e.last - e.first), rel=1e-5)  # arc length
        assert math.dist(e.middle, e.center or []) == pytest.approx(e.radius, rel=1e-6)


@pytest.mark.parametrize(("off", "round_"), [(0.0, True), (2e-4, True), (1e-2, False), (0.4, False)])
def test_a_free_curve_is_round_only_where_all_of_it_is(off: float, round_: bool) -> None:
    """A spline through a circle of 60 that leaves it by so much between every two of sixteen places."""
    points, parameters = Points(1, 33), Parameters(1, 33)
    for i in range(33):
        t = 1.8 * math.pi * i / 32
        r = 30 + (off if i % 2 else 0.0)
        points.SetValue(i + 1, gp_Pnt(r * math.cos(t), r * math.sin(t), 0))
        parameters.SetValue(i + 1, i / 32)
    fit = GeomAPI_Interpolate(points, parameters, False, 1e-7)
    end, speed = 1.8 * math.pi, 30 * 1.8 * math.pi
    fit.Load(gp_Vec(0, speed, 0), gp_Vec(-math.sin(end) * speed, math.cos(end) * speed, 0), False)
    fit.Perform()
    curve = BRepAdaptor_Curve(BRepBuilderAPI_MakeEdge(fit.Curve()).Edge())
    found = _as_circle(curve)
    assert (found is not None) == round_
    if found:
        assert found[3] == pytest.approx(30, abs=1e-3)


GMSH = Path(sys.prefix) / "share" / "doc" / "gmsh" / "examples" / "boolean"


def rewritten(model: Model, folder: Path, *changes: tuple[str, str]) -> Path:
    """A model's STEP file with words of it changed."""
    path = folder / "model.step"
    write_model(model, path)
    text = path.read_text()
    for old, new in changes:
        assert old in text
        text = text.replace(old, new)
    path.write_text(text)
    return path


def test_names_are_the_files_and_only_paths_are_numbered() -> None:
    """The assembly of the gmsh wheel's examples: several bolts and nuts of one name stand side by side."""
    facts = read_model(GMSH / "as1-tu-203.stp", "as1").facts
    assert {i.name for i in facts.instances} == {"bolt", "nut", "rod", "plate", "l-bracket"}
    assert len({i.path for i in facts.instances}) == len(facts.instances) == 18
    nuts = [i.path for i in facts.instances if i.path.startswith("as1/rod-assembly/nut")]
    assert nuts == ["as1/rod-assembly/nut", "as1/rod-assembly/nut-2"]


def test_names_in_letters_that_paths_cannot_have_are_kept(tmp_path: Path, winder: Model) -> None:
    path = rewritten(winder, tmp_path, ("'Washer 10'", "'\\X2\\5E7330EF30C330B730E330FC\\X0\\'"))
    facts = read_model(path, "x").facts
    (washer,) = [p for p in facts.parts.values() if p.name == "平ワッシャー"]
    assert bill.part_name(facts, next(k for k, p in facts.parts.items() if p is washer)) == "平ワッシャー"
    paths = [i.path for i in facts.instances if facts.parts[i.part] is washer]
    assert len(set(paths)) == len(paths) == 12


@pytest.mark.parametrize(
    "noise", ["NOT SPECIFIED", "None", "void", "Open CASCADE STEP translator 7.8 12.1", "$", "n/a"]
)
def test_what_writers_put_for_nothing_is_no_name_and_no_description(noise: str) -> None:
    assert clean_name(noise) == ""


@pytest.mark.parametrize("name", ["None-slip mat", "Void former", "Solid rivet", "N/A 20 seal"])
def test_names_that_begin_like_it_stay(name: str) -> None:
    assert clean_name(name) == name


def test_a_part_without_a_name_is_not_called_by_its_assembly(tmp_path: Path, winder: Model) -> None:
    path = rewritten(winder, tmp_path, ("'Washer 10'", "''"))
    facts = read_model(path, "x").facts
    names = {bill.part_name(facts, key) for key in facts.parts}
    assert facts.name not in names
    assert "Bearing block" in names


def test_a_name_of_twenty_thousand_letters_is_cut_with_a_note(tmp_path: Path) -> None:
    path = rewritten(block(20, 20, 20), tmp_path, ("'Test'", f"'{'N' * 20_000}'"))
    facts = read_model(path, "x").facts
    assert facts.name == "N" * 120
    assert facts.notes == ["A text of 20,000 letters in the file was cut to 400."]
    assert next(iter(facts.parts.values())).volume == pytest.approx(8000)


@pytest.mark.parametrize(
    ("value", "mass", "length", "powers"),
    [
        ("7.878", "$", ".CENTI.", ("1.", "-3.")),
        ("7878.", ".KILO.", "$", ("1.", "-3.")),
        ("7.878E-6", ".KILO.", ".MILLI.", ("1.", "-3.")),
        ("7.878", "$", ".CENTI.", ("3.", "2.")),  # as a widely used writer has it
    ],
)
def test_a_density_that_the_file_states_is_taken_over_in_its_unit(
    tmp_path: Path, value: str, mass: str, length: str, powers: tuple[str, str]
) -> None:
    """ISO 10303-45 and -41: a material property of the product, in a derived unit (names from memory)."""
    facts = with_density(tmp_path, value, mass, length, powers)
    (part,) = facts.parts.values()
    assert part.material == "Brightalloy 5"
    assert part.own == {}
    assert facts.mass(part) == pytest.approx(8 * 7.878e-3)


@pytest.mark.parametrize(
    ("value", "mass", "length", "powers"),
    [
        ("7.878", "$", ".CENTI.", ("2.", "-3.")),  # no density
        ("0.28", "$", "$", ("1.", "-3.")),  # lighter than anything
        ("7.878", ".ODD.", ".CENTI.", ("1.", "-3.")),
    ],
)
def test_a_density_that_cannot_be_told_leaves_the_mass_unknown(
    tmp_path: Path, value: str, mass: str, length: str, powers: tuple[str, str]
) -> None:
    facts = with_density(tmp_path, value, mass, length, powers)
    assert facts.densities == {}
    assert facts.total_mass() is None


def with_density(folder: Path, value: str, mass: str, length: str, powers: tuple[str, str]) -> Facts:
    """A block of a material that no list has, whose file states a density."""
    path = rewritten(block(20, 20, 20), folder)
    text = path.read_text()
    product = re.search(r"(#\d+) = PRODUCT_DEFINITION\(", text)
    assert product
    more = f"""
#9001 = REPRESENTATION('material name',(#9002),$);
#9002 = DESCRIPTIVE_REPRESENTATION_ITEM('Brightalloy 5','');
#9003 = DERIVED_UNIT((#9004,#9005));
#9004 = DERIVED_UNIT_ELEMENT(#9006,{powers[0]});
#9005 = DERIVED_UNIT_ELEMENT(#9007,{powers[1]});
#9006 = ( MASS_UNIT() NAMED_UNIT(*) SI_UNIT({mass},.GRAM.) );
#9007 = ( LENGTH_UNIT() NAMED_UNIT(*) SI_UNIT({length},.METRE.) );
#9008 = REPRESENTATION('density',(#9009),$);
#9009 = MEASURE_REPRESENTATION_ITEM('density measure',POSITIVE_RATIO_MEASURE({value}),#9003);
#9010 = PROPERTY_DEFINITION('material property','material name',{product[1]});
#9011 = PROPERTY_DEFINITION_REPRESENTATION(#9010,#9001);
#9012 = PROPERTY_DEFINITION('material property','density',{product[1]});
#9013 = PROPERTY_DEFINITION_REPRESENTATION(#9012,#9008);
ENDSEC;
END-ISO"""
    path.write_text(text.replace("\nENDSEC;\nEND-ISO", more))
    return read_model(path, "x").facts


HOSTILE = {
    "apostrophes in a comment": b"/*" + b"'" * 81 + b" */",
    "statements that never end": b"#1=PRODUCT(" * 300_000,
    "texts that never end": b"#1=PRODUCT('" * 300_000,
    "doubled apostrophes": b"#1=PRODUCT('" + b"''" * 1_000_000,
    "comments that never end": b"#1=PRODUCT('a'/*" * 200_000,
    "stars": b"/*" + b"*" * 3_000_000,
    "blanks": b"#1 = " + b" " * 3_000_000 + b"PRODUCT('a');",
    "digits": b"#" + b"1" * 3_000_000 + b"=PRODUCT(" + b"1" * 3_000_000 + b");",
    "underscores": b"#1=" + b"A_" * 1_500_000 + b"('a');",
    "units": b"#1=(" * 500_000 + b"SI_UNIT DERIVED_UNIT",
    "densities": b"#1=DERIVED_UNIT_ELEMENT(#2," + b"-" * 30 + b");#3=DERIVED_UNIT((#1,#1));",
}


@pytest.mark.parametrize("name", HOSTILE)
def test_text_is_scanned_in_proportion_to_its_length(name: str, tmp_path: Path) -> None:
    """A process that may compute for ten seconds reads a few megabytes of anything; a pattern that goes back
    over what it met would take hours."""
    path = tmp_path / "hostile.step"
    path.write_bytes(HOSTILE[name])
    code = "import sys, pathlib as p, drafting.model.step_words as w; w.product_words([p.Path(sys.argv[1])])"
    done = subprocess.run(
        [sys.executable, "-c", code, str(path)],
        capture_output=True,
        cwd=ROOT,
        preexec_fn=lambda: resource.setrlimit(resource.RLIMIT_CPU, (10, 10)),
    )
    assert done.returncode == 0, done.stderr.decode()[-500:]


def test_words_in_comments_are_not_the_files(tmp_path: Path) -> None:
    path = tmp_path / "said.step"
    path.write_bytes(
        b"#1=PRODUCT('A-1','Arm; long''s','',(#9));/* #2=PRODUCT('B-2','It''s','',(#9)); */"
        b"#3=PRODUCT_DEFINITION_FORMATION('','',#1);#4 = PRODUCT_DEFINITION ( 'x' , '/* y' , #3 , #8 ) ;"
    )
    assert product_words([path]) == {("A-1", "Arm; long's"): {}}
