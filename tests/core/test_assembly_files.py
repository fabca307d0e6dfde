"""Assemblies as files: several files of one, what files say of parts, levels kept, other hands, and what is
not solid."""

import io
import re
import zipfile
from pathlib import Path

import numpy as np
import pytest
from OCP.BRep import BRep_Builder
from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox
from OCP.TopAbs import TopAbs_ShapeEnum
from OCP.TopoDS import TopoDS_Compound

from drafting.errors import ModelError
from drafting.kernel import measure, step
from drafting.kernel.topology import subshapes
from drafting.model import bundle
from drafting.model.assembly import build_model
from drafting.model.model import IDENTITY, Model
from drafting.model.recipe import validate_recipe
from drafting.model.step import read_model, write_model
from drafting.views.derive import Prepared, derive
from drafting.views.geometry import arc_points
from drafting.views.orientation import PRINCIPAL, isometric
from tests.core.test_assembly import KNOWN, PIN, PLATE, assembly, of_pairs
from tests.step_sets import with_properties, write_set


def zip_of(files: dict[str, bytes]) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return buffer.getvalue()


# ---- several files -----------------------------------------------------------------------------------------
def test_files_of_one_assembly_are_found_in_a_zip_whatever_its_folders(tmp_path: Path) -> None:
    (tmp_path / "made").mkdir()
    write_set(tmp_path / "made")
    files = {f.name: f.read_bytes() for f in (tmp_path / "made").iterdir()}
    alone = (Path("/usr/share/opencascade/data/step/screw.step")).read_bytes()
    data = zip_of(
        {
            "rack/rack.step": files["rack.step"],
            **{f"rack/parts/{n}": d for n, d in files.items() if n != "rack.step"},
            "screw.step": alone,
            "readme.txt": b"hello",
            "__MACOSX/._rack.step": b"x",
        }
    )
    (tmp_path / "out").mkdir()
    groups = bundle.sorted_out(tmp_path / "out", bundle.unpack(io.BytesIO(data), tmp_path / "out"))
    assert [(g.root, sorted(g.members)) for g in groups] == [
        ("rack.step", ["part_Bar.stp", "part_Peg.stp", "rack.step"]),
        ("screw.step", ["screw.step"]),
    ]
    facts = read_model(tmp_path / "out" / "rack.step", "rack").facts
    assert sorted((p.name, sum(i.part == k for i in facts.instances)) for k, p in facts.parts.items()) == [
        ("Bar", 1),
        ("Peg", 3),
    ]
    assert facts.high == pytest.approx([200, 20, 60])


@pytest.mark.parametrize("how", ["{}", "../{}", "parts/{}", "/{folder}/{}", r"C:\\parts\\{}"])
def test_a_file_that_was_not_brought_along_is_named_and_never_sought_elsewhere(
    how: str, tmp_path: Path
) -> None:
    """The missing file lies where the reference points, but not beside the assembly."""
    (tmp_path / "in" / "parts").mkdir(parents=True)
    write_set(tmp_path)
    text = (
        (tmp_path / "rack.step")
        .read_text()
        .replace("part_Peg.stp", how.format("part_Peg.stp", folder=tmp_path))
    )
    (tmp_path / "in" / "parts" / "part_Peg.stp").write_bytes((tmp_path / "part_Peg.stp").read_bytes())
    (tmp_path / "in" / "part_Bar.stp").write_bytes((tmp_path / "part_Bar.stp").read_bytes())
    (tmp_path / "in" / "rack.step").write_text(text)
    with pytest.raises(
        ModelError,
        match=(
            r"^The assembly rack\.step refers to the file part_Peg\.stp, "
            r"which was not brought along: drop all"
        ),
    ):
        read_model(tmp_path / "in" / "rack.step", "rack")


def test_references_into_folders_are_found_beside_the_file_in_a_zip(tmp_path: Path) -> None:
    write_set(tmp_path)
    files = {f.name: f.read_bytes() for f in tmp_path.glob("*.st*p")}
    files["rack.step"] = files["rack.step"].replace(b"part_Peg.stp", b"../stock/part_Peg.stp")
    (tmp_path / "out").mkdir()
    bundle.unpack(io.BytesIO(zip_of(files)), tmp_path / "out")
    assert len(read_model(tmp_path / "out" / "rack.step", "rack").facts.instances) == 4


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"PK\x03\x04 and then nothing", "cannot be opened"),
        (zip_of({"notes.txt": b"-"}), "no STEP file and no recipe"),
        (zip_of({"a/one.step": b"-", "b/one.step": b"-"}), "two files called one.step"),
        (zip_of({f"{n}.step": b"" for n in range(bundle.MOST_FILES + 1)}), "more than 2000 files"),
    ],
)
def test_zips_that_cannot_be_are_refused(data: bytes, says: str, tmp_path: Path) -> None:
    with pytest.raises(ModelError, match=says):
        bundle.unpack(io.BytesIO(data), tmp_path)
    assert not list(tmp_path.rglob("one.step")) or says.startswith("two")


