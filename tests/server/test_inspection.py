"""The inspection sheet through the interface: numbers, readings by hand and from a table, files."""

import io
import json
from typing import Any

import openpyxl
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from server.accounts.models import Membership, Workspace
from tests.server.conftest import content, post
from tests.server.test_releasing import joined
from tests.server.test_tolerances import does, drawing  # noqa: F401  a fixture


def page(client: Client, url: str) -> Any:
    answer = client.get(f"{url}/inspection")
    assert answer.status_code == 200, answer.content
    return answer.json()


def row(found: Any, text: str) -> Any:
    return next(r for r in found["rows"] if r["requirement"] == text)


def sent(client: Client, url: str, text: str) -> Any:
    file = SimpleUploadedFile("measured.csv", text.encode(), "text/csv")
    return client.post(f"{url}/inspection/table", {"file": file})


def test_characteristics_are_numbered_measured_and_listed(
    ann: Client,
    bob: Client,
    office: Workspace,
    drawing: str,  # noqa: F811
) -> None:
    assert page(ann, drawing)["rows"] == []
    assert ann.get(f"{drawing}/inspection.xlsx").status_code == 404
    places = ann.get(f"{drawing}/inspection/places").json()["offsets"]
    assert places
    does(ann, drawing, {"command": "number_characteristics", "offsets": places})
    found = page(ann, drawing)
    assert [r["number"] for r in found["rows"]] == list(range(1, len(found["rows"]) + 1))
    assert len(places) == len(found["rows"])
    bore = row(found, "Ø40 H7")
    assert (bore["lower"], bore["upper"]) == (40.0, 40.025)

    cara = joined(office, "cara", Membership.CHECKER)
    reading = {"number": bore["number"], "value": 40.03}
    after = post(cara, f"{drawing}/inspection/readings", reading).json()
    assert (row(after, "Ø40 H7")["pieces"][0]["is_in"], after["out"]) == (False, 1)
    after = post(ann, f"{drawing}/inspection/readings", {**reading, "value": 40.02}).json()
    assert (row(after, "Ø40 H7")["pieces"][0]["is_in"], after["out"]) == (True, 0)
    rob = joined(office, "rob", Membership.READER)
    assert post(rob, f"{drawing}/inspection/readings", reading).status_code == 403
    assert post(bob, f"{drawing}/inspection/readings", reading).status_code == 404
    assert post(ann, f"{drawing}/inspection/readings", {**reading, "number": 999}).status_code == 422
    assert post(ann, f"{drawing}/inspection/readings", {**reading, "value": float("1e9")}).status_code == 422

    # the verdict follows the drawing, not what was measured then
    does(ann, drawing, {"command": "change", "ids": ["size-6"], "values": {"says": "H6"}})
    assert row(page(ann, drawing), "Ø40 H6")["pieces"][0]["is_in"] is False
    gone = post(ann, f"{drawing}/inspection/readings", {"number": bore["number"]}).json()
    assert row(gone, "Ø40 H6")["pieces"] == []


def test_a_table_is_kept_whole_or_not_at_all(ann: Client, drawing: str) -> None:  # noqa: F811
    does(ann, drawing, {"command": "number_characteristics"})
    bore = row(page(ann, drawing), "Ø40 H7")["number"]
    wrong = sent(ann, drawing, f"number;piece;measured\n{bore};A;40,01\n{bore};B;forty\n")
    assert (wrong.status_code, wrong.json()["message"]) == (422, "Line 3: 'forty' is no number.")
    assert page(ann, drawing)["pieces"] == []
    assert sent(ann, drawing, f"number;measured\n{bore};40\n997;1\n").status_code == 422
    assert page(ann, drawing)["pieces"] == []
    kept = sent(ann, drawing, f"number;piece;measured\n{bore};A;40,01\n{bore};B;40,5\n").json()
    assert (kept["pieces"], kept["out"]) == (["A", "B"], 1)
    latin = SimpleUploadedFile("m.csv", "number;measured\n1;40 µm".encode("latin-1"))
    assert ann.post(f"{drawing}/inspection/table", {"file": latin}).status_code == 422

    book = openpyxl.load_workbook(io.BytesIO(content(ann.get(f"{drawing}/inspection.xlsx"))))
    lines = list(book.active.iter_rows(values_only=True))
    mine = [line for line in lines if line[0] == bore]
    assert [(line[13], line[14], line[-1]) for line in mine] == [("A", 40.01, "in"), ("B", 40.5, "out")]
    data = json.loads(content(ann.get(f"{drawing}/inspection.json")))
    assert data["moorcrest"] == "inspection"
    text = content(ann.get(f"{drawing}/inspection.csv")).decode("utf-8-sig")
    assert text.startswith("Number,Critical,Sheet")

    # numbered anew each keeps what was measured of it
    does(ann, drawing, {"command": "remove", "ids": ["size-5"]})
    does(ann, drawing, {"command": "number_characteristics", "anew": True})
    assert [p["piece"] for p in row(page(ann, drawing), "Ø40 H7")["pieces"]] == ["A", "B"]
