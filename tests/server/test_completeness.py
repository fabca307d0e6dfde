"""What a drawing does not say, through the interface."""

import io
from collections.abc import Callable
from typing import Any

import pytest
from django.core.management import CommandError, call_command
from django.test import Client

from server.drawings import completeness
from tests.server.conftest import post
from tests.server.test_tolerances import does, drawing  # noqa: F401  a fixture

CENTERS = [
    {
        "kind": "bolt_circle",
        "id": "ring",
        "view": "front",
        "picks": [
            {"instance": "part", "source": f"base/side.bottom|cap/bore{n}"} for n in ("", "@2", "@3", "@4")
        ],
    },
    {"kind": "center_line", "id": "upright", "view": "front", "axis": "vertical"},
    {
        "kind": "center_line",
        "id": "through",
        "view": "top",
        "picks": [{"instance": "part", "source": "upright/side.crown", "role": "silhouette"}],
    },
    {
        "kind": "center_mark",
        "id": "oil",
        "view": "top",
        "picks": [{"instance": "part", "source": "oil/bore|upright/side.crown"}],
    },
]


def told(client: Client, url: str) -> Any:
    answer = client.get(f"{url}/completeness")
    assert answer.status_code == 200, answer.content
    return answer.json()


def test_what_is_not_said_follows_every_edit(ann: Client, bob: Client, drawing: str) -> None:  # noqa: F811
    open_ones = told(ann, drawing)
    assert open_ones["state"] == "open"
    does(ann, drawing, {"command": "place", "sheet": "", "annotations": CENTERS})
    done = told(ann, drawing)
    assert (done["state"], done["missing"], done["gaps"], done["twice"]) == ("complete", 0, [], [])
    does(ann, drawing, {"command": "remove", "ids": ["size-4"]})
    gone = told(ann, drawing)
    assert (gone["state"], gone["missing"]) == ("open", 1)
    (gap,) = gone["gaps"]
    assert gap["text"] == "The radius of the round R38 is not given."
    assert "upright/side.crown" in gap["lit"][0]
    assert gap["ways"] == {}
    post(ann, f"{drawing}/undo", {"version": ann.get(drawing).json()["version"]})
    assert told(ann, drawing)["state"] == "complete"
    does(ann, drawing, {"command": "remove", "ids": ["size-3"]})
    (gap,) = told(ann, drawing)["gaps"]
    assert gap["ways"]["front"] == [0.0, 1.0]  # upward
    assert gap["ways"]["top"] == [0.0, 0.0]
    assert bob.get(f"{drawing}/completeness").status_code == 404


def test_a_size_that_follows_from_others_is_said(ann: Client, drawing: str) -> None:  # noqa: F811
    sizes = {a["id"]: a for s in ann.get(drawing).json()["document"]["sheets"] for a in s["annotations"]}
    again = {**sizes["size-10"], "id": "again", "view": "top"}
    again.pop("anchor")
    again["picks"] = [
        {"instance": "part", "source": "base/end~1|base/side.bottom"},
        {"instance": "part", "source": "base/end~1|base/side.top"},
    ]
    does(ann, drawing, {"command": "place", "sheet": "", "annotations": [again]})
    (found,) = told(ann, drawing)["twice"]
    assert found["follows"] in (["size-10"], ["again"])
    assert found["text"] == "50 follows from 50."
    does(
        ann, drawing, {"command": "change", "ids": [found["id"]], "values": {"wording": {"reference": True}}}
    )
    assert told(ann, drawing)["twice"] == []


