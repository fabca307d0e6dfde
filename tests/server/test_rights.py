"""Every address that could change something is closed to readers, but for what is named as only looking."""

import uuid
from typing import Any

import pytest
from django.test import Client

from server.accounts.models import Membership, Workspace
from server.drawings.models import Drawing
from server.library.models import Model
from server.urls import api
from tests.server.conftest import account, logged_in
from tests.server.test_api import Desk
from tests.server.test_releasing import joined

LOOKING = {
    "propose", "publish", "propose_annotation", "drag_annotation", "derive_again", "to_step",
    "frame", "edit_block",  # of a style that is not kept yet
    "change_state",  # asks for each state by itself
    "draw", "answer", "rub_out", "tick", "here",  # the red pencil, see test_pencil
    "meant", "keep_reading", "bring_readings",  # see test_findings and test_inspection
    "say_elsewhere",
}  # fmt: skip
ABOUT_ONESELF = {"work_in", "change_password", "sign_in", "sign_out", "join", "join_as", "dismiss"}


def unsafe() -> list[tuple[str, str, str]]:
    """Method, address and name of all that is not asked for with GET."""
    return [
        (method, prefix + path, operation.view_func.__name__)
        for prefix, router in api._routers
        for path, view in router.path_operations.items()
        for operation in view.operations
        for method in operation.methods
        if method != "GET"
    ]


@pytest.mark.parametrize("role", [Membership.READER, Membership.CHECKER])
def test_whatever_could_change_something_is_closed_to_who_may_not(
    sized: Desk, office: Workspace, role: str
) -> None:
    rob = joined(office, "rob", role)
    drawing, model = Drawing.objects.get(), Model.objects.get()
    closed = 0
    for method, address, name in unsafe():
        if name in LOOKING | ABOUT_ONESELF or address.startswith("/people"):
            continue
        url = "/api" + address.format(
            drawing_id=drawing.pk,
            model_id=model.pk,
            material_id=uuid.uuid4(),
            key="x",
            annotation_id="x",
            view_id="front",
            number=1,
        )
        answer = rob.generic(method, url, "{}", content_type="application/json")
        if "{material_id}" in address:
            assert answer.status_code == 404, url  # there is none
            continue
        assert answer.status_code == 403, (url, answer.status_code, answer.content)
        assert answer.json()["message"].startswith(f"As a {role} of First office you cannot")
        closed += 1
    assert closed > 20
    assert Model.objects.count() == Drawing.objects.count() == 1


def test_rights_are_those_in_the_workspace_of_what_is_asked_for(sized: Desk, office: Workspace) -> None:
    """An owner elsewhere is a reader here, whatever workspace is chosen."""
    user: Any = account("eve", "Third office")
    Membership.objects.create(user=user, workspace=office, role=Membership.READER)
    eve: Client = logged_in("eve")
    drawing = Drawing.objects.get()
    answer = eve.delete(f"/api/drawings/{drawing.pk}")
    assert answer.status_code == 403
    assert Drawing.objects.filter(pk=drawing.pk).exists()
    assert eve.delete(f"/api/models/{uuid.uuid4()}").status_code == 404
