"""What the office says of an assembly: parts that are the same, masses, marks for sections; mates' sizes and
reading order over the API."""

from collections.abc import Callable
from typing import Any

import pytest
import shapely
from django.test import Client

from drafting.annotation.kinds import balloon
from drafting.annotation.kinds.balloon import Balloon
from drafting.compose import annotation_groups
from drafting.ink.shapes import shapes
from server.accounts.models import Workspace
from server.drawings import service, store
from server.drawings.models import Drawing
from server.library.facts import current_facts
from server.library.models import Model
from server.library.reading import read_into
from tests.server.conftest import RECIPES, post

Work = Callable[[], int]


@pytest.fixture
def twin(office: Workspace) -> Model:
    names = (
        "HB-202",
        "HB-204",
        "HB-205",
        "HB-206",
        "HB-207",
        "HB-208",
        "HB-209",
        "HB-210",
        "HB-211",
        "HB-212",
        "HB-213",
        "HB-215",
        "HB-216",
        "HB-217",
        "HB-221",
        "HB-222",
        "HB-231",
        "HB-232",
        "HB-233",
        "HB-234",
        "HB-235",
        "HB-236",
        "HB-237",
    )
    for name in (*names, "HB-200", "HB-220"):
        read_into(office, f"{name}.json", RECIPES / f"{name}.json")
    return Model.objects.get(number="HB-220")


@pytest.fixture
def copies(office: Workspace, tmp_path: Any) -> Model:
    """A STEP file with one pin twice as parts of their own, and a bar."""
    from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox, BRepPrimAPI_MakeCylinder

    from drafting.kernel import step
    from drafting.model.model import IDENTITY

    shapes = {
        "Pin": BRepPrimAPI_MakeCylinder(5, 30).Shape(),
        "Pin copy": BRepPrimAPI_MakeCylinder(5, 30).Shape(),
        "Bar": BRepPrimAPI_MakeBox(90, 9, 9).Shape(),
    }
    parts = {key: (key, None, shape) for key, shape in shapes.items()}
    root = step.WriteNode(
        "Rack", IDENTITY, children=[step.WriteNode(key, IDENTITY, part=key) for key in parts]
    )
    step.write_step(parts, root, tmp_path / "rack.step")
    return read_into(office, "rack.step", tmp_path / "rack.step")


def test_parts_of_one_shape_are_offered_and_listed_as_one_until_told_otherwise(
    ann: Client, bob: Client, copies: Model
) -> None:
    page = ann.get(f"/api/models/{copies.pk}").json()
    name = {p["key"]: p["name"] for p in page["parts"]}
    (group,) = page["alike"]
    assert [name[k] for k in group] == ["Pin", "Pin copy"]
    bar = next(k for k, n in name.items() if n == "Bar")
    url = f"/api/models/{copies.pk}/same"
    assert "not of one shape" in post(ann, url, {"parts": [group[0], bar]}).json()["message"]
    assert post(bob, url, {"parts": group}).status_code == 404
    assert post(ann, url, {"parts": [group[0], "ghost"]}).status_code == 404
    page = post(ann, url, {"parts": group}).json()
    assert (page["alike"], page["same_as"]) == ([], {group[1]: group[0]})
    assert {name[p["key"]]: name[p["item"]] for p in page["parts"]} == {
        "Pin": "Pin",
        "Pin copy": "Pin",
        "Bar": "Bar",
    }
    drawing = Drawing.objects.get(pk=post(ann, "/api/drawings", {"model": str(copies.pk)}).json()["id"])
    sheet = store.document_of(drawing).sheets[0].id
    command = {"command": "place", "sheet": sheet, "annotations": [{"kind": "parts_list", "id": "l"}]}
    assert (
        post(ann, f"/api/drawings/{drawing.pk}/commands", {"version": 1, "command": command}).status_code
        == 200
    )
    rows = ann.get(f"/api/drawings/{drawing.pk}/parts-lists/l").json()["rows"]
    assert [(r["cells"]["name"]["text"], r["cells"]["count"]["text"]) for r in rows] == [
        ("Pin", "2"),
        ("Bar", "1"),
    ]
    page = post(ann, url, {"parts": [group[1]]}).json()
    assert page["same_as"] == {}
    assert len(page["alike"]) == 1


