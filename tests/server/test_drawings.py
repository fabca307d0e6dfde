"""More of drawings on the server: the cache of views, lost sizes, odd requests, and what files and cards say
of them."""

import importlib
import io
import json
import re
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import ezdxf
import jsonpatch
import pytest
from django.core.management import call_command
from django.test import Client
from django.utils.timezone import now
from procrastinate.contrib.django.models import ProcrastinateJob

from drafting import upgrades
from drafting.export.svg import sheet_svg
from drafting.views.orientation import PRINCIPAL, isometric
from server.drawings import geometry, service, store
from server.drawings.models import DerivedView, Drawing, DrawingSheet, LogEntry
from server.drawings.showing import shown_facts
from server.jobs.models import Job
from server.library.models import Blob, Model
from tests.server.conftest import post
from tests.server.test_api import Desk, Work

pytestmark = pytest.mark.django_db


@pytest.fixture
def desk(ann: Client, bearing: Model, queue: Work) -> Desk:
    return Desk(ann, bearing)


ROOT = Path(__file__).resolve().parents[2]
ISOMETRIC = isometric(PRINCIPAL["front"]).model_dump()


def sheet(desk: Desk) -> Any:
    return desk.client.get(f"{desk.url}/sheets/{desk.sheet['id']}").json()


def test_a_drawing_removed_while_it_is_read_is_not_there(desk: Desk) -> None:
    desk.main()
    drawing = Drawing.objects.get()
    DrawingSheet.objects.filter(drawing=drawing).delete()  # as a removal does just before the drawing itself
    store._documents.clear()
    assert desk.client.get(desk.url).status_code == 404
    assert desk.client.get(f"{desk.url}/views/front/curves").status_code == 404


def test_derived_views_are_a_cache_that_may_be_dropped(desk: Desk, queue: Work) -> None:
    desk.main()
    sheet(desk)
    queue()
    before = desk.client.get(f"{desk.url}/views/front/ink").json()
    DerivedView.objects.all().delete()
    geometry._parsed.cache_clear()
    assert sheet(desk)["views"][0]["state"] == "waiting"
    queue()
    assert desk.client.get(f"{desk.url}/views/front/ink").json() == before


def test_a_view_that_cannot_be_derived_says_why_and_publishing_does_too(desk: Desk, queue: Work) -> None:
    desk.main()
    sheet(desk)
    key = DerivedView.objects.get().key
    DerivedView.objects.filter(pk=key).update(
        state=DerivedView.FAILED, error="The kernel could not find the hidden lines of Bearing block."
    )
    assert "could not find the hidden lines" in sheet(desk)["views"][0]["error"]
    row = store.document_of(Drawing.objects.get())
    assert row.sheets[0].views[0].id == "front"
    geometry_of_broken = Blob.store(b"not a packed model")
    DerivedView.objects.filter(pk=key).update(archive=geometry_of_broken.pk)
    job = post(desk.client, f"{desk.url}/publish", {"format": "pdf"}).json()
    queue()
    said = Job.objects.get(pk=job["id"])
    assert (said.state, "cannot be derived" in said.text) == (Job.FAILED, True)


def size_that_lost_its_edge(desk: Desk) -> None:
    """A main view with a size, left as a new version of the model would leave it that has not its edge."""
    desk.main()
    size = {
        "kind": "linear",
        "id": "d",
        "view": "front",
        "picks": [{"instance": "part", "source": "base/side.bottom|base/start"}],
        "place": {"model": {"x": 0, "y": -49}, "paper": {"x": 0, "y": -10}},
    }
    desk.edit(command="place", annotations=[size])
    row = DrawingSheet.objects.get()
    row.data["annotations"][0]["anchor"]["picks"][0]["source"] = (
        "base/gone"  # as a new version of the model would leave it
    )
    row.save()
    Drawing.objects.update(counted_for="another model", updated=now())


def test_sizes_that_lost_their_edge_are_shown_counted_and_kept_out_of_files(desk: Desk, queue: Work) -> None:
    size_that_lost_its_edge(desk)
    lost = sheet(desk)["annotations"][0]
    assert (lost["svg"], "no longer in the model" in lost["lost"]) == ("", True)
    assert desk.client.get("/api/drawings").json()[0]["open"] == 1
    job = post(desk.client, f"{desk.url}/publish", {"format": "svg"}).json()
    queue()
    assert "lost what it is on" in Job.objects.get(pk=job["id"]).text
    desk.edit(command="remove", ids=["d"])
    assert desk.client.get("/api/drawings").json()[0]["open"] == 0


