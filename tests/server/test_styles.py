"""House styles over the API: copies, changes kept and refused, import and export, logos, and bringing
drawings along."""

import io
import json
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from PIL import Image

from server.library.models import Model
from server.styles import api
from server.styles.models import HouseStyle
from tests.server.conftest import post
from tests.server.test_api import Desk, Work

pytestmark = pytest.mark.django_db


def copied(client: Client, like: str = "iso-mm", name: str = "Our own") -> Any:
    answer = post(client, "/api/styles", {"like": like, "name": name})
    assert answer.status_code == 201, answer.content
    return answer.json()


def put(client: Client, page: Any, style: Any) -> Any:
    body = json.dumps({"version": page["version"], "style": style})
    return client.put(f"/api/styles/{page['id']}", body, content_type="application/json")


def upload(client: Client, url: str, name: str, data: bytes) -> Any:
    return client.post(url, {"file": SimpleUploadedFile(name, data)})


def test_a_copy_is_changed_kept_and_its_departures_told(ann: Client) -> None:
    page = copied(ann)
    assert page["departs"] == {}
    style = page["style"]
    style["profile"]["text_height"] = 5
    kept = put(ann, page, style).json()
    assert kept["departs"] == {"text_height": 3.5}
    row = next(r for r in ann.get("/api/styles").json() if r["id"] == page["id"])
    assert (row["departs"], row["built_in"], row["drawings"]) == (1, False, 0)
    stale = put(ann, page, style)
    assert stale.status_code == 409
    assert "meanwhile" in stale.json()["message"]
    style["profile"]["text_height"] = -3
    wrong = put(ann, kept, style)
    assert (wrong.status_code, "profile.text_height" in wrong.json()["message"]) == (422, True)
    assert ann.get(f"/api/styles/{page['id']}").json()["style"]["profile"]["text_height"] == 5


def test_names_are_one_style_s_own_and_built_in_styles_stay(ann: Client) -> None:
    first = copied(ann)
    assert (
        post(ann, "/api/styles", {"like": "iso-mm", "name": "Our own"}).json()["message"]
        == "There is a house style called Our own already."
    )
    unnamed = copied(ann, first["id"], "")
    assert unnamed["style"]["name"] == "Our own, copy"
    built_in = ann.put(
        "/api/styles/iso-mm",
        json.dumps({"version": 1, "style": first["style"]}),
        content_type="application/json",
    )
    assert built_in.status_code == 422
    assert post(ann, "/api/styles", {"like": "gone", "name": "x"}).status_code == 422


def test_a_style_goes_out_as_json_and_comes_back_under_a_free_name(ann: Client, bob: Client) -> None:
    page = copied(ann)
    out = ann.get(f"/api/styles/{page['id']}/export")
    assert "attachment" in out["Content-Disposition"]
    again = upload(ann, "/api/styles/tools/import", "own.json", out.content)
    assert again.json()["style"]["name"] == "Our own 2"
    there = upload(bob, "/api/styles/tools/import", "own.json", out.content).json()
    assert there["style"]["frames"] == json.loads(out.content)["frames"]
    old = json.dumps({**json.loads(out.content), "version": 0}).encode()
    for data, says in ((b"\xff\xfe", "not JSON"), (b"[]", "not a house style"), (old, "of version 0")):
        answer = upload(ann, "/api/styles/tools/import", "x.json", data)
        assert (answer.status_code, says in answer.json()["message"]) == (422, True)
    assert HouseStyle.objects.count() == 3


def test_a_drawing_takes_the_office_s_own_style_and_is_brought_along_or_left(
    ann: Client, bearing: Model, queue: Work
) -> None:
    page = copied(ann)
    desk = Desk(ann, bearing)
    assert desk.state["document"]["style"] == page["id"]
    page = ann.get(f"/api/styles/{page['id']}").json()
    assert [d["behind"] for d in page["drawings"]] == [False]
    page["style"]["profile"]["label_height"] = 7
    page["style"]["notes"] = ["Break edges 0,3"]
    kept = put(ann, page, page["style"]).json()
    assert [d["behind"] for d in kept["drawings"]] == [True]
    assert ann.get(desk.url).json()["document"]["profile"]["label_height"] == 5  # left as it was until asked
    after = post(ann, f"/api/styles/{page['id']}/along", {"drawings": [desk.state["id"]]}).json()
    assert [d["behind"] for d in after["drawings"]] == [False]
    now = ann.get(desk.url).json()
    assert (now["document"]["profile"]["label_height"], now["document"]["notes"]) == (7, ["Break edges 0,3"])
    assert post(ann, f"{desk.url}/undo", {"version": now["version"]}).status_code == 200
    assert ann.get(desk.url).json()["document"]["profile"]["label_height"] == 5


