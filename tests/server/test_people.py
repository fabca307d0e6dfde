"""People of a workspace: inviting, joining, roles, passwords, leaving, by page and by command."""

import datetime
import io
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.core.management import CommandError, call_command
from django.test import Client
from django.utils import timezone

from server.accounts.models import Invitation, Membership, Workspace
from server.library.models import Model
from tests.server.conftest import PASSWORD, account, logged_in, post

GOOD = "heather on the tops"


def put(client: Client, url: str, body: Any) -> Any:
    return client.put(url, body, content_type="application/json")


def people(client: Client) -> Any:
    answer = client.get("/api/people")
    assert answer.status_code == 200, answer.content
    return answer.json()


def link(client: Client, name: str = "C. Beck", role: str = "drafter") -> str:
    answer = post(client, "/api/people/invitations", {"name": name, "role": role})
    assert answer.status_code == 200, answer.content
    return str(answer.json()["path"])


def joined(path: str, username: str = "cara", password: str = GOOD) -> tuple[Client, Any]:
    client = Client()
    return client, post(
        client, f"/api{path}", {"username": username, "name": "Cara Beck", "password": password}
    )


def person(client: Client, username: str) -> int:
    return int(next(p["id"] for p in people(client)["people"] if p["username"] == username))


def test_somebody_is_invited_joins_and_sees_the_same_shelf(ann: Client, bearing: Model) -> None:
    path = link(ann)
    assert people(ann)["invitations"][0]["name"] == "C. Beck"
    told = Client().get(f"/api{path}").json()
    assert (told["workspace"], told["name"]) == ("First office", "C. Beck")
    cara, answer = joined(path)
    assert answer.status_code == 200, answer.content
    assert answer.json()["workspace"] == "First office"
    assert [m["number"] for m in cara.get("/api/models").json()] == ["HB-204"]
    assert [p["username"] for p in people(cara)["people"]] == ["ann", "cara"]
    assert people(ann)["invitations"] == []


def test_a_link_lets_one_person_in_once_and_for_a_week(ann: Client, db: Any) -> None:
    path = link(ann)
    assert joined(path)[1].status_code == 200
    assert joined(path, "dora")[1].status_code == 422
    late = link(ann)
    Invitation.objects.update(expires=timezone.now() - datetime.timedelta(seconds=1))
    answer = joined(late, "dora")[1]
    assert (answer.status_code, "Ask for a new one" in answer.json()["message"]) == (422, True)
    assert Client().get(f"/api{late}").status_code == 422
    taken_back = link(ann)
    row = people(ann)["invitations"][-1]["id"]
    assert ann.delete(f"/api/people/invitations/{row}").status_code == 204
    assert joined(taken_back, "dora")[1].status_code == 422
    assert not get_user_model().objects.filter(username="dora").exists()


def test_the_database_holds_no_token(ann: Client) -> None:
    token = link(ann).rsplit("/", 1)[1]
    row = Invitation.objects.get()
    assert token not in str([getattr(row, f.attname) for f in row._meta.fields])


@pytest.mark.parametrize(
    ("username", "password", "word"),
    [
        ("cara", "short", "too short"),
        ("cara", "1234567890", "common"),
        ("carabeckfield", "carabeckfield1", "similar"),
        ("ann", GOOD, "taken"),
        ("ANN", GOOD, "taken"),
        ("cara beck", GOOD, "letters"),
        ("c" * 41, GOOD, "at most"),
        ("cara", "x" * 201, "too long"),
    ],
)
def test_poor_names_and_passwords_are_refused_and_the_link_stays_open(
    ann: Client, username: str, password: str, word: str
) -> None:
    path = link(ann)
    _, answer = joined(path, username, password)
    assert answer.status_code == 422
    assert word in answer.json()["message"]
    assert joined(path)[1].status_code == 200


def test_members_change_nobody(ann: Client) -> None:
    cara, _ = joined(link(ann))
    of_ann = person(ann, "ann")
    link(ann, "D. Beck")
    seen = people(cara)
    assert (seen["owner"], seen["invitations"], seen["usage"]) == (False, [], None)
    for answer in (
        post(cara, "/api/people/invitations", {"name": "x"}),
        put(cara, f"/api/people/{of_ann}", {"role": "drafter"}),
        put(cara, f"/api/people/{person(ann, 'cara')}", {"role": "owner"}),
        cara.delete(f"/api/people/{of_ann}"),
        post(cara, f"/api/people/{of_ann}/password", {}),
    ):
        assert answer.status_code == 403
        assert answer.json()["message"] == "Only owners of the workspace can do that."


def test_owners_change_nobody_elsewhere(ann: Client, bob: Client) -> None:
    of_bob = person(bob, "bob")
    open_one = post(bob, "/api/people/invitations", {"name": "x"})
    assert open_one.status_code == 200
    row = people(bob)["invitations"][0]["id"]
    for answer in (
        put(ann, f"/api/people/{of_bob}", {"role": "drafter"}),
        ann.delete(f"/api/people/{of_bob}"),
        post(ann, f"/api/people/{of_bob}/password", {}),
        ann.delete(f"/api/people/invitations/{row}"),
    ):
        assert answer.status_code == 404


def test_a_workspace_keeps_an_owner(ann: Client) -> None:
    of_ann = person(ann, "ann")
    for answer in (
        ann.delete(f"/api/people/{of_ann}"),
        put(ann, f"/api/people/{of_ann}", {"role": "drafter"}),
    ):
        assert answer.status_code == 422
        assert "only owner" in answer.json()["message"]
    cara, _ = joined(link(ann))
    assert put(ann, f"/api/people/{person(ann, 'cara')}", {"role": "owner"}).status_code == 204
    assert ann.delete(f"/api/people/{of_ann}").status_code == 204
    assert [p["username"] for p in people(cara)["people"]] == ["cara"]
    answer = ann.get("/api/models")
    assert (answer.status_code, "no workspace" in answer.json()["message"]) == (404, True)


