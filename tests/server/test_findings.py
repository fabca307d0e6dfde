"""What is found by itself, through the interface: counted, mended, meant so, listed, told when publishing."""

import io
from collections.abc import Callable
from contextlib import suppress
from typing import Any

import openpyxl
import pypdf
from django.core.management import call_command
from django.test import Client

from server.accounts.models import Membership, Workspace
from server.jobs.models import Job
from tests.server.conftest import content, post
from tests.server.test_completeness import CENTERS
from tests.server.test_releasing import joined
from tests.server.test_tolerances import does, drawing  # noqa: F401  a fixture


def found(client: Client, url: str) -> Any:
    answer = client.get(f"{url}/findings")
    assert answer.status_code == 200, answer.content
    return answer.json()


def of(page: Any, rule: str) -> Any:
    return next(f for f in page["findings"] if f["rule"] == rule)


def test_a_finding_is_mended_by_its_remedy(ann: Client, drawing: str) -> None:  # noqa: F811
    does(ann, drawing, {"command": "place", "sheet": "", "annotations": CENTERS})
    does(ann, drawing, {"command": "change", "ids": ["size-1"], "values": {"wording": {"own": "141"}}})
    page = found(ann, drawing)
    one = of(page, "own words")
    assert (one["gravity"], one["ids"], one["number"], one["meant"]) == ("grave", ["size-1"], 1, None)
    assert of(page, "not given")["remedies"][0]["action"] == "propose"
    assert page["waiting"] == 0
    assert {g["rule"] for g in page["good"]} >= {"lost", "units", "scale"}
    assert page["grave"] == sum(f["gravity"] == "grave" for f in page["findings"])
    (remedy,) = one["remedies"]
    does(ann, drawing, remedy["command"])
    assert "own words" not in {f["rule"] for f in found(ann, drawing)["findings"]}


def test_what_is_meant_so_is_kept_with_name_and_reason_and_counted(
    ann: Client,
    bob: Client,
    office: Workspace,
    drawing: str,  # noqa: F811
) -> None:
    rob = joined(office, "rob", Membership.READER)
    does(
        ann, drawing, {"command": "change", "ids": ["size-1"], "values": {"wording": {"not_to_scale": True}}}
    )
    page = found(ann, drawing)
    key = of(page, "not to scale")["key"]
    said = {"key": key, "reason": "The shop stretches it."}
    assert post(rob, f"{drawing}/findings/meant", said).status_code == 403
    assert post(bob, f"{drawing}/findings/meant", said).status_code == 404
    assert post(ann, f"{drawing}/findings/meant", {"key": key}).status_code == 422
    assert post(ann, f"{drawing}/findings/meant", {**said, "key": "0" * 32}).status_code == 422
    after = post(ann, f"{drawing}/findings/meant", said).json()
    one = of(after, "not to scale")
    assert (one["meant"]["reason"], one["meant"]["by"]) == ("The shop stretches it.", "Ann")
    assert (after["meant"], after["look"]) == (1, page["look"] - 1)

    out = io.StringIO()
    with suppress(SystemExit):  # for what else is open
        call_command("check_drawing", drawing.rsplit("/", 1)[1], stdout=out)
    assert "meant, sheet 1, not to scale" in out.getvalue()
    assert "[The shop stretches it.]" in out.getvalue()

    # once it says something else it is open again, and so it is when that is taken back
    does(ann, drawing, {"command": "change", "ids": ["size-1"], "values": {"wording": {"prefix": "about "}}})
    assert of(found(ann, drawing), "not to scale")["meant"] is None
    post(ann, f"{drawing}/undo", {"version": ann.get(drawing).json()["version"]})
    assert of(found(ann, drawing), "not to scale")["meant"]
    opened = post(ann, f"{drawing}/findings/meant", {"key": key, "open": True}).json()
    assert (of(opened, "not to scale")["meant"], opened["meant"]) == (None, 0)


def test_the_list_is_a_pdf_and_a_spreadsheet(ann: Client, bob: Client, drawing: str) -> None:  # noqa: F811
    does(ann, drawing, {"command": "change", "ids": ["size-1"], "values": {"wording": {"own": "=1+1"}}})
    pdf = pypdf.PdfReader(io.BytesIO(content(ann.get(f"{drawing}/findings.pdf"))))
    words = " ".join(p.extract_text() for p in pdf.pages)
    assert "in place of what is measured" in words
    assert "Good:" in words
    book = openpyxl.load_workbook(io.BytesIO(content(ann.get(f"{drawing}/findings.xlsx"))))
    lines = list(book.active.iter_rows(values_only=True))
    assert lines[0][:5] == ("Sheet", "Gravity", "Rule", "Clause", "Finding")
    assert any(line[1] == "grave" and "'=1+1'" in line[4] for line in lines)
    assert bob.get(f"{drawing}/findings.pdf").status_code == 404


def test_publishing_says_how_many_are_open(
    ann: Client,
    drawing: str,  # noqa: F811
    queue: Callable[[], int],
) -> None:
    does(ann, drawing, {"command": "change", "ids": ["size-1"], "values": {"wording": {"own": "141"}}})
    page = found(ann, drawing)
    post(ann, f"{drawing}/publish", {"format": "pdf", "sheets": []})
    queue()
    job = Job.objects.filter(kind="publish").latest("created")
    many = page["grave"] + page["look"]
    assert job.result["warning"] == f"{many} findings are open, {page['grave']} of them grave."


def test_an_office_says_how_grave_a_rule_is(ann: Client, drawing: str) -> None:  # noqa: F811
    rules = {r["key"]: r for r in ann.get("/api/rules").json()}
    assert (rules["centers"]["gravity"], rules["own words"]["gravity"]) == ("look", "grave")
    assert rules["near rows"]["asme"].startswith("ASME Y14.5")
    page = post(ann, "/api/styles", {"like": "iso-mm", "name": "Ours"}).json()
    style = page["style"]
    style["profile"]["rules"] = {"not to scale": "off", "centers": "grave"}
    changed = {"version": page["version"], "style": style}
    kept = ann.put(f"/api/styles/{page['id']}", changed, content_type="application/json")
    assert kept.status_code == 200, kept.content
    assert kept.json()["departs"]["rules"] == {}
    does(
        ann, drawing, {"command": "change", "ids": ["size-1"], "values": {"wording": {"not_to_scale": True}}}
    )
    assert "not to scale" in {f["rule"] for f in found(ann, drawing)["findings"]}
    does(ann, drawing, {"command": "take_style", "id": "", "style": kept.json()["style"]})
    after = found(ann, drawing)
    assert "not to scale" not in {f["rule"] for f in after["findings"]}
    assert "not to scale" not in {g["rule"] for g in after["good"]}
    assert of(after, "centers")["gravity"] == "grave"
