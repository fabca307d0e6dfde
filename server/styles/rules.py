"""The rules of checking that a house style may make graver, milder, or leave out."""

from typing import Literal

from django.http import HttpRequest
from ninja import Router, Schema

from drafting.checking.rules import ALL

router = Router(tags=["styles"])


class RuleOut(Schema):
    """A rule. gravity: of what it finds where the style says nothing; iso, asme: where the standards say
    so."""

    key: str
    title: str
    gravity: Literal["grave", "look", "off"]
    iso: str
    asme: str


@router.get("", response=list[RuleOut])
def rules(request: HttpRequest) -> list[RuleOut]:
    """All rules, in the order in which they are listed."""
    return [RuleOut(key=r.key, title=r.title, gravity=r.gravity, iso=r.iso, asme=r.asme) for r in ALL]