def test_a_copied_sheet_brings_its_lost_sizes_into_the_count(desk: Desk) -> None:
    """Also where a later edit is on another sheet: what each sheet lost is kept with the sheet."""
    size_that_lost_its_edge(desk)
    desk.edit(command="copy_sheet", sheet=desk.sheet["id"], id="second")
    assert desk.client.get("/api/drawings").json()[0]["open"] == 2
    desk.edit(command="change_sheet", sheet="second", name="Second")
    desk.edit(command="add_sheet", id="third")
    assert desk.client.get("/api/drawings").json()[0]["open"] == 2
    assert list(DrawingSheet.objects.order_by("place").values_list("lost", flat=True)) == [1, 1, 0]


def test_a_patch_leads_to_what_the_whole_drawing_is_said_to_be(desk: Desk) -> None:
    """A client that takes patches alone has what one that asks for all has, after each edit, undo, redo."""
    desk.main()
    stamp = {
        "kind": "stamp",
        "id": "st",
        "anchor": {"on": "sheet"},
        "text": "PRELIMINARY",
        "position": {"x": 100, "y": 60},
    }
    edits: list[dict[str, Any]] = [
        {"command": "place", "annotations": [stamp], "sheet": desk.sheet["id"]},
        {"command": "change", "ids": ["st"], "values": {"text": "FOR REVIEW"}},
        {"command": "add_sheet", "id": "b"},
        {"command": "move_sheet", "sheet": "b", "place": 0},
        {"command": "change_fields", "fields": {**desk.state["document"]["fields"], "title": "Block"}},
        {"command": "remove", "ids": ["st"]},
        {"command": "remove_sheet", "sheet": "b"},
    ]

    def same() -> None:
        whole = desk.client.get(desk.url).json()
        assert {n: desk.state[n] for n in ("version", "document", "can_undo", "can_redo")} == {
            n: whole[n] for n in ("version", "document", "can_undo", "can_redo")
        }

    for edit in edits:
        desk.edit(**edit)
        same()
    for way in ["undo"] * len(edits) + ["redo"] * len(edits):
        desk.turn(way)
        same()


def test_a_view_that_waits_is_asked_of_the_worker_once(ann: Client, bearing: Model) -> None:
    """However often a sheet is looked at, there is one job in the queue for each view; a stale one that was
    dropped while it waited comes back as one, too."""
    desk = Desk(ann, bearing).main()
    for _ in range(4):
        assert sheet(desk)["views"][0]["state"] == "waiting"
    waiting = ProcrastinateJob.objects.filter(task_name="derive_view", status="todo")
    assert waiting.count() == 1
    DerivedView.objects.all().delete()
    sheet(desk)
    assert waiting.count() == 1


def test_drawings_of_old_are_split_into_sheets_by_the_migration(bearing: Model) -> None:
    """The stored drawing and its log come through, each entry undone and redone in the present format."""
    stored = json.loads((ROOT / "tests" / "core" / "drawing_format_1.json").read_text())
    migration = importlib.import_module("server.drawings.migrations.0003_sheets_as_rows")
    entries = [Row(patch=patch, inverse=inverse) for _, patch, inverse in stored["log"]]
    old = Row(document=stored["drawing"], log=Rows(entries), log_position=len(entries))
    made: list[Row] = []
    tables = {
        "Drawing": type("T", (), {"objects": Rows([old])}),
        "DrawingSheet": type(
            "S",
            (),
            {"objects": Rows([], made), "__init__": lambda self, **values: self.__dict__.update(values)},
        ),
    }
    apps = type("Apps", (), {"get_model": lambda self, app, name: tables[name]})()
    migration.split(apps, None)
    assert [(r.key, r.place) for r in made] == [("a", 0), ("c", 1)]
    assert old.head["format"] == upgrades.PRESENT
    assert "sheets" not in old.head
    assert old.size == "A3"
    whole = {**old.head, "sheets": [r.data for r in made]}
    for entry in reversed(entries):
        whole = jsonpatch.apply_patch(whole, entry.inverse)
    assert whole["sheets"][0]["views"] == []
    for entry in entries:
        whole = jsonpatch.apply_patch(whole, entry.patch)
    assert whole == {**old.head, "sheets": [r.data for r in made]}


class Row:
    """A row as a migration sees it."""

    def __init__(self, **values: Any) -> None:
        self.__dict__.update(values)

    def save(self, **_: Any) -> None:
        """Kept as it is."""