def test_a_zip_writes_nothing_outside_its_folder_and_a_bomb_is_refused(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    (tmp_path / "in").mkdir()
    assert bundle.unpack(io.BytesIO(zip_of({"../../out.step": b"ISO-10303-21;"})), tmp_path / "in") == [
        "out.step"
    ]
    assert sorted(p.name for p in tmp_path.rglob("*")) == ["in", "out.step"]
    assert (tmp_path / "in" / "out.step").exists()
    monkeypatch.setattr(bundle, "MOST_BYTES", 2**20)
    with pytest.raises(ModelError, match="GB of models"):
        bundle.unpack(io.BytesIO(zip_of({"bomb.step": b"0" * (2**20 + 1)})), tmp_path / "in")


def test_recipes_that_come_together_are_read_parts_first(tmp_path: Path) -> None:
    import json

    pair, top = KNOWN["A-1"], of_pairs(2, properties={"number": "A-2"})
    for name, data in {
        "a-top.json": top,
        "b-pair.json": pair,
        "c-plate.json": PLATE,
        "d-pin.json": PIN,
        "e-broken.json": "{",
    }.items():
        (tmp_path / name).write_text(data if isinstance(data, str) else json.dumps(data))
    names = [f.name for f in tmp_path.iterdir()]
    (group,) = bundle.sorted_out(tmp_path, names)
    order = group.members
    assert set(order) == set(names)
    assert (
        max(order.index("c-plate.json"), order.index("d-pin.json"))
        < order.index("b-pair.json")
        < order.index("a-top.json")
    )


# ---- what files say of parts -------------------------------------------------------------------------------
def test_number_description_material_and_properties_come_from_the_file(tmp_path: Path) -> None:
    write_set(tmp_path)
    said = {
        "Vendor": "Cobble and Sons",
        "Surface finish": "zinc plated",
        "Material": "steel S355",
        "Unit cost": "12,50",
        "Drawer": r"B\X2\00E9\X0\ 4",
        "Make or Buy": "Bought",
        "density": "7.8",
    }
    text = with_properties((tmp_path / "part_Peg.stp").read_text(), "HB-301", "a peg''s length", said)
    (tmp_path / "part_Peg.stp").write_text(text)
    facts = read_model(tmp_path / "rack.step", "rack").facts
    peg = next(p for p in facts.parts.values() if p.name == "Peg")
    assert (peg.number, peg.description, peg.material, peg.finish) == (
        "HB-301",
        "a peg's length",
        "steel S355",
        "zinc plated",
    )
    assert (peg.supplier, peg.make, peg.unit_cost, peg.own) == (
        "Cobble and Sons",
        "buy",
        12.5,
        {"Drawer": "Bé 4"},
    )
    bar = next(p for p in facts.parts.values() if p.name == "Bar")
    assert (bar.number, bar.material, bar.own) == ("", "", {})  # its product's id is but its name


def test_an_id_that_all_products_share_is_no_number(tmp_path: Path) -> None:
    write_set(tmp_path)
    for file in tmp_path.glob("part_*.stp"):
        file.write_text(with_properties(file.read_text(), "1", "", {}))
    assert {p.number for p in read_model(tmp_path / "rack.step", "rack").facts.parts.values()} == {""}


# ---- levels ------------------------------------------------------------------------------------------------
def test_levels_written_as_step_come_back_and_recur_once(tmp_path: Path) -> None:
    """NEXT_ASSEMBLY_USAGE_OCCURRENCE counts what stands in what, each subassembly's contents once (ISO
    10303-44, from memory)."""
    middle = of_pairs(3, properties={"number": "A-2"})
    top = assembly(
        [{"id": f"m{n}", "part": "m", "at": {"origin": [300 * n, 0, 0], "x": [0, 1, 0]}} for n in range(2)],
        [],
        parts={"m": {"model": "A-2"}},
    )
    model = build_model(validate_recipe(top), {**KNOWN, "A-2": middle}.get)
    write_model(model, tmp_path / "top.step")
    text = re.sub(r"\s+", "", (tmp_path / "top.step").read_text())
    assert len(re.findall(r"=NEXT_ASSEMBLY_USAGE_OCCURRENCE\(", text)) == 2 + (3 + 1) + 3  # top, middle, pair
    back = read_model(tmp_path / "top.step", "top").facts
    assert len(back.instances) == len(model.facts.instances) == 20
    assert len(back.tree.children) == 2
    assert [len(n.children) for n in back.tree.children] == [4, 4]
    places = lambda f: sorted(tuple(np.array(i.matrix).round(6).ravel() + 0.0) for i in f.instances)  # noqa: E731
    assert np.abs(np.array(places(back)) - np.array(places(model.facts))).max() < 1e-6


# ---- other hands -------------------------------------------------------------------------------------------
def _handed() -> Model:
    part = {
        **PLATE,
        "features": [
            *PLATE["features"],
            {"id": "c", "kind": "chamfer", "edges": ["b/end|b/side.right"], "length": 5},
        ],
    }
    data = assembly(
        [
            {"id": "one", "part": "plate"},
            {"id": "other", "part": "plate", "mirrored": True, "at": {"origin": [0, 0, 100]}},
        ],
        [],
        parts={"plate": part},
    )
    return build_model(validate_recipe(data))


def test_a_mirrored_instance_is_a_part_of_its_own_with_the_names_of_the_first() -> None:
    facts = _handed().facts
    one, other = (facts.parts[i.part] for i in facts.instances)
    assert (other.name, other.number) == ("Plate, mirrored", "")
    assert other.volume == pytest.approx(one.volume)
    assert [f.name for f in other.faces] == [f.name for f in one.faces]
    assert {f.name: f.feature for f in other.faces} == {f.name: f.feature for f in one.faces}
    hole = other.face("h/bore") or pytest.fail("no bore")
    assert hole.origin[:2] == pytest.approx([-20, 10])
    right = other.face("b/side.right") or pytest.fail("no side")
    assert right.axis == pytest.approx([-1, 0, 0])


def test_a_step_file_that_mirrors_gives_the_other_hand_as_a_part(tmp_path: Path) -> None:
    """Views of it are mirror images: the same lengths of visible line."""
    shape, part = _handed().shapes["plate"], _handed().facts.parts["plate"]
    mirrored = [[-1.0, 0, 0, 300], [0, 1, 0, 0], [0, 0, 1, 0], [0, 0, 0, 1]]
    nodes = [
        step.StepNode("plate", IDENTITY, "p", None, shape),
        step.StepNode("plate", mirrored, "p", None, shape),
    ]
    from drafting.model.step import model_of

    model = model_of(step.StepFile([step.StepNode("root", IDENTITY, "r", None, None, nodes)], "mm", []), "x")
    names = [model.facts.parts[i.part].name for i in model.facts.instances]
    assert names == ["plate", "plate, mirrored"]
    assert all(np.linalg.det(np.array(i.matrix)[:3, :3]) > 0 for i in model.facts.instances)
    assert model.facts.high[0] == pytest.approx(300 + 50)
    assert measure.volume(model.shapes["p:mirrored"]) == pytest.approx(part.volume)
    for view in (PRINCIPAL["front"], PRINCIPAL["top"], isometric(PRINCIPAL["front"])):
        g = derive(Prepared(model), view)
        lengths = {
            n: [np.diff(arc_points(c), axis=0) for c in g.curves if c.instance == n and c.visible]
            for n in (0, 1)
        }
        length = [sum(float(np.linalg.norm(d, axis=1).sum()) for d in lengths[n]) for n in (0, 1)]
        if view != isometric(PRINCIPAL["front"]):
            assert length[0] == pytest.approx(length[1], rel=1e-6)
        assert min(length) > 0


# ---- what is not solid -------------------------------------------------------------------------------------
def test_a_part_without_a_solid_is_told_and_the_rest_is_kept() -> None:
    face = subshapes(BRepPrimAPI_MakeBox(10, 10, 10).Shape(), TopAbs_ShapeEnum.TopAbs_FACE)[0]
    compound, builder = TopoDS_Compound(), BRep_Builder()
    builder.MakeCompound(compound)
    builder.Add(compound, face)
    nodes = [
        step.StepNode("Bar", IDENTITY, "b", None, BRepPrimAPI_MakeBox(50, 10, 10).Shape()),
        step.StepNode("Skin", IDENTITY, "s", None, compound),
    ]
    from drafting.model.step import model_of

    model = model_of(step.StepFile([step.StepNode("root", IDENTITY, "r", None, None, nodes)], "mm", []), "x")
    assert model.facts.notes == [
        "Skin holds surfaces only and no solid body: it is drawn, but has no mass and is not cut by sections."
    ]
    assert derive(Prepared(model), PRINCIPAL["front"]).curves
