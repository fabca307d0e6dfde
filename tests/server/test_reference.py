"""Looking up limits and fits, against the tables of ISO 286-2 (memory: 25 H7 +21/0, 25 g6 -7/-20)."""

from django.test import Client


def looked(client: Client, size: float, designation: str) -> tuple[int, dict[str, object]]:
    answer = client.get("/api/reference/limits", {"size": size, "designation": designation})
    return answer.status_code, answer.json()


def test_a_class_and_a_fit(ann: Client) -> None:
    code, one = looked(ann, 25, "H7")
    assert code == 200
    assert one["sides"] == [
        {"designation": "H7", "upper": 0.021, "lower": 0, "largest": 25.021, "smallest": 25}
    ]
    for words in ("H7/g6", "g6/H7"):
        code, both = looked(ann, 25, words)
        assert code == 200
        assert [s["designation"] for s in both["sides"]] == ["H7", "g6"]  # type: ignore[attr-defined]
        assert (both["kind"], both["clearance"]) == ("clearance", [0.041, 0.007])


def test_what_makes_no_fit_is_a_sentence(ann: Client) -> None:
    for words, sentence in (
        ("H7/H7", "is a hole's class"),
        ("g6/g6", "is a shaft's class"),
        ("H7/", "Write a class as H7"),
        ("tight", "class"),
    ):
        code, answer = looked(ann, 25, words)
        assert code == 422
        assert sentence in str(answer["message"])


def test_tables_are_there_for_who_is_logged_in(ann: Client) -> None:
    found = {t["name"]: t for t in ann.get("/api/reference/tables").json()}
    assert {"M5", "M8×1"} <= {r[0] for r in found["Metric threads"]["rows"]}
    assert found["Limits of metric threads"]["rows"][0][2] is None  # a nut's major diameter has no least
    assert Client().get("/api/reference/tables").status_code in (401, 403)