class Rows(list[Any]):
    """A table, or the rows that belong to one, as a migration sees it."""

    def __init__(self, rows: list[Any], made: list[Any] | None = None) -> None:
        super().__init__(rows)
        self.made = made

    def iterator(self, **_: Any) -> Any:
        return iter(self)

    def order_by(self, *_: str) -> Any:
        return self

    def bulk_create(self, rows: Any) -> None:
        assert self.made is not None
        self.made.extend(rows)


@pytest.mark.parametrize(
    "command",
    [
        {
            "command": "place_main_view",
            "sheet": "x",
            "orientation": {"right": [1, 0, 0], "up": [0, 0, 1]},
            "position": {"x": 1e999, "y": 0},
        },
        {"command": "move_view", "view": "front"},
        {"command": "dance"},
        {"command": "change_sheet", "sheet": "x" * 100},
        {"command": "change_fields", "fields": {"title": "x" * 500}},
        {"command": "change_view", "view": "front", "scale": {"drawn": 0, "true": 1}},
        {},
    ],
)
def test_odd_commands_are_refused_with_a_sentence_and_change_nothing(
    desk: Desk, command: dict[str, Any]
) -> None:
    body = json.dumps({"version": desk.state["version"], "command": command})
    answer = desk.client.post(f"{desk.url}/commands", body, content_type="application/json")
    assert answer.status_code in (400, 422)
    assert not LogEntry.objects.exists()
    assert desk.client.get(desk.url).json()["document"] == desk.state["document"]


def test_projections_of_a_view_are_those_of_the_drawings_method(desk: Desk) -> None:
    desk.main()

    def beside(relation: str) -> Any:
        command = {
            "command": "place_projected_view",
            "parent": "front",
            "relation": relation,
            "position": {"x": 300, "y": 200},
        }
        return post(desk.client, f"{desk.url}/propose", {"command": command}).json()["views"][0]["view"][
            "orientation"
        ]

    assert beside("right") == PRINCIPAL["left"].model_dump()  # first angle, ISO 5456-2
    desk.edit(command="switch_projection", projection="third")
    assert beside("right") == PRINCIPAL["right"].model_dump()


def test_what_a_command_would_do_is_shown_and_not_kept(desk: Desk, queue: Work) -> None:
    desk.main()
    sheet(desk)
    queue()
    line = [{"x": 0, "y": -60}, {"x": 0, "y": 60}]
    command = {
        "command": "place_section",
        "parent": "front",
        "points": line,
        "position": {"x": 280, "y": 200},
    }
    first = post(desk.client, f"{desk.url}/propose", {"command": command}).json()["views"][0]
    assert (first["state"], first["geometry"]) == ("waiting", None)
    queue()
    ready = post(desk.client, f"{desk.url}/propose", {"command": command}).json()["views"][0]
    assert len(ready["geometry"]["cut_faces"]) == 2  # the bore parts the cut into what is above it and below
    assert "A" in ready["outer"][0]["svg"]  # its cutting line on the parent
    again = post(desk.client, f"{desk.url}/propose", {"command": command, "known": [ready["shape"]]}).json()[
        "views"
    ][0]
    assert again["geometry"] is None
    assert len(desk.client.get(desk.url).json()["document"]["sheets"][0]["views"]) == 1
    missed = {**command, "points": [{"x": 500, "y": -60}, {"x": 500, "y": 60}]}
    answer = post(desk.client, f"{desk.url}/propose", {"command": missed})
    assert (answer.status_code, "misses the part" in answer.json()["message"]) == (422, True)


def test_overlapping_views_are_warned_of_and_arranging_ends_it(desk: Desk, queue: Work) -> None:
    desk.main()
    desk.edit(
        command="place_main_view",
        id="twin",
        sheet=desk.sheet["id"],
        orientation={"right": [1, 0, 0], "up": [0, 0, 1]},
        position={"x": 150, "y": 200},
    )
    sheet(desk)
    queue()
    assert sheet(desk)["warnings"][0]["views"] == ["front", "twin"]
    desk.edit(command="arrange_sheet", sheet=desk.sheet["id"])
    assert sheet(desk)["warnings"] == []