def test_a_stated_mass_goes_before_the_computed_one_and_nonsense_is_refused(
    ann: Client, copies: Model
) -> None:
    key = next(k for k, p in current_facts(copies)[1].parts.items() if p.name == "Bar")
    url = f"/api/models/{copies.pk}/properties"
    part = lambda page: next(p for p in page["parts"] if p["key"] == key)  # noqa: E731
    assert part(post(ann, url, {"part": key, "stated_mass": "0,25 kg"}).json())["mass"] == 0.25
    for words in ("heavy", "-1", "0"):
        answer = post(ann, url, {"part": key, "stated_mass": words})
        assert answer.status_code == 422
        assert f"“{words}” is not a mass" in answer.json()["message"]
    assert part(ann.get(f"/api/models/{copies.pk}").json())["stated_mass"] == 0.25
    assert part(post(ann, url, {"part": key, "stated_mass": ""}).json())["mass"] is None
    page = post(ann, url, {"part": key, "counted": "length", "sectioned": "whole"}).json()
    assert (part(page)["counted"], part(page)["sectioned"]) == ("length", "whole")
    assert post(ann, url, {"part": key, "counted": "weight"}).status_code == 422


def test_mates_sizes_and_reading_order_come_over_the_api(
    ann: Client, bob: Client, twin: Model, queue: Work
) -> None:
    drawing = post(ann, "/api/drawings", {"model": str(twin.pk)}).json()
    url, sheet = f"/api/drawings/{drawing['id']}", drawing["document"]["sheets"][0]["id"]

    def edit(**command: Any) -> Any:
        version = Drawing.objects.get(pk=drawing["id"]).version
        answer = post(ann, f"{url}/commands", {"version": version, "command": command})
        assert answer.status_code == 200, answer.content
        return answer.json()

    edit(command="change_sheet", sheet=sheet, size="A1", scale={"drawn": 1, "true": 5})
    edit(
        command="place_main_view",
        id="front",
        sheet=sheet,
        orientation={"right": [1, 0, 0], "up": [0, 0, 1]},
        position={"x": 300, "y": 400},
    )
    edit(
        command="place_projected_view",
        id="top",
        parent="front",
        relation="below",
        position={"x": 300, "y": 200},
    )
    assert ann.get(f"{url}/sheets/{sheet}/model-sizes").status_code == 425
    ann.get(f"{url}/sheets/{sheet}")
    queue()
    found = ann.get(f"{url}/sheets/{sheet}/model-sizes").json()
    sizes = [r["size"] for r in found["rows"]]
    assert len(sizes) == 3
    assert all(r["size"] and r["svg"] and not r["why"] for r in found["rows"])
    edit(command="place", annotations=sizes)
    assert len(ann.get(url).json()["document"]["sheets"][0]["annotations"]) == 3
    kept = Drawing.objects.get(pk=drawing["id"])
    document = store.document_of(kept)
    assert service.composed(kept, document, document.sheets[0]).lost == {}
    assert not any(r["size"] for r in ann.get(f"{url}/sheets/{sheet}/model-sizes").json()["rows"])
    assert bob.get(f"{url}/sheets/{sheet}/model-sizes").status_code == 404
    assert ann.get(f"{url}/sheets/ghost/model-sizes").status_code == 404

    assert "no balloons yet" in ann.get(f"{url}/views/front/reading-order").json()["message"]
    numbered = ann.get(f"{url}/views/front/balloons").json()
    assert {v for part in numbered["unseen"] for v in part["views"]} == {"the top view"}
    edit(command="place", known="replace", annotations=numbered["balloons"])
    kept = Drawing.objects.get(pk=drawing["id"])
    document = store.document_of(kept)
    groups = annotation_groups(document, document.sheets[0], current_facts(kept.model)[1])
    sized = shapely.union_all(
        [g for a in sizes for g in shapes(groups[a["id"]].elements, groups[a["id"]].origin)]
    )  # type: ignore[union-attr]
    stand = [
        (a.place.at(0.2)[0] + 300, a.place.at(0.2)[1] + 400)
        for a in document.sheets[0].annotations
        if isinstance(a, Balloon)
    ]
    assert len(stand) == len(numbered["balloons"]) > 5
    assert shapely.distance(shapely.points(stand), sized).min() > balloon.radius(document.profile)
    keys = ann.get(f"{url}/views/front/reading-order").json()["keys"]
    edit(command="number_in_order", keys=keys)
    items = ann.get(url).json()["document"]["items"]
    assert [items[k]["number"] for k in keys] == list(range(1, len(keys) + 1))
    assert bob.get(f"{url}/views/front/reading-order").status_code == 404


def test_a_model_without_mates_says_where_they_would_come_from(ann: Client, copies: Model) -> None:
    drawing = post(ann, "/api/drawings", {"model": str(copies.pk)}).json()
    answer = ann.get(
        f"/api/drawings/{drawing['id']}/sheets/{drawing['document']['sheets'][0]['id']}/model-sizes"
    )
    assert answer.json()["rows"] == []
    assert "states no mates" in answer.json()["why"]