def test_what_cannot_be_told_says_why(
    ann: Client,
    drawing: str,  # noqa: F811
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(completeness, "MOST_FACES", 5)
    found = told(ann, drawing)
    assert (found["state"], found["gaps"]) == ("unknown", [])
    assert found["why"] == (
        "This part has 33 faces, too large to decide in time: completeness is told of up to 5."
    )
    sheet = ann.get(drawing).json()["document"]["sheets"][0]["id"]
    assert ann.get(f"{drawing}/sheets/{sheet}/proposal").json()["why"] == found["why"]
    monkeypatch.setattr(completeness, "MOST_FACES", 400)
    monkeypatch.setattr(completeness, "MOST_ANNOTATIONS", 3)
    assert (
        "annotations, too large to decide in time: completeness is told of up to 3."
        in told(ann, drawing)["why"]
    )


def test_of_a_large_part_a_worker_tells_and_can_be_stopped(
    ann: Client,
    bob: Client,
    drawing: str,  # noqa: F811
    queue: Callable[[], int],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    at_once = told(ann, drawing)
    sheet = ann.get(drawing).json()["document"]["sheets"][0]["id"]
    proposal = f"{drawing}/sheets/{sheet}/proposal"
    queue()
    proposed = {r["text"] for r in ann.get(proposal).json()["rows"]}
    monkeypatch.setattr(completeness, "AT_ONCE", 10)
    first = told(ann, drawing)
    assert (first["state"], first["gaps"], first["job"]["state"]) == ("working", [], "waiting")
    assert told(ann, drawing)["job"]["id"] == first["job"]["id"]
    assert bob.get(f"/api/jobs/{first['job']['id']}").status_code == 404
    found = ann.get(f"{drawing}/findings").json()
    assert found["sizes_wait"]
    assert found["good"] == []
    assert ann.get(f"{drawing}/findings.pdf").status_code == 425
    queue()
    done = told(ann, drawing)
    assert {**done, "milliseconds": 0} == {**at_once, "milliseconds": 0}
    found = ann.get(f"{drawing}/findings").json()
    assert not found["sizes_wait"]
    assert any(f["rule"] == "not given" for f in found["findings"])
    assert ann.get(proposal).json()["job"]["state"] == "waiting"
    queue()
    assert {r["text"] for r in ann.get(proposal).json()["rows"]} == proposed
    # what the office says of a hole changes what is told, though neither part nor drawing has a new version
    model = ann.get(drawing).json()["model"]
    hole = next(h for h in ann.get(f"/api/models/{model}").json()["holes"] if h["says"].startswith("Ø40"))
    faces = [name for place in hole["places"] for name in place["faces"]]
    thread = {"part": hole["part"], "faces": faces, "designation": "M42x2", "length": ""}
    assert post(ann, f"/api/models/{model}/threads", thread).status_code == 200
    said = told(ann, drawing)
    assert (said["state"], said["job"]["id"] != first["job"]["id"]) == ("working", True)
    queue()
    assert told(ann, drawing)["state"] != "working"
    # an edit asks anew; what is stopped does nothing, and asking again begins it again
    does(ann, drawing, {"command": "remove", "ids": ["size-4"]})
    stopped = told(ann, drawing)["job"]
    assert stopped["id"] != first["job"]["id"]
    assert ann.delete(f"/api/jobs/{stopped['id']}").status_code == 204
    queue()
    again = told(ann, drawing)
    assert again["state"] == "working"
    # one that is overtaken by an edit is not kept for the drawing as it is then
    does(ann, drawing, {"command": "remove", "ids": ["size-3"]})
    queue()
    last = told(ann, drawing)
    assert last["state"] == "working"
    assert last["job"]["id"] != again["job"]["id"]
    queue()
    monkeypatch.setattr(completeness, "AT_ONCE", 100)
    now = told(ann, drawing)
    monkeypatch.setattr(completeness, "AT_ONCE", 10)
    assert told(ann, drawing)["missing"] == now["missing"] > at_once["missing"]


def checked(name: str, **options: str) -> tuple[int, list[str]]:
    """How the command ends, and the lines it prints."""
    out = io.StringIO()
    try:
        call_command("check_drawing", name, stdout=out, **options)
    except SystemExit as end:
        return int(end.code or 0), out.getvalue().splitlines()
    return 0, out.getvalue().splitlines()


def test_findings_are_one_list_for_desk_and_build_machines(
    ann: Client,
    bob: Client,
    drawing: str,  # noqa: F811
) -> None:
    does(ann, drawing, {"command": "place", "sheet": "", "annotations": CENTERS})
    does(ann, drawing, {"command": "remove", "ids": ["size-4"]})
    found = ann.get(f"{drawing}/findings").json()
    assert found["grave"] == 1
    assert (found["findings"][0]["rule"], found["findings"][0]["gravity"]) == ("not given", "grave")
    assert bob.get(f"{drawing}/findings").status_code == 404
    code, lines = checked("HB-204")
    assert code == 1
    assert lines[0] == "grave, sheet 1, not given: The radius of the round R38 is not given."
    assert lines[-1].endswith(" 1 grave.")
    assert any("without a center" in line for line in lines)
    assert checked("HB-204", workspace="First office") == (code, lines)
    for wrong in ({"name": "HB-999"}, {"name": "HB-204", "workspace": "Nowhere"}):
        with pytest.raises(CommandError, match="There is no"):
            checked(**wrong)


def test_a_drawing_with_nothing_wrong_passes(ann: Client, drawing: str) -> None:  # noqa: F811
    does(ann, drawing, {"command": "place", "sheet": "", "annotations": CENTERS})
    code, lines = checked("HB-204")  # its views are derived by it
    assert (code, len(lines)) == (1, 2)
    lacking = [
        c
        for v in ann.get(drawing).json()["document"]["sheets"][0]["views"]
        if v["kind"] != "pictorial"
        for c in ann.get(f"{drawing}/views/{v['id']}/lacking").json()["centers"]
    ]
    does(ann, drawing, {"command": "place", "sheet": "", "annotations": lacking})
    assert checked("HB-204") == (0, ["Nothing was found."])


def test_sizes_are_proposed_in_place_until_all_is_said(
    ann: Client,
    bob: Client,
    drawing: str,  # noqa: F811
) -> None:
    """Of all sizes of the bearing block only its centers stay; what is proposed is placed as one step."""
    does(ann, drawing, {"command": "place", "sheet": "", "annotations": CENTERS})
    document = ann.get(drawing).json()["document"]
    (sheet,) = document["sheets"]
    sizes = [
        a["id"] for a in sheet["annotations"] if a["id"].startswith(("size-", "angle-", "frame-", "datum-"))
    ]
    does(ann, drawing, {"command": "remove", "ids": sizes})
    assert told(ann, drawing)["state"] == "open"
    url = f"{drawing}/sheets/{sheet['id']}/proposal"
    found = ann.get(url).json()
    rows = [r for r in found["rows"] if r["size"]]
    assert len(rows) >= 12
    assert {r["text"] for r in rows} >= {"50", "140", "4× M5 ↧12 Ø4,2 ↧16", "R38"}
    assert all(r["svg"].startswith("<") for r in rows)
    places = [
        tuple(r["size"]["place"]["paper"].values()) + tuple(r["size"]["place"]["model"].values())
        for r in rows
    ]
    assert len(set(places)) == len(places)
    does(ann, drawing, {"command": "place", "sheet": "", "annotations": [r["size"] for r in rows]})
    done = told(ann, drawing)
    assert (done["state"], done["twice"]) == ("complete", [])
    assert ann.get(url).json()["rows"] == []
    post(ann, f"{drawing}/undo", {"version": ann.get(drawing).json()["version"]})
    assert told(ann, drawing)["state"] == "open"
    assert bob.get(url).status_code == 404
