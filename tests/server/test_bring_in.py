"""Several files brought in together: which become one model, which fail alone, and recipes that refer to
models of either kind."""

import io
import json
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from drafting.errors import DraftingError
from server.accounts.models import Workspace
from server.jobs.models import Job
from server.library.facts import current_facts
from server.library.models import Model
from server.library.reading import plain_name, read_into
from tests.core.test_assembly import KNOWN, PIN, PLATE, assembly
from tests.server.conftest import state_of
from tests.step_sets import with_properties, write_set

Work = Callable[[], int]
SCREW = Path("/usr/share/opencascade/data/step/screw.step")


def upload_all(client: Client, files: dict[str, bytes]) -> dict[str, Any]:
    answer = client.post(
        "/api/models", {"file": [SimpleUploadedFile(name, data) for name, data in files.items()]}
    )
    assert answer.status_code == 202, answer.content
    return answer.json()


@pytest.fixture
def rack(tmp_path: Path) -> dict[str, bytes]:
    write_set(tmp_path)
    return {f.name: f.read_bytes() for f in tmp_path.glob("*.st*p")}


def test_files_dropped_together_are_one_model_each_that_hangs_together(
    ann: Client, queue: Work, rack: dict[str, bytes]
) -> None:
    job = upload_all(ann, {**rack, "screw.step": SCREW.read_bytes(), "notes.pdf": b"%PDF"})
    assert job["subject"] == f"{next(iter(rack))} and 3 more"
    queue()
    assert state_of(ann, job).result == {"sorted": "2"}
    assert sorted(m.name for m in Model.objects.all()) == ["Rack", "screw"]
    assert len(current_facts(Model.objects.get(name="Rack"))[1].instances) == 4
    (refused,) = Job.objects.filter(state=Job.FAILED)
    assert refused.subject == "notes.pdf"
    assert "not a STEP file" in refused.text


def test_a_zip_is_one_model_and_what_it_lacks_is_named(
    ann: Client, queue: Work, rack: dict[str, bytes]
) -> None:
    def packed(names: list[str]) -> bytes:
        buffer = io.BytesIO()
        with zipfile.ZipFile(buffer, "w") as archive:
            for name in names:
                archive.writestr(f"rack/{name}", rack[name])
        return buffer.getvalue()

    job = upload_all(ann, {"rack.zip": packed(list(rack))})
    queue()
    assert Model.objects.get(pk=state_of(ann, job).result["model"]).current().file_name == "rack.step"
    short = upload_all(ann, {"short.zip": packed(["rack.step", "part_Bar.stp"])})
    queue()
    assert "refers to the file part_Peg.stp, which was not brought along" in state_of(ann, short).text
    alone = upload_all(ann, {"rack.step": rack["rack.step"]})
    queue()
    assert "refers to the files" in state_of(ann, alone).text
    assert Model.objects.count() == 1


def test_recipes_dropped_together_refer_to_each_other_and_good_ones_are_kept(
    ann: Client, queue: Work
) -> None:
    files = {"pair.json": KNOWN["A-1"], "plate.json": PLATE, "pin.json": PIN}
    job = upload_all(ann, {name: json.dumps(data).encode() for name, data in files.items()})
    queue()
    assert Model.objects.get(pk=state_of(ann, job).result["model"]).number == "A-1"
    assert Model.objects.count() == 3
    loop = {
        f"{m}.json": assembly(
            [{"id": "x", "part": "x"}], [], parts={"x": {"model": n}}, properties={"number": m}
        )
        for n, m in (("A-7", "A-8"), ("A-8", "A-7"))
    }
    job = upload_all(
        ann,
        {
            name: json.dumps(data).encode()
            for name, data in {**loop, "lone.json": {**PIN, "name": "Lone"}}.items()
        },
    )
    queue()
    assert state_of(ann, job).text.startswith("A-8.json: The assembly A-8 contains itself (A-8 > A-7 > A-8)")
    assert Model.objects.filter(name="Lone").exists()


def test_a_recipe_takes_in_a_step_model_and_an_assembly_of_the_workspace(
    ann: Client, bob: Client, queue: Work, rack: dict[str, bytes]
) -> None:
    peg = with_properties(rack["part_Peg.stp"].decode(), "HB-301", "", {}).encode()
    upload_all(ann, {"peg.step": peg})
    for name, data in (("plate", PLATE), ("pin", PIN), ("pair", KNOWN["A-1"])):
        upload_all(ann, {f"{name}.json": json.dumps(data).encode()})
        queue()
    whole = assembly(
        [
            {"id": "p1", "part": "pair"},
            {"id": "p2", "part": "pair", "at": {"origin": [0, 0, 99]}},
            {"id": "peg", "part": "peg"},
        ],
        [
            {
                "kind": "coincident",
                "id": "seat",
                "of": "p2/plate:b/start",
                "to": "p1/plate:b/end",
                "offset": 40,
            }
        ],
        parts={"pair": {"model": "A-1"}, "peg": {"model": "HB-301"}},
    )
    theirs = upload_all(bob, {"whole.json": json.dumps(whole).encode()})
    mine = upload_all(ann, {"whole.json": json.dumps(whole).encode()})
    queue()
    assert "needs a part numbered A-1" in state_of(bob, theirs).text  # another office's parts are not theirs
    _, facts = current_facts(Model.objects.get(pk=state_of(ann, mine).result["model"]))
    counts = {p.number: sum(i.part == k for i in facts.instances) for k, p in facts.parts.items()}
    assert counts == {"P-1": 2, "P-2": 4, "HB-301": 1}
    assert [i.matrix[2][3] for i in facts.instances if i.path.endswith("plate")] == pytest.approx([0, 52])


def test_a_recipe_from_outside_cannot_name_a_file_to_be_opened(
    ann: Client, queue: Work, tmp_path: Path
) -> None:
    secret = tmp_path / "packed"
    upload_all(ann, {"pin.json": json.dumps(PIN).encode()})
    queue()
    secret.write_bytes(Model.objects.get().current().archive.content())
    files = {
        "whole.json": assembly([{"id": "x", "part": "x"}], [], parts={"x": {"model": "X-1"}}),
        "x.json": {"archive": str(secret), "properties": {"number": "X-1"}},
    }
    job = upload_all(ann, {name: json.dumps(data).encode() for name, data in files.items()})
    queue()
    assert state_of(ann, job).state == Job.FAILED
    assert "x.json" in state_of(ann, job).text
    assert str(secret) not in state_of(ann, job).text
    assert Model.objects.count() == 1


@pytest.mark.parametrize(
    ("given", "plain"),
    [
        ("bracket v2 (final).step", "bracket v2 (final).step"),
        ("../../etc/passwd", "passwd"),
        ("C:\\parts\\lug.stp", "lug.stp"),
        ("a;b|c.step", "a_b_c.step"),
        ("..", "model"),
    ],
)
def test_a_users_file_name_stays_within_its_folder(given: str, plain: str) -> None:
    assert plain_name(given) == plain


def test_a_file_with_a_long_name_in_any_letters_is_read_and_refused_by_it(
    office: Workspace, tmp_path: Path
) -> None:
    name = "平ワッシャー" * 40 + ".step"
    assert len(plain_name(name).encode()) <= 200
    assert read_into(office, name, SCREW).name
    half = tmp_path / "half"
    half.write_bytes(SCREW.read_bytes()[:20_000])
    with pytest.raises(DraftingError, match="cut short"):
        read_into(office, name, half)