def test_who_was_taken_out_sees_nothing_from_then_on(ann: Client, bearing: Model) -> None:
    cara, _ = joined(link(ann))
    assert cara.get(f"/api/models/{bearing.pk}").status_code == 200
    assert ann.delete(f"/api/people/{person(ann, 'cara')}").status_code == 204
    assert cara.get(f"/api/models/{bearing.pk}").status_code == 404


def test_a_password_is_changed_with_the_old_one_and_ends_other_sessions(ann: Client) -> None:
    elsewhere = logged_in("ann")
    wrong = put(ann, "/api/me/password", {"old": "wrong", "new": GOOD})
    assert (wrong.status_code, wrong.json()["message"]) == (401, "That is not your password of now.")
    poor = put(ann, "/api/me/password", {"old": PASSWORD, "new": "ann"})
    assert poor.status_code == 422
    assert put(ann, "/api/me/password", {"old": PASSWORD, "new": GOOD}).status_code == 200
    assert ann.get("/api/people").status_code == 200
    assert elsewhere.get("/api/people").status_code == 401
    fresh = Client()
    assert post(fresh, "/api/login", {"username": "ann", "password": PASSWORD}).status_code == 401
    assert post(fresh, "/api/login", {"username": "ann", "password": GOOD}).status_code == 200


def test_the_old_password_cannot_be_guessed_without_end(ann: Client) -> None:
    answers = [
        put(ann, "/api/me/password", {"old": f"guess {n}", "new": GOOD}).status_code for n in range(10)
    ]
    assert answers[-1] == 429


def test_a_forgotten_password_is_chosen_anew_by_a_link_of_an_owner(ann: Client) -> None:
    cara, _ = joined(link(ann))
    answer = post(ann, f"/api/people/{person(ann, 'cara')}/password", {})
    path = answer.json()["path"]
    assert Client().get(f"/api{path}").json()["username"] == "cara"
    _, changed = joined(path, "", "bracken in the rain")
    assert changed.json()["username"] == "cara"
    assert cara.get("/api/people").status_code == 401
    assert joined(path, "", GOOD)[1].status_code == 422  # used


def test_no_owner_gets_into_another_workspace_by_a_new_password(ann: Client, bob: Client) -> None:
    path = link(ann)
    assert post(bob, f"/api{path}/here", {}).json()["workspace"] == "First office"
    answer = post(ann, f"/api/people/{person(ann, 'bob')}/password", {})
    assert answer.status_code == 422
    assert "another workspace" in answer.json()["message"]


def test_somebody_works_in_one_of_several_workspaces(ann: Client, bob: Client, bearing: Model) -> None:
    assert bob.get("/api/models").json() == []
    post(bob, f"/api{link(ann)}/here", {})
    assert [m["number"] for m in bob.get("/api/models").json()] == ["HB-204"]
    me = bob.get("/api/me").json()
    assert [w["name"] for w in me["workspaces"]] == ["First office", "Second office"]
    own = next(w["id"] for w in me["workspaces"] if w["name"] == "Second office")
    assert put(bob, "/api/me/workspace", {"id": own}).json()["workspace"] == "Second office"
    assert bob.get("/api/models").json() == []
    assert put(ann, "/api/me/workspace", {"id": own}).status_code == 404


def test_an_owner_sees_what_the_workspace_holds(ann: Client, bearing: Model) -> None:
    usage = people(ann)["usage"]
    assert (usage["models"], usage["versions"], usage["drawings"]) == (1, 1, 0)
    version = bearing.current()
    blobs = {b.pk: b.size for b in (version.source, version.archive, version.facts, version.preview)}
    assert usage["model_bytes"] == sum(blobs.values()) > 0


def told(*words: str) -> str:
    out = io.StringIO()
    call_command("people", *words, stdout=out)
    return out.getvalue()


def test_people_by_command(office: Workspace, tmp_path: Path) -> None:
    secret = tmp_path / "password"
    secret.write_text(GOOD + "\n")
    told("workspace", "Third office")
    told(
        "add",
        "eva",
        "--name",
        "Eva Fold",
        "--workspace",
        "Third office",
        "--owner",
        "--password-file",
        str(secret),
    )
    assert Membership.objects.get(user__username="eva").role == "owner"
    assert "Third office\n  eva" in told("list")
    assert post(Client(), "/api/login", {"username": "eva", "password": GOOD}).status_code == 200
    secret.write_text("rowan by the gate")
    told("password", "eva", "--password-file", str(secret))
    assert post(Client(), "/api/login", {"username": "eva", "password": GOOD}).status_code == 401
    for words, sentence in (
        (("remove", "eva", "--workspace", "Third office"), "only owner"),
        (("add", "eva", "--workspace", "Nowhere"), "Name the workspace: First office"),
        (("remove", "nobody"), "Name the workspace"),
        (("password", "nobody", "--password-file", str(secret)), "Nobody has that log-in name"),
        (("workspace", "Third office"), "a workspace of that name"),
    ):
        with pytest.raises(CommandError, match=sentence):
            told(*words)
    secret.write_text("short")
    with pytest.raises(CommandError, match="too short"):
        told("password", "eva", "--password-file", str(secret))
    account("gil", "Third office")
    assert "no longer belongs" in told("remove", "eva", "--workspace", "Third office")
