"""Every route asked with whatever fits its schema and what does not, by somebody who has a workspace, for
things of their own and of another workspace."""

import copy
import json
import os
import re
import uuid
from typing import Any
from urllib.parse import quote

import schemathesis
from django.db import transaction
from django.test import Client
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from schemathesis.specs.openapi.schemas import OpenApiSchema

from server.accounts.models import Invitation, Membership, Workspace
from server.drawings.models import Drawing
from server.jobs.models import Job
from server.library.models import Material, Model, ModelVersion
from server.styles.models import HouseStyle
from server.urls import api
from tests.server.conftest import RECIPES, post, read_into

EXPLORE = bool(os.environ.get("MOORCREST_EXPLORE"))
EXAMPLES = 500 if EXPLORE else 15
SCHEMA: OpenApiSchema = schemathesis.openapi.from_dict(api.get_openapi_schema(path_prefix="/api/"))
OPERATIONS = [result.ok() for result in SCHEMA.get_all_operations()]
SENTENCE = re.compile(r"\S.*[.!?]", re.S)
MACHINE = re.compile(
    r"Error\b|Exception|Traceback|Field required|\bSIG[A-Z]+|psycopg|pydantic|<!doctype", re.I
)


def things(client: Client, workspace: Workspace) -> dict[str, str]:
    """A thing of each kind in a workspace, by the names that routes have for its key."""
    file = RECIPES / "HB-204.json"
    model = read_into(workspace, file.name, file)
    drawing = post(client, "/api/drawings", {"model": str(model.pk)}).json()
    sheet = drawing["document"]["sheets"][0]["id"]
    script = json.loads((RECIPES.parent / "drawings" / "HB-204.json").read_text())["commands"]
    place = {**next(c for c in script if c["command"] == "place_main_view"), "sheet": sheet}
    edited = post(client, f"/api/drawings/{drawing['id']}/commands", {"version": 1, "command": place})
    assert edited.status_code == 200, edited.content
    job = Job.objects.create(workspace=workspace, kind="read", subject="x", state=Job.DONE)
    material = Material.objects.create(workspace=workspace, designation="Own", density=7.0)
    style = post(client, "/api/styles", {"like": "iso-mm", "name": "Own"})
    invitation = post(client, "/api/people/invitations", {"name": "x"})
    assert invitation.status_code == 200
    made = HouseStyle.objects.filter(workspace=workspace).first()
    assert made is not None, style.content
    return {
        "model_id": str(model.pk),
        "drawing_id": drawing["id"],
        "sheet_id": sheet,
        "view_id": place["id"],
        "job_id": str(job.pk),
        "material_id": str(material.pk),
        "style_id": str(made.pk),
        "invitation_id": str(Invitation.objects.get(workspace=workspace).pk),
        "person_id": str(Membership.objects.get(workspace=workspace).pk),
    }


def kept(workspace: Workspace) -> list[Any]:
    """All that a workspace holds, as far as another must not touch it."""
    return [
        workspace.name,
        *Model.objects.filter(workspace=workspace).order_by("pk").values_list(),
        *ModelVersion.objects.filter(model__workspace=workspace).order_by("pk").values_list(),
        *Drawing.objects.filter(workspace=workspace).order_by("pk").values_list("pk", "version", "updated"),
        *Job.objects.filter(workspace=workspace).order_by("pk").values_list(),
        *Material.objects.filter(workspace=workspace).order_by("pk").values_list(),
        *HouseStyle.objects.filter(workspace=workspace).order_by("pk").values_list(),
        *Invitation.objects.filter(workspace=workspace).order_by("pk").values_list(),
        *Membership.objects.filter(workspace=workspace).order_by("pk").values_list(),
    ]


def test_every_route_answers_in_a_sentence_and_lets_nobody_into_another_workspace(
    ann: Client, bob: Client, queue: Any
) -> None:
    theirs = Workspace.objects.get(name="Second office")
    own, others = things(ann, Workspace.objects.get(name="First office")), things(bob, theirs)
    queue()
    ann.raise_request_exception = False
    reached = [_asked(operation, ann, own, others, theirs) for operation in OPERATIONS]
    assert len(reached) > 60
    never = [f"{o.method} {o.path}" for o, n in zip(OPERATIONS, reached, strict=True) if not n]
    assert len(never) < len(reached) * 0.65, never


def _asked(
    operation: Any, ann: Client, own: dict[str, str], others: dict[str, str], theirs: Workspace
) -> int:
    """How many of the ways in which an operation was asked succeeded."""
    before, successes, cookies = kept(theirs), 0, copy.deepcopy(ann.cookies)
    cases = st.one_of(
        operation.as_strategy(),
        operation.as_strategy(generation_mode=schemathesis.GenerationMode.NEGATIVE),
    )

    @settings(
        max_examples=EXAMPLES,
        derandomize=not EXPLORE,
        database=None,
        deadline=None,
        suppress_health_check=list(HealthCheck),
    )
    @given(case=cases, whose=st.sampled_from(["own", "own", "others", "nobody's"]))
    def asked(case: Any, whose: str) -> None:
        nonlocal successes
        ann.cookies = copy.deepcopy(cookies)  # whoever logs out comes back
        names = {name: str(value) for name, value in (case.path_parameters or {}).items()}
        foreign = False
        for name in names:
            if whose == "own" and name in own:
                names[name] = own[name]
            elif whose == "others" and name in others:
                names[name], foreign = others[name], True
            elif whose == "nobody's" and name.endswith("_id") and name != "person_id":
                names[name] = str(uuid.UUID(int=7))
        path = operation.path.format(**{n: quote(v, safe="") for n, v in names.items()})
        query = {k: v for k, v in (case.query or {}).items() if v is not None}
        body: Any = "" if isinstance(case.body, schemathesis.core.NotSet) else case.body
        media = case.media_type or "application/json"
        if media == "application/json" and body != "":
            body = body if isinstance(body, bytes) else json.dumps(body, default=str)
        elif media.startswith("multipart"):
            body = body if isinstance(body, dict) else {}
            body = {k: v if isinstance(v, str | bytes | list) else json.dumps(v) for k, v in body.items()}
        with transaction.atomic():
            if media.startswith("multipart") and operation.method.upper() == "POST":
                answer = ann.post(path, body)
            else:
                answer = ann.generic(
                    operation.method.upper(), path, body, content_type=media, query_params=query
                )
            said = b"" if answer.streaming else answer.content
            assert answer.status_code < 500, (operation.method, path, body, said[:300])
            if answer.status_code >= 400:
                assert said.startswith(b'{"message": '), (answer.status_code, operation.method, path, said)
                message = json.loads(said)["message"]
                assert SENTENCE.fullmatch(message), message
                assert not MACHINE.search(message), message
            if foreign:
                assert answer.status_code >= 400, (operation.method, path, said[:300])
            successes += answer.status_code < 400
            assert kept(theirs) == before
            transaction.set_rollback(True)

    asked()
    ann.cookies = cookies
    return successes