def test_a_drawing_edited_meanwhile_is_brought_along_all_the_same(
    ann: Client, bearing: Model, queue: Work, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Somebody's edit comes between the list of drawings and their turn: both are kept, none is refused."""
    page = copied(ann)
    desk = Desk(ann, bearing)
    page = ann.get(f"/api/styles/{page['id']}").json()
    page["style"]["profile"]["label_height"] = 7
    put(ann, page, page["style"])
    listed = api.used_by

    def edited_after(*arguments: Any) -> Any:
        found = list(listed(*arguments))
        monkeypatch.setattr(api, "used_by", listed)
        desk.edit(command="change_fields", fields={"title": "Pillow"})
        return found

    monkeypatch.setattr(api, "used_by", edited_after)
    assert post(ann, f"/api/styles/{page['id']}/along", {"drawings": [desk.state["id"]]}).status_code == 200
    now = ann.get(desk.url).json()["document"]
    assert (now["profile"]["label_height"], now["fields"]["title"]) == (7, "Pillow")


def test_logos_are_kept_as_pixels_and_hostile_ones_refused(ann: Client) -> None:
    page = copied(ann)
    url = f"/api/styles/{page['id']}/logo"
    svg = b'<svg xmlns="http://www.w3.org/2000/svg"><rect width="90" height="30"/></svg>'
    answer = upload(ann, url, "logo.svg", svg).json()
    import base64

    with Image.open(io.BytesIO(base64.b64decode(answer["style"]["logo"]))) as kept:
        assert kept.format == "PNG"
        assert kept.width / kept.height == pytest.approx(3, rel=0.02)
    huge = io.BytesIO()
    Image.new("1", (10_000, 10_000)).save(huge, "PNG")
    for name, data, says in (
        ("x.svg", svg.replace(b"<rect", b"<script>x()</script><rect"), "script"),
        ("x.svg", svg.replace(b"<rect", b'<image href="file:///etc/passwd"/><rect'), "image"),
        ("x.png", huge.getvalue(), "10000 x 10000 pixels"),
        ("x.png", b"nothing", "not an SVG"),
    ):
        refused = upload(ann, url, name, data)
        assert (refused.status_code, says in refused.json()["message"]) == (422, True), refused.json()
    assert ann.get(f"/api/styles/{page['id']}").json()["style"]["logo"] == answer["style"]["logo"]


def test_the_frame_editor_gets_its_picture_and_cells(ann: Client) -> None:
    page = copied(ann)
    answer = post(ann, "/api/styles/tools/frame", {"style": page["style"], "frame": "After ISO 7200"}).json()
    assert (answer["width"], answer["height"]) == (420, 297)
    assert len(answer["cells"]) == 19
    assert "Sample part" in answer["svg"]
    block = page["style"]["frames"][0]["block"]
    two = post(ann, "/api/styles/tools/block", {"block": block, "cells": [0], "way": "columns"}).json()
    assert len(two["cells"]) == 20
    wrong = post(ann, "/api/styles/tools/block", {"block": block, "cells": [0, 18], "way": "merge"})
    assert wrong.json()["message"] == "Only cells that share a whole side can be made one."
    assert (
        post(ann, "/api/styles/tools/block", {"block": block, "cells": [99], "way": "rows"}).status_code
        == 422
    )


def test_styles_stay_within_their_workspace(ann: Client, bob: Client, bearing: Model) -> None:
    page = copied(ann)
    assert bob.get(f"/api/styles/{page['id']}").status_code == 422
    assert put(bob, page, page["style"]).status_code == 404
    assert bob.delete(f"/api/styles/{page['id']}").status_code == 404
    assert bob.get(f"/api/styles/{page['id']}/export").status_code == 422
    assert post(ann, "/api/drawings", {"model": str(bearing.pk), "style": page["id"]}).status_code == 201
    assert ann.delete(f"/api/styles/{page['id']}").status_code == 204
