"""What an office says of holes that no file knows."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.test import Client

from drafting.data import Point
from drafting.views.derivation import Derivation
from drafting.views.derive import Prepared, derive
from drafting.views.family import derivation_of
from drafting.views.orientation import PRINCIPAL
from drafting.views.view import View
from server.accounts.models import Workspace
from server.library.facts import current_facts
from server.library.models import Model
from server.library.reading import read_into
from tests.core.disguises import written
from tests.core.zoo import box, cut, rod, split
from tests.server.conftest import RECIPES, post

Work = Callable[[], int]


@pytest.fixture
def cover(office: Workspace, tmp_path: Path) -> Model:
    """A plate of 15 with four holes of 4.2 and one of 24, its round faces in halves."""
    plate = cut(
        box(90, 60, 15), *[rod(2.1, 20, 15 + 20 * k, 15, -2) for k in range(4)], rod(12, 40, 45, 40, -5)
    )
    written(split(plate, 2), tmp_path)
    return read_into(office, "part.step", tmp_path / "part.step")


def rows(client: Client, model: Model) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = client.get(f"/api/models/{model.pk}").json()["holes"]
    return found


def say(client: Client, model: Model, row: dict[str, Any], thread: str, length: str = "") -> Any:
    faces = [name for place in row["places"] for name in place["faces"]]
    body = {"part": row["part"], "faces": faces, "designation": thread, "length": length}
    return post(client, f"/api/models/{model.pk}/threads", body)


def test_holes_are_listed_with_what_their_size_is_common_for(ann: Client, cover: Model) -> None:
    four, one = rows(ann, cover)
    assert (four["count"], four["name"], four["says"]) == (4, "holes", "Ø4,2")
    assert four["pattern"] == "4 in a row, 20 apart"
    assert {"words": "tap drill of M5", "thread": "M5"} in four["offers"]  # ISO 2306
    assert (one["count"], one["name"], one["says"]) == (1, "hole", "Ø24")
    assert {"words": "clearance for M22, medium (ISO 273)", "thread": ""} in one["offers"]


def test_said_threads_are_in_lists_views_and_can_be_taken_back(ann: Client, cover: Model) -> None:
    view = View(id="v", kind="main", orientation=PRINCIPAL["top"], position=Point(x=0, y=0))
    before = derivation_of(view, current_facts(cover)[1])
    four = rows(ann, cover)[0]
    answer = say(ann, cover, four, "M5", "10")
    assert answer.status_code == 200, answer.content
    said = answer.json()["holes"][0]
    assert (said["name"], said["says"], said["said"]) == ("tapped holes", "M5 ↧10 Ø4,2", True)
    after = derivation_of(view, current_facts(cover)[1])
    assert [t.thread.designation for t in after.threads] == ["M5"] * len(after.threads)
    assert before.key("e", "a") != after.key("e", "a")
    assert say(ann, cover, four, "").json()["holes"][0]["says"] == "Ø4,2"
    assert derivation_of(view, current_facts(cover)[1]).key("e", "a") == before.key("e", "a")


def test_a_said_thread_is_drawn(ann: Client, cover: Model, tmp_path: Path) -> None:
    say(ann, cover, rows(ann, cover)[0], "M5")
    _, facts = current_facts(cover)
    plate = cut(
        box(90, 60, 15), *[rod(2.1, 20, 15 + 20 * k, 15, -2) for k in range(4)], rod(12, 40, 45, 40, -5)
    )
    prepared = Prepared(written(split(plate, 2), tmp_path))
    view = View(id="v", kind="main", orientation=PRINCIPAL["top"], position=Point(x=0, y=0))
    plain = derive(prepared, Derivation(orientation=PRINCIPAL["top"]))
    assert not [c for c in plain.curves if c.edge_class == "thread"]
    what = derivation_of(view, facts)
    what = what.model_copy(
        update={
            "threads": [
                t.model_copy(update={"part": key}) for t in what.threads for key in prepared.model.facts.parts
            ]
        }
    )
    threads = [c for c in derive(prepared, what).curves if c.edge_class == "thread" and c.visible]
    assert {round(c.data[2], 6) for c in threads} == {2.5}  # three quarters of a circle at the major diameter
    assert len(threads) == 4


@pytest.mark.parametrize(
    ("thread", "length", "sentence"),
    [
        ("M12", "", "does not go with a diameter of 4.2 mm"),
        ("M5", "99", "99 mm long, and the face is 15 mm long"),
        ("M5", "deep", "deep is no length"),
        ("five", "", "is not a thread designation"),
    ],
)
def test_what_cannot_be_is_refused_in_a_sentence(
    ann: Client, cover: Model, thread: str, length: str, sentence: str
) -> None:
    answer = say(ann, cover, rows(ann, cover)[0], thread, length)
    assert answer.status_code == 422
    assert sentence in answer.json()["message"]
    assert rows(ann, cover)[0]["thread"] == ""


def test_a_thread_on_a_flat_face_is_refused(ann: Client, cover: Model) -> None:
    (part,) = current_facts(cover)[1].parts.values()
    flat = next(f.name for f in part.faces if f.kind == "plane")
    row = rows(ann, cover)[0]
    body = {"part": row["part"], "faces": [flat], "designation": "M5"}
    answer = post(ann, f"/api/models/{cover.pk}/threads", body)
    assert answer.status_code == 422
    assert "this face is flat" in answer.json()["message"]
    assert post(ann, f"/api/models/{cover.pk}/threads", {**body, "part": "none"}).status_code == 404


def test_nobody_else_may_say_it(bob: Client, cover: Model) -> None:
    assert say(Client(), cover, {"part": "x", "places": [{"faces": ["y"]}]}, "M5").status_code in (401, 403)


def test_a_shafts_end_is_said_to_be_threaded(ann: Client, office: Workspace) -> None:
    shaft = read_into(office, "HB-207.json", RECIPES / "HB-207.json")
    rim, body = ann.get(f"/api/models/{shaft.pk}").json()["shafts"]
    assert (rim["says"], body["says"]) == ("Ø52, 6 long", "Ø40, 43 long")
    answer = say(ann, shaft, body, "M40x1.5", "20")
    assert answer.status_code == 200, answer.content
    assert answer.json()["shafts"][1]["says"] == "M40x1.5, 43 long"
    assert answer.json()["shafts"][1]["name"] == "threaded shaft"
    _, facts = current_facts(shaft)
    (part,) = facts.parts.values()
    assert [t.internal for t in part.threads] == [False]


def test_what_is_picked_on_a_drawing_can_be_said_too(ann: Client, cover: Model, queue: Work) -> None:
    drawing = post(ann, "/api/drawings", {"model": str(cover.pk)}).json()["id"]
    part = next(iter(current_facts(cover)[1].parts.values()))
    instance = current_facts(cover)[1].instances[0].path
    edge = next(e for e in part.edges if e.kind == "circle" and e.radius == pytest.approx(2.1))
    line = next(e for e in part.edges if e.kind == "line")
    ask = f"/api/drawings/{drawing}/sayable"
    row = ann.get(ask, {"instance": instance, "source": edge.name}).json()["row"]
    assert (row["count"], row["says"], row["part"]) == (4, "Ø4,2", rows(ann, cover)[0]["part"])
    assert say(ann, cover, row, "M5", "12").status_code == 200
    again = ann.get(ask, {"instance": instance, "source": edge.name}).json()["row"]
    assert (again["thread"], again["thread_length"], again["said"]) == ("M5", 12, True)
    assert ann.get(ask, {"instance": instance, "source": line.name}).json()["row"] is None
    assert ann.get(ask, {"instance": "nothing", "source": edge.name}).json()["row"] is None
    named = ann.get(f"/api/drawings/{drawing}/features").json()["parts"][row["part"]]
    assert "tapped hole, 1 of 4" in {f["name"] for f in named}


def test_a_model_tells_its_other_features_and_likely_datums(ann: Client, cover: Model) -> None:
    page = ann.get(f"/api/models/{cover.pk}").json()
    assert page["features"] == []  # holes only
    assert [(d["name"], d["says"]) for d in page["datums"]] == [
        ("largest plane", ""),
        ("longest bore", "Ø24"),
    ]
    assert page["symmetry"] == "about 2 planes"


def finish(client: Client, model: Model, row: dict[str, Any], process: str) -> Any:
    faces = [name for place in row["places"] for name in place["faces"]]
    return post(
        client, f"/api/models/{model.pk}/processes", {"part": row["part"], "faces": faces, "process": process}
    )


def test_holes_are_said_to_be_reamed_and_shafts_knurled(ann: Client, office: Workspace, cover: Model) -> None:
    one = rows(ann, cover)[1]
    said = finish(ann, cover, one, "Reamed").json()["holes"][1]
    assert (said["says"], said["process"]) == ("Ø24 reamed", "reamed")
    assert finish(ann, cover, one, "").json()["holes"][1]["says"] == "Ø24"
    for wrong in ("painted", "knurled RAA 0.8"):
        answer = finish(ann, cover, one, wrong)
        assert answer.status_code == 422
        assert "no way to finish a hole" in answer.json()["message"]
    shaft = read_into(office, "HB-207.json", RECIPES / "HB-207.json")
    rim = ann.get(f"/api/models/{shaft.pk}").json()["shafts"][0]
    assert finish(ann, shaft, rim, "RGE 0,8").json()["shafts"][0]["says"] == "Ø52 knurled RGE 0.8, 6 long"
    answer = finish(ann, shaft, rim, "RGE 0.7")
    assert "pitch of 0.5, 0.6, 0.8, 1, 1.2, 1.6 mm" in answer.json()["message"]