def test_all_kinds_of_views_come_out_of_publishing(desk: Desk, queue: Work) -> None:
    desk.main()
    line = [{"x": 0, "y": -60}, {"x": 0, "y": 60}]
    desk.edit(command="place_section", id="cut", parent="front", points=line, position={"x": 280, "y": 200})
    desk.edit(
        command="place_main_view",
        id="picture",
        sheet=desk.sheet["id"],
        orientation=ISOMETRIC,
        position={"x": 330, "y": 120},
        pictorial=True,
    )
    desk.edit(command="change_view", view="picture", shading="shaded_edges")
    for kind in ("dxf", "pdf", "svg"):
        post(desk.client, f"{desk.url}/publish", {"format": kind})
    queue()
    results = {j.data["format"]: j.result for j in Job.objects.filter(kind="publish")}
    with zipfile.ZipFile(
        io.BytesIO(Blob.objects.get(pk=results["dxf"]["blob"]).content())
    ) as archive:  # the picture beside the drawing
        names = sorted(archive.namelist())
        picture = archive.read(next(n for n in names if n.endswith(".png")))
        drawing = ezdxf.read(io.StringIO(archive.read(next(n for n in names if n.endswith(".dxf"))).decode()))
    assert picture.startswith(b"\x89PNG")
    assert [d.dxf.filename for d in drawing.objects.query("IMAGEDEF")] == [
        n for n in names if n.endswith(".png")
    ]
    assert drawing.modelspace().query("LINE[layer=='Hatch']")
    assert drawing.modelspace().query("LINE[layer=='Cutting']")
    svg = Blob.objects.get(pk=results["svg"]["blob"]).content().decode()
    assert "data:image/png;base64," in svg
    assert ">A-A<" in svg


def test_an_edit_that_changes_nothing_is_not_logged(desk: Desk) -> None:
    desk.edit(command="switch_projection", projection="first")
    assert not LogEntry.objects.exists()
    assert desk.state["version"] == 1


def test_an_unknown_format_is_refused_and_not_given_as_another(desk: Desk) -> None:
    assert post(desk.client, f"{desk.url}/publish", {"format": "gif"}).status_code == 422
    assert not Job.objects.exists()


def test_equal_files_are_kept_once() -> None:
    first, again = Blob.store(b"the same"), Blob.store(b"the same")
    assert first.pk == again.pk
    assert Blob.objects.count() == 1


def test_the_sample_office_is_loaded_once_whole_and_with_a_password_of_its_own(
    tmp_path: Any, queue: Callable[[], int]
) -> None:
    file = tmp_path / "password"
    call_command("load_demo", password_file=file)
    call_command("load_demo", password_file=file)
    assert Model.objects.count() == 30
    numbers = [
        "HB-200",
        "HB-201",
        "HB-202",
        "HB-204",
        "HB-205",
        "HB-206",
        "HB-207",
        "HB-210",
        "HB-211",
        "HB-214",
        "HB-220",
        "HB-240",
    ]
    assert sorted(Drawing.objects.values_list("number", flat=True)) == numbers
    assert (file.stat().st_mode & 0o777, len(file.read_text()) >= 10) == (0o600, True)
    for drawing in Drawing.objects.select_related("model"):
        assert service.open_points([drawing]) == {drawing.pk: 0}
        document = store.document_of(drawing)
        assert service.composed(drawing, document, document.sheets[0]).lost == {}
        found = service.geometries(*shown_facts(drawing), document.sheets[0])
        assert len(found) == len(document.sheets[0].views)
    client = Client()
    assert post(client, "/api/login", {"username": "fell", "password": file.read_text()}).status_code == 200
    the_desk_shows_what_the_files_say(client, queue)


def the_desk_shows_what_the_files_say(client: Client, queue: Callable[[], int]) -> None:
    """Frame, views, their labels and marks, and each annotation: the same ink, group by group, in the SVG;
    but for underlays, which the desk draws from their lines."""
    seen = 0
    for drawing in Drawing.objects.select_related("model"):
        document, url = store.document_of(drawing), f"/api/drawings/{drawing.pk}"
        for sheet in document.sheets:
            client.get(f"{url}/sheets/{sheet.id}")
            queue()
            shown = client.get(f"{url}/sheets/{sheet.id}").json()
            assert {v["state"] for v in shown["views"]} <= {"ready"}
            desk = [shown["frame"], *(o["svg"] for o in shown["outer"])]
            underlays = {a.id for a in sheet.annotations if a.kind == "underlay"}
            desk += [a["svg"] for a in shown["annotations"] if a["id"] not in underlays]
            desk += [client.get(f"{url}/views/{v.id}/ink").json()["svg"] for v in sheet.views]
            whole = sheet_svg(service.composed(drawing, document, sheet).ink, document.profile).decode()
            named = re.findall(r'<g id="([^"]*)" transform="[^"]*">(.*?)</g>', whole)
            groups = [svg for key, svg in named if key not in underlays]
            assert sorted(groups) == sorted(desk), (drawing.number, sheet.name)
            seen += len(groups)
    assert seen > 300
